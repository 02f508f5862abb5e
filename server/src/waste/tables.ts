import { sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { account } from '../accounts/index.ts'
import { bool, int } from '../ground/index.ts'

export const wasteReason = sqliteTable('waste_reason', {
  id: int()
    .primaryKey()
    .references(() => account.id),
  uid: text().notNull().unique(),
  name: text().notNull().unique(),
  active: bool().notNull(),
})
