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
    /** Whoever may ask for things may take them from it themselves. */
    openShelf: bool().notNull(),
  },
  t => [check('place_kind', one(t.kind, PLACE_KINDS)), uniqueIndex('place_name').on(t.parentId, t.name)],
)

/** What is on its way lies in a place of its own, one for each slip that sends: between which two, and when it is to be there. */
export const transit = sqliteTable('transit', {
  placeId: int()
    .primaryKey()
    .references(() => place.id),
  /** The slip that sent it, by its number: slips stand above places. */
  slipId: int().notNull().unique(),
  fromId: int()
    .notNull()
    .references(() => place.id),
  toId: int()
    .notNull()
    .references(() => place.id),
  dueOn: text(),
})

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
