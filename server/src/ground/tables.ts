import { sql } from 'drizzle-orm'
import { check, index, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { METHODS } from '@shelve/core'
import { instant, int, one, quantity, rowid, value } from './db/columns.ts'

export const organisation = sqliteTable(
  'organisation',
  {
    id: rowid().primaryKey(),
    name: text().notNull(),
    zone: text().notNull(),
    currency: text().notNull(),
    decimalMark: text().notNull(),
    dateOrder: text().notNull(),
    shortRule: text().notNull(),
    method: text().notNull(),
    /** How far off a count may be where neither an item nor its category says. */ tolerancePercent:
      quantity().notNull(),
    /** So many days past its day what was asked for still counts as coming (rule 12). */ patienceDays: int().notNull(),
    /** So many days ahead what jobs are planned to take calls for restocking. */ aheadDays: int().notNull(),
    createdAt: instant().notNull(),
    toleranceValue: value(),
  },
  t => [
    check('organisation_one', sql`${t.id} = 1`),
    check('organisation_method', one(t.method, METHODS)),
    check('organisation_short', one(t.shortRule, ['at_or_below', 'below'])),
    check('organisation_patience', sql`${t.patienceDays} between 0 and 365`),
    check('organisation_ahead', sql`${t.aheadDays} between 0 and 365`),
    check('organisation_mark', one(t.decimalMark, ['.', ','])),
    check('organisation_dates', one(t.dateOrder, ['dmy', 'mdy', 'ymd'])),
  ],
)

/** What happened, for open screens to follow; resumed by number. */
export const event = sqliteTable('event', {
  seq: rowid().primaryKey(),
  at: instant().notNull(),
  kind: text().notNull(),
  detail: text().notNull(),
  /** What it touches of what houses keep in memory, as JSON; null: nothing. */
  touches: text(),
})

/**
 * What somebody asked for once, under a key of theirs, and what was answered, so that asking again does nothing again. The row
 * is written with what was asked for; what was answered follows. Neither a status nor `json`: the server ended between the two;
 * `json` alone: what was made, of which the answer is read anew.
 */
export const askedOnce = sqliteTable(
  'asked_once',
  {
    /** The uid of whoever asked. */ person: text().notNull(),
    key: text().notNull(),
    /** The hash of what was asked under it. */ asked: text().notNull(),
    at: instant().notNull(),
    status: int(),
    json: text(),
  },
  t => [primaryKey({ columns: [t.person, t.key] }), index('asked_once_at').on(t.at)],
)
