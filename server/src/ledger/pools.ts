import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import type { CostMethod } from '@shelve/core'
import type { House } from './house.ts'
import { Making } from './making.ts'
import { balance, movement, pool, slip, slipLine } from './tables.ts'

/** Its pools are of another method from now on; nothing moved in them yet. */
export function restampPool(house: House, itemId: number, method: CostMethod, standard: bigint): void {
  house.db
    .update(pool)
    .set({ method, firstStandard: standard, standard })
    .where(and(eq(pool.itemId, itemId), isNull(pool.lotId)))
    .run()
  house.db
    .delete(pool)
    .where(and(eq(pool.itemId, itemId), sql`${pool.lotId} is not null`))
    .run()
  if (method === 'lot')
    for (const l of house.rows.itemLots.all({ item: itemId }))
      house.db
        .insert(pool)
        .values({
          itemId,
          lotId: l.id,
          method,
          firstStandard: 0n,
          current: true,
          quantity: 0n,
          value: 0n,
          standard: 0n,
          tainted: false,
        })
        .run()
}

export const lies = (house: House, itemId: number) =>
  house.db
    .select({ placeId: balance.placeId, quantity: balance.quantity })
    .from(balance)
    .where(and(eq(balance.itemId, itemId), sql`${balance.quantity} > 0`))
    .get()

/** The method that the item is costed by now, as it is stamped on its pools. */
export const methodOfPools = (house: House, itemId: number): CostMethod =>
  house.rows.wholePool.get({ item: itemId })!.method as CostMethod

/** New pools take the place of an item's; the old ones keep what was costed in them. */
export function changePools(house: House, itemId: number, method: CostMethod, standard: bigint): void {
  const making = new Making(house)
  making.changePools(itemId, method, standard)
  making.write({ movements: [] }, null)
}

export const hasMoved = (house: House, itemId: number): boolean =>
  house.db.select({ seq: movement.seq }).from(movement).where(eq(movement.itemId, itemId)).limit(1).get() !== undefined

/** The pool that a new item begins with. */
export function openPool(house: House, itemId: number, method: CostMethod, standard: bigint): void {
  house.db
    .insert(pool)
    .values({
      itemId,
      lotId: null,
      method,
      firstStandard: standard,
      current: true,
      quantity: 0n,
      value: 0n,
      standard,
      tainted: false,
    })
    .run()
}
/** A lot of an item that is costed by actual lot has a pool of its own. */
export function openLotPool(house: House, itemId: number, lotId: number): void {
  if (house.rows.wholePool.get({ item: itemId })?.method === 'lot')
    house.rows.insertLotPool.run({ item: itemId, lot: lotId })
}
/** On how many slips that are not booked yet an item stands. */
export const onDrafts = (house: House, itemUid: string): number =>
  house.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(slipLine)
    .innerJoin(slip, eq(slip.id, slipLine.slipId))
    .where(and(eq(slip.state, 'draft'), sql`${slipLine.content} like ${`%${itemUid}%`}`))
    .get()!.n

/** Of some items at once: the method each is costed by now, and whether anything of it ever moved. */
export function standingOf(
  house: House,
  items: readonly number[],
): Map<number, { method: CostMethod; standard: bigint; moved: boolean; lies: boolean }> {
  const rows = house.db
    .select({
      item: pool.itemId,
      method: pool.method,
      standard: pool.standard,
      moved: sql<number>`exists (select 1 from movement m where m.item_id = pool.item_id)`.mapWith(Number),
      lies: sql<number>`exists (select 1 from balance b where b.item_id = pool.item_id and b.quantity > 0)`.mapWith(
        Number,
      ),
    })
    .from(pool)
    .where(and(inArray(pool.itemId, [...items]), isNull(pool.lotId), eq(pool.current, true)))
    .all()
  return new Map(
    rows.map(r => [
      r.item,
      { method: r.method as CostMethod, standard: r.standard, moved: r.moved === 1, lies: r.lies === 1 },
    ]),
  )
}
