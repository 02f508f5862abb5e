import { chmodSync, existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { UnusableDatabase } from './open.ts'

/** A file that whoever has a data directory for itself holds locked; the system lets go of it however the process ends. */
const HELD = 'in-use.lock'

/**
 * Takes a data directory for oneself: one server alone writes in it, and nothing is put in place of its database while it
 * runs. Gives how it is let go of. Throws where another has it.
 */
export function takeDirectory(directory: string): () => void {
  const client = new Database(join(directory, HELD), { timeout: 0 })
  try {
    client.exec('begin exclusive')
  } catch (e) {
    client.close()
    if (!String((e as { code?: string }).code).startsWith('SQLITE_BUSY')) throw e
    throw new UnusableDatabase(
      `A server is running on ${directory} already. Stop it first, or set SHELVE_DATA to another directory. Nothing was changed.`,
    )
  }
  return () => client.close()
}

/** What lies in a data directory is for the eyes of the server's own user: files 0600, folders 0700. What belongs to others stays. */
export function forOwnEyes(path: string): void {
  const folder = statSync(path).isDirectory()
  try {
    chmodSync(path, folder ? 0o700 : 0o600)
  } catch {
    return
  }
  if (folder) for (const name of readdirSync(path)) if (existsSync(join(path, name))) forOwnEyes(join(path, name))
}

/**
 * What is wrong with a database's file, in SQLite's words; null where nothing is found. It reads all of it: for a thread, or
 * a file that nobody waits for. A file that is shorter than it says is found without reading.
 */
export function damageOf(file: string): string | null {
  try {
    const client = new Database(file, { readonly: true })
    try {
      const found = client.pragma('quick_check(1)', { simple: true })
      return found === 'ok' ? null : String(found)
    } finally {
      client.close()
    }
  } catch (e) {
    return (e as Error).message
  }
}
