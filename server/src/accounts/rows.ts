import { asc, eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { account } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    account: db
      .select()
      .from(account)
      .where(eq(account.id, p('id')))
      .prepare(),
    firstAccount: db
      .select({ id: account.id })
      .from(account)
      .where(eq(account.kind, p('kind')))
      .orderBy(asc(account.id))
      .limit(1)
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
