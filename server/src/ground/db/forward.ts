import { copyFileSync, existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import type { Fault } from '@shelve/core'
import { backup, DATABASE } from './backup.ts'
import { FIRST_SCHEMA, MIGRATIONS, openStore, schemaOf, UnusableDatabase } from './open.ts'

export const BACKUPS = 'backups'

const stamp = (now: number): string => new Date(now).toISOString().slice(0, 19).replace(/[:T]/g, '-')

interface ForwardOptions {
  /** The folder of the schema's steps. */
  readonly steps?: string
  /** Told of every moment at which it could be cut off. */
  readonly at?: (moment: string) => void
}

/**
 * Brings a database that an older version wrote up to this one, without ever working on the only copy:
 *
 *     shelve.sqlite ─▶ backups/before-…  (with checksum) ─▶ a copy ─▶ migrated ─▶ verified ─▶ in its place
 *
 * Where anything goes wrong the database is as it was, and the message says where the backup lies. Returns the backup,
 * or null where there was nothing to do. A database of a newer version is refused before
 * anything is touched. `verify` works a database out anew.
 */
export async function bringForward(
  directory: string,
  now: number,
  verify: (file: string) => Promise<{ readonly faults: readonly Fault[] }>,
  { steps = MIGRATIONS, at = () => undefined }: ForwardOptions = {},
): Promise<string | null> {
  const live = join(directory, DATABASE)
  if (!existsSync(live)) return null
  const client = new Database(live)
  const { has, known } = schemaOf(client, steps)
  client.close()
  // openStore says what is wrong with a newer one, or with one that is none of ours.
  if (has >= known || has < FIRST_SCHEMA) return null
  mkdirSync(join(directory, BACKUPS), { recursive: true })
  const kept = await backup(directory, join(directory, BACKUPS, `before-schema-${known}-${stamp(now)}.sqlite`))
  at('backed up')
  const copy = join(directory, `${DATABASE}.forward`)
  const clear = () => {
    for (const end of ['', '-wal', '-shm']) rmSync(copy + end, { force: true })
  }
  clear()
  copyFileSync(kept, copy)
  at('copied')
  try {
    openStore(copy, false, steps).client.close()
    at('migrated')
    // A photograph that is gone is no reason not to open in the morning.
    const faults = (await verify(copy)).faults.filter(f => f.check !== 'pictures')
    if (faults.length)
      throw new UnusableDatabase(
        `after it ${faults.length} things do not agree, first: ${faults[0]!.check}, ${faults[0]!.where}`,
      )
  } catch (e) {
    clear()
    throw new UnusableDatabase(
      `This database is older and could not be brought up to this version: ${(e as Error).message}. It was not touched; a backup of it is ${kept}. Go on with the version that wrote it.`,
    )
  }
  at('verified')
  const old = new Database(live)
  old.pragma('wal_checkpoint(TRUNCATE)')
  old.close()
  const merged = new Database(copy)
  merged.pragma('wal_checkpoint(TRUNCATE)')
  merged.close()
  at('merged')
  for (const end of ['-wal', '-shm']) {
    rmSync(live + end, { force: true })
    rmSync(copy + end, { force: true })
  }
  at('ready')
  renameSync(copy, live)
  at('in its place')
  return kept
}
