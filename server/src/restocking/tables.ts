import { sql } from 'drizzle-orm'
import { check, index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { account } from '../accounts/index.ts'
import { item } from '../catalogue/index.ts'
import { instant, int, one, quantity, rowid } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'

/**
 * What is asked for from one source: a supplier, our own shelves (`sourceId` is then the area it comes from), or nobody
 * yet. Being written (`open`), asked for, or dropped; what has come of it is derived, never stored.
 */
export const restockSlip = sqliteTable(
  'restock_slip',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    /** Our number of it, by which others may speak of it: in the order in which slips were begun. */
    number: text().notNull().unique(),
    source: text().notNull(),
    sourceId: int().references(() => account.id),
    state: text().notNull(),
    /** Of its head, and of the whole paper: as of a slip's. */
    revision: int().notNull(),
    version: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    /** Whoever may only ask is done with it: it is the keeper's from then on. */
    handedAt: instant(),
    handedBy: int().references(() => person.id),
    /** It was given back to whoever asks, not handed over since: when, by whom, and why. */
    backAt: instant(),
    backBy: int().references(() => person.id),
    backWhy: text().notNull().default(''),
    askedAt: instant(),
    askedBy: int().references(() => person.id),
    askedWhere: text().notNull(),
    theirNumber: text().notNull(),
    expected: text(),
    note: text().notNull(),
    moveId: int().references(() => slip.id),
  },
  t => [
    check('restock_source', one(t.source, ['shelves', 'supplier', 'nobody'])),
    check('restock_state', one(t.state, ['open', 'asked', 'dropped'])),
    index('restock_by_state').on(t.state),
  ],
)

export const restockLine = sqliteTable(
  'restock_line',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    slipId: int()
      .notNull()
      .references(() => restockSlip.id),
    position: int().notNull(),
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
    itemId: int()
      .notNull()
      .references(() => item.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    typed: text().notNull(),
    unit: text(),
    quantity: quantity().notNull(),
    why: text().notNull(),
    /** It will not come: since when, by whose word, and why. */
    cancelledAt: instant(),
    cancelledBy: int().references(() => person.id),
    cancelledWhy: text().notNull().default(''),
  },
  t => [
    index('restock_line_slip').on(t.slipId),
    index('restock_line_item').on(t.itemId),
    check('restock_line_quantity', sql`${t.quantity} >= 0`),
  ],
)

/** The markers of lines that were taken off a restock slip that is being written. */
export const restockTakenOff = sqliteTable(
  'restock_taken_off',
  {
    uid: text().primaryKey(),
    slipId: int()
      .notNull()
      .references(() => restockSlip.id),
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('restock_taken_off_slip').on(t.slipId)],
)
