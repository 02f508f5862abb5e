import { and, asc, desc, eq, gt, or, sql } from 'drizzle-orm'
import type { LotPage } from '@shelve/contract'
import { formatDecimal, lotState as stateOf } from '@shelve/core'
import { lot, lotState } from '../catalogue/index.ts'
import { among, iso, notFound, once } from '../ground/index.ts'
import { movement, slip, takerOf } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { accountName } from '../places/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { lastUsed } from './last-used.ts'

/** So many of its movements are told with a lot, the latest first; all of them are read so many at a time. */
const LATEST = 100

/** Where lots come from. */
const CAME: ReadonlySet<string> = new Set(['supplier', 'opening'])

type Row = typeof lot.$inferSelect
/** What moved of a lot, by where from, where to and how: added up where it lies, however much that is. */
const flowsOf = once((house: House) =>
  house.db
    .select({
      from: movement.fromId,
      to: movement.toId,
      kind: movement.kind,
      quantity: sql<bigint>`sum(${movement.quantity})`.mapWith(movement.quantity),
      last: sql<number>`max(${movement.effectiveAt})`.mapWith(Number),
      movements: sql<number>`count(*)`.mapWith(Number),
    })
    .from(movement)
    .where(
      and(
        // The item is said too: its movements are found by an index.
        eq(movement.itemId, sql.placeholder('item')),
        eq(movement.lotId, sql.placeholder('lot')),
        gt(movement.quantity, 0n),
      ),
    )
    .groupBy(movement.fromId, movement.toId, movement.kind)
    .prepare(),
)

/** Movements of a lot where somebody may look, the latest first: the first of them, or those before one. */
function movementsFrom(
  house: House,
  row: Row,
  scope: Scope,
  before: { readonly at: number; readonly seq: number } | undefined,
) {
  const { within } = scope
  return house.db
    .select({
      seq: movement.seq,
      at: movement.effectiveAt,
      kind: movement.kind,
      reverses: movement.reverses,
      from: movement.fromId,
      to: movement.toId,
      quantity: movement.quantity,
      slip: slip.uid,
      number: slip.number,
      taker: takerOf,
      by: person.name,
    })
    .from(movement)
    .innerJoin(slip, eq(slip.id, movement.slipId))
    .innerJoin(person, eq(person.id, movement.bookedBy))
    .where(
      and(
        eq(movement.itemId, row.itemId),
        eq(movement.lotId, row.id),
        gt(movement.quantity, 0n),
        within && or(among(sql`+${movement.fromId}`, within), among(sql`+${movement.toId}`, within)),
        before && sql`(${movement.effectiveAt}, ${movement.seq}) < (${before.at}, ${before.seq})`,
      ),
    )
    .orderBy(desc(movement.effectiveAt), desc(movement.seq))
    .limit(LATEST)
    .all()
}
const movementTold =
  (said: (account: number) => string) =>
  (r: ReturnType<typeof movementsFrom>[number]): LotPage['movements'][number] => ({
    seq: r.seq,
    at: iso(r.at),
    kind: r.reverses === null ? r.kind : 'taken_back',
    slip: { id: r.slip, number: r.number! },
    from: said(r.from),
    to: said(r.to),
    quantity: formatDecimal(r.quantity),
    by: r.by,
    taker: r.taker,
  })
/** Every movement of a lot where somebody may look, the latest first. */
export function* movementsOfLot(house: House, uid: string, scope: Scope): Generator<LotPage['movements'][number]> {
  const row = house.rows.lot.get({ uid })!
  const told = movementTold(accountSaid(house, parentOf(house, row)))
  for (let rows = movementsFrom(house, row, scope, undefined); rows.length;) {
    yield* rows.map(told)
    rows = rows.length < LATEST ? [] : movementsFrom(house, row, scope, rows.at(-1)!)
  }
}

/** The container or lot that another was opened of. */
const parentOf = (house: House, row: Row): Row | undefined =>
  row.parentId === null ? undefined : house.rows.lotById.get({ id: row.parentId })
const accountSaid =
  (house: House, parent: Row | undefined) =>
  (a: number): string =>
    a !== house.accounts.relabel ? accountName(house, a) : parent ? `lot ${parent.code}` : 'containers opened of it'

/**
 * Everything about one lot: what it is, where it came from, where it lies, where all of it went (whom to tell when it is
 * recalled), and how its state changed. Of other places only as much as the caller may see.
 */
export function lotPage(house: House, uid: string, scope: Scope): LotPage {
  const row = house.db.select().from(lot).where(eq(lot.uid, uid)).get()
  if (!row) throw notFound('lot')
  const it = house.rows.itemById.get({ id: row.itemId })!
  const flows = flowsOf(house).all({ item: row.itemId, lot: row.id })
  const here = flows.filter(f => isIn(scope, f.from) || isIn(scope, f.to))
  // A lot that never was where the caller may look is not there for them.
  if (scope.within && !here.length) throw notFound('lot')
  const moved = movementsFrom(house, row, scope, undefined)
  const inside = (a: number) => house.places.row(a) !== undefined && isIn(scope, a)
  /** What went to each user or reason, net of what came back or was taken back. */
  const gone = new Map<string, { account: number; came: boolean; quantity: bigint; last: number }>()
  for (const m of here)
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
      gone.set(key, { ...own, quantity: own.quantity + sign * m.quantity, last: Math.max(own.last, m.last) })
    }
  const told = [...gone.values()].filter(g => g.quantity !== 0n)
  const parent = parentOf(house, row)
  const children = house.db.select().from(lot).where(eq(lot.parentId, row.id)).orderBy(asc(lot.openedAt)).all()
  const said = accountSaid(house, parent)
  const sum = (of: readonly { readonly quantity: bigint }[]) => formatDecimal(of.reduce((s, l) => s + l.quantity, 0n))
  const lying = house.stock.item(it.id)!.leaves.filter(l => isIn(scope, l.placeId))
  const leaves = lying.filter(l => l.lotId === row.id)
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
      quantity: sum(lying.filter(l => l.lotId === c.id)),
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
    movements: moved.map(movementTold(said)),
    earlier: here.reduce((n, f) => n + f.movements, 0) - moved.length,
  }
}
