import type { BookedSlip, SlipContent, SlipLine, SlipView } from '@shelve/contract'
import { formatDecimal, groupBy, readQuantity } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { iso, notFound, remember } from '../ground/index.ts'
import { chargesHolding, type slipLine, slipValue, stockSide } from '../ledger/index.ts'
import { accountName } from '../places/index.ts'
import { about, type Caller, isIn, reach, type Scope } from '../rights/index.ts'
import { contentOf } from './drafts.ts'
import type { House } from './house.ts'

/** A slip is seen by whoever may look into its place, or wrote it, or where what it sends goes; one of no place by whoever may look everywhere. */
export function maySee(
  house: House,
  caller: Caller,
  s: { id?: number; placeId: number | null; createdBy: number },
): boolean {
  const seen = reach(house, caller)
  const way = s.id === undefined ? undefined : house.places.sentBy(s.id)
  if (way !== undefined && isIn(seen, way)) return true
  return !seen.within || s.createdBy === caller.id || (s.placeId !== null && seen.within.has(s.placeId))
}

/** The places that a slip's values are about. */
export const slipScope = (house: House, s: { placeId: number | null }): Scope =>
  s.placeId === null ? house.places.scope() : house.places.scope([s.placeId])

type LineView = SlipView['lines'][number]

/** A slip whose number is all that is asked for, by whoever knows already what stands on it. */
export function bookedBriefly(house: House, caller: Caller, uid: string): BookedSlip {
  const s = house.rows.slip.get({ uid })
  if (s?.state !== 'booked' || !maySee(house, caller, s)) throw notFound('slip')
  return {
    id: s.uid,
    kind: s.kind as BookedSlip['kind'],
    number: s.number!,
    title: s.title,
    place: placeTold(house, s),
    bookedAt: iso(s.bookedAt!),
    lines: house.rows.lineCount.get({ slip: s.id })!.n,
  }
}
const placeTold = (house: House, { placeId }: { placeId: number | null }): SlipView['place'] =>
  placeId === null ? null : { id: house.places.row(placeId)!.uid, name: house.places.name(placeId) }

/** A slip whole: what was typed, what it moved, and what became of it since. */
export function slipView(house: House, caller: Caller, uid: string, known?: SlipContent): SlipView {
  const s = house.rows.slip.get({ uid })
  if (!s || !maySee(house, caller, s)) throw notFound('slip')
  const booked = s.state === 'booked'
  const rows = booked ? house.rows.lines.all({ slip: s.id }) : []
  const content = known ?? contentOf(house, s, booked ? rows : undefined)
  const personName = (id: number | null) => (id === null ? null : house.rows.personName.get({ id })!.name)
  const seen = reach(house, caller)
  // What follows from it where the caller may not look (a job elsewhere that is charged anew, say) is not theirs to see.
  const mine = (m: { from: number; to: number }) => {
    const places = [m.from, m.to].filter(a => house.places.row(a))
    return !places.length || places.some(p => isIn(seen, p))
  }
  const moved = booked ? house.rows.movementsOf.all({ slip: s.id }).filter(mine) : []
  const fate = fates(house, s.id)
  const later = booked ? house.rows.laterAt.all({ slip: s.id }).filter(mine) : []
  const tallies = new Map(rows.length ? house.rows.talliesOf.all({ slip: s.id }).map(t => [t.lineId, t]) : [])
  const names = new Map<number, string>()
  const nameOf = (account: number) => remember(names, account, () => accountName(house, account))
  const said = new Map(content.lines.map(l => [l.id, l]))
  const byLine = groupBy(moved, m => m.lineId)
  const lines = rows.map(r => {
    const { own, since } = ofLine(content, byLine.get(r.id) ?? [], later)
    return lineView(house, content, said.get(r.uid), r, own, since, fate, tallies.get(r.id), s.bookedAt!, nameOf)
  })
  const corrects = s.correctsId === null ? undefined : house.rows.slipById.get({ id: s.correctsId })
  const correctedBy = house.rows.correctedBy.all({ id: s.id })
  return about(slipScope(house, s), {
    id: s.uid,
    kind: s.kind as SlipView['kind'],
    state: s.state as SlipView['state'],
    number: s.number,
    revision: s.revision,
    title: s.title,
    place: placeTold(house, s),
    effectiveAt: s.effectiveAt === null ? null : iso(s.effectiveAt),
    savedAt: iso(s.savedAt),
    savedBy: personName(s.savedBy)!,
    bookedAt: s.bookedAt === null ? null : iso(s.bookedAt),
    bookedBy: personName(s.bookedBy),
    taker: s.taker,
    witness: personName(s.witnessId),
    content,
    lines,
    value: formatDecimal(slipValue(house, moved).figure),
    now: worthNow(house, moved, later),
    charges: chargesHolding(house.ledger, s.id).map(c => ({ ...c, amount: formatDecimal(c.amount) })),
    corrects: corrects ? { id: corrects.uid, number: corrects.number! } : null,
    correctedBy: correctedBy.map(c => ({ id: c.id, number: c.number!, bookedAt: iso(c.bookedAt!) })),
    hash: s.hash,
  })
}

/**
 * What a line wrote, and what was written later where it stands. Lines of a make stand at one place in the order of costing,
 * each as a part of it; what the first of them takes back of another make is no line of its own.
 */
function ofLine({ kind }: SlipContent, written: Moved, later: Later): { own: Moved; since: Later } {
  if (kind !== 'make') return { own: written, since: later }
  const own = written.filter(m => m.reverses === null)
  return { own, since: later.filter(m => own.some(x => x.costSeq === m.costSeq && x.part === m.part)) }
}

type Moved = ReturnType<House['rows']['movementsOf']['all']>
type Later = ReturnType<House['rows']['laterAt']['all']>

/**
 * What a slip, or a line of it, is worth by now: with everything that later slips wrote at its places in the order of
 * costing (a price that came, an invoice, a line taken back or replaced). Null where nothing of that changed its worth.
 */
function worthNow(house: House, moved: Moved, later: Later): SlipView['now'] {
  const own = new Set(moved.filter(m => m.reverses === null && m.revalues === null).map(m => m.costSeq))
  const since = later.filter(m => own.has(m.costSeq))
  const change = (m: { from: number; to: number; value: bigint }) =>
    m.value * (stockSide(house, m.to) - stockSide(house, m.from))
  const by = new Map<string, string>()
  let more = 0n
  for (const m of since) {
    more += change(m)
    if (change(m) !== 0n) by.set(m.uid, m.number!)
  }
  if (more === 0n) return null
  const booked = moved.reduce((s, m) => s + change(m), 0n)
  return { value: formatDecimal(booked + more), by: [...by].map(([id, number]) => ({ id, number })) }
}

/** By what later slip each movement was taken back or replaced. */
function fates(
  house: House,
  own: number,
): Map<number, { slip: string; number: string; quantity: bigint; replaced: boolean }> {
  const out = new Map<number, { slip: string; number: string; quantity: bigint; replaced: boolean }>()
  for (const r of house.rows.takenBackBy.all({ slip: own })) {
    if (r.slipId === own) continue
    const replaced = house.rows.putInstead.get({ slip: r.slipId, costSeq: r.costSeq, part: r.part }) !== undefined
    out.set(r.of, { slip: r.uid, number: r.number!, quantity: (out.get(r.of)?.quantity ?? 0n) + r.quantity, replaced })
  }
  return out
}

/** What was entered on a line of a count that is no tally of its own: a heap, or another counter's figure. */
function entered(
  house: House,
  content: SlipContent,
  line: SlipLine | undefined,
  item: ItemRow | undefined,
  bookedAt: number,
): bigint | undefined {
  if (content.kind !== 'count' || line?.counted !== 'counted' || !item) return undefined
  const read = readQuantity(line.typed, house.known.measureThen(item, bookedAt), line.unit ?? undefined, true)
  return read.ok ? read.quantity : undefined
}

function lineView(
  house: House,
  content: SlipContent,
  typed: SlipLine | undefined,
  r: typeof slipLine.$inferSelect,
  moved: Moved,
  later: Later,
  fate: ReturnType<typeof fates>,
  tallied: ReturnType<House['rows']['talliesOf']['all']>[number] | undefined,
  bookedAt: number,
  nameOf: (account: number) => string,
): LineView {
  const main = moved.filter(m => m.revalues === null && m.quantity > 0n)
  const itemId = moved[0]?.itemId ?? (typed?.item ? house.known.item(typed.item)?.id : undefined)
  const it = itemId === undefined ? undefined : house.known.itemById(itemId)
  // What a count found as expected moves nothing, and is taken back all the same.
  const undoable = tallied ? moved.filter(m => m.kind === 'difference') : main
  const back = undoable.map(m => fate.get(m.seq)).filter(f => f !== undefined)
  const quantity = main.filter(m => m.reverses === null).reduce((s, m) => s + m.quantity, 0n)
  const gone = back.reduce((s, f) => s + f.quantity, 0n)
  const state =
    tallied?.reversed || (back.length && gone >= quantity)
      ? back.some(f => f.replaced)
        ? 'replaced'
        : 'taken_back'
      : back.length
        ? 'part_taken_back'
        : 'stands'
  return {
    id: r.uid,
    item: it ? { id: it.uid, code: it.code, name: it.name, unit: it.unit } : null,
    typed: typed?.counted === 'confirmed' ? 'confirmed' : (typed?.typed ?? ''),
    unit: typed?.unit ?? null,
    state,
    act: typed?.act ?? 'none',
    note: typed?.note ?? '',
    movements: moved.map(m => ({
      seq: m.seq,
      kind: m.kind,
      from: nameOf(m.from),
      to: nameOf(m.to),
      lot: m.lot,
      expiry: m.expiry,
      quantity: formatDecimal(m.quantity),
      corrects: m.reverses !== null,
      revalues: m.revalues !== null,
      value: formatDecimal(m.value),
    })),
    quantity: formatDecimal(
      tallied
        ? tallied.counted
        : (entered(house, content, typed, it, bookedAt) ?? (quantity || main.reduce((s, m) => s + m.quantity, 0n))),
    ),
    by: back[0] ? { slip: back[0].slip, number: back[0].number } : null,
    value: formatDecimal(moved.reduce((s, m) => s + m.value * (stockSide(house, m.to) - stockSide(house, m.from)), 0n)),
    now: worthNow(house, moved, later),
  }
}
