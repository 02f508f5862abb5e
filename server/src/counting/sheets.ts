import { eq, inArray } from 'drizzle-orm'
import { firstToGo, formatDecimal } from '@shelve/core'
import type { DifferenceView } from '@shelve/contract'
import { account, balance, item, level, lot, movement, person, slip, tally } from '../db/schema.ts'
import { iso, type App } from '../app.ts'
import { notFound } from '../catalogue/service.ts'
import { isIn, type Scope } from '../places/tree.ts'

/**
 * What is to be counted in an area, in walking order: every lot in every bin, and what belongs there though nothing is
 * left of it. Also the slips of that area which are written but not booked yet: they come first.
 */
export function sheetOf(app: App, placeUid: string, figures: boolean) {
  const id = app.places.id(placeUid)
  if (id === undefined) throw notFound('place')
  const within = app.places.within(id)
  const inside = [...within]
  const rows = app.db.select({ itemId: balance.itemId, lotId: balance.lotId, placeId: balance.placeId, quantity: balance.quantity, item: item.uid, name: item.name, lotUid: lot.uid, code: lot.code, expiry: lot.expiry, held: lot.held, received: lot.receivedAt })
    .from(balance).innerJoin(item, eq(item.id, balance.itemId)).innerJoin(lot, eq(lot.id, balance.lotId)).where(inArray(balance.placeId, inside)).all().filter(r => r.quantity > 0n)
  const here = new Set(rows.map(r => r.itemId))
  const belongs = app.db.select({ itemId: level.itemId, placeId: level.placeId, binId: level.binId, item: item.uid, name: item.name, identifiedBy: item.identifiedBy, active: item.active }).from(level).innerJoin(item, eq(item.id, level.itemId)).where(inArray(level.placeId, inside)).all()
    .filter(l => !here.has(l.itemId) && l.active)
  const lines = [
    ...rows.map(r => ({ order: app.places.order(r.placeId), name: r.name, sort: { id: r.lotId, held: r.held as 'usable', expiry: r.expiry, received: r.received }, line: { item: r.item, lot: r.code === null ? null : { id: r.lotUid, code: r.code, expiry: r.expiry }, place: app.places.row(r.placeId)!.uid, placeName: app.places.name(r.placeId), expected: figures ? formatDecimal(r.quantity) : null } })),
    ...belongs.map(l => { const at = l.binId ?? l.placeId; return { order: app.places.order(at), name: l.name, sort: { id: 0, held: 'usable' as const, expiry: null, received: 0 }, line: { item: l.item, lot: null, place: app.places.row(at)!.uid, placeName: app.places.name(at), expected: figures ? '0' : null } } }),
  ].sort((a, b) => a.order - b.order || a.name.localeCompare(b.name) || firstToGo(a.sort, b.sort))
  const open = app.db.select({ id: slip.uid, title: slip.title, kind: slip.kind, by: person.name, savedAt: slip.savedAt, placeId: slip.placeId }).from(slip).innerJoin(person, eq(person.id, slip.createdBy)).where(eq(slip.state, 'draft')).all()
    .filter(s => s.placeId !== null && (within.has(s.placeId) || app.places.within(s.placeId).has(id)) && s.kind !== 'count')
  return { place: placeUid, name: app.places.name(id), lines: lines.map(l => l.line), open: open.map(s => ({ id: s.id, title: s.title, by: s.by, savedAt: iso(s.savedAt) })) }
}

/** Differences of booked counts that are neither found nor closed, with what may match them elsewhere. */
export function openDifferences(app: App, seeValue: boolean, { within }: Scope, seen: Scope): DifferenceView[] {
  const moved = app.db.select({ tallyId: movement.tallyId, from: movement.fromId, to: movement.toId, quantity: movement.quantity, value: movement.value, account: tally.differenceAccount }).from(movement).innerJoin(tally, eq(tally.id, movement.tallyId))
    .innerJoin(account, eq(account.id, tally.differenceAccount)).all()
  const open = new Map<number, { quantity: bigint; value: bigint }>()
  for (const m of moved) {
    const o = open.get(m.tallyId!) ?? { quantity: 0n, value: 0n }
    const sign = m.to === m.account ? 1n : m.from === m.account ? -1n : 0n
    open.set(m.tallyId!, { quantity: o.quantity + sign * m.quantity, value: o.value + sign * m.value })
  }
  const ids = [...open].filter(([, o]) => o.quantity !== 0n).map(([id]) => id)
  if (!ids.length) return []
  const rows = app.db.select({ t: tally, code: item.code, name: item.name, unit: item.unit, uid: item.uid, lot: lot.code, slip: slip.uid, number: slip.number }).from(tally).innerJoin(item, eq(item.id, tally.itemId)).innerJoin(lot, eq(lot.id, tally.lotId)).innerJoin(slip, eq(slip.id, tally.slipId)).where(inArray(tally.id, ids)).all()
  const views = rows.map(r => ({ row: r, open: open.get(r.t.id)! }))
  return views.filter(v => !within || within.has(v.row.t.placeId)).sort((a, b) => a.row.t.countedAt - b.row.t.countedAt).map(({ row: r, open: o }) => ({
    id: r.t.uid, item: { id: r.uid, code: r.code, name: r.name, unit: r.unit }, lot: r.lot, place: { id: app.places.row(r.t.placeId)!.uid, name: app.places.name(r.t.placeId) }, countedAt: iso(r.t.countedAt), counted: formatDecimal(r.t.counted), expected: formatDecimal(r.t.expected),
    open: formatDecimal(-o.quantity), slip: { id: r.slip, number: r.number! }, ...(seeValue ? { value: formatDecimal(-o.value) } : {}),
    elsewhere: views.filter(x => x.row.t.itemId === r.t.itemId && x.row.t.id !== r.t.id && isIn(seen, x.row.t.placeId) && (x.open.quantity > 0n) !== (o.quantity > 0n)).map(x => ({ difference: x.row.t.uid, place: app.places.name(x.row.t.placeId), open: formatDecimal(-x.open.quantity) })),
  }))
}
