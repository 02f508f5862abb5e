import { sql } from 'drizzle-orm'
import { type AnySQLiteColumn, index, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { category, item, lot } from '../catalogue/index.ts'
import { bool, instant, int, quantity, rowid } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'

/**
 * What is counted together though it is no area: a category, or items picked by hand, within a place; with a cycle of its
 * own. Without a category its items stand in `countGroupItem`.
 */
export const countGroup = sqliteTable(
  'count_group',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    name: text().notNull(),
    placeId: int()
      .notNull()
      .references(() => place.id),
    categoryId: int().references(() => category.id),
    everyDays: int(),
    active: bool().notNull(),
    revision: int().notNull(),
    createdAt: instant().notNull(),
  },
  t => [uniqueIndex('count_group_name').on(t.placeId, t.name)],
)

export const countGroupItem = sqliteTable(
  'count_group_item',
  {
    groupId: int()
      .notNull()
      .references(() => countGroup.id),
    itemId: int()
      .notNull()
      .references(() => item.id),
  },
  t => [primaryKey({ columns: [t.groupId, t.itemId] })],
)

/**
 * How far a booked count covered an area, or a group of items: so many lines were left out on purpose, so many just not
 * counted. Written with the booking; only where nothing is `open` is it counted as a whole, and due again by its cycle.
 */
export const countDone = sqliteTable(
  'count_done',
  {
    id: rowid().primaryKey(),
    slipId: int()
      .notNull()
      .references(() => slip.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    groupId: int().references(() => countGroup.id),
    /** The count that this one completes. */ restOf: int().references(() => slip.id),
    countedAt: instant().notNull(),
    leftOut: int().notNull(),
    open: int().notNull(),
  },
  t => [
    index('count_done_slip').on(t.slipId),
    index('count_done_of').on(t.placeId, t.groupId, t.countedAt),
    index('count_done_rest')
      .on(t.restOf)
      .where(sql`${t.restOf} is not null`),
  ],
)

/** An area in which nothing moves while it is counted: whoever would book there is told. */
export const closedArea = sqliteTable('closed_area', {
  placeId: int()
    .primaryKey()
    .references(() => place.id),
  since: instant().notNull(),
  closedBy: int()
    .notNull()
    .references(() => person.id),
})

/**
 * A sheet on paper for counting an area, or a group of items, as it was printed. What is printed together shares one
 * `number`, and its pages run through: this one's begin at `firstPage`. `slipId` is the count it was entered on; a sheet
 * that another one of the same took the place of, or that was thrown away, is void.
 */
export const sheet = sqliteTable(
  'sheet',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    placeId: int()
      .notNull()
      .references(() => place.id),
    groupId: int().references(() => countGroup.id),
    number: int().notNull(),
    firstPage: int().notNull(),
    blind: bool().notNull(),
    extra: int().notNull(),
    pages: int().notNull(),
    printedAt: instant().notNull(),
    printedBy: int()
      .notNull()
      .references(() => person.id),
    slipId: int().references(() => slip.id),
    voidAt: instant(),
    newerId: int().references((): AnySQLiteColumn => sheet.id),
  },
  t => [
    index('sheet_place').on(t.placeId),
    index('sheet_slip').on(t.slipId),
    uniqueIndex('sheet_number').on(t.number, t.firstPage),
  ],
)

/** Its `uid` becomes that of the line of the count. What was expected stands as it was printed. */
export const sheetLine = sqliteTable(
  'sheet_line',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    sheetId: int()
      .notNull()
      .references(() => sheet.id),
    position: int().notNull(),
    page: int().notNull(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int().references(() => lot.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    expected: quantity().notNull(),
  },
  t => [index('sheet_line_sheet').on(t.sheetId, t.position)],
)
