import { copyFileSync, existsSync, mkdirSync, readFileSync, renameSync, rmSync, statSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import Database from 'better-sqlite3'
import { bringPictures, PICTURES, putWhole } from '../files.ts'
import { PUT_BACK } from '../put-back.ts'
import { iso } from '../words.ts'
import { damageOf, takeDirectory } from './directory.ts'
import { openStore, UnusableDatabase } from './open.ts'
import { sum } from './sum.ts'

export const DATABASE = 'shelve.sqlite'

const ALL = 0x7fffffff

/** An online copy with a checksum beside it, and the pictures it names in a folder beside it, each once for all backups; the server goes on meanwhile. Returns the file. */
export async function backup(dataDirectory: string, target: string): Promise<string> {
  const source = join(dataDirectory, DATABASE)
  if (!existsSync(source)) throw new UnusableDatabase(`there is no database in ${dataDirectory}`)
  mkdirSync(dirname(target), { recursive: true })
  const client = new Database(source, { readonly: true })
  const part = `${target}.part`
  try {
    // All of it in one step: by pieces it would begin anew with every slip that is booked meanwhile.
    try {
      await client.backup(part, { progress: () => ALL })
    } finally {
      client.close()
    }
    const damage = damageOf(part)
    if (damage !== null)
      throw new UnusableDatabase(
        `The database is damaged: ${damage}. No backup was taken, and those there are were kept: put the latest of them in place (shelve restore).`,
      )
    await bringPictures(part, join(dataDirectory, PICTURES), join(dirname(target), PICTURES))
    putWhole(`${target}.sha256`, `${await sum(part)}\n`)
    renameSync(part, target)
  } catch (e) {
    // A full disk, say: nothing half written stays, which would fill it for good.
    rmSync(part, { force: true })
    if (!existsSync(target)) rmSync(`${target}.sha256`, { force: true })
    throw e
  } finally {
    for (const end of ['-wal', '-shm']) rmSync(part + end, { force: true })
  }
  return target
}

/**
 * Puts a backup in the place of the database. Refuses a file that does not fit its checksum, or that is no sound
 * database; what was there before is kept beside it. Its pictures come with it: how many could not be found is said.
 */
export async function restore(
  dataDirectory: string,
  file: string,
  now: number,
): Promise<{ kept: string | null; missingPictures: number }> {
  if (!existsSync(file)) throw new UnusableDatabase(`there is no backup at ${file}`)
  const noted = existsSync(`${file}.sha256`) ? readFileSync(`${file}.sha256`, 'utf8').trim() : undefined
  if (noted === undefined)
    throw new UnusableDatabase(`${file}.sha256 is missing: without its checksum a backup cannot be trusted`)
  if (noted !== (await sum(file)))
    throw new UnusableDatabase(
      `${file} does not fit its checksum: it was damaged or cut short. Nothing was changed. Take another backup.`,
    )
  mkdirSync(dataDirectory, { recursive: true })
  const letGo = takeDirectory(dataDirectory)
  try {
    return await putInPlace(dataDirectory, file, now)
  } finally {
    letGo()
  }
}
/** When the last of what a database knows happened; null: nothing did. */
const knownUntil = (client: Database.Database) =>
  client.prepare('select max(at) from event').pluck().safeIntegers(false).get() as number | null
/** The same of what is replaced: also null where it cannot be read any more. */
function replacedUntil(live: string): number | null {
  let old: Database.Database | undefined
  try {
    old = new Database(live, { readonly: true, fileMustExist: true })
    return knownUntil(old)
  } catch {
    return null
  } finally {
    old?.close()
  }
}
/**
 * Writes down that all that was written after a backup was taken is not in the books any more, so that every screen that comes
 * to the server hears of it: what it knew may be among that. Whoever asks later what became of those hours finds it among
 * what was noted: which backup it was, and up to when it and what it replaced know.
 */
function tellPutBack(client: Database.Database, now: number, name: string, replaced: number | null): void {
  const until = knownUntil(client)
  const moment = (at: number | null) => (at === null ? '' : iso(at))
  client.prepare('insert into event (at, kind, detail) values (?, ?, ?)').run(now, PUT_BACK, JSON.stringify({ until }))
  client
    .prepare(
      `insert into audit (at, by_id, what, subject, before, after, address, device) values (?, null, ?, ?, ?, ?, '', '')`,
    )
    .run(now, PUT_BACK, name, moment(replaced), moment(until))
}
async function putInPlace(
  dataDirectory: string,
  file: string,
  now: number,
): Promise<{ kept: string | null; missingPictures: number }> {
  const fresh = join(dataDirectory, `${DATABASE}.restoring`)
  rmSync(fresh, { force: true })
  copyFileSync(file, fresh)
  const store = openStore(fresh)
  const sound = store.client.pragma('integrity_check', { simple: true }) === 'ok'
  const live = join(dataDirectory, DATABASE)
  if (sound) tellPutBack(store.client, now, basename(file), replacedUntil(live))
  store.client.pragma('wal_checkpoint(TRUNCATE)')
  store.client.close()
  for (const end of ['-wal', '-shm']) rmSync(fresh + end, { force: true })
  if (!sound) {
    rmSync(fresh)
    throw new UnusableDatabase(`${file} is no sound database. Nothing was changed.`)
  }
  let kept: string | null = null
  if (existsSync(live)) {
    kept = `${live}.before-${iso(now).replace(/[:.]/g, '-')}`
    try {
      const old = new Database(live)
      old.pragma('wal_checkpoint(TRUNCATE)')
      old.close()
    } catch {
      // It is damaged: all that is left of it is kept as it is.
    }
    renameSync(live, kept)
    if (existsSync(`${live}-wal`) && statSync(`${live}-wal`).size) renameSync(`${live}-wal`, `${kept}-wal`)
    for (const end of ['-wal', '-shm']) rmSync(live + end, { force: true })
  }
  renameSync(fresh, live)
  const { missing } = await bringPictures(live, join(dirname(file), PICTURES), join(dataDirectory, PICTURES))
  return { kept, missingPictures: missing }
}
