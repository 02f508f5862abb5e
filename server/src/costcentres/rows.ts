import { and, eq, sql } from 'drizzle-orm'
import { account } from '../accounts/index.ts'
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
    job: db
      .select()
      .from(job)
      .where(eq(job.uid, p('uid')))
      .prepare(),
    usedAccount: db
      .select({ id: account.id })
      .from(account)
      .where(
        and(
          eq(account.kind, 'used'),
          sql`${account.jobId} is ${p('job')}`,
          sql`${account.costCentreId} is ${p('centre')}`,
        ),
      )
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
