import { check, index, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { instant, int, one, rowid } from '../ground/index.ts'
import { person } from '../people/index.ts'

/** Letters that go out by mail: queued until a mail server took them. */
export const mail = sqliteTable(
  'mail',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    recipient: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    attachments: text().notNull(),
    restockId: int(),
    state: text().notNull(),
    attempts: int().notNull(),
    nextAt: instant().notNull(),
    trouble: text().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    sentAt: instant(),
  },
  t => [
    index('mail_due').on(t.state, t.nextAt),
    index('mail_restock').on(t.restockId),
    check('mail_state', one(t.state, ['queued', 'sent', 'failed'])),
  ],
)
