import { createHash, randomUUID } from 'node:crypto'
import {
  closeSync,
  copyFileSync,
  existsSync,
  fsyncSync,
  linkSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { dirname, join } from 'node:path'
import Database from 'better-sqlite3'
import { sum } from './db/sum.ts'

/** Pictures lie beside the database, each named by the hash of its content: the same one is kept once, and none ever changes. */
export const PICTURES = 'pictures'

const ENDING: Readonly<Record<string, string>> = { 'image/jpeg': 'jpg', 'image/png': 'png', 'image/webp': 'webp' }

export const PICTURE_TYPES = Object.keys(ENDING)

/**
 * Writes a file so that it is there whole and durable, or not at all: what a full disk cut short is taken away again. `mode`:
 * who may read it, by itself its owner alone.
 */
export function putWhole(file: string, bytes: Uint8Array | string, mode = 0o600): void {
  const part = `${file}.${randomUUID()}.part`
  try {
    const f = openSync(part, 'w', mode)
    try {
      // All of it, however few bytes the system takes at once.
      writeFileSync(f, bytes)
      fsyncSync(f)
    } finally {
      closeSync(f)
    }
    renameSync(part, file)
  } catch (e) {
    rmSync(part, { force: true })
    throw e
  }
}

/** Where the pictures of a database lie. */
export const folderOf = (ground: { readonly store: { readonly file: string } }): string =>
  join(dirname(ground.store.file), PICTURES)

export const fileName = (hash: string, type: string) => `${hash}.${ENDING[type]}`

/** What a file really is, by its first and last bytes; undefined where it is none of these, or was cut short. */
export function kindOfPicture(b: Uint8Array): string | undefined {
  const at = (i: number, ...bytes: number[]) => bytes.every((x, n) => b[i + n] === x)
  const ends = (...bytes: number[]) => at(b.length - bytes.length, ...bytes)
  if (at(0, 0xff, 0xd8, 0xff)) return ends(0xff, 0xd9) ? 'image/jpeg' : undefined
  if (at(0, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a))
    return ends(0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82) ? 'image/png' : undefined
  if (at(0, 0x52, 0x49, 0x46, 0x46) && at(8, 0x57, 0x45, 0x42, 0x50))
    return b.length === 8 + (b[4]! | (b[5]! << 8) | (b[6]! << 16) | (b[7]! << 24)) ? 'image/webp' : undefined
  return undefined
}

/** Files of pictures in a folder that none of these databases names go. */
export function dropUnnamed(folder: string, databases: readonly string[]): void {
  if (!existsSync(folder)) return
  const named = new Set(databases.flatMap(d => filesKnownTo(d).map(f => f.file)))
  for (const f of readdirSync(folder)) if (!named.has(f)) rmSync(join(folder, f))
}

/** Every picture that the database in a file knows, as its file is named. */
export function filesKnownTo(database: string): { file: string; hash: string }[] {
  const client = new Database(database, { readonly: true })
  try {
    if (!client.prepare(`select 1 from sqlite_master where name = 'picture'`).get()) return []
    return (client.prepare('select distinct hash, type from picture').all() as { hash: string; type: string }[]).map(
      r => ({ file: fileName(r.hash, r.type), hash: r.hash }),
    )
  } finally {
    client.close()
  }
}

const whole = async (file: string, hash: string): Promise<boolean> => existsSync(file) && (await sum(file)) === hash

/**
 * Brings the pictures that a database names from one folder into another; what is there already, sound, stays. Gives how
 * many are missing or damaged in the first.
 */
export async function bringPictures(database: string, from: string, to: string): Promise<{ missing: number }> {
  let missing = 0
  for (const { file, hash } of filesKnownTo(database)) {
    const target = join(to, file)
    if (await whole(target, hash)) continue
    if (!(await whole(join(from, file), hash))) {
      missing++
      continue
    }
    mkdirSync(to, { recursive: true })
    // A name for the same bytes where both lie on one disk; else a copy.
    try {
      linkSync(join(from, file), target)
    } catch {
      copyFileSync(join(from, file), target)
    }
  }
  return { missing }
}

/** For a thread of its own: what is wrong with the pictures of a database: files that are gone, or do not fit their name. */
export const damagedPictures = (database: string, folder: string): { file: string; gone: boolean }[] =>
  filesKnownTo(database)
    .filter(p => {
      const file = join(folder, p.file)
      return !existsSync(file) || createHash('sha256').update(readFileSync(file)).digest('hex') !== p.hash
    })
    .map(p => ({ file: p.file, gone: !existsSync(join(folder, p.file)) }))
