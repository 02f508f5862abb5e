import { sql, type SQL } from 'drizzle-orm'
import { Refused } from '../ground/index.ts'
import { MAY_COME_IN } from '../ledger/index.ts'
import type { House } from './house.ts'

/** What one lot of a slip that sends has come to: `left` = sent − arrived − lost. */
export interface WayLine {
  readonly itemId: number
  readonly lotId: number
  readonly sent: bigint
  readonly arrived: bigint
  readonly lost: bigint
  readonly left: bigint
}

/** What came into a place and left it again (taken off), each by an index of its own: together they would read the whole ledger. */
export const movedThrough = (place: number): SQL => sql`
  select seq, cost_seq, slip_id, item_id, lot_id, kind, quantity from movement
    where to_id = ${place} and ${sql.raw(MAY_COME_IN)} and quantity > 0
  union all
  select seq, cost_seq, slip_id, item_id, lot_id, kind, -quantity from movement where from_id = ${place} and quantity > 0`

/**
 * What lies on the way and what became of it, lot by lot in the order in which they were sent. A movement is told by the slip
 * that first wrote what it is about: what a correction took back of an arrival has not arrived. What an arrival that is
 * written late does to a loss is that loss's.
 */
export function linesOnTheWay(house: House, place: number): WayLine[] {
  const rows = house.db.all<{ item: bigint; lot: bigint; told: string; quantity: bigint }>(sql`
    select m.item_id as item, m.lot_id as lot, case m.kind when 'difference' then 'count' else s.kind end as told,
      sum(m.quantity) as quantity
    from (${movedThrough(place)}) m join movement o on o.seq = m.cost_seq join slip s on s.id = o.slip_id
    group by m.item_id, m.lot_id, told order by min(m.seq)`)
  const lines = new Map<string, { -readonly [K in keyof WayLine]: WayLine[K] }>()
  for (const r of rows) {
    const key = `${r.item}.${r.lot}`
    let line = lines.get(key)
    if (!line) {
      line = { itemId: Number(r.item), lotId: Number(r.lot), sent: 0n, arrived: 0n, lost: 0n, left: 0n }
      lines.set(key, line)
    }
    line.left += r.quantity
    if (r.told === 'dispatch') line.sent += r.quantity
    else if (r.told === 'arrival') line.arrived -= r.quantity
    else line.lost -= r.quantity
  }
  return [...lines.values()].filter(l => l.sent > 0n || l.left > 0n)
}

export const nothingLeft = (number: string): Refused =>
  new Refused(409, 'nothing_on_the_way', `Nothing is on its way any more by ${number}: it has arrived, or was lost.`)
