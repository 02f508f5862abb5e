import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { item, lot } from '../catalogue/index.ts'
import { job } from '../costcentres/index.ts'
import { int, quantity, rowid, value } from '../ground/index.ts'
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
    quantity: quantity().notNull(),
  },
  t => [index('need_job').on(t.jobId), index('need_item').on(t.itemId)],
)
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
  },
  t => [index('reservation_need').on(t.needId), index('reservation_place').on(t.placeId)],
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
