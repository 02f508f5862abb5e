import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'

/** The migrations stand beside the sources, and beside the bundle made of them. */
const MIGRATIONS = ['../../../drizzle', '../drizzle']
  .map(p => fileURLToPath(new URL(p, import.meta.url)))
  .find(p => existsSync(`${p}/meta`))!

export type Db = BetterSQLite3Database

export interface Store {
  readonly client: Database.Database
  readonly db: Db
  readonly file: string
}

/** A name as it is compared: without regard to the size of letters, or to how accents are written. */
export const folded = (name: string): string => name.trim().normalize('NFC').toLowerCase()

/** A database that this version must not touch. */
export class UnusableDatabase extends Error {}

/**
 * Opens a database, brings its schema up to date and returns it. Every integer arrives as `bigint`; every commit is on
 * disk before it is answered (`synchronous = FULL`). Refuses a database that a newer version has written.
 */
export function openStore(file: string, readOnly = false): Store {
  if (readOnly && !existsSync(file)) throw new UnusableDatabase(`there is no database at ${file}`)
  const client = new Database(file, { readonly: readOnly })
  try {
    client.defaultSafeIntegers(true)
    client.pragma('busy_timeout = 5000')
    if (!readOnly) {
      client.pragma('journal_mode = WAL')
      client.pragma('synchronous = FULL')
      client.pragma('wal_autocheckpoint = 2000')
    }
    client.pragma('cache_size = -32000')
    // Names that differ only in their letters' size are one name, in any script: SQLite's own lower() knows ASCII alone.
    client.function('fold', { deterministic: true }, (text: unknown) =>
      typeof text === 'string' ? folded(text) : text,
    )
    const db = drizzle({ client, casing: 'snake_case' })
    refuseNewer(client)
    if (!readOnly) bringUpToDate(client, db)
    client.pragma('foreign_keys = ON')
    return { client, db, file }
  } catch (error) {
    client.close()
    throw error
  }
}

const known = (): number =>
  (JSON.parse(readFileSync(`${MIGRATIONS}/meta/_journal.json`, 'utf8')) as { entries: { when: number }[] }).entries
    .length

function appliedSteps(client: Database.Database): number {
  const table = client.prepare("select 1 from sqlite_master where name = '__drizzle_migrations'").get()
  return table ? Number((client.prepare('select count(*) as n from __drizzle_migrations').get() as { n: bigint }).n) : 0
}

/** How many steps of the schema a database has, and how many this version knows. */
export const stepsOf = (client: Database.Database): { applied: number; known: number } => ({
  applied: appliedSteps(client),
  known: known(),
})

function refuseNewer(client: Database.Database): void {
  const applied = appliedSteps(client)
  if (applied > known())
    throw new UnusableDatabase(
      `This database was written by a newer version of Shelve (its schema is at step ${applied}, this version knows ${known()}). Nothing was changed. Install the newer version, or restore a backup made by this one.`,
    )
}

/** Foreign keys are off while tables may be rebuilt, and checked afterwards: else rebuilding would delete children in silence. */
function bringUpToDate(client: Database.Database, db: Db): void {
  if (appliedSteps(client) === known()) return
  client.pragma('foreign_keys = OFF')
  migrate(db, { migrationsFolder: MIGRATIONS })
  const broken = client.pragma('foreign_key_check') as unknown[]
  if (broken.length) throw new UnusableDatabase(`migrating left ${broken.length} rows that refer to nothing`)
}
