import { type SQL, sql } from 'drizzle-orm'
import { ACCOUNT_KINDS, flowOf } from '@shelve/core'
import { categoryWithin, item } from '../catalogue/index.ts'
import { slip } from '../ledger/index.ts'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { accountsOf } from './lookback.ts'
import { endOfDay, startOfDay } from './past.ts'

/**
 * What a bar of the look back is about. `party` with `partyId`, and `category`, may be `none`: nobody was named, the item has
 * no category.
 */
export interface Bar {
  readonly flow?: string | undefined
  readonly category?: string | undefined
  /** The category itself, without those below it. */ readonly alone?: string | undefined
  readonly item?: string | undefined
  readonly from?: string | undefined
  readonly to?: string | undefined
  readonly party?: string | undefined
  readonly partyId?: string | undefined
}

/**
 * The slips behind a bar: those with a movement that the bar adds up, by the rules by which `Flows` sums. What happened
 * counts by when it did, where it lay and what it was, not by where its slip was written.
 */
export function slipsBehind(house: House, bar: Bar, scope: Scope): SQL {
  const kinds =
    bar.flow === 'any' ? ACCOUNT_KINDS.filter(k => flowOf(k)) : ACCOUNT_KINDS.filter(k => flowOf(k) === bar.flow)
  const inside = scope.within ? [...scope.within] : undefined
  /** A stock account on one side, of the wanted places, and one of the kinds on the other. */
  const side = (stock: SQL, stockId: SQL, other: SQL) =>
    sql`(${stock} in ('place', 'stock') and ${other} in ${kinds}${inside ? sql` and ${stockId} in ${inside}` : sql``})`
  const passed = [side(sql`f.kind`, sql`m.from_id`, sql`t.kind`), side(sql`t.kind`, sql`m.to_id`, sql`f.kind`)]
  // Straight to the user: it never lay in a place, so it belongs to the whole only, and an item's months are of what lay somewhere.
  if (!inside && !bar.item && (bar.flow === 'used' || bar.flow === 'any'))
    passed.push(
      sql`((f.kind = 'supplier' and t.kind not in ('place', 'stock')) or (t.kind = 'supplier' and f.kind not in ('place', 'stock')))`,
    )
  // Charged to somebody else, or spoiled with whoever had it: of the place that its slip was written in.
  if (bar.flow === 'used' || bar.flow === 'wasted' || bar.flow === 'any')
    passed.push(
      sql`(f.kind in ('used', 'waste') and t.kind in ('used', 'waste')${bar.flow === 'wasted' ? sql` and (f.kind = 'waste' or t.kind = 'waste')` : sql``}${inside ? sql` and ${slip.placeId} in ${inside}` : sql``})`,
    )
  const accounts = bar.party && bar.partyId ? accountsOf(house, bar.party, bar.partyId) : undefined
  const category =
    bar.category === undefined
      ? undefined
      : bar.category === 'none'
        ? sql`i.category_id is null`
        : sql`i.category_id in ${[0, ...categoryWithin(house, bar.category).slice(0, bar.alone ? 1 : undefined)]}`
  const when = [
    bar.item ? sql`i.uid = ${bar.item}` : undefined,
    bar.from ? sql`m.effective_at >= ${startOfDay(house, bar.from)}` : undefined,
    bar.to ? sql`m.effective_at < ${endOfDay(house, bar.to)}` : undefined,
    category,
    accounts ? sql`(m.to_id in ${[0, ...accounts]} or m.from_id in ${[0, ...accounts]})` : undefined,
  ].filter(c => c !== undefined)
  return sql`exists (select 1 from movement m join account f on f.id = m.from_id join account t on t.id = m.to_id join ${item} i on i.id = m.item_id where m.slip_id = ${slip.id} and (${sql.join(passed, sql` or `)})${sql.join(when.map(c => sql` and ${c}`))})`
}
