import { and, eq, gt, sql } from 'drizzle-orm'
import { outstanding } from '@shelve/core'
import { groupBy } from '../ground/index.ts'
import type { Coming } from '../position/index.ts'
import type { House } from './house.ts'
import { restockLine, restockSlip } from './tables.ts'

/** Asked for longer ago than this nobody waits for any more. */
const PATIENCE = 400 * 86_400_000

/** What is on its way of some items (undefined: of all), from what was asked for and what arrived since. Prepared once: asked anew after every booking. */
export function comingSource(house: House): (ids: readonly number[] | undefined) => Map<number, Coming[]> {
  const p = sql.placeholder
  const asked = (some: boolean) =>
    house.db
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
          gt(restockSlip.askedAt, p('since')),
          some ? sql`${restockLine.itemId} in (select value from json_each(${p('ids')}))` : undefined,
        ),
      )
      .prepare()
  const ofAll = asked(false)
  const ofSome = asked(true)
  return ids => {
    const out = new Map<number, Coming[]>()
    const lines = (ids ? ofSome : ofAll).all({ since: house.now() - PATIENCE, ids: JSON.stringify(ids ?? []) })
    for (const group of groupBy(lines, l => `${l.item}.${l.place}.${kindOf(l.source)}`).values()) {
      const { item, place, source } = group[0]!
      const left = outstanding(
        group.map(l => ({ at: l.at!, quantity: l.quantity })),
        arrivals(house, item, place, kindOf(source), Math.min(...group.map(l => l.at!))),
      )
      group.forEach((l, i) => {
        if (left[i]! > 0n)
          out.set(item, [...(out.get(item) ?? []), { lineId: l.id, placeId: place, quantity: left[i]! }])
      })
    }
    return out
  }
}

const kindOf = (source: string): 'move' | 'receipt' => (source === 'shelves' ? 'move' : 'receipt')

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
