import { eq } from 'drizzle-orm'
import type { SlipContent } from '@shelve/contract'
import { refuse, type Refusal, writtenInstant } from '@shelve/core'
import { iso, notFound, Refused } from '../ground/index.ts'
import type { Does } from '../papers/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { closedArea } from './tables.ts'

/** The areas that are closed for counting, each with since when and by whom. */
export const closedAreas = (house: House): Map<number, { readonly since: number; readonly by: string }> =>
  new Map(house.rows.closedAreas.all().map(r => [r.placeId, r]))

export const closedView = (of: { readonly since: number; readonly by: string } | undefined) =>
  of ? { since: iso(of.since), by: of.by } : null

/** Closes an area: what is booked there from now on waits until it is open again. Closed already, it stays as it is. */
export function closeArea(house: House, caller: Caller, uid: string): void {
  const placeId = wanted(house, caller, uid)
  if (house.places.row(placeId)!.kind !== 'area')
    throw new Refused(422, 'not_an_area', 'Only an area is closed for counting. Choose the area that it lies in.')
  house.change('stock', () =>
    house.db
      .insert(closedArea)
      .values({ placeId, since: house.now(), closedBy: caller.id })
      .onConflictDoNothing()
      .run(),
  )
}
/** Opens it again: whoever may book there, not just whoever closed it, so that nobody waits for one who went home. */
export function openArea(house: House, caller: Caller, uid: string): void {
  const placeId = wanted(house, caller, uid)
  house.change('stock', () => openUp(house, placeId))
}
/** Within a transaction: a count of all of it is booked, nothing waits any more. */
export const openUp = (house: House, placeId: number): void => {
  house.db.delete(closedArea).where(eq(closedArea.placeId, placeId)).run()
}
function wanted(house: House, caller: Caller, uid: string): number {
  const id = house.places.id(uid)
  if (id === undefined) throw notFound('place')
  demandAt(house, caller, 'book', id)
  return id
}

/**
 * What would move in an area that is closed for counting. Counts are what it is closed for; what puts an earlier slip
 * right, and what happened before it was closed, is about the time before. Source: design of counts without stopping the
 * work; common practice of a cut-off.
 */
export function closedRefusals(house: House, content: SlipContent, booked: Does | undefined): Refusal[] {
  if (!booked || content.kind === 'count' || content.kind === 'correction') return []
  const closed = closedAreas(house)
  if (!closed.size) return []
  const said = new Set<string>()
  return booked.touched.flatMap(({ lineId, placeId }): Refusal[] => {
    const area = [...closed].find(([id, c]) => house.places.within(id).has(placeId) && booked.effectiveAt >= c.since)
    if (!area || said.has(lineId)) return []
    said.add(lineId)
    const [place, { since, by }] = area
    return [
      refuse('closed_for_counting', lineId, 'place', {
        place,
        by,
        sinceText: writtenInstant(since, house.organisation!),
      }),
    ]
  })
}
