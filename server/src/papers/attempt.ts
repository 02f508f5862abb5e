import type { SlipContent } from '@shelve/contract'
import { book as bookSlip, type BookContext, type Booked, type Refusal } from '@shelve/core'
import { SqlBooks } from '../ledger/index.ts'
import { type Caller, isIn, mayAt, reach } from '../rights/index.ts'
import { type Numbered, numbered } from './drafts.ts'
import type { House } from './house.ts'
import { askedFirst, type TakenFromJob, takenFromJobs } from './reserved.ts'
import { Reading } from './resolving/reading.ts'
import { resolve } from './resolving/resolve.ts'
import type { Resolved } from './resolving/resolved.ts'
import { witnessOf, type Witnessed, witnessRefusals } from './witness.ts'

const bookContext = (house: House, by: number): BookContext => ({
  now: house.now(),
  by,
  dayOf: at => house.today(at),
  stockAccount: house.accounts.stock,
  priceDifferenceAccount: house.accounts.priceDifference,
  lossAccount: house.accounts.loss,
  gainAccount: house.accounts.gain,
})

export interface Tried {
  readonly slip: Numbered
  readonly resolved: Resolved
  readonly booked: Booked | undefined
  readonly refusals: Refusal[]
  readonly books: SqlBooks
  readonly lineIds: ReadonlyMap<string, number>
  /** What it takes of what is set aside for jobs. */
  readonly reserved: readonly TakenFromJob[]
  readonly witnessed: Witnessed
}

/** Whether whoever writes a slip may override, where it is written. */
export function mayOverride(house: House, caller: Caller, { place }: SlipContent): boolean {
  const area = place === null ? undefined : house.places.id(place)
  return area === undefined ? caller.may.has('override') : mayAt(house, caller, 'override', area)
}

/**
 * Reads a slip and judges it, with all that would follow. Nothing is written: neither the slip, nor what it makes. Without
 * `hooks` rooms of work are not asked: what they say is about all of a slip, which this may be a part of.
 */
export function attempt(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  books = new SqlBooks(house),
  hooks: House['hooks'] = house.hooks,
): Tried {
  const slip = numbered(house, uid, content)
  const { lineIds } = slip
  const override = mayOverride(house, caller, content)
  const resolved = resolve(
    new Reading(house, house.kinds, books, content, slip.id, lineIds, override, reach(house, caller)),
  )
  if (!content.lines.length)
    return {
      slip,
      resolved,
      booked: undefined,
      refusals: [{ code: 'no_lines', lineId: null, field: 'lines', detail: {} }],
      books,
      lineIds,
      reserved: [],
      witnessed: witnessOf(house, uid, content, undefined),
    }
  const some =
    resolved.draft.lines.length + (resolved.draft.counts?.length ?? 0) + (resolved.draft.changes?.length ?? 0) > 0
  const result = some ? bookSlip(books, resolved.draft, bookContext(house, caller.id)) : undefined
  const taken = result?.ok ? result.value : undefined
  const reserved = takenFromJobs(house, content, taken, books)
  const witnessed = witnessOf(house, uid, content, taken)
  const refusals = [
    ...resolved.refusals,
    ...hooks.flatMap(h => h.refusals?.(content, slip.id, uid => String(lineIds.get(uid)), taken, override) ?? []),
    ...(result && !result.ok ? result.refusals : []),
    ...(taken ? notMine(house, caller, content, taken, lineIds, books) : []),
    ...askedFirst(house, content, reserved, lineIds),
    ...witnessRefusals(witnessed),
  ]
  return { slip, resolved, booked: taken, refusals, books, lineIds, reserved, witnessed }
}

/**
 * What a slip does where the caller may not: said once for each line. A line that touches no place (what goes straight
 * to its user) is about the place of its slip, or of the slip that it corrects.
 */
function notMine(
  house: House,
  caller: Caller,
  content: SlipContent,
  booked: Booked,
  lineIds: ReadonlyMap<string, number>,
  books: SqlBooks,
): Refusal[] {
  const action = house.kinds.get(content.kind)!.action ?? 'book'
  const { within } = reach(house, caller, action)
  if (!within && caller.may.has(action)) return []
  const corrected = content.head.corrects ? house.rows.slip.get({ uid: content.head.corrects }) : undefined
  const own = corrected ? corrected.placeId : content.place === null ? null : (house.places.id(content.place) ?? null)
  const seen = reach(house, caller)
  const said = new Map<string, Refusal>()
  const refuseAt = (lineId: string, place: number | null) => {
    // What it makes itself is nobody else's.
    if (said.has(lineId) || (place !== null && (within?.has(place) || books.making.makesPlace(place)))) return
    const detail = place !== null && isIn(seen, place) ? { place } : {}
    said.set(lineId, { code: 'not_your_place', lineId, field: 'place', detail })
  }
  for (const t of booked.touched) refuseAt(t.lineId, t.placeId)
  const placed = new Set(booked.touched.map(t => t.lineId))
  for (const id of lineIds.values()) if (!placed.has(String(id))) refuseAt(String(id), own)
  return [...said.values()]
}
