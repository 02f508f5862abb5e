import { primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { int } from '../ground/index.ts'

/** Account codes of the bookkeeping: of a sort of flow (`refId` 0), or of a category, a place or a waste reason in particular. */
export const accountCode = sqliteTable(
  'account_code',
  { kind: text().notNull(), refId: int().notNull(), code: text().notNull() },
  t => [primaryKey({ columns: [t.kind, t.refId] })],
)
