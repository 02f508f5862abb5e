import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3'
import { exactLetters, plainLetters } from '@shelve/core'

/** The migrations stand beside the sources, and beside the bundle made of them. */
export const MIGRATIONS = ['../../../drizzle', '../drizzle']
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
 * disk before it is answered (`synchronous = FULL`). Refuses a database that a newer version has written, or one older than
 * was ever handed out. `steps`: the folder of the schema's steps.
 */
export function openStore(file: string, readOnly = false, steps = MIGRATIONS): Store {
  if (readOnly && !existsSync(file)) throw new UnusableDatabase(`there is no database at ${file}`)
  const client = new Database(file, { readonly: readOnly })
  try {
    client.defaultSafeIntegers(true)
    client.pragma('busy_timeout = 5000')
    if (!readOnly) {
      client.pragma('journal_mode = WAL')
      client.pragma('synchronous = FULL')
      // What a savepoint would put back is kept in memory: written to a file, it is as much again as the slip itself.
      client.pragma('temp_store = memory')
      client.pragma('wal_autocheckpoint = 2000')
    }
    client.pragma('cache_size = -8000')
    // Names that differ only in their letters' size are one name, in any script: SQLite's own lower() knows ASCII alone.
    client.function('fold', { deterministic: true }, (text: unknown) =>
      typeof text === 'string' ? folded(text) : text,
    )
    for (const [name, of] of Object.entries({ exact_letters: exactLetters, plain_letters: plainLetters }))
      client.function(name, { deterministic: true }, (text: unknown) => (typeof text === 'string' ? of(text) : text))
    const db = drizzle({ client, casing: 'snake_case' })
    refuseForeign(client, steps)
    if (!readOnly) bringUpToDate(client, steps)
    client.pragma('foreign_keys = ON')
    return { client, db, file }
  } catch (error) {
    client.close()
    throw error
  }
}

/** The schema's number is the file's `user_version`. This is the first that was ever handed out: what is older is refused. */
export const FIRST_SCHEMA = 2

interface Step {
  readonly schema: number
  readonly file: string
}
/** The steps of the schema, in their order: the first makes it, each later one brings it forward by one. */
const stepsIn = (folder: string): Step[] =>
  (JSON.parse(readFileSync(`${folder}/meta/_journal.json`, 'utf8')) as { entries: { tag: string }[] }).entries.map(
    (e, i) => ({ schema: FIRST_SCHEMA + i, file: `${folder}/${e.tag}.sql` }),
  )

/** The schema that a database has (0: it is empty), and the one that this version knows. */
export const schemaOf = (client: Database.Database, folder = MIGRATIONS): { has: number; known: number } => ({
  has: Number(client.pragma('user_version', { simple: true })),
  known: stepsIn(folder).at(-1)!.schema,
})

function refuseForeign(client: Database.Database, folder: string): void {
  const { has, known } = schemaOf(client, folder)
  if (has > known)
    throw new UnusableDatabase(
      `This database was written by a newer version of Shelve (its schema is ${has}, this version knows ${known}). Nothing was changed. Install the newer version, or restore a backup made by this one.`,
    )
  if (has >= FIRST_SCHEMA) return
  const tables = client.prepare("select count(*) from sqlite_master where type = 'table'").pluck().get() as bigint
  if (tables > 0n)
    throw new UnusableDatabase(
      `This database was written by a version of Shelve that was never handed out (its schema is ${has || 1}, this version reads from ${FIRST_SCHEMA} on), or by something else. Nothing was changed. Export the ledger with the version that wrote it, and begin a new directory with this one.`,
    )
}

/**
 * Takes the steps that are missing, all of them or none: the number is written in the same transaction. Foreign keys are
 * off while tables may be rebuilt, and checked afterwards: else rebuilding would delete children in silence.
 */
function bringUpToDate(client: Database.Database, folder: string): void {
  const { has, known } = schemaOf(client, folder)
  if (has === known) return
  client.pragma('foreign_keys = OFF')
  client
    .transaction(() => {
      for (const step of stepsIn(folder)) if (step.schema > has) client.exec(readFileSync(step.file, 'utf8'))
      client.pragma(`user_version = ${known}`)
      const broken = client.pragma('foreign_key_check') as unknown[]
      if (broken.length) throw new UnusableDatabase(`migrating left ${broken.length} rows that refer to nothing`)
    })
    .immediate()
}
