import type { SlipLine } from '@shelve/contract'
import {
  containerCode,
  type DraftLine,
  expiryOnceOpened,
  formatDecimal,
  type LotRule,
  readQuantity,
  readWeight,
  tareOfFull,
  weightSaid,
} from '@shelve/core'
import { inherited, type ItemRow } from '../catalogue/index.ts'
import { type Kind, outward, type Reading, refuseUnusable } from '../papers/index.ts'

/** A container is opened: what is in it becomes a lot of its own, with its own use-by day and label (rule 6 of the ledger). */
export const opened: readonly Kind[] = [
  {
    kind: 'relabel',
    prefix: 'OC',
    title: ({ first }) => first,
    // Taken back, never replaced: a label that stands on a bottle is not put on another one.
    read: (r, line) => void r.lines.push(...r.moved(line, (item, quantity) => open(r, line, item, quantity))),
  },
]

function open(r: Reading, line: SlipLine, item: ItemRow, quantity: bigint): DraftLine[] {
  if (item.identifiedBy === 'quantity' || item.identifiedBy === 'serial') {
    r.no(line, item.identifiedBy === 'serial' ? 'serial_opened' : 'containers_need_lots', 'item', { name: item.name })
    return []
  }
  const chosen = line.lot?.id ? r.house.rows.lot.get({ uid: line.lot.id }) : undefined
  if (chosen && chosen.openedAt !== null) {
    r.no(line, 'opened_already', 'lot', { lot: chosen.code })
    return []
  }
  const several = severalOf(r, line, item)
  if (several) {
    r.no(line, 'one_container', 'typed', several)
    return []
  }
  const { relabel } = r.house.accounts
  const off = outward(r, line, item, quantity, relabel, { usable: true, whole: true, only: l => l.openedAt === null })
  const [first] = off
  if (!first) return []
  // Where there is not enough of it that was said already.
  if (off.reduce((sum, l) => sum + l.quantity, 0n) < quantity) return off
  if (off.length > 1) {
    r.no(line, 'container_is_one', 'typed', {
      lot: r.books.lot(first.lotId)!.code,
      place: first.from,
      there: formatDecimal(first.quantity),
      unit: item.unit,
    })
    return off
  }
  refuseUnusable(r, line, first.lotId)
  const to = line.to === null ? first.from : r.place(line, line.to, 'to')
  const lotId = container(r, line, item, quantity, r.books.lot(first.lotId)!)
  if (to === undefined || lotId === undefined) return off
  const event = r.id(line)
  return [
    { ...first, event },
    { ...first, event, lotId, from: relabel, to },
  ]
}

/** Where more than one of what it comes in is typed: each is a container of its own. */
function severalOf(r: Reading, line: SlipLine, item: ItemRow): { given: string; pack: string } | undefined {
  const measure = r.measure(item)
  const read = readQuantity(line.typed, measure, line.unit ?? undefined)
  const [term] = read.ok && read.terms.length === 1 ? read.terms : []
  const pack = measure.packs.find(p => p.name === term?.unit)
  return pack && term && term.count.n > term.count.d ? { given: line.typed.trim(), pack: pack.name } : undefined
}

/** The lot that a container becomes, with what is said of it or worked out. */
function container(r: Reading, line: SlipLine, item: ItemRow, quantity: bigint, of: LotRule): number | undefined {
  const said = line.opened ?? { code: '', useBy: null, weight: '', weighed: 'empty' as const }
  const today = r.house.today(r.at())
  const taken = (code: string) => r.books.making.hasContainer(item.id, of.id, code)
  const code = said.code.trim()
  if (code && taken(code)) return void r.no(line, 'container_exists', 'opened', { code, lot: of.code })
  if (said.useBy !== null && of.expiry !== null && said.useBy > of.expiry)
    return void r.no(line, 'opened_keeps_longer', 'opened', { lot: of.code, expiry: of.expiry })
  if (said.useBy !== null && said.useBy < today) return void r.no(line, 'opened_too_late', 'opened')
  const tare = tareOf(r, line, item, quantity, said)
  if (tare === undefined) return undefined
  const daysOnceOpened = item.daysOnceOpened ?? inherited(r.house, item.categoryId, 'daysOnceOpened')
  const expiry = said.useBy ?? expiryOnceOpened(of.expiry, today, daysOnceOpened)
  return r.books.making.newLot(item.id, code || containerCode(of.code!, taken), expiry, {
    opened: { parentId: of.id, at: r.at(), tare },
  })
}

/** What the container weighs empty, in grams; null where nobody says it. */
function tareOf(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  quantity: bigint,
  said: NonNullable<SlipLine['opened']>,
): bigint | null | undefined {
  if (!said.weight.trim()) return null
  const read = readWeight(said.weight)
  if (!read.ok) return void r.no(line, 'not_a_weight', 'opened', { given: said.weight.trim() })
  if (said.weighed === 'empty') return read.quantity
  const tare = tareOfFull(read.quantity, quantity, r.measure(item))
  if (tare === undefined) return void r.no(line, 'not_by_weight', 'opened', { name: item.name, unit: item.unit })
  if (tare < 0n)
    return void r.no(line, 'lighter_than_content', 'opened', { weight: weightSaid(read.quantity), name: item.name })
  return tare
}
