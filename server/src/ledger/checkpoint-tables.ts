import { primaryKey, sqliteTable } from 'drizzle-orm/sqlite-core'
import { instant, int, quantity, rowid, value } from '../ground/index.ts'

/**
 * Sparse checkpoints: what lay where and what the pools were worth when `seq` had been written. A past day is worked out
 * from the one before it, so that asking costs the same however long the ledger is. Can be made anew from the movements.
 */
export const checkpoint = sqliteTable('checkpoint', {
  id: rowid().primaryKey(),
  seq: int().notNull().unique(),
  latestEffectiveAt: instant().notNull(),
  madeAt: instant().notNull(),
})

export const checkpointBalance = sqliteTable(
  'checkpoint_balance',
  {
    checkpointId: int()
      .notNull()
      .references(() => checkpoint.id),
    itemId: int().notNull(),
    lotId: int().notNull(),
    placeId: int().notNull(),
    quantity: quantity().notNull(),
  },
  t => [primaryKey({ columns: [t.checkpointId, t.itemId, t.lotId, t.placeId] })],
)

export const checkpointPool = sqliteTable(
  'checkpoint_pool',
  {
    checkpointId: int()
      .notNull()
      .references(() => checkpoint.id),
    poolId: int().notNull(),
    value: value().notNull(),
  },
  t => [primaryKey({ columns: [t.checkpointId, t.poolId] })],
)
