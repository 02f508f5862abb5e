import { and, eq, gt, notInArray, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { balance } from '../ledger/index.ts'
import { NO_SHELF, place, placeWithin } from '../places/index.ts'
import { level } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    bin: db
      .select({ binId: level.binId })
      .from(level)
      .where(and(eq(level.itemId, p('item')), eq(level.placeId, p('area'))))
      .prepare(),
    mostLies: db
      .select({ placeId: balance.placeId })
      .from(balance)
      .innerJoin(place, eq(place.id, balance.placeId))
      .innerJoin(placeWithin, and(eq(placeWithin.placeId, balance.placeId), eq(placeWithin.ancestorId, p('area'))))
      .where(and(eq(balance.itemId, p('item')), gt(balance.quantity, 0n), notInArray(place.kind, NO_SHELF)))
      .groupBy(balance.placeId)
      .orderBy(sql`sum(${balance.quantity}) desc`, balance.placeId)
      .limit(1)
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
