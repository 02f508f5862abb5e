import { dayIn } from '@shelve/core'
import { isIn, type Scope } from '../rights/index.ts'
import { type GroupRow, groupsIn, itemsOf } from './groups.ts'
import type { House } from './house.ts'
import { wholeTakenBack } from './printed.ts'
import { BACK } from './rows.ts'
import type { countDone } from './tables.ts'

const DAY = 86_400_000

export const dayPlus = (day: string, days: number): string =>
  new Date(Date.parse(day) + days * DAY).toISOString().slice(0, 10)

/** What is counted together and has a cycle: an area, or a group of items in a place. */
export interface Counted {
  readonly placeId: number
  readonly group: GroupRow | null
}
export interface Cycle extends Counted {
  readonly last: Done | null
  readonly every: number | null
  readonly due: string | null
}

/** When each area and each group was last counted, and when it is due by its cycle. */
export function countCycles(house: House, scope: Scope): Cycle[] {
  const zone = house.organisation!.zone
  // Never counted as a whole: the cycle runs from when there was something to count.
  const cycle = (of: Counted, every: number | null, began: number): Cycle => ({
    ...of,
    last: lastCount(house, of),
    every,
    due: every === null ? null : dayPlus(dayIn(lastWhole(house, of)?.countedAt ?? began, zone), every),
  })
  return [
    ...house.places
      .areas()
      .filter(a => isIn(scope, a.id))
      .map(a => cycle({ placeId: a.id, group: null }, a.countEveryDays, house.organisation!.createdAt)),
    ...groupsIn(house, scope).map(g => cycle({ placeId: g.placeId, group: g }, g.everyDays, g.createdAt)),
  ]
}

type Done = typeof countDone.$inferSelect

/** Counts of an area or a group, the latest first; of some only those of which nothing was left. */
function* countsOf(house: House, { placeId, group }: Counted, whole: boolean): Generator<Done> {
  const read = house.rows.countsDone[whole ? 'whole' : 'any'][group === null ? 0 : 1]
  for (let offset = 0; ; offset += BACK) {
    const rows = read.all({ place: placeId, group: group?.id, offset })
    yield* rows
    if (rows.length < BACK) return
  }
}

/** The last count of which anything stands: one that was taken back as a whole was none. */
function lastCount(house: House, of: Counted): Done | null {
  for (const r of countsOf(house, of, false)) if (!wholeTakenBack(house, r.slipId)) return r
  return null
}

/** The last count that covered all of it, by itself or together with those that it completes; all of them stand. */
function lastWhole(house: House, of: Counted): Done | null {
  const stands = (r: { readonly slipId: number; readonly restOf: number | null }): boolean => {
    if (wholeTakenBack(house, r.slipId)) return false
    if (r.restOf === null) return true
    const before = house.rows.countDone.get({ slip: r.restOf })
    return before === undefined || stands(before)
  }
  for (const r of countsOf(house, of, true)) if (stands(r)) return r
  return null
}

/** How many lines a sheet of an area, or a group, has: what lies there, and what belongs there and is at zero. Goes through all items. */
export function belongings(house: House, { placeId, group }: Counted): number {
  const within = house.places.within(placeId)
  const items = group && itemsOf(house, group)
  let n = 0
  for (const it of house.stock.all().values()) {
    if (items && !items.has(it.id)) continue
    const lies = it.leaves.filter(l => within.has(l.placeId)).length
    n += lies || (it.active && it.levels.some(l => within.has(l.placeId)) ? 1 : 0)
  }
  return n
}
