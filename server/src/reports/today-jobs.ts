import type { Waiting } from '@shelve/contract'
import { formatDecimal, type Quantity } from '@shelve/core'
import { fallenUnder, jobsWaiting } from '../jobs/index.ts'
import type { StockItem } from '../position/index.ts'
import { type Caller, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { type Named, none } from './waits.ts'

const named = (it: StockItem, quantity: Quantity): Named => ({
  item: it.uid,
  name: it.name,
  quantity: formatDecimal(quantity),
  unit: it.unit,
  day: null,
})

/** Jobs that are due soon, or in want of something. */
export async function jobsDue(house: House, caller: Caller, scope: Scope): Promise<Waiting[]> {
  return (await jobsWaiting(house, scope, reach(house, caller))).map(({ row: r, lacks }) => ({
    ...none,
    kind: 'job',
    day: r.day,
    n: lacks.length,
    job: {
      id: r.id,
      code: r.code,
      name: r.name,
      state: r.state,
      time: r.time,
      wanted: r.wanted,
      unit: r.wantedUnit,
      needs: r.needs,
      met: r.met,
    },
    named: lacks.slice(0, 3).map(({ it, quantity }) => named(it, quantity)),
  }))
}
/** Stock that has fallen under what was set aside of it. */
export function unkept(house: House, scope: Scope): Waiting[] {
  const rows = fallenUnder(house, scope)
  if (!rows.length) return []
  return [
    {
      ...none,
      kind: 'unkept',
      day: house.today(),
      n: rows.length,
      jobs: [...new Set(rows.flatMap(r => r.jobs))].slice(0, 4),
      named: rows.slice(0, 3).map(({ it, short }) => named(it, short)),
    },
  ]
}
