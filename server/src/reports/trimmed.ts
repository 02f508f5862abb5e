import type { Trimmed } from '@shelve/contract'
import { divideHalfEven, formatDecimal } from '@shelve/core'
import { lossReader } from '../jobs/index.ts'
import type { Scope } from '../rights/index.ts'
import { nextMonth, startOfMonth } from './calendar.ts'
import type { House } from './house.ts'
import { wastedByItem } from './wasted.ts'

const d = formatDecimal
interface Sum {
  taken: bigint
  trimmed: bigint
  value: bigint
}

/**
 * What jobs trimmed in a span of months of what they took, by its item: it belongs to what they made and stands in its cost.
 * Beside it what was wasted of the same.
 */
export function trimmedReport(house: House, scope: Scope, q: { from: string; to: string }): Trimmed {
  const inside = scope.within ? JSON.stringify([...scope.within]) : null
  const rows = house.store.client
    .prepare(
      `select m.need_id as need, m.item_id as item, m.quantity, m.value, (f.kind = 'place') as away
      from movement m join account f on f.id = m.from_id join account t on t.id = m.to_id
      where m.need_id is not null and m.effective_at >= :from and m.effective_at < :to
        and (f.kind = 'place') <> (t.kind = 'place') and 'waste' not in (f.kind, t.kind)
        and (:inside is null or iif(f.kind = 'place', m.from_id, m.to_id) in (select value from json_each(:inside)))`,
    )
    .safeIntegers(true)
    .all({ from: startOfMonth(house, q.from), to: startOfMonth(house, nextMonth(q.to)), inside }) as {
    need: bigint
    item: bigint
    quantity: bigint
    value: bigint
    away: bigint
  }[]
  const lossOf = lossReader(house)
  const needs = new Map<number, { item: number; quantity: bigint; value: bigint }>()
  for (const r of rows) {
    const own = needs.get(Number(r.need)) ?? { item: Number(r.item), quantity: 0n, value: 0n }
    own.quantity += r.away ? r.quantity : -r.quantity
    own.value += r.away ? r.value : -r.value
    needs.set(Number(r.need), own)
  }
  const items = new Map<number, Sum>()
  for (const [need, { item, quantity, value }] of needs) {
    const { n, d: of } = lossOf(need)
    if (n <= 0n) continue
    const own = items.get(item) ?? { taken: 0n, trimmed: 0n, value: 0n }
    own.taken += quantity
    own.trimmed += divideHalfEven(quantity * n, of)
    own.value += divideHalfEven(value * n, of)
    items.set(item, own)
  }
  const wasted = wastedByItem(house, scope, q)
  const told = [...items].filter(([, s]) => s.trimmed > 0n)
  return {
    value: d(told.reduce((sum, [, s]) => sum + s.value, 0n)),
    rows: told
      .sort(([, a], [, b]) => (a.value > b.value ? -1 : a.value < b.value ? 1 : 0))
      .map(([id, s]) => {
        const it = house.known.itemById(id)!
        const w = wasted.get(id) ?? { quantity: 0n, value: 0n }
        return {
          id: it.uid,
          code: it.code,
          name: it.name,
          unit: it.unit,
          taken: d(s.taken),
          trimmed: d(s.trimmed),
          value: d(s.value),
          wasted: d(w.quantity),
          wastedValue: d(w.value),
        }
      }),
  }
}
