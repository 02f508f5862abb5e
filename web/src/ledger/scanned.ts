import { computed, type Ref, ref, watch } from 'vue'
import type { CodeMeaning, IndexItem, LotView, SlipKind } from '@shelve/contract'
import { call, get, query } from '../shell/api.ts'
import { useEachOwn } from '../issuing/each-own.ts'
import { useTakeAll } from '../moving/take-all.ts'
import { useScan } from '../scan/store.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { typedStands } from '../shell/under-way.ts'
import { wayOf } from './kind.ts'
import { KINDS } from './kinds.ts'
import { useSlip } from './slip-store.ts'

/** What the slip being written does with what is scanned: an item, a place, a person's card, a printed command. */
export function useScanned(
  of: Ref<SlipKind>,
  does: {
    /** A scan that comes while the slip is being opened waits for it. */ opened: () => Promise<void>
    addItem: (item: IndexItem, pack?: string | null, meaning?: CodeMeaning) => void
    book: () => Promise<void>
  },
): void {
  const slip = useSlip()
  const session = useSession()
  const strip = useStrip()
  const index = useIndex()
  const scan = useScan()
  const takeAll = useTakeAll()
  const kind = computed(() => KINDS[of.value]!)
  const own = useEachOwn()
  scan.wants(async (m, named) => {
    await does.opened()
    if (m.kind === 'command') return command(m.command!)
    if (m.party) return party(m.party)
    if (m.item) {
      const item = index.byId.get(m.item)
      if (!item) return false
      if (named) does.addItem(item)
      else does.addItem(item, m.pack, m)
      return true
    }
    if (m.kind === 'unknown') return outwardLot(m.code)
    if (m.place && of.value === 'move') return movePlace(m.place)
    if (m.place && of.value === 'dispatch' && !isHere(m.place)) {
      slip.content.head.towards = m.place
      return true
    }
    if (m.place) {
      const line = lineNow()
      if (!line) {
        session.placeId = m.place
        return true
      }
      if (wayOf(kind.value, line).to) line.to = m.place
      else line.from = m.place
      return true
    }
    return false
  })
  // While something is handed out a badge says who takes it; on an empty slip it changes hands, as everywhere.
  scan.wantsBadge(async badge => {
    await does.opened()
    const { head, lines } = slip.content
    const begun =
      lines.length > 0 || head.job !== null || head.costCentre !== null || head.among.length > 0 || own.on.value
    if (!begun || (of.value !== 'issue' && of.value !== 'bring_back')) return false
    const { name } = await call<{ name: string }>('POST', '/api/session/badge', { body: { badge } })
    if (own.on.value) own.say(lineNow(), { person: name })
    else slip.content.taker = name
    strip.say(`${of.value === 'issue' ? 'Taken' : 'Brought'} by ${name}.`, 'good', [
      { label: `${name} works here now`, run: () => void session.changeHands({ badge }) },
    ])
    return true
  })
  const isHere = (place: string) =>
    slip.content.place !== null && session.within(slip.content.place).some(p => p.id === place)
  const lineNow = () => slip.content.lines.find(l => l.id === slip.focused) ?? slip.content.lines.at(-1)
  /** The number on the label of a lot that lies here, of the item of the line. */
  async function outwardLot(code: string): Promise<boolean> {
    const line = lineNow()
    if (!line?.item || wayOf(kind.value, line).lot !== 'out' || index.byId.get(line.item)?.identifiedBy === 'quantity')
      return false
    const { rows } = await get<{ rows: LotView[] }>(
      `/api/items/${line.item}/lots${query({ place: slip.content.place })}`,
    )
    const lot = rows.find(l => l.code?.toUpperCase() === code.toUpperCase())
    if (lot) line.lot = { id: lot.id, code: lot.code ?? '', expiry: lot.expiry }
    return lot !== undefined
  }
  scan.offer(m => {
    const line = lineNow()
    const item = line?.item ? index.byId.get(line.item) : undefined
    if (!line || !item || wayOf(kind.value, line).lot !== 'in' || item.identifiedBy === 'quantity' || line.lot?.code)
      return undefined
    return {
      label: `It is the ${item.identifiedBy === 'serial' ? 'serial number' : 'lot'} of ${item.name}`,
      run: () => {
        line.lot = { id: null, code: m.code, expiry: line.lot?.expiry ?? null }
      },
    }
  })
  /** A scanned place on a move: first a bin to be emptied, then where all that has no goal yet goes. */
  async function movePlace(place: string): Promise<boolean> {
    if (!slip.content.lines.length) {
      if (session.places.find(p => p.id === place)?.kind === 'bin') await takeAll(place)
      else session.placeId = place
      return true
    }
    const without = slip.content.lines.filter(l => l.to === null)
    if (without.length) for (const l of without) l.to = place
    else {
      lineNow()!.to = place
    }
    return true
  }
  /** From whom, for whom or why, said by a printed card. */
  function party(p: NonNullable<CodeMeaning['party']>): boolean {
    const { head } = slip.content
    const outward = of.value === 'issue' || of.value === 'bring_back'
    const forJob = outward || of.value === 'make'
    if (p.kind === 'supplier' && of.value === 'receipt') head.supplier = p.name
    else if (own.on.value && p.kind === 'job') own.say(lineNow(), { job: p.id, costCentre: null })
    else if (own.on.value && p.kind === 'cost_centre') own.say(lineNow(), { job: null, costCentre: p.id })
    else if (p.kind === 'job' && forJob) Object.assign(head, { job: p.id, costCentre: null })
    else if (p.kind === 'cost_centre' && outward) Object.assign(head, { job: null, costCentre: p.id })
    else if (p.kind === 'reason' && of.value === 'waste') head.reason = p.id
    else return false
    return true
  }
  async function command(c: string): Promise<boolean> {
    const line = lineNow()
    if (c === 'book') {
      await typedStands()
      await does.book()
      return true
    }
    if (c === 'back') {
      if (line) slip.remove(line.id)
      return true
    }
    if (c === 'next') {
      const i = slip.content.lines.findIndex(l => l.id === slip.focused)
      slip.focused = slip.content.lines[i + 1]?.id ?? slip.content.lines[0]?.id ?? null
      return true
    }
    const digit = c === 'point' ? '.' : /^\d$/.test(c) ? c : undefined
    if (digit && line) {
      line.typed = pad.value === line.id ? line.typed + digit : digit
      pad.value = line.id
      return true
    }
    return false
  }
  /** The line whose number is being scanned digit by digit. */
  const pad = ref<string | null>(null)
  watch(
    () => slip.focused,
    () => {
      pad.value = null
    },
  )
}
