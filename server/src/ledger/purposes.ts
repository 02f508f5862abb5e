import { sql } from 'drizzle-orm'
import { check, index, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { item, lot } from '../catalogue/index.ts'
import { job } from '../costcentres/index.ts'
import { bool, instant, int, quantity, rowid, value } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'

/**
 * What movements can answer: what a job needs, what was reserved for it, lines of orders and of invoices. No more than
 * what a movement must refer to; the rooms that will write them add their own.
 */
export const need = sqliteTable(
  'need',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    jobId: int()
      .notNull()
      .references(() => job.id),
    itemId: int()
      .notNull()
      .references(() => item.id),
    /** What is needed, in base units: as it was typed, or (`typed` empty) as the job's template says. */
    quantity: quantity().notNull(),
    typed: text().notNull(),
    unit: text(),
    optional: bool().notNull(),
    /** Where it is usually taken from; null: where the job is. */
    fromId: int().references(() => place.id),
    note: text().notNull(),
    position: int().notNull(),
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [
    // One need for each item: what is taken of it for the job is taken for this.
    uniqueIndex('need_of').on(t.jobId, t.itemId),
    index('need_item').on(t.itemId),
    check('need_quantity', sql`${t.quantity} >= 0`),
  ],
)
/** What was set aside for a need, in a place, of one lot where that was wished; what it keeps still is worked out. */
export const reservation = sqliteTable(
  'reservation',
  {
    id: rowid().primaryKey(),
    needId: int()
      .notNull()
      .references(() => need.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    lotId: int().references(() => lot.id),
    quantity: quantity().notNull(),
    /** The movement that was written last when it was made: what was taken before draws nothing on it. */
    since: int().notNull(),
    madeAt: instant().notNull(),
    madeBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [
    index('reservation_need').on(t.needId),
    index('reservation_place').on(t.placeId),
    check('reservation_quantity', sql`${t.quantity} > 0`),
  ],
)
export const orderLine = sqliteTable('order_line', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  itemId: int()
    .notNull()
    .references(() => item.id),
  quantity: quantity().notNull(),
})
export const invoiceLine = sqliteTable('invoice_line', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  amount: value().notNull(),
})
