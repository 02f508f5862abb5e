import type { CountAccuracy, CountedRight } from '@shelve/contract'
import {
  abs,
  type Accuracy,
  addTally,
  type FirstTally,
  formatDecimal,
  grossOf,
  isWithin,
  netOf,
  noAccuracy,
  percentOf,
} from '@shelve/core'
import { toleranceOf } from '../catalogue/index.ts'
import { eachInPieces, remember } from '../ground/index.ts'
import { stockChange } from '../ledger/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import { nextMonth, startOfMonth } from './calendar.ts'
import type { House } from './house.ts'
import { monthsBetween } from './lookback.ts'
import { largest } from './wasted.ts'

const d = formatDecimal
/** So many items are named. */
const NAMED = 20

/** A tally that stands. */
interface TallyRow {
  readonly item: bigint
  readonly place: bigint
  readonly at: bigint
  readonly counted: bigint
  readonly expected: bigint
  readonly off: bigint | null
  readonly within: bigint | null
  readonly line: bigint
  readonly slip: bigint
}
/** What was counted first of a line; where nobody wrote that down, what stands did, judged by what holds today. */
function firstOf(house: House, t: TallyRow, value: bigint): FirstTally {
  const { counted, expected } = t
  if (t.off !== null) return { expected, off: t.off, within: t.within === 1n, value }
  const limits = toleranceOf(house, house.known.itemById(Number(t.item))!)
  return {
    expected,
    off: counted - expected,
    within: isWithin(limits, { counted, expected, worth: () => abs(value) }),
    value,
  }
}

const view = (a: Accuracy): CountedRight => {
  const share = percentOf(BigInt(a.hits), BigInt(a.lines))
  return {
    lines: a.lines,
    exact: a.exact,
    hits: a.hits,
    share: share === null ? null : d(share),
    missing: d(a.missing),
    over: d(a.over),
    net: d(netOf(a)),
    gross: d(grossOf(a)),
  }
}
const orNone = (a: Accuracy | undefined): CountedRight => view(a ?? noAccuracy())

/** How right the books were in a span of months, by when it was counted, beside as many before; others are let in meanwhile. */
export async function countAccuracy(
  house: House,
  scope: Scope,
  q: { readonly from: string; readonly to: string },
): Promise<CountAccuracy> {
  const months = monthsBetween(q.from, q.to)
  const before = months.map((_, i) => nextMonth(q.from, i - months.length))
  const sums = {
    all: new Map<boolean, Accuracy>(),
    month: new Map<string, Accuracy>(),
    area: new Map<number, Accuracy>(),
    areaBefore: new Map<number, Accuracy>(),
    item: new Map<number, Accuracy>(),
  }
  const starts = startOfMonth(house, q.from)
  await eachTally(house, startOfMonth(house, before[0] ?? q.from), startOfMonth(house, nextMonth(q.to)), (t, value) => {
    const place = Number(t.place)
    if (!isIn(scope, place)) return
    const tally = firstOf(house, t, value())
    const now = Number(t.at) >= starts
    const add = <K>(to: Map<K, Accuracy>, key: K) => addTally(remember(to, key, noAccuracy), tally)
    add(sums.all, now)
    const area = house.places.area(place)
    add(now ? sums.area : sums.areaBefore, area)
    if (!now) return
    add(sums.month, house.flows.monthOf(Number(t.at)))
    add(sums.item, Number(t.item))
  })
  return {
    ...orNone(sums.all.get(true)),
    before: { from: before[0] ?? q.from, to: before.at(-1) ?? q.from, ...orNone(sums.all.get(false)) },
    months: months.map(month => ({ month, ...orNone(sums.month.get(month)) })),
    places: [...sums.area]
      .map(([id, a]) => ({
        id: house.places.row(id)?.uid ?? null,
        name: house.places.name(id),
        ...view(a),
        before: orNone(sums.areaBefore.get(id)).share,
      }))
      .sort((a, b) => a.name.localeCompare(b.name)),
    items: [...sums.item]
      .filter(([, a]) => grossOf(a) > 0n || a.hits < a.lines)
      .sort(([, a], [, b]) => largest(grossOf(a), grossOf(b)) || b.lines - b.hits - (a.lines - a.hits))
      .slice(0, NAMED)
      .map(([id, a]) => {
        const { uid, code, name } = house.known.itemById(id)!
        return { id: uid, code, name, ...view(a) }
      }),
  }
}

/**
 * Every tally that stands of what was counted in a time, in the order of writing. Its value is what its own slip put right in
 * stock, as the count's own report says it: what was found or closed since is not a matter of how right the books were.
 */
async function eachTally(
  house: House,
  from: number,
  to: number,
  does: (t: TallyRow, value: () => bigint) => void,
): Promise<void> {
  const { client } = house.store
  const ids = client
    .prepare(
      `select id from tally where counted_at >= ? and counted_at < ?
        and id not in (select tally_id from tally_reversal) order by id`,
    )
    .pluck()
    .all(from, to) as bigint[]
  const read = client.prepare(
    `select item_id as item, place_id as place, counted_at as at, counted, expected, first_off as off, first_within as within,
        line_id as line, slip_id as slip from tally where id = ?`,
  )
  const moved = client.prepare('select from_id, to_id, value from movement where line_id = ? and slip_id = ?')
  type Moved = { readonly from_id: bigint; readonly to_id: bigint; readonly value: bigint }
  await eachInPieces(ids, id => {
    const t = read.get(id) as TallyRow
    does(t, () => {
      const rows = moved.all(t.line, t.slip) as Moved[]
      return stockChange(
        house,
        rows.map(m => ({ from: Number(m.from_id), to: Number(m.to_id), value: m.value })),
      )
    })
  })
}
