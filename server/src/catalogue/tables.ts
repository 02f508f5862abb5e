import { sql } from 'drizzle-orm'
import { type AnySQLiteColumn, check, index, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { IDENTIFIED_BY, METHODS } from '@shelve/core'
import { bigCount, bool, instant, int, one, quantity, rowid, value } from '../ground/index.ts'
import { person } from '../people/index.ts'

/** How far off a count may be; of none of them set, what is above says it. */
const tolerance = () => ({ toleranceQuantity: quantity(), tolerancePercent: quantity(), toleranceValue: value() })

/** A category hands its defaults down; null: from the one above, and at last from the organisation. */
export const category = sqliteTable(
  'category',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    name: text().notNull(),
    parentId: int().references((): AnySQLiteColumn => category.id),
    unit: text(),
    decimals: int(),
    identifiedBy: text(),
    method: text(),
    shelfLifeDays: int(),
    daysOnceOpened: int(),
    active: bool().notNull(),
    revision: int().notNull(),
    ...tolerance(),
  },
  t => [
    uniqueIndex('category_name').on(t.parentId, t.name),
    check('category_identified', sql`${t.identifiedBy} is null or ${one(t.identifiedBy, IDENTIFIED_BY)}`),
    check('category_method', sql`${t.method} is null or ${one(t.method, METHODS)}`),
  ],
)

export const KEPT = ['stock', 'bought_for', 'charge'] as const

export const item = sqliteTable(
  'item',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    categoryId: int().references(() => category.id),
    unit: text().notNull(),
    decimals: int().notNull(),
    identifiedBy: text().notNull(),
    kept: text().notNull(),
    method: text(),
    shelfLifeDays: int(),
    daysOnceOpened: int(),
    densityN: bigCount(),
    densityD: bigCount(),
    mass: quantity(),
    wasteCode: text().notNull(),
    /** Two throw it away: whoever writes it down, and somebody who was there. */
    witnessed: bool().notNull(),
    note: text().notNull(),
    active: bool().notNull(),
    revision: int().notNull(),
    successorOf: int().references((): AnySQLiteColumn => item.id),
    /** Who wrote it down where it was found; null once whoever sets up has completed it. */
    foundBy: int().references(() => person.id),
    createdAt: instant().notNull(),
    ...tolerance(),
  },
  t => [
    check('item_decimals', sql`${t.decimals} between 0 and 6`),
    check('item_identified', one(t.identifiedBy, IDENTIFIED_BY)),
    check('item_kept', one(t.kept, KEPT)),
    check('item_method', sql`${t.method} is null or ${one(t.method, METHODS)}`),
    index('item_category').on(t.categoryId),
  ],
)

/** A pack as it is at a time: a changed pack is a new row, so that old slips keep what they were typed in. */
export const pack = sqliteTable(
  'pack',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    name: text().notNull(),
    sizeN: bigCount().notNull(),
    sizeD: bigCount().notNull(),
    buying: bool().notNull(),
    issuing: bool().notNull(),
    counting: bool().notNull(),
    retiredAt: instant(),
  },
  t => [index('pack_item').on(t.itemId), check('pack_size', sql`${t.sizeN} > 0 and ${t.sizeD} > 0`)],
)

export const lot = sqliteTable(
  'lot',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    code: text(),
    expiry: text(),
    parentId: int().references((): AnySQLiteColumn => lot.id),
    receivedAt: instant().notNull(),
    openedAt: instant(),
    /** What an opened container weighs empty, in grams. */
    tare: quantity(),
    held: text().notNull(),
  },
  t => [
    uniqueIndex('lot_code').on(t.itemId, sql`ifnull(${t.code}, '')`, sql`ifnull(${t.parentId}, 0)`),
    // A code is read off a package by whoever does not know of what it is.
    index('lot_code_upper').on(sql`upper(${t.code})`),
    index('lot_parent')
      .on(t.parentId)
      .where(sql`${t.parentId} is not null`),
    check('lot_held', one(t.held, ['usable', 'held', 'recalled'])),
  ],
)

export const lotState = sqliteTable(
  'lot_state',
  {
    lotId: int()
      .notNull()
      .references(() => lot.id),
    held: text().notNull(),
    since: instant().notNull(),
    byId: int()
      .notNull()
      .references(() => person.id),
    why: text().notNull(),
  },
  t => [index('lot_state_lot').on(t.lotId)],
)
