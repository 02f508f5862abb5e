import { index, primaryKey, sqliteTable } from 'drizzle-orm/sqlite-core'
import { item } from '../catalogue/index.ts'
import { int, quantity } from '../ground/index.ts'
import { place } from '../places/index.ts'

/** Minimum and target of an item in a place, and its usual bin there. */
export const level = sqliteTable(
  'level',
  {
    itemId: int()
      .notNull()
      .references(() => item.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    minimum: quantity(),
    target: quantity(),
    binId: int().references(() => place.id),
  },
  t => [primaryKey({ columns: [t.itemId, t.placeId] }), index('level_place').on(t.placeId)],
)
