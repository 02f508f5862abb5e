import { isCounted, type SlipLine } from '@shelve/contract'
import {
  atCost,
  type CountEntry,
  expectedAt,
  formatDecimal,
  type CountJudgement,
  isWithin,
  judgeEntries,
  movedNear,
  type Near,
  NEAR,
  type Tallied,
  unitCost,
} from '@shelve/core'
import { type ItemRow, toleranceOf } from '../catalogue/index.ts'
import { differenceAccount } from '../ledger/index.ts'
import { cellKey, type Reading } from '../papers/index.ts'

/** Where a count shows its figures, they stand before anybody has counted: by what lies there now. */
function awaits(r: Reading, line: SlipLine): void {
  const item = r.content.head.blind || line.item === null ? undefined : r.house.known.item(line.item)
  const placeId = line.from === null ? r.area() : r.house.places.id(line.from)
  const lotId =
    item &&
    (line.lot?.id
      ? lotOf(r, item, line.lot.id)
      : item.identifiedBy === 'quantity'
        ? r.house.known.plainLot(item.id)
        : undefined)
  if (!item || placeId === undefined) return
  const none = saysNoLot(line, item) ? noLotHere(r, item, placeId, r.house.now()) : undefined
  const working = none ?? (lotId === undefined ? undefined : expectedNow(r, item.id, lotId, placeId, r.house.now()))
  if (working) r.awaited.set(r.id(line), { working, expected: working.figure })
}

/** Whether a line is about an item with lots and names none: there is none of it, say. */
const saysNoLot = (line: SlipLine, item: ItemRow): boolean =>
  item.identifiedBy !== 'quantity' && !line.lot?.id && !line.lot?.code.trim()
/** How it comes that nothing lies of any lot of an item; undefined where something does. */
function noLotHere(r: Reading, item: ItemRow, placeId: number, at: number) {
  const lots = r.house.rows.itemLots.all({ item: item.id }).map(l => expectedNow(r, item.id, l.id, placeId, at))
  return lots.some(w => w.figure !== 0n) ? undefined : (lots[0] ?? expectedAt([], placeId, at))
}

/** A lot of an item by its id; nothing is said where it is another's: nobody has counted it yet. */
function lotOf(r: Reading, item: ItemRow, uid: string): number | undefined {
  const own = r.books.memory.recall(`lot named ${uid}`, () => r.house.rows.lotNamed.get({ uid }))
  return own?.itemId === item.id ? own.id : undefined
}

/**
 * What is expected in a cell at a minute. With every key a long count is judged anew: it is worked out once, and by all that
 * moved there where nothing moved since.
 */
function expectedNow(r: Reading, itemId: number, lotId: number, placeId: number, minute: number) {
  const { lastEffectiveAt } = r.books.balance(itemId, lotId, placeId)
  return r.books.memory.recall(
    `expected ${itemId} ${lotId} ${placeId} ${minute >= lastEffectiveAt ? 'by all' : minute}`,
    () => expectedAt(r.books.cellMovements(itemId, lotId, placeId), placeId, minute),
  )
}

/** What moved in a cell within half an hour of a tally. */
function movedBeside(r: Reading, itemId: number, lotId: number, placeId: number, minute: number): readonly Near[] {
  if (r.books.balance(itemId, lotId, placeId).lastEffectiveAt < minute - NEAR) return []
  return r.books.memory.recall(`near ${itemId} ${lotId} ${placeId} ${minute}`, () =>
    movedNear(r.books.cellMovements(itemId, lotId, placeId), placeId, minute),
  )
}

/** Everything that was entered of one item, or one lot of it, in one place. */
interface Cell {
  readonly item: ItemRow
  readonly lotId: number
  readonly placeId: number
  readonly entries: { readonly line: SlipLine; readonly entry: CountEntry }[]
}
/** What was read of a count so far; it is judged when all of it is read. */
const read = new WeakMap<Reading, Map<string, Cell>>()

/** Reads one counted line. */
export function countLine(r: Reading, line: SlipLine): void {
  if (!isCounted(line)) return awaits(r, line)
  const item = r.item(line)
  const placeId = line.from === null ? r.area() : r.place(line, line.from, 'from')
  if (!item || placeId === undefined) return
  const at = Math.min(
    line.countedAt === null
      ? r.content.effectiveAt === null
        ? r.house.now()
        : Date.parse(r.content.effectiveAt)
      : Date.parse(line.countedAt),
    r.house.now(),
  )
  if (saysNoLot(line, item) && noneOfAnyLot(r, line, item, placeId, at)) return
  const lotId =
    line.lot === null && item.identifiedBy !== 'quantity'
      ? (r.no(line, 'lot_needed', 'lot'), undefined)
      : r.lotIn(line, item)
  if (lotId === undefined) return
  const counted = line.counted === 'confirmed' ? null : r.quantity(line, item, line.typed, 'typed', true)
  const again = line.again.trim() ? r.quantity(line, item, line.again, 'again', true) : null
  if (counted === undefined || again === undefined) return
  const cells = read.get(r) ?? new Map<string, Cell>()
  read.set(r, cells)
  const key = cellKey(item.id, { lotId, placeId })
  const cell = cells.get(key) ?? { item, lotId, placeId, entries: [] }
  cells.set(key, cell)
  cell.entries.push({ line, entry: { line: line.id, counter: line.counter, counted, at, again } })
}

/** Whether a figure of a cell is near enough: by the limits of its item, a difference being worth what its pool costs now. */
function nearEnough(r: Reading, item: ItemRow, lotId: number) {
  const { memory } = r.books
  const limits = memory.recall(`tolerance ${item.id}`, () => toleranceOf(r.house, item))
  const worth = (off: bigint) => {
    const one = unitCost(r.books.pool(r.books.poolOf(item.id, lotId)))
    return one === null ? 0n : atCost(off, one)
  }
  return (of: { readonly counted: bigint; readonly expected: bigint }) => isWithin(limits, { ...of, worth })
}

/** Judges what was read: what stands of each line is tallied, the rest is asked for. */
export function judgeCounts(r: Reading): void {
  for (const cell of read.get(r)?.values() ?? []) judge(r, cell)
}

function judge(r: Reading, { item, lotId, placeId, entries }: Cell): void {
  const at = (minute: number) => expectedNow(r, item.id, lotId, placeId, minute)
  const within = nearEnough(r, item, lotId)
  const judged = judgeEntries(
    entries.map(e => e.entry),
    minute => at(minute).figure,
    within,
    r.content.head.byTwo,
  )
  const lineOf = (t: Tallied) => entries.find(e => e.line.id === t.lines[0])!.line
  const first = 'stands' in judged && {
    first: { off: judged.first.counted - judged.first.expected, within: within(judged.first) },
  }
  const tell = (t: Tallied) => {
    const { expected, counted, confirmed } = t
    // What lies there as expected does so whatever was before it.
    const near = () => (confirmed ? [] : movedBeside(r, item.id, lotId, placeId, t.at))
    r.expected.set(r.id(lineOf(t)), { working: at(t.at), expected, counted, confirmed, at: t.at, ...first, near })
  }
  // In a blind count what was expected stays hidden until two counts agree.
  if (!r.content.head.blind) judged.by.forEach(tell)
  if (!('stands' in judged)) return asks(r, judged, item, lineOf)
  const { stands } = judged
  const line = lineOf(stands)
  // On the way something may be lost; what is there beyond what was sent is counted where it arrives.
  if (r.house.places.transit(placeId) && stands.counted > stands.expected)
    return r.no(line, 'more_than_sent', 'typed', { left: formatDecimal(stands.expected), unit: item.unit })
  if (r.content.head.blind) tell(stands)
  const unitCost = line.unitCost.trim() ? r.money(line, line.unitCost, 'unitCost') : null
  if (unitCost === undefined) return
  const tallyId = r.nextTally++
  r.tallyUids.set(tallyId, r.house.uid())
  r.counts.push({
    lineId: r.id(line),
    tallyId,
    differenceAccount: differenceAccount(tallyId),
    itemId: item.id,
    lotId,
    placeId,
    counted: stands.counted,
    countedAt: stands.at,
    unitCost,
  })
}

/** Says what is still to be counted, at the line of whoever is asked. */
function asks(
  r: Reading,
  { asks: code, by }: Extract<CountJudgement, { asks: string }>,
  item: ItemRow,
  lineOf: (t: Tallied) => SlipLine,
): void {
  const figure = (q: bigint) => formatDecimal(q)
  if (code === 'counters_differ') {
    const counts = by.map(t => ({
      by: (t.counter === null ? undefined : r.house.rows.personNamed.get({ uid: t.counter })?.name) ?? 'a sheet',
      // Who counts blind is not told what the other found.
      counted: r.content.head.blind ? null : figure(t.counted),
    }))
    for (const t of by) r.no(lineOf(t), code, 'typed', { counts, unit: item.unit })
    return
  }
  const [one] = by as [Tallied]
  if (code === 'second_counter') r.no(lineOf(one), code, 'typed')
  else if (code === 'count_twice') r.no(lineOf(one), code, 'again', { counted: figure(one.counted), unit: item.unit })
  else
    r.no(lineOf(one), code, 'again', {
      first: figure(one.counted),
      second: figure(one.again!),
      unit: item.unit,
    })
}

/**
 * None of an item that has lots, where the books know of none either: nothing that could be tallied, so nobody is
 * asked for a lot. The line stands on the slip as counted.
 */
function noneOfAnyLot(r: Reading, line: SlipLine, item: ItemRow, placeId: number, at: number): boolean {
  const said = line.counted === 'confirmed' ? 0n : r.quantity(line, item, line.typed, 'typed', true)
  if (said !== 0n) return false
  const working = noLotHere(r, item, placeId, at)
  if (!working) return false
  r.expected.set(r.id(line), {
    working,
    expected: 0n,
    counted: 0n,
    confirmed: line.counted === 'confirmed',
    at,
    near: () => [],
  })
  r.empty++
  return true
}
