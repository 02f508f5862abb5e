import { sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { instant, int, rowid } from '../ground/index.ts'
import { person } from '../people/index.ts'

/** Lists that were taken out of Shelve: what, by whom, when; the number stands on the paper and in the name of the file. */
export const exported = sqliteTable('exported', {
  id: rowid().primaryKey(),
  at: instant().notNull(),
  personId: int()
    .notNull()
    .references(() => person.id),
  what: text().notNull(),
})
