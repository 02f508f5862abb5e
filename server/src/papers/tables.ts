import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { instant, int } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'

/** A photograph; its file is named by the hash of its content and lies beside the database. */
export const picture = sqliteTable(
  'picture',
  {
    uid: text().primaryKey(),
    hash: text().notNull(),
    type: text().notNull(),
    bytes: int().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('picture_hash').on(t.hash)],
)

/**
 * The markers of lines that were taken off a slip that is being written, until it is booked or thrown away: whoever still
 * has such a line on the screen is told so, instead of putting it back unseen.
 */
export const takenOff = sqliteTable(
  'taken_off',
  {
    uid: text().primaryKey(),
    slipId: int()
      .notNull()
      .references(() => slip.id),
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('taken_off_slip').on(t.slipId)],
)

/** Somebody was there, and showed that it was they, when a slip said what its hash is over; gone once it is booked with them. */
export const witness = sqliteTable('witness', {
  slipUid: text().primaryKey(),
  personId: int()
    .notNull()
    .references(() => person.id),
  requestHash: text().notNull(),
  at: instant().notNull(),
})
