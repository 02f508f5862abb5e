import { sql } from 'drizzle-orm'
import { index, primaryKey, sqliteTable, text, uniqueIndex } from 'drizzle-orm/sqlite-core'
import { item } from '../catalogue/index.ts'
import { bool, instant, int, rowid } from '../ground/index.ts'
import { person } from '../people/index.ts'

/** How something is done again and again; what it says stands in its versions. */
export const template = sqliteTable(
  'template',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    /** What it makes; nothing: it only uses. */
    outputId: int().references(() => item.id),
    active: bool().notNull(),
    version: int().notNull(),
  },
  t => [
    // What is needed of a part is worked out by the one way in which it is made.
    uniqueIndex('template_makes')
      .on(t.outputId)
      .where(sql`${t.active} = 1 and ${t.outputId} is not null`),
  ],
)

/** A template as it was saved once: never changed, since what was begun by it goes on by it. */
export const templateVersion = sqliteTable(
  'template_version',
  {
    templateId: int()
      .notNull()
      .references(() => template.id),
    version: int().notNull(),
    content: text().notNull(),
    savedAt: instant().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [primaryKey({ columns: [t.templateId, t.version] }), index('template_version_by').on(t.savedBy)],
)
