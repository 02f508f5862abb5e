import { and, eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { balance } from '../ledger/index.ts'
import { place } from '../places/index.ts'
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
    lies: db
      .select({ placeId: balance.placeId, quantity: balance.quantity })
      .from(balance)
      .innerJoin(place, eq(place.id, balance.placeId))
      .where(and(eq(balance.itemId, p('item')), sql`${balance.quantity} > 0`, sql`${place.kind} <> 'held'`))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
