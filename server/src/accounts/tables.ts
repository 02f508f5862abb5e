import { sql } from 'drizzle-orm'
import { check, index, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { ACCOUNT_KINDS } from '@shelve/core'
import { int, one, rowid } from '../ground/index.ts'

export const account = sqliteTable(
  'account',
  {
    id: rowid().primaryKey(),
    kind: text().notNull(),
    name: text().notNull(),
    code: text(),
    jobId: int(),
    costCentreId: int(),
  },
  t => [
    check('account_kind', one(t.kind, ACCOUNT_KINDS)),
    uniqueIndex('account_used')
      .on(t.jobId, t.costCentreId)
      .where(sql`${t.kind} = 'used'`),
    index('account_by_kind').on(t.kind),
  ],
)
