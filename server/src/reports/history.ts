import { and, desc, eq, inArray, or, sql } from 'drizzle-orm'
import type { MovementRow } from '@shelve/contract'
import { formatDecimal, type Movement } from '@shelve/core'
import { lot, wantItem } from '../catalogue/index.ts'
import { iso, readCursor, writeCursor } from '../ground/index.ts'
import { movement, movementColumns, slip, toMovement } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { accountName } from '../places/index.ts'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** What happened to an item, latest first by when it happened, each with what remained (in a place, or everywhere). */
export function itemHistory(house: House, at: Scope, uid: string, q: { cursor?: string; limit?: number }) {
  const it = wantItem(house, uid)
  const limit = q.limit ?? 30
  const scope = at.within && [...at.within]
  const inside = at.within ?? new Set(house.places.rows.keys())
  const cursor = readCursor(q.cursor, ['number', 'number'])
  const rows = house.db
    .select({
      m: movementColumns,
      slip: slip.uid,
      number: slip.number,
      slipKind: slip.kind,
      taker: slip.taker,
      by: person.name,
      lot: lot.code,
      takenBack:
        sql<number>`exists (select 1 from movement r where r.reverses = ${movement.seq} and r.cost_seq = ${movement.costSeq})`.mapWith(
          Number,
        ),
    })
    .from(movement)
    .innerJoin(slip, eq(slip.id, movement.slipId))
    .innerJoin(person, eq(person.id, movement.bookedBy))
    .innerJoin(lot, eq(lot.id, movement.lotId))
    .where(
      and(
        eq(movement.itemId, it.id),
        sql`${movement.quantity} > 0`,
        scope ? or(inArray(movement.fromId, scope), inArray(movement.toId, scope)) : undefined,
        cursor ? sql`(${movement.effectiveAt}, ${movement.seq}) < (${cursor[0]}, ${cursor[1]})` : undefined,
      ),
    )
    .orderBy(desc(movement.effectiveAt), desc(movement.seq))
    .limit(limit + 1)
    .all()
  const change = (m: Movement) => (inside.has(m.to) ? m.quantity : 0n) - (inside.has(m.from) ? m.quantity : 0n)
  const now = house.stock
    .item(it.id)!
    .leaves.filter(l => inside.has(l.placeId))
    .reduce((s, l) => s + l.quantity, 0n)
  let left = cursor ? now - changedSince(house, it.id, [...inside], cursor) : now
  const out: MovementRow[] = []
  for (const r of rows.slice(0, limit)) {
    const m = toMovement({ ...r.m })
    const delta = change(m)
    out.push({
      seq: m.seq,
      at: iso(m.effectiveAt),
      kind: m.reverses === null ? m.kind : 'taken_back',
      slip: { id: r.slip, number: r.number!, kind: r.slipKind },
      from: accountName(house, m.from),
      to: accountName(house, m.to),
      lot: r.lot,
      change: formatDecimal(delta),
      balance: formatDecimal(left),
      by: r.by,
      taker: r.taker,
      takenBack: r.takenBack === 1,
      value: formatDecimal(m.value),
    })
    left -= delta
  }
  const last = rows[limit - 1]
  return {
    rows: out,
    next: rows.length > limit && last ? writeCursor([last.m.effectiveAt, last.m.seq]) : null,
    total: null,
  }
}

/**
 * What changed within some places at a point of an item's history and after it: asked of the books and not carried from
 * page to page, for what is written late falls before a page that was read already. In two halves, so that no sum overflows.
 */
function changedSince(
  house: House,
  itemId: number,
  inside: readonly number[],
  [at, seq]: readonly [number, number],
): bigint {
  const row = house.store.client
    .prepare(
      `with inside as (select value as id from json_each(:inside)), moved as (
        select quantity as q, (to_id in inside) - (from_id in inside) as sign from movement
        where item_id = :item and (effective_at, seq) >= (:at, :seq) and quantity > 0)
      select cast(coalesce(sum((q >> 20) * sign), 0) as text) as high, cast(coalesce(sum((q & 1048575) * sign), 0) as text) as low from moved`,
    )
    .get({ inside: JSON.stringify(inside), item: itemId, at, seq }) as { high: string; low: string }
  return (BigInt(row.high) << 20n) + BigInt(row.low)
}
