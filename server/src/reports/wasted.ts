import type { WasteReport } from '@shelve/contract'
import { abs, formatDecimal, max, percentOf } from '@shelve/core'
import type { Scope } from '../rights/index.ts'
import { monthsBetween } from './lookback.ts'
import { nextMonth, startOfMonth } from './calendar.ts'
import type { House } from './house.ts'

const d = formatDecimal
/** So many items are named. */
const TEN = 10
/** Where more came back than was used, nothing of that time was. */
const share = (wasted: bigint, used: bigint): string | null => {
  const percent = percentOf(wasted, max(used, 0n) + wasted)
  return percent === null ? null : d(percent)
}

interface Sum {
  value: bigint
  before: bigint
  quantity: bigint
  lines: number
}

/** What was wasted in a span of months, by the number of its item. */
export function wastedByItem(house: House, scope: Scope, q: { from: string; to: string }) {
  const out = new Map<number, { quantity: bigint; value: bigint }>()
  for (const month of monthsBetween(q.from, q.to))
    for (const c of house.flows.wasted(month)) {
      if (!(scope.within?.has(c.area) ?? true)) continue
      const own = out.get(c.item) ?? { quantity: 0n, value: 0n }
      out.set(c.item, { quantity: own.quantity + c.quantity, value: own.value + c.value })
    }
  return out
}

/** What was wasted in a span of months, beside as many months before and beside what was used. */
export function wasteReport(house: House, scope: Scope, q: { from: string; to: string }): WasteReport {
  const span = monthsBetween(q.from, q.to)
  const before = span.map((_, i) => nextMonth(q.from, i - span.length))
  const sums = { reason: new Map<number, Sum>(), place: new Map<number, Sum>(), item: new Map<number, Sum>() }
  const inScope = (area: number) => scope.within?.has(area) ?? true
  for (const [months, now] of [
    [span, true],
    [before, false],
  ] as const)
    for (const month of months)
      for (const c of house.flows.wasted(month)) {
        if (!inScope(c.area)) continue
        for (const [sum, key] of [
          [sums.reason, c.account],
          [sums.place, c.area],
          [sums.item, c.item],
        ] as const) {
          const own = sum.get(key) ?? { value: 0n, before: 0n, quantity: 0n, lines: 0 }
          sum.set(key, own)
          if (!now) own.before += c.value
          else {
            own.value += c.value
            own.quantity += c.quantity
            own.lines += c.lines
          }
        }
      }
  const months = span.map(month => monthOf(house, scope, month))
  const then = before.map(month => monthOf(house, scope, month))
  const total = (rows: readonly { wasted: bigint; used: bigint }[]) => ({
    wasted: rows.reduce((s, r) => s + r.wasted, 0n),
    used: rows.reduce((s, r) => s + r.used, 0n),
  })
  const [is, was] = [total(months), total(then)]
  const reasonOf = (id: number) => {
    const uid = house.rows.reasonOf.get({ id })?.uid ?? null
    return { id: uid, name: house.rows.account.get({ id })?.name ?? '?' }
  }
  const placeOf = (id: number) => ({ id: house.places.row(id)?.uid ?? null, name: house.places.name(id) })
  const items = [...sums.item]
  const usedOf = usedReader(house, scope, q)
  const itemView = (rows: typeof items) => rows.slice(0, TEN).map(([id, s]) => itemOf(house, id, s, usedOf(id)))
  return {
    value: d(is.wasted),
    used: d(is.used),
    share: share(is.wasted, is.used),
    before: { from: before[0]!, to: before.at(-1)!, value: d(was.wasted), share: share(was.wasted, was.used) },
    months: months.map(m => ({
      month: m.month,
      wasted: d(m.wasted),
      used: d(m.used),
      share: share(m.wasted, m.used),
    })),
    reasons: ranked(sums.reason, reasonOf),
    places: ranked(sums.place, placeOf),
    worst: itemView(items.filter(([, s]) => s.value > 0n).sort(([, a], [, b]) => largest(a.value, b.value))),
    changed: itemView(
      items
        .filter(([, s]) => s.value !== s.before)
        .sort(([, a], [, b]) => largest(abs(a.value - a.before), abs(b.value - b.before))),
    ),
  }
}
/** The largest first. */
export const largest = (a: bigint, b: bigint) => (a > b ? -1 : a < b ? 1 : 0)

const ranked = (sums: ReadonlyMap<number, Sum>, named: (id: number) => { id: string | null; name: string }) =>
  [...sums]
    .sort(([, a], [, b]) => largest(a.value, b.value) || largest(a.before, b.before))
    .map(([id, s]) => ({ ...named(id), value: d(s.value), before: d(s.before), lines: s.lines }))

/** What was wasted and used in a month; what went straight to its user never lay in a place. */
function monthOf(house: House, scope: Scope, month: string) {
  const out = { month, wasted: 0n, used: 0n }
  for (const c of house.flows.cells(month)) {
    if (c.flow === 'direct') {
      if (!scope.within) out.used += c.value
    } else if (!scope.within || scope.within.has(c.area)) {
      if (c.flow === 'wasted') out.wasted -= c.value
      if (c.flow === 'used') out.used -= c.value
    }
  }
  return out
}

/** What was used of an item in the time that is asked, of its own movements: one statement for all of them. */
function usedReader(house: House, scope: Scope, q: { from: string; to: string }) {
  const statement = house.store.client
    .prepare(
      `select coalesce(sum(case when t.kind = 'used' then m.value else -m.value end), 0) from movement m
      join account f on f.id = m.from_id join account t on t.id = m.to_id
      where m.item_id = :item and m.effective_at >= :from and m.effective_at < :to
        and ((t.kind = 'used' and (:inside is null or m.from_id in (select value from json_each(:inside))))
          or (f.kind = 'used' and (:inside is null or m.to_id in (select value from json_each(:inside)))))`,
    )
    .pluck()
  const inside = scope.within ? JSON.stringify([...scope.within]) : null
  const [from, to] = [startOfMonth(house, q.from), startOfMonth(house, nextMonth(q.to))]
  return (item: number): bigint => statement.get({ item, from, to, inside }) as bigint
}

function itemOf(house: House, id: number, s: Sum, used: bigint) {
  const it = house.known.itemById(id)!
  return {
    id: it.uid,
    code: it.code,
    name: it.name,
    unit: it.unit,
    quantity: d(s.quantity),
    value: d(s.value),
    before: d(s.before),
    lines: s.lines,
    share: share(s.value, used),
  }
}
