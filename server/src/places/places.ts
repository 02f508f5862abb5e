import { eq, sql } from 'drizzle-orm'
import type { Place } from '@shelve/contract'
import { groupBy, ownCode } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { code, register } from '../codes/index.ts'
import { folded, notFound, Refused, stale } from '../ground/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { place, placeWithin } from './tables.ts'
import { PASSING } from './tree.ts'

export interface PlaceIn {
  readonly name: string
  readonly parent?: string | null
  readonly kind?: (typeof place.$inferSelect)['kind']
  readonly walk?: number
  readonly codes?: readonly string[]
  readonly countEveryDays?: number | null
  readonly openShelf?: boolean
}

export function createPlace(house: House, input: PlaceIn): number {
  const parentId = input.parent ? house.places.id(input.parent) : null
  if (parentId === undefined) throw notFound('place')
  nameFree(house, input.name, parentId, undefined)
  const id = house.db
    .insert(account)
    .values({ kind: 'place', name: input.name.trim() })
    .returning({ id: account.id })
    .get().id
  house.db
    .insert(place)
    .values({
      id,
      uid: house.uid(),
      parentId,
      kind: input.kind ?? 'bin',
      name: input.name.trim(),
      walk: input.walk ?? nextWalk(house, parentId),
      active: true,
      revision: 1,
      countEveryDays: input.countEveryDays ?? null,
      openShelf: input.openShelf ?? false,
    })
    .run()
  house.db.insert(placeWithin).values({ ancestorId: id, placeId: id }).run()
  if (parentId !== null)
    house.db.run(
      sql`insert into place_within (ancestor_id, place_id) select ancestor_id, ${id} from place_within where place_id = ${parentId}`,
    )
  for (const c of input.codes ?? []) register(house, c, { kind: 'place', placeId: id })
  if (PASSING.includes(input.kind ?? 'bin')) house.places.grow()
  else house.places.forget()
  return id
}

export function updatePlace(house: House, uid: string, input: PlaceIn, revision: number | undefined): void {
  const row = house.places.row(house.places.id(uid) ?? -1)
  if (!row) throw notFound('place')
  if (revision !== undefined && revision !== row.revision) throw stale()
  const parentId = input.parent ? house.places.id(input.parent) : null
  if (parentId === undefined) throw notFound('place')
  if (parentId !== row.parentId)
    throw new Refused(
      409,
      'place_stays',
      'A place stays where it is in the tree; make a new one and move what lies there.',
      [{ field: 'parent', code: 'place_stays', message: 'A place stays where it is in the tree.' }],
    )
  nameFree(house, input.name, parentId, row.id)
  house.db
    .update(place)
    .set({
      name: input.name.trim(),
      walk: input.walk ?? row.walk,
      kind: input.kind ?? row.kind,
      countEveryDays: input.countEveryDays ?? null,
      openShelf: input.openShelf ?? false,
      revision: row.revision + 1,
    })
    .where(eq(place.id, row.id))
    .run()
  house.db.update(account).set({ name: input.name.trim() }).where(eq(account.id, row.id)).run()
  house.db.delete(code).where(eq(code.placeId, row.id)).run()
  for (const c of input.codes ?? []) register(house, c, { kind: 'place', placeId: row.id })
}

function nameFree(house: House, name: string, parentId: number | null, self: number | undefined): void {
  const own = folded(name)
  const other = house.places.children(parentId).find(p => p.id !== self && folded(p.name) === own)
  if (other)
    throw new Refused(409, 'name_taken', `There is a ${name} here already.`, [
      { field: 'name', code: 'name_taken', message: `There is a ${name} here already. Choose another name.` },
    ])
}

const nextWalk = (house: House, parentId: number | null): number =>
  house.places.children(parentId).reduce((last, p) => Math.max(last, p.walk), 0) + 10

/** The tree of places as far as it may be seen, with what leads there. */
export async function placeViews(house: House, seen: Scope): Promise<Place[]> {
  const crates = await house.crates()
  const codes = groupBy(
    house.db
      .select()
      .from(code)
      .where(sql`${code.placeId} is not null`)
      .all(),
    c => c.placeId!,
  )
  const leads = house.places.leadingTo(seen)
  return (
    [...house.places.rows.values()]
      // What is on its way, and where something lay with a job once, is told where it is asked for: no screen keeps it.
      .filter(p =>
        PASSING.includes(p.kind) ? crates.has(p.id) && isIn(seen, p.id) : isIn(seen, p.id) || leads.has(p.id),
      )
      .sort((a, b) => house.places.order(a.id) - house.places.order(b.id))
      .map(p => ({
        id: p.uid,
        revision: p.revision,
        name: p.name,
        parent: p.parentId === null ? null : house.places.row(p.parentId)!.uid,
        kind: p.kind as Place['kind'],
        walk: p.walk,
        // What lies with a job is no place that somebody chooses.
        active: p.active && p.kind !== 'with_job',
        path: house.places.name(p.id),
        codes: (codes.get(p.id) ?? []).map(c => c.scanned),
        own: ownCode('place', p.id),
        mine: isIn(seen, p.id),
        countEveryDays: p.countEveryDays,
        openShelf: p.openShelf,
      }))
  )
}
