import { eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { wasteReason } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    reasonOf: db
      .select()
      .from(wasteReason)
      .where(eq(wasteReason.id, p('id')))
      .prepare(),
    wasteReason: db
      .select()
      .from(wasteReason)
      .where(eq(wasteReason.uid, p('uid')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
