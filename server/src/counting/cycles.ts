import { and, eq, sql } from 'drizzle-orm'
import { dayIn } from '@shelve/core'
import { slip } from '../ledger/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { wholeTakenBack } from './printed.ts'

const DAY = 86_400_000

export const dayPlus = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * DAY).toISOString().slice(0, 10)

/** When each area was last counted, and when it is due by its cycle. */
export function countCycles(
  house: House,
  scope: Scope,
): { placeId: number; last: number | null; every: number | null; due: string | null }[] {
  const last = new Map(
    house.db
      .all<{ place: bigint; at: bigint }>(
        sql`select place_id as place, max(effective_at) as at from slip indexed by slip_counts where kind = 'count' and state = 'booked' and place_id is not null group by place_id`,
      )
      .map(r => [Number(r.place), Number(r.at)]),
  )
  const zone = house.organisation!.zone
  return house.places
    .areas()
    .filter(a => isIn(scope, a.id))
    .map(a => {
      const at = standing(house, a.id, last.get(a.id) ?? null)
      // Never counted: the cycle runs from when the organisation began.
      return {
        placeId: a.id,
        last: at,
        every: a.countEveryDays,
        due:
          a.countEveryDays === null
            ? null
            : dayPlus(dayIn(at ?? house.organisation!.createdAt, zone), a.countEveryDays),
      }
    })
}

/** The last count of an area of which anything stands: one that was taken back as a whole was none. */
function standing(house: House, placeId: number, last: number | null): number | null {
  let at = last
  while (at !== null) {
    const of = and(eq(slip.kind, 'count'), eq(slip.state, 'booked'), eq(slip.placeId, placeId))
    const counts = house.db
      .select({ id: slip.id })
      .from(slip)
      .where(and(of, eq(slip.effectiveAt, at)))
      .all()
    if (counts.some(c => !wholeTakenBack(house, c.id))) break
    at =
      house.db
        .select({ at: sql<number | null>`max(${slip.effectiveAt})`.mapWith(v => (v === null ? null : Number(v))) })
        .from(slip)
        .where(and(of, sql`${slip.effectiveAt} < ${at}`))
        .get()?.at ?? null
  }
  return at
}

/** How many lines a sheet of an area has: what lies there, and what belongs there and is at zero. */
export function belongings(house: House, placeId: number): number {
  const within = house.places.within(placeId)
  let n = 0
  for (const it of house.stock.all().values()) {
    const lies = it.leaves.filter(l => within.has(l.placeId)).length
    n += lies || (it.active && it.levels.some(l => within.has(l.placeId)) ? 1 : 0)
  }
  return n
}
