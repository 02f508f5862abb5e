import { index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { instant, int } from '../ground/index.ts'
import { person } from '../people/index.ts'

/** A photograph; its file is named by the hash of its content and lies beside the database. */
export const picture = sqliteTable(
  'picture',
  {
    uid: text().primaryKey(),
    hash: text().notNull(),
    type: text().notNull(),
    bytes: int().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('picture_hash').on(t.hash)],
)
