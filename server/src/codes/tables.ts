import { check, index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { int, one } from '../ground/index.ts'

/** The one registry of codes: what a scan means. */
export const CODE_KINDS = ['item', 'pack', 'lot', 'place', 'person', 'job'] as const

export const code = sqliteTable(
  'code',
  {
    normal: text().primaryKey(),
    /** As it was scanned or typed: so it is shown. */ scanned: text().notNull(),
    kind: text().notNull(),
    itemId: int(),
    packId: int(),
    lotId: int(),
    placeId: int(),
    personId: int(),
    jobId: int(),
  },
  t => [check('code_kind', one(t.kind, CODE_KINDS)), index('code_item').on(t.itemId)],
)
