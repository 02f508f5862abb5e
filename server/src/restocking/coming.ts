import { and, eq, gt, sql } from 'drizzle-orm'
import { groupBy, type Movement, outstanding, stillComing } from '@shelve/core'
import type { Owed } from '../position/index.ts'
import type { House } from './house.ts'
import { restockLine, restockSlip } from './tables.ts'

/** Asked for longer ago than this nobody looks for it any more. */
export const FORGOTTEN = 400 * 86_400_000

/** What is owed of some items (undefined: of all), from what was asked for and what arrived since. Prepared once: asked anew after every booking. */
export function owedSource(
  house: House,
): (ids: readonly number[] | undefined, also?: readonly Movement[]) => Map<number, Owed[]> {
  const p = sql.placeholder
  const asked = (some: boolean) =>
    house.db
      .select({
        id: restockLine.id,
        item: restockLine.itemId,
        place: restockLine.placeId,
        quantity: restockLine.quantity,
        at: restockSlip.askedAt,
        expected: restockSlip.expected,
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
  return (ids, also = []) => {
    const out = new Map<number, Owed[]>()
    const today = house.today()
    // Before there is an organisation nothing was asked for.
    const lines = (ids ? ofSome : ofAll).all({ since: house.now() - FORGOTTEN, ids: JSON.stringify(ids ?? []) })
    for (const group of groupBy(lines, l => `${l.item}.${l.place}.${kindOf(l.source)}`).values()) {
      const { item, place, source } = group[0]!
      const left = outstanding(
        group.map(l => ({ at: l.at!, quantity: l.quantity })),
        arrivals(house, item, place, kindOf(source), Math.min(...group.map(l => l.at!)), also),
      )
      group.forEach((l, i) => {
        if (left[i]! <= 0n) return
        const day = l.expected ?? house.today(l.at!)
        const owed = {
          lineId: l.id,
          placeId: place,
          quantity: left[i]!,
          day,
          counts: stillComing(day, today, house.organisation!.patienceDays),
        }
        out.set(item, [...(out.get(item) ?? []), owed])
      })
    }
    return out
  }
}

const kindOf = (source: string): 'move' | 'receipt' => (source === 'shelves' ? 'move' : 'receipt')

/** What came into a place from outside it since an instant, less what was taken back; `also` with what is not written yet. */
function arrivals(
  house: House,
  item: number,
  place: number,
  kind: 'move' | 'receipt',
  since: number,
  also: readonly Movement[],
): { at: number; quantity: bigint }[] {
  const within = house.places.within(place)
  const written = house.db.all<{
    seq: bigint
    at: bigint
    from: bigint
    to: bigint
    quantity: bigint
    back: bigint | null
  }>(
    sql`select m.seq, m.effective_at as at, m.from_id as "from", m.to_id as "to", m.quantity, (select sum(r.quantity) from movement r where r.reverses = m.seq) as back
    from movement m where m.item_id = ${item} and m.effective_at >= ${since} and m.kind = ${kind} and m.reverses is null and m.quantity > 0`,
  )
  const arrived = [
    ...written.map(m => ({ ...m, seq: Number(m.seq), at: Number(m.at), from: Number(m.from), to: Number(m.to) })),
    ...also.flatMap(m =>
      m.itemId === item && m.effectiveAt >= since && m.kind === kind && m.reverses === null && m.quantity > 0n
        ? [{ seq: m.seq, at: m.effectiveAt, from: m.from, to: m.to, quantity: m.quantity, back: null }]
        : [],
    ),
  ]
  return arrived
    .filter(m => within.has(m.to) && !within.has(m.from))
    .map(m => ({
      at: m.at,
      quantity: also.reduce(
        (left, r) => (r.reverses === m.seq ? left - r.quantity : left),
        m.quantity - (m.back ?? 0n),
      ),
    }))
}
