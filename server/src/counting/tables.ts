import { type AnySQLiteColumn, index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { item, lot } from '../catalogue/index.ts'
import { bool, instant, int, quantity, rowid } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'

/**
 * A sheet on paper for counting an area, as it was printed. `slipId` is the count it was entered on; a sheet that another
 * one of the same area took the place of, or that was thrown away, is void.
 */
export const sheet = sqliteTable(
  'sheet',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    placeId: int()
      .notNull()
      .references(() => place.id),
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
  t => [index('sheet_place').on(t.placeId), index('sheet_slip').on(t.slipId)],
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
