import { or, type SQL, sql } from 'drizzle-orm'
import { among } from '../ground/index.ts'
import { ACCOUNT_KINDS, flowOf } from '@shelve/core'
import { categoryWithin } from '../catalogue/index.ts'
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

/** Of items that moved no more often their movements are looked up; of others each slip is asked. */
const FEW_MOVEMENTS = 2000

/** Slips that are wanted, and whether they are so few that they are found at once. */
export interface Behind {
  readonly where: SQL
  readonly few: boolean
}

/**
 * The slips behind a bar: those with a movement that the bar adds up, by the rules by which `Flows` sums. What happened
 * counts by when it did, where it lay and what it was, not by where its slip was written.
 */
export function slipsBehind(house: House, bar: Bar, scope: Scope, seldom = FEW_MOVEMENTS): Behind {
  const kinds =
    bar.flow === 'any' ? ACCOUNT_KINDS.filter(k => flowOf(k)) : ACCOUNT_KINDS.filter(k => flowOf(k) === bar.flow)
  const inside = scope.within
  /** A stock account on one side, of the wanted places, and one of the kinds on the other. */
  const side = (stock: SQL, stockId: SQL, other: SQL) =>
    sql`(${stock} in ('place', 'stock') and ${other} in ${kinds}${inside ? sql` and ${among(stockId, inside)}` : sql``})`
  const passed = [side(sql`f.kind`, sql`m.from_id`, sql`t.kind`), side(sql`t.kind`, sql`m.to_id`, sql`f.kind`)]
  // Straight to the user: it never lay in a place, so it belongs to the whole only, and an item's months are of what lay somewhere.
  if (!inside && !bar.item && (bar.flow === 'used' || bar.flow === 'any'))
    passed.push(
      sql`((f.kind = 'supplier' and t.kind not in ('place', 'stock')) or (t.kind = 'supplier' and f.kind not in ('place', 'stock')))`,
    )
  // Charged to somebody else, or spoiled with whoever had it: of the place that its slip was written in.
  if (bar.flow === 'used' || bar.flow === 'wasted' || bar.flow === 'any')
    passed.push(
      sql`(f.kind in ('used', 'waste') and t.kind in ('used', 'waste')${bar.flow === 'wasted' ? sql` and (f.kind = 'waste' or t.kind = 'waste')` : sql``}${inside ? sql` and ${among(slip.placeId, inside)}` : sql``})`,
    )
  const accounts = bar.party && bar.partyId ? accountsOf(house, bar.party, bar.partyId) : undefined
  const items = itemsOf(house, bar)
  const when = [
    bar.from ? sql`m.effective_at >= ${startOfDay(house, bar.from)}` : undefined,
    bar.to ? sql`m.effective_at < ${endOfDay(house, bar.to)}` : undefined,
    accounts ? or(among(sql`m.to_id`, accounts), among(sql`m.from_id`, accounts)) : undefined,
  ].filter(c => c !== undefined)
  const adds = sql`(${sql.join(passed, sql` or `)})${sql.join(when.map(c => sql` and ${c}`))}`
  const sides = sql`cross join account f on f.id = m.from_id cross join account t on t.id = m.to_id`
  const few = items !== undefined && movedSeldom(house, items, seldom)
  // What is crossed is gone through as it stands: left to itself SQLite goes through all that an item ever did, for each slip.
  const ofItems = items ? sql`and +m.item_id in (${items})` : sql``
  const where = few
    ? sql`${slip.id} in (select m.slip_id from movement m ${sides} where m.item_id in (${items}) and ${adds})`
    : sql`exists (select 1 from movement m ${sides} where m.slip_id = ${slip.id} ${ofItems} and ${adds})`
  return { where, few }
}

/** The items that a bar is about, as what selects their numbers. */
function itemsOf(house: House, bar: Bar): SQL | undefined {
  const of = [
    bar.item ? sql`uid = ${bar.item}` : undefined,
    bar.category === undefined
      ? undefined
      : bar.category === 'none'
        ? sql`category_id is null`
        : sql`category_id in ${[0, ...categoryWithin(house, bar.category).slice(0, bar.alone ? 1 : undefined)]}`,
  ].filter(c => c !== undefined)
  return of.length ? sql`select id from item where ${sql.join(of, sql` and `)}` : undefined
}

/** Whether items moved so seldom that all they did is looked through at once; `items` selects their numbers. */
export function movedSeldom(house: House, items: SQL, seldom = FEW_MOVEMENTS): boolean {
  const { n } = house.db.get<{ n: bigint }>(
    sql`select count(*) as n from (select 1 from movement where item_id in (${items}) limit ${seldom + 1})`,
  )
  return n <= seldom
}
