import { and, eq, inArray, sql } from 'drizzle-orm'
import { outstanding } from '@shelve/core'
import type { Coming } from '../position/index.ts'
import type { House } from './house.ts'
import { restockLine, restockSlip } from './tables.ts'

/** Asked for longer ago than this nobody waits for any more. */
const PATIENCE = 400 * 86_400_000

/** What is on its way of some items (undefined: of all), from what was asked for and what arrived since. */
export function comingOf(house: House, ids: readonly number[] | undefined): Map<number, Coming[]> {
  const out = new Map<number, Coming[]>()
  const lines = house.db
    .select({
      id: restockLine.id,
      item: restockLine.itemId,
      place: restockLine.placeId,
      quantity: restockLine.quantity,
      at: restockSlip.askedAt,
      source: restockSlip.source,
    })
    .from(restockLine)
    .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
    .where(
      and(
        eq(restockSlip.state, 'asked'),
        sql`${restockSlip.askedAt} > ${house.now() - PATIENCE}`,
        ids ? inArray(restockLine.itemId, [...ids]) : undefined,
      ),
    )
    .all()
  const groups = new Map<string, typeof lines>()
  for (const l of lines) {
    const key = `${l.item}.${l.place}.${l.source === 'shelves' ? 'move' : 'receipt'}`
    const g = groups.get(key)
    if (g) g.push(l)
    else groups.set(key, [l])
  }
  for (const group of groups.values()) {
    const { item, place, source } = group[0]!
    const left = outstanding(
      group.map(l => ({ at: l.at!, quantity: l.quantity })),
      arrivals(house, item, place, source === 'shelves' ? 'move' : 'receipt', Math.min(...group.map(l => l.at!))),
    )
    group.forEach((l, i) => {
      if (left[i]! > 0n) out.set(item, [...(out.get(item) ?? []), { lineId: l.id, placeId: place, quantity: left[i]! }])
    })
  }
  return out
}

/** What came into a place from outside it since an instant, less what was taken back. */
function arrivals(
  house: House,
  item: number,
  place: number,
  kind: 'move' | 'receipt',
  since: number,
): { at: number; quantity: bigint }[] {
  const within = house.places.within(place)
  return house.db
    .all<{ at: bigint; from: bigint; to: bigint; quantity: bigint; back: bigint | null }>(
      sql`select m.effective_at as at, m.from_id as "from", m.to_id as "to", m.quantity, (select sum(r.quantity) from movement r where r.reverses = m.seq) as back
    from movement m where m.item_id = ${item} and m.effective_at >= ${since} and m.kind = ${kind} and m.reverses is null and m.quantity > 0`,
    )
    .filter(m => within.has(Number(m.to)) && !within.has(Number(m.from)))
    .map(m => ({ at: Number(m.at), quantity: m.quantity - (m.back ?? 0n) }))
}
