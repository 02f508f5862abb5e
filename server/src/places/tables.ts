import { type AnySQLiteColumn, check, index, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { account } from '../accounts/index.ts'
import { bool, int, one } from '../ground/index.ts'

/** `with_job`: what was picked for a job lies there until it is used. */
export const PLACE_KINDS = ['premises', 'area', 'bin', 'held', 'transit', 'with_job'] as const

export const place = sqliteTable(
  'place',
  {
    id: int()
      .primaryKey()
      .references(() => account.id),
    uid: text().notNull().unique(),
    parentId: int().references((): AnySQLiteColumn => place.id),
    kind: text().notNull(),
    name: text().notNull(),
    walk: int().notNull(),
    active: bool().notNull(),
    revision: int().notNull(),
    countEveryDays: int(),
  },
  t => [check('place_kind', one(t.kind, PLACE_KINDS)), uniqueIndex('place_name').on(t.parentId, t.name)],
)

/** Every place with everything it lies in, itself included. */
export const placeWithin = sqliteTable(
  'place_within',
  {
    ancestorId: int()
      .notNull()
      .references(() => place.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
  },
  t => [primaryKey({ columns: [t.ancestorId, t.placeId] }), index('place_within_place').on(t.placeId)],
)
