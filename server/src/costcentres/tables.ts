import { check, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { bool, int, one, rowid } from '../ground/index.ts'

export const costCentre = sqliteTable('cost_centre', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  code: text().notNull().unique(),
  name: text().notNull(),
  active: bool().notNull(),
})

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
