import type { SlipLine } from '@shelve/contract'
import { type DraftLine, firstToGo, formatDecimal, lotState, split } from '@shelve/core'
import { type ItemRow, sortable } from '../../catalogue/index.ts'
import type { LotCell } from '../../ledger/index.ts'
import { isIn } from '../../rights/index.ts'
import type { Cell } from '../cells.ts'
import type { Reading } from './reading.ts'

interface Outward {
  /** What is credited for all of it. */
  readonly goods?: bigint | null
  /** Whether only what may be used is taken. */
  readonly usable?: boolean
  /** Which lots it may be of, where not of any. */
  readonly only?: (lot: LotCell['lot']) => boolean
  /** It is taken from one shelf as one, where any has so much. */
  readonly whole?: boolean
  /** From where, where that is not for the line to say. */
  readonly from?: number
  /** Says that so much of it is missing there, in words of its own. */
  readonly short?: (missing: bigint) => void
}

/** Takes from shelves: the chosen lot, or first expired first out, then oldest; bins in walking order. */
export function outward(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  quantity: bigint,
  to: number,
  { goods, usable: needsUsable = false, only = () => true, whole = false, from, short }: Outward = {},
): DraftLine[] {
  const here = cellsOf(r, line, item, from)
  if (!here) return []
  // Whether it may be used is asked of the day it happened (rule 55).
  const day = r.house.today(r.at())
  const chosen = chosenLot(r, line, item, here.cells)
  const own = r.withJob(line)
  const usable = (c: LotCell) =>
    (r.house.places.isShelf(c.placeId) || c.placeId === own) && lotState(c.lot, day) === 'usable'
  const fits = (c: LotCell) =>
    c.placeId !== to && only(c.lot) && (chosen !== null ? chosen.fits(c.lot) : needsUsable ? usable(c) : true)
  const before = orderOf(r, line, item, own, chosen)
  const out: DraftLine[] = []
  let missing = quantity
  const override = line.override && r.mayOverride && r.content.head.why.trim() !== ''
  for (const c of toGo(here.cells.filter(fits), before, quantity, whole)) {
    if (missing === 0n) break
    const x = c.quantity < missing ? c.quantity : missing
    missing -= x
    r.planned.add(item.id, c, x)
    out.push({
      lineId: r.id(line),
      itemId: item.id,
      lotId: c.lotId,
      from: c.placeId,
      to,
      quantity: x,
      override,
      ...(goods === undefined ? {} : { goods }),
    })
  }
  const credits = goods ? split(goods, [...out.map(l => l.quantity), missing]) : undefined
  if (credits) for (const [i, l] of out.entries()) out[i] = { ...l, goods: credits[i]! }
  const already = here.cells.filter(c => c.placeId === to).reduce((s, c) => s + c.quantity, 0n)
  if (missing > 0n && already > 0n)
    r.no(line, 'already_there', 'to', {
      asked: formatDecimal(quantity),
      already: formatDecimal(already),
      others: formatDecimal(quantity - missing),
      place: to,
      unit: item.unit,
    })
  else if (missing > 0n && short) short(missing)
  else if (missing > 0n) tellMissing(r, line, item, quantity, missing, here, usable, chosen)
  return out
}

/**
 * The lot that a line names, by its id or its code, with the containers that were opened of it: the label on a bottle says its
 * lot, open or not.
 */
function chosenLot(r: Reading, { lot }: SlipLine, item: ItemRow, cells: readonly LotCell[]) {
  if (!lot?.id && !lot?.code) return null
  const rows = r.house.rows
  const named = lot.id
    ? (cells.find(c => c.lot.uid === lot.id)?.lot ?? rows.lot.get({ uid: lot.id }))
    : (cells.find(c => c.lot.code === lot.code)?.lot ?? rows.lotByCode.get({ item: item.id, code: lot.code }))
  const fits = (l: LotCell['lot']) => named !== undefined && (l.uid === named.uid || l.parentId === named.id)
  return { uid: named?.uid, fits }
}

/** What is set aside for whom it is for goes first, a lot that others have set aside last. */
const byWhomKept = (kept: NonNullable<ReturnType<Reading['keptLots']>>, c: Cell): number =>
  kept.own(c.lotId, c.placeId) ? -1 : kept.others(c.lotId) ? 1 : 0

type Order = (a: LotCell, b: LotCell) => number
/** Which of two cells a line takes from first. */
function orderOf(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  own: number | undefined,
  chosen: ReturnType<typeof chosenLot>,
): Order {
  const kept = r.keptLots(item.id, line)
  const first = r.first?.itemId === item.id ? r.first : undefined
  const isFirst = (c: Cell) => Number(c.lotId === first!.lotId && c.placeId === first!.placeId)
  return (a, b) =>
    (first ? isFirst(b) - isFirst(a) : 0) ||
    // Of the lot itself before what was opened of it.
    (chosen ? Number(a.lot.uid !== chosen.uid) - Number(b.lot.uid !== chosen.uid) : 0) ||
    Number(b.placeId === own) - Number(a.placeId === own) ||
    (kept ? byWhomKept(kept, a) - byWhomKept(kept, b) : 0) ||
    firstToGo(sortable(a.lot), sortable(b.lot)) ||
    r.house.places.order(a.placeId) - r.house.places.order(b.placeId)
}

/** The cells that a line takes from, in their order; `whole`: of those alone that have all of it, where any has. */
function toGo(cells: LotCell[], before: Order, quantity: bigint, whole: boolean): readonly LotCell[] {
  const enough = whole ? cells.filter(c => c.quantity >= quantity) : []
  const of = enough.length ? enough : cells
  if (!of.length) return of
  // Nearly always one is enough: the others need no order.
  const first = of.reduce((a, b) => (before(b, a) < 0 ? b : a))
  return first.quantity >= quantity ? [first] : of.sort(before)
}

/** What lies within the scope of a line: the named bin, or the area the slip is written in. */
function cellsOf(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  from: number | undefined,
): { cells: LotCell[]; scope: number } | undefined {
  const scope =
    from ?? (line.from !== null ? r.place(line, line.from, 'from') : (r.area() ?? r.place(line, null, 'from')))
  if (scope === undefined) return undefined
  const within = r.house.places.within(scope)
  const there = r.books.lotBalances(item.id)
  const own = r.withJob(line)
  // What lies with another job is taken only by whoever says so.
  const isOthers = (place: number) => place !== scope && place !== own && r.house.places.row(place)?.kind === 'with_job'
  const taken = r.planned.of(item.id)
  const cells = (r.freed.size ? [...there, ...emptied(r, item, there)] : there).filter(
    b => within.has(b.placeId) && !isOthers(b.placeId),
  )
  const left = taken ? cells.map(b => ({ ...b, quantity: b.quantity - taken(b) })) : cells
  return { cells: left.filter(b => b.quantity > 0n), scope }
}

/** Where nothing lay any more and something is given back (rule 49). */
const emptied = (r: Reading, item: ItemRow, there: readonly Cell[]): LotCell[] =>
  [...r.freed.values()]
    .filter(f => f.itemId === item.id && !there.some(c => c.lotId === f.lotId && c.placeId === f.placeId))
    .map(f => ({
      ...f,
      quantity: 0n,
      lastEffectiveAt: -Infinity,
      lot: r.house.rows.lotById.get({ id: f.lotId })! as LotCell['lot'],
    }))

/** A lot that somebody chose though it may not be used: nobody could use what is taken of it. */
export function refuseUnusable(r: Reading, line: SlipLine, lotId: number): void {
  const lot = r.books.lot(lotId)!
  const state = lotState(lot, r.house.today(r.at()))
  if (state !== 'usable') r.no(line, 'lot_not_usable', 'lot', { lot: lot.code, state, expiry: lot.expiry })
}

function tellMissing(
  r: Reading,
  line: SlipLine,
  item: ItemRow,
  quantity: bigint,
  missing: bigint,
  here: { cells: readonly LotCell[]; scope: number },
  usable: (c: LotCell) => boolean,
  chosen: object | null,
): void {
  const within = r.house.places.within(here.scope)
  const elsewhere = new Map<number, bigint>()
  let travels = 0n
  for (const b of r.books.lotBalances(item.id))
    if (b.quantity <= 0n || within.has(b.placeId) || !isIn(r.seen, b.placeId)) continue
    else if (r.house.places.transit(b.placeId)) travels += b.quantity
    else
      elsewhere.set(r.house.places.area(b.placeId), (elsewhere.get(r.house.places.area(b.placeId)) ?? 0n) + b.quantity)
  const locked = here.cells.filter(c => !usable(c)).reduce((s, c) => s + c.quantity, 0n)
  r.no(line, 'insufficient_stock', 'typed', {
    place: here.scope,
    asked: formatDecimal(quantity),
    there: formatDecimal(quantity - missing),
    missing: formatDecimal(missing),
    unit: item.unit,
    unusable: formatDecimal(locked),
    chosenLot: chosen !== null,
    inLots: here.cells
      .map(c => ({
        lot: c.lot.code,
        place: c.placeId,
        quantity: formatDecimal(c.quantity),
        usable: usable(c),
      }))
      .slice(0, 8),
    travels: formatDecimal(travels),
    elsewhere: [...elsewhere].map(([place, q]) => ({ place, quantity: formatDecimal(q) })),
  })
}
