import { and, eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { budget, costCentre, job } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    costCentre: db
      .select()
      .from(costCentre)
      .where(eq(costCentre.uid, p('uid')))
      .prepare(),
    budget: db
      .select()
      .from(budget)
      .where(and(eq(budget.costCentreId, p('centre')), eq(budget.year, p('year'))))
      .prepare(),
    costCentreById: db
      .select()
      .from(costCentre)
      .where(eq(costCentre.id, p('id')))
      .prepare(),
    jobById: db
      .select({ code: job.code, name: job.name })
      .from(job)
      .where(eq(job.id, p('id')))
      .prepare(),
    job: db
      .select()
      .from(job)
      .where(eq(job.uid, p('uid')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
