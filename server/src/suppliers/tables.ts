import { sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { account } from '../accounts/index.ts'
import { bool, int } from '../ground/index.ts'

export const supplier = sqliteTable('supplier', {
  id: int()
    .primaryKey()
    .references(() => account.id),
  uid: text().notNull().unique(),
  name: text().notNull().unique(),
  active: bool().notNull(),
})
