import { eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { costCentre, job } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    costCentre: db
      .select()
      .from(costCentre)
      .where(eq(costCentre.uid, p('uid')))
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
