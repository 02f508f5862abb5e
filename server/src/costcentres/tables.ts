import { sql } from 'drizzle-orm'
import { check, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { bool, int, one, rowid, value } from '../ground/index.ts'
import { place } from '../places/index.ts'

export const costCentre = sqliteTable('cost_centre', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  code: text().notNull().unique(),
  name: text().notNull(),
  active: bool().notNull(),
  /** The area that it is served from. */
  usualId: int().references(() => place.id),
})

/** What a cost centre may use in a year: from so many per cent of it whoever hands out is warned, beyond so many nothing more is charged. */
export const budget = sqliteTable(
  'budget',
  {
    costCentreId: int()
      .notNull()
      .references(() => costCentre.id),
    year: int().notNull(),
    amount: value().notNull(),
    warnPercent: int(),
    stopPercent: int(),
  },
  t => [
    primaryKey({ columns: [t.costCentreId, t.year] }),
    check(
      'budget_percent',
      sql`ifnull(${t.warnPercent}, 1) between 1 and 1000 and ifnull(${t.stopPercent}, 1) between 1 and 1000`,
    ),
  ],
)

export const JOB_STATES = ['planned', 'picking', 'in_work', 'done', 'dropped', 'standing'] as const

/** States in which nothing new is charged to a job. */
export const ENDED: readonly string[] = ['done', 'dropped']

export const job = sqliteTable(
  'job',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    costCentreId: int().references(() => costCentre.id),
    state: text().notNull(),
  },
  t => [check('job_state', one(t.state, JOB_STATES))],
)
