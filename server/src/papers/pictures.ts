import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { eq, inArray } from 'drizzle-orm'
import type { SlipContent } from '@shelve/contract'
import { fileName, folderOf, kindOfPicture, notFound, putWhole, Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { picture } from './tables.ts'

/** Keeps a picture, durable before it is answered. */
export function keepPicture(house: House, by: number, bytes: Uint8Array): string {
  const type = kindOfPicture(bytes)
  if (!type) throw new Refused(415, 'not_a_picture', 'That is no whole JPEG, PNG or WebP picture. Take it again.')
  const hash = createHash('sha256').update(bytes).digest('hex')
  const folder = folderOf(house)
  const file = join(folder, fileName(hash, type))
  // One that was cut short long ago is no reason to keep none.
  if (!existsSync(file) || statSync(file).size !== bytes.length) {
    mkdirSync(folder, { recursive: true })
    putWhole(file, bytes)
  }
  const uid = house.uid()
  house.db.insert(picture).values({ uid, hash, type, bytes: bytes.length, createdAt: house.now(), createdBy: by }).run()
  return uid
}

/** All pictures that a slip shows: of the whole, and of single lines. */
export const picturesIn = (c: SlipContent): string[] => [
  ...c.head.pictures,
  ...c.lines.flatMap(l => (l.picture ? [l.picture] : [])),
]

/** A picture of a slip that says it has it. */
export function pictureOf(house: House, content: SlipContent, uid: string): { type: string; bytes: Uint8Array } {
  const row = picturesIn(content).includes(uid)
    ? house.db.select().from(picture).where(eq(picture.uid, uid)).get()
    : undefined
  if (!row) throw notFound('picture')
  const file = join(folderOf(house), fileName(row.hash, row.type))
  if (!existsSync(file))
    throw new Refused(
      410,
      'picture_gone',
      'The file of this picture is not there any more; a backup may still have it.',
    )
  return { type: row.type, bytes: readFileSync(file) }
}

/** A slip shows no pictures that nobody has put there. */
export function refuseUnknownPictures(house: House, content: SlipContent): void {
  const there = (uid: string) =>
    house.db.select({ n: picture.bytes }).from(picture).where(eq(picture.uid, uid)).get() !== undefined
  if (picturesIn(content).every(there)) return
  const code = 'unknown_picture'
  const message = 'A picture of this slip is not there. Take it again.'
  throw new Refused(422, code, message, [{ field: 'pictures', code, message }])
}

/** So long a picture waits for its slip: one that is written away from the server may come late. */
const WAITS = 30 * 86_400_000

// Most slips have none: what JSON looks like tells so without reading it.
const SHOWN = (
  when: string,
) => `select p.value from slip, json_each(slip.head, '$.head.pictures') p where ${when} slip.head like '%"pictures":["%'
  union select json_extract(l.content, '$.picture') from slip_line l join slip on slip.id = l.slip_id where ${when} l.content like '%"picture":"%'`

/**
 * For a thread of its own, for it reads every slip: pictures a month old that no slip in a database shows, taken off it again
 * or of a draft that was thrown away.
 */
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

/**
 * Lets go of pictures that were found unshown, except those that a slip saved `since` then shows; a file stays while another
 * picture is of it. Gives how many went.
 */
export function dropUnshown(house: House, unshown: readonly string[], since: number): number {
  if (!unshown.length) return 0
  const shown = new Set(
    house.store.client.prepare(SHOWN('coalesce(slip.booked_at, slip.saved_at) >= @since and')).pluck().all({ since }),
  )
  const gone = house.db
    .select()
    .from(picture)
    .where(
      inArray(
        picture.uid,
        unshown.filter(uid => !shown.has(uid)),
      ),
    )
    .all()
  house.db
    .delete(picture)
    .where(
      inArray(
        picture.uid,
        gone.map(p => p.uid),
      ),
    )
    .run()
  for (const p of gone)
    if (!house.db.select({ uid: picture.uid }).from(picture).where(eq(picture.hash, p.hash)).get())
      rmSync(join(folderOf(house), fileName(p.hash, p.type)), { force: true })
  return gone.length
}

/** What is written beside what somebody asked for: pictures that no slip shows go. */
export const errands = (house: House) => ({
  unshown: (pictures: readonly string[], since: number): number => dropUnshown(house, pictures, since),
})

/** Who put a picture there; undefined where nobody did. */
export const pictureBy = (house: House, uid: string): number | undefined =>
  house.db.select({ by: picture.createdBy }).from(picture).where(eq(picture.uid, uid)).get()?.by
