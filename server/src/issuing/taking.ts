import { SlipContent, type Taking } from '@shelve/contract'
import { notFound, Refused } from '../ground/index.ts'
import { bookHanded, reversalContent } from '../papers/index.ts'
import { asTaker, type Caller } from '../rights/index.ts'
import type { House } from './house.ts'

/** The area whose shelf somebody takes from themselves. */
function openShelf(house: House, place: number | null | undefined): number {
  const area = place == null ? undefined : house.places.area(place)
  const row = area === undefined ? undefined : house.places.row(area)
  if (row?.openShelf) return area!
  throw new Refused(
    403,
    'no_open_shelf',
    `${row ? house.places.name(area!) : 'This'} is no open shelf: ask for it, and its keeper hands it out.`,
  )
}

/** Somebody takes from an open shelf what they need, by themselves: an issue in their name, judged as any other. */
export async function take(house: House, caller: Caller, uid: string, said: Taking): Promise<string> {
  const area = openShelf(house, house.places.id(said.place))
  const content = SlipContent.parse({
    kind: 'issue',
    place: house.places.row(area)!.uid,
    taker: caller.name,
    head: { job: said.job, costCentre: said.costCentre, note: said.note },
    lines: said.lines,
  })
  await bookHanded(house, asTaker(caller, area), uid, { content }, content, null)
  return uid
}

/** What somebody took themselves was a mistake: they take it back, all of it, on the same day. */
export async function takeBack(house: House, caller: Caller, uid: string, by: string): Promise<string> {
  const row = house.rows.slip.get({ uid })
  if (row?.kind !== 'issue' || row.bookedBy !== caller.id) throw notFound('slip')
  const area = openShelf(house, row.placeId)
  if (house.today(row.bookedAt!) !== house.today())
    throw new Refused(409, 'of_another_day', 'That was not today. Its keeper takes it back.')
  const content = reversalContent(house, uid, { id: by, lines: null, why: '' })
  await bookHanded(house, asTaker(caller, area), by, { content }, content, null)
  return by
}
