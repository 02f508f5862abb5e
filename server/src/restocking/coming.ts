import { and, eq, gt, isNull, sql } from 'drizzle-orm'
import { groupBy, type Movement, outstanding, stillComing } from '@shelve/core'
import type { Owed } from '../position/index.ts'
import type { House } from './house.ts'
import { restockLine, restockSlip } from './tables.ts'

/** Asked for longer ago than this nobody looks for it any more. */
export const FORGOTTEN = 400 * 86_400_000

/**
 * What is owed of some items (undefined: of all), from what was asked for and what arrived since. Prepared once: asked anew
 * after every booking.
 */
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
        sourceId: restockSlip.sourceId,
      })
      .from(restockLine)
      .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
      .where(
        and(
          eq(restockSlip.state, 'asked'),
          isNull(restockLine.cancelledAt),
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
    for (const group of groupBy(lines, l => `${l.item}.${kindOf(l.source)}`).values()) {
      const { item, source } = group[0]!
      const kind = kindOf(source)
      const left = outstanding(
        group.map(l => ({ ...l, at: l.at! })),
        arrivals(house, item, kind, Math.min(...group.map(l => l.at!)), also),
        (a, l) => {
          const within = house.places.within(l.place)
          // What is on its way here is owed no more: it comes.
          const [from, to] = [a.from, a.to].map(p => house.places.transit(p)?.toId ?? p)
          if (within.has(to!)) return within.has(from!) ? undefined : 'here'
          // What the same supplier delivered into another place is what was asked of them, wherever it is carried then.
          return kind === 'receipt' && a.from === l.sourceId && house.places.row(a.to) ? 'elsewhere' : undefined
        },
      )
      group.forEach((l, i) => {
        if (left[i]! <= 0n) return
        const day = l.expected ?? house.today(l.at!)
        const owed = {
          lineId: l.id,
          placeId: l.place,
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

/** What came of an item since an instant, less what was taken back; `also` with what is not written yet. */
function arrivals(
  house: House,
  item: number,
  kind: 'move' | 'receipt',
  since: number,
  also: readonly Movement[],
): { at: number; quantity: bigint; from: number; to: number }[] {
  const written = house.db.all<{
    seq: bigint
    at: bigint
    from: bigint
    to: bigint
    quantity: bigint
    back: bigint | null
  }>(
    sql`select m.seq, m.effective_at as at, m.from_id as "from", m.to_id as "to", m.quantity,
      (select sum(r.quantity) from movement r where r.reverses = m.seq) as back
    from movement m
    where m.item_id = ${item} and m.effective_at >= ${since} and m.kind = ${kind}
      and m.reverses is null and m.quantity > 0`,
  )
  const arrived = [
    ...written.map(m => ({ ...m, seq: Number(m.seq), at: Number(m.at), from: Number(m.from), to: Number(m.to) })),
    ...also.flatMap(m =>
      m.itemId === item && m.effectiveAt >= since && m.kind === kind && m.reverses === null && m.quantity > 0n
        ? [{ seq: m.seq, at: m.effectiveAt, from: m.from, to: m.to, quantity: m.quantity, back: null }]
        : [],
    ),
  ]
  return arrived.map(m => ({
    at: m.at,
    from: m.from,
    to: m.to,
    quantity: also.reduce((left, r) => (r.reverses === m.seq ? left - r.quantity : left), m.quantity - (m.back ?? 0n)),
  }))
}
