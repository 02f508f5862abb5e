import { sql } from 'drizzle-orm'
import { AuditKind } from '@shelve/contract'
import { check, index, primaryKey, sqliteTable, text } from 'drizzle-orm/sqlite-core'
import { account } from '../accounts/index.ts'
import { bool, instant, int, one, rowid } from '../ground/index.ts'

export const ROLES = ['manager', 'keeper', 'buyer', 'requester', 'observer'] as const

export const person = sqliteTable('person', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  name: text().notNull(),
  signIn: text().notNull().unique(),
  passwordHash: text().notNull(),
  active: bool().notNull(),
  createdAt: instant().notNull(),
  /** For changing hands on a shared tablet; too many wrong ones in a row and only the password helps. */
  pinHash: text(),
  pinWrong: int()
    .notNull()
    .default(sql`0`),
  revision: int()
    .notNull()
    .default(sql`1`),
})

/** What a person may do: a role over a subtree of places (null: everywhere). */
export const grant = sqliteTable(
  'grant',
  {
    personId: int()
      .notNull()
      .references(() => person.id),
    role: text().notNull(),
    placeId: int().references(() => account.id),
  },
  t => [index('grant_person').on(t.personId), check('grant_role', one(t.role, ROLES))],
)

/** What a person arranged to their taste: blocks of a screen, columns, saved filters; as JSON, by name. */
export const preference = sqliteTable(
  'preference',
  {
    personId: int()
      .notNull()
      .references(() => person.id),
    name: text().notNull(),
    value: text().notNull(),
  },
  t => [primaryKey({ columns: [t.personId, t.name] })],
)

export const session = sqliteTable('session', {
  tokenHash: text().primaryKey(),
  uid: text().notNull().default(''),
  device: text().notNull().default(''),
  personId: int()
    .notNull()
    .references(() => person.id),
  createdAt: instant().notNull(),
  seenAt: instant().notNull(),
  expiresAt: instant().notNull(),
  /** By password; by badge or PIN alone nobody has a manager's rights. */
  strong: bool()
    .notNull()
    .default(sql`1`),
})

/** Who changed what of rights and settings, when and from where, and who was not let in: only ever added to. */
export const audit = sqliteTable(
  'audit',
  {
    id: rowid().primaryKey(),
    at: instant().notNull(),
    /** Null: nobody was signed in. */
    byId: int().references(() => person.id),
    what: text().notNull(),
    subject: text().notNull(),
    before: text().notNull(),
    after: text().notNull(),
    address: text().notNull(),
    device: text().notNull(),
  },
  t => [check('audit_what', one(t.what, AuditKind.options))],
)
