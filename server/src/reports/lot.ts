import { and, asc, desc, eq, inArray, or, sql } from 'drizzle-orm'
import type { LotPage } from '@shelve/contract'
import { formatDecimal, lotState as stateOf } from '@shelve/core'
import { lot, lotState } from '../catalogue/index.ts'
import { iso, notFound } from '../ground/index.ts'
import { movement, movementColumns, slip, takerOf, toMovement } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { accountName } from '../places/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { lastUsed } from './last-used.ts'

/** No lot goes through more hands than this; the rest is in the item's movements. */
const MOST = 500

/** Where lots come from. */
const CAME: ReadonlySet<string> = new Set(['supplier', 'opening'])

/**
 * Everything about one lot: what it is, where it came from, where it lies, where all of it went (whom to tell when it is
 * recalled), and how its state changed. Of other places only as much as the caller may see.
 */
export function lotPage(house: House, uid: string, scope: Scope): LotPage {
  const row = house.db.select().from(lot).where(eq(lot.uid, uid)).get()
  if (!row) throw notFound('lot')
  const it = house.rows.itemById.get({ id: row.itemId })!
  const within = scope.within && [...scope.within]
  const moved = house.db
    .select({
      m: movementColumns,
      slip: slip.uid,
      number: slip.number,
      kind: slip.kind,
      taker: takerOf,
      by: person.name,
    })
    .from(movement)
    .innerJoin(slip, eq(slip.id, movement.slipId))
    .innerJoin(person, eq(person.id, movement.bookedBy))
    .where(
      and(
        // The item is said too: its movements are found by an index.
        eq(movement.itemId, row.itemId),
        eq(movement.lotId, row.id),
        sql`${movement.quantity} > 0`,
        within ? or(inArray(movement.fromId, within), inArray(movement.toId, within)) : undefined,
      ),
    )
    .orderBy(desc(movement.effectiveAt), desc(movement.seq))
    .limit(MOST)
    .all()
    .map(r => ({ ...r, m: toMovement({ ...r.m }) }))
  // A lot that never was where the caller may look is not there for them.
  if (within && !moved.length) throw notFound('lot')
  const inside = (a: number) => house.places.row(a) !== undefined && isIn(scope, a)
  /** What went to each user or reason, net of what came back or was taken back. */
  const gone = new Map<string, { account: number; came: boolean; quantity: bigint; last: number }>()
  for (const { m } of moved)
    for (const [account, sign] of [
      [m.to, 1n],
      [m.from, -1n],
    ] as const) {
      if (house.places.row(account) || account === house.accounts.stock) continue
      const other = sign === 1n ? m.from : m.to
      if (!inside(other)) continue
      // What is made comes of a make, and goes into one: that is not the same account read twice.
      const came =
        m.kind === 'event_in' ||
        CAME.has(house.rows.account.get({ id: account })!.kind) ||
        (account === house.accounts.relabel && row.parentId !== null)
      const key = `${account}${came ? ' came' : ''}`
      const own = gone.get(key) ?? { account, came, quantity: 0n, last: 0 }
      gone.set(key, { ...own, quantity: own.quantity + sign * m.quantity, last: Math.max(own.last, m.effectiveAt) })
    }
  const told = [...gone.values()].filter(g => g.quantity !== 0n)
  const parent = row.parentId === null ? undefined : house.rows.lotById.get({ id: row.parentId })
  const children = house.db.select().from(lot).where(eq(lot.parentId, row.id)).orderBy(asc(lot.openedAt)).all()
  const said = (a: number) =>
    a !== house.accounts.relabel ? accountName(house, a) : parent ? `lot ${parent.code}` : 'containers opened of it'
  const sum = (of: readonly { readonly quantity: bigint }[]) => formatDecimal(of.reduce((s, l) => s + l.quantity, 0n))
  const here = house.stock.item(it.id)!.leaves.filter(l => isIn(scope, l.placeId))
  const leaves = here.filter(l => l.lotId === row.id)
  return {
    id: row.uid,
    item: { id: it.uid, code: it.code, name: it.name, unit: it.unit, identifiedBy: it.identifiedBy as 'lot' },
    code: row.code,
    expiry: row.expiry,
    state: stateOf({ held: row.held as 'usable', expiry: row.expiry }, house.today()),
    received: iso(row.receivedAt),
    opened: row.openedAt === null ? null : iso(row.openedAt),
    parent: parent ? { id: parent.uid, code: parent.code } : null,
    tare: row.tare === null ? null : formatDecimal(row.tare),
    lastUsed: lastUsed(house, [row.id], scope).get(row.id) ?? null,
    children: children.map(c => ({
      id: c.uid,
      code: c.code,
      expiry: c.expiry,
      quantity: sum(here.filter(l => l.lotId === c.id)),
    })),
    quantity: sum(leaves),
    places: leaves.map(l => ({
      place: house.places.row(l.placeId)!.uid,
      name: house.places.name(l.placeId),
      quantity: formatDecimal(l.quantity),
    })),
    came: told.filter(g => g.came).map(g => ({ name: said(g.account), quantity: formatDecimal(-g.quantity) })),
    went: told
      .filter(g => !g.came)
      .sort((a, b) => b.last - a.last)
      .map(g => ({ name: said(g.account), quantity: formatDecimal(g.quantity), last: iso(g.last) })),
    states: house.db
      .select({ held: lotState.held, since: lotState.since, why: lotState.why, by: person.name })
      .from(lotState)
      .innerJoin(person, eq(person.id, lotState.byId))
      .where(eq(lotState.lotId, row.id))
      .orderBy(asc(lotState.since))
      .all()
      .map(s => ({ held: s.held as 'usable', since: iso(s.since), why: s.why, by: s.by })),
    movements: moved.map(r => ({
      seq: r.m.seq,
      at: iso(r.m.effectiveAt),
      kind: r.m.reverses === null ? r.m.kind : 'taken_back',
      slip: { id: r.slip, number: r.number! },
      from: said(r.m.from),
      to: said(r.m.to),
      quantity: formatDecimal(r.m.quantity),
      by: r.by,
      taker: r.taker,
    })),
  }
}
