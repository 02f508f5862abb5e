import { createHash } from 'node:crypto'
import {
  closeSync,
  existsSync,
  fsyncSync,
  linkSync,
  copyFileSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeSync,
} from 'node:fs'
import { dirname, join } from 'node:path'
import Database from 'better-sqlite3'
import { eq, inArray } from 'drizzle-orm'
import type { SlipContent } from '@shelve/contract'
import { picture } from '../db/schema.ts'
import { Refused, type App } from '../app.ts'
import { notFound } from '../catalogue/service.ts'
import { sum } from '../db/sum.ts'

/** Pictures lie beside the database, each named by the hash of its content: the same one is kept once, and none ever changes. */
export const PICTURES = 'pictures'
const ENDING: Readonly<Record<string, string>> = { 'image/jpeg': 'jpg', 'image/png': 'png', 'image/webp': 'webp' }
export const PICTURE_TYPES = Object.keys(ENDING)
export const folderOf = (app: App): string => join(dirname(app.store.file), PICTURES)
const fileName = (hash: string, type: string) => `${hash}.${ENDING[type]}`

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

/** Keeps a picture, durable before it is answered. */
export function keepPicture(app: App, by: number, bytes: Uint8Array): string {
  const type = kindOfPicture(bytes)
  if (!type) throw new Refused(415, 'not_a_picture', 'That is no whole JPEG, PNG or WebP picture. Take it again.')
  const hash = createHash('sha256').update(bytes).digest('hex')
  const folder = folderOf(app)
  const file = join(folder, fileName(hash, type))
  if (!existsSync(file)) {
    mkdirSync(folder, { recursive: true })
    const part = `${file}.${app.uid()}.part`
    const f = openSync(part, 'w')
    try {
      writeSync(f, bytes)
      fsyncSync(f)
    } finally {
      closeSync(f)
    }
    renameSync(part, file)
  }
  const uid = app.uid()
  app.db.insert(picture).values({ uid, hash, type, bytes: bytes.length, createdAt: app.now(), createdBy: by }).run()
  return uid
}

/** All pictures that a slip shows: of the whole, and of single lines. */
export const picturesIn = (c: SlipContent): string[] => [
  ...c.head.pictures,
  ...c.lines.flatMap(l => (l.picture ? [l.picture] : [])),
]
/** A picture of a slip that says it has it. */
export function pictureOf(app: App, content: SlipContent, uid: string): { type: string; bytes: Uint8Array } {
  const row = picturesIn(content).includes(uid)
    ? app.db.select().from(picture).where(eq(picture.uid, uid)).get()
    : undefined
  if (!row) throw notFound('picture')
  const file = join(folderOf(app), fileName(row.hash, row.type))
  if (!existsSync(file))
    throw new Refused(
      410,
      'picture_gone',
      'The file of this picture is not there any more; a backup may still have it.',
    )
  return { type: row.type, bytes: readFileSync(file) }
}
/** Pictures that a slip names and nobody has put there. */
export const unknownPictures = (app: App, content: SlipContent): string[] =>
  picturesIn(content).filter(
    uid => !app.db.select({ n: picture.bytes }).from(picture).where(eq(picture.uid, uid)).get(),
  )

/** So long a picture waits for its slip: one that is written away from the server may come late. */
const WAITS = 30 * 86_400_000
// Most slips have none: what JSON looks like tells so without reading it.
const SHOWN = (
  when: string,
) => `select p.value from slip, json_each(slip.head, '$.head.pictures') p where ${when} slip.head like '%"pictures":["%'
  union select json_extract(l.content, '$.picture') from slip_line l join slip on slip.id = l.slip_id where ${when} l.content like '%"picture":"%'`
/** For a thread of its own, for it reads every slip: pictures a month old that no slip in a database shows, taken off it again or of a draft that was thrown away. */
export function unshownIn(database: string, now: number): string[] {
  const client = new Database(database, { readonly: true })
  try {
    return client
      .prepare(`select uid from picture where created_at < ? and uid not in (${SHOWN('')})`)
      .pluck()
      .all(now - WAITS) as string[]
  } finally {
    client.close()
  }
}
/** Lets go of pictures that were found unshown, except those that a slip saved `since` then shows; a file stays while another picture is of it. Gives how many went. */
export function dropUnshown(app: App, unshown: readonly string[], since: number): number {
  if (!unshown.length) return 0
  const shown = new Set(
    app.store.client.prepare(SHOWN('coalesce(slip.booked_at, slip.saved_at) >= @since and')).pluck().all({ since }),
  )
  const gone = app.db
    .select()
    .from(picture)
    .where(
      inArray(
        picture.uid,
        unshown.filter(uid => !shown.has(uid)),
      ),
    )
    .all()
  app.db
    .delete(picture)
    .where(
      inArray(
        picture.uid,
        gone.map(p => p.uid),
      ),
    )
    .run()
  for (const p of gone)
    if (!app.db.select({ uid: picture.uid }).from(picture).where(eq(picture.hash, p.hash)).get())
      rmSync(join(folderOf(app), fileName(p.hash, p.type)), { force: true })
  return gone.length
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
