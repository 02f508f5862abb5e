import { and, desc, eq, or, sql } from 'drizzle-orm'
import type { MovementRow } from '@shelve/contract'
import { formatDecimal, type Movement } from '@shelve/core'
import { lot, wantItem } from '../catalogue/index.ts'
import { among, iso, readCursor, writeCursor } from '../ground/index.ts'
import { movement, movementColumns, slip, takerOf, toMovement } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { accountName } from '../places/index.ts'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'

/** What happened to an item, latest first by when it happened, each with what remained (in a place, or everywhere). */
export function itemHistory(house: House, at: Scope, uid: string, q: { cursor?: string; limit?: number }) {
  const it = wantItem(house, uid)
  const limit = q.limit ?? 30
  const inside = at.within ?? new Set(house.places.rows.keys())
  const cursor = readPlace(q.cursor)
  const rows = house.db
    .select({
      m: movementColumns,
      slip: slip.uid,
      number: slip.number,
      slipKind: slip.kind,
      taker: takerOf,
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
        // All there is of the item is gone through in its order, not what each of the places has of it.
        at.within && or(among(sql`+${movement.fromId}`, at.within), among(sql`+${movement.toId}`, at.within)),
        cursor ? sql`(${movement.effectiveAt}, ${movement.seq}) < (${cursor.at}, ${cursor.seq})` : undefined,
      ),
    )
    .orderBy(desc(movement.effectiveAt), desc(movement.seq))
    .limit(limit + 1)
    .all()
  const change = (m: Movement) => (inside.has(m.to) ? m.quantity : 0n) - (inside.has(m.from) ? m.quantity : 0n)
  const written = house.ledger.lastSeq.get()!.seq
  let left = cursor
    ? cursor.left + changedSince(house, it.id, inside, cursor)
    : house.stock
        .item(it.id)!
        .leaves.filter(l => inside.has(l.placeId))
        .reduce((s, l) => s + l.quantity, 0n)
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
    next: rows.length > limit && last ? writeCursor([last.m.effectiveAt, last.m.seq, written, String(left)]) : null,
    total: null,
  }
}

/** A place in an item's history: after which movement, what remained there, and what the ledger's last movement was when that was so. */
interface Place {
  readonly at: number
  readonly seq: number
  readonly written: number
  readonly left: bigint
}
function readPlace(text: string | undefined): Place | undefined {
  const parts = readCursor(text, ['number', 'number', 'number', 'text'])
  if (!parts || !/^-?\d{1,30}$/.test(parts[3])) return undefined
  return { at: parts[0], seq: parts[1], written: parts[2], left: BigInt(parts[3]) }
}

/**
 * What was written since a place in the history was read, and happened before it: late slips and corrections change what
 * remained there. Of those alone is asked, not of all that came after the place.
 */
function changedSince(house: House, itemId: number, inside: ReadonlySet<number>, place: Place): bigint {
  const rows = house.store.client
    .prepare(
      `with inside as (select value as id from json_each(:inside))
      select quantity as q, (to_id in inside) - (from_id in inside) as sign from movement
      where seq > :written and +item_id = :item and (+effective_at, seq) < (:at, :seq) and quantity > 0`,
    )
    .all({
      inside: JSON.stringify([...inside]),
      item: itemId,
      at: place.at,
      seq: place.seq,
      written: place.written,
    }) as { q: bigint; sign: bigint }[]
  return rows.reduce((sum, r) => sum + r.q * r.sign, 0n)
}
