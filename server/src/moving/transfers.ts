import { and, eq, sql } from 'drizzle-orm'
import { type Loss, type TransferRow, type TransferView, type UsualWay } from '@shelve/contract'
import { dayNumber, formatDecimal, plainly, type Quantity } from '@shelve/core'
import { iso, notFound, Refused } from '../ground/index.ts'
import { balance, slip } from '../ledger/index.ts'
import { beginDraft, bookHanded, contentOf, lotOnLine, maySee, slipOf, typedOf, whatFits } from '../papers/index.ts'
import { dueAnew, nameTransit, transit } from '../places/index.ts'
import { type Caller, demandAt, isIn, mayAt, mayNot, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { linesOnTheWay, movedThrough, nothingLeft, type WayLine } from './way-lines.ts'

type TransitRow = typeof transit.$inferSelect
type SlipRow = typeof slip.$inferSelect

/** A slip that sends is booked: what is on its way is called by its number from here on. */
export function sentBooked(house: House, record: { readonly id: number }): void {
  const place = house.places.sentBy(record.id)
  if (place !== undefined) nameTransit(house, place, house.rows.slipById.get({ id: record.id })!.number!)
}

/** What a slip sent, for whoever may look at either end. */
function wantTransfer(house: House, caller: Caller, uid: string): { record: SlipRow; way: TransitRow } {
  const record = house.rows.slip.get({ uid })
  const place = record && house.places.sentBy(record.id)
  if (place === undefined || !maySee(house, caller, record!)) throw notFound('transfer')
  return { record: record!, way: house.places.transit(place)! }
}

const end = (house: House, id: number) => ({ id: house.places.row(id)!.uid, name: house.places.name(id) })

function rowOf(house: House, { record, way }: { record: SlipRow; way: TransitRow }, lines: readonly WayLine[]) {
  const { head } = contentOf(house, record)
  const items = new Map(lines.map(l => [l.itemId, false]))
  for (const l of lines) if (l.left > 0n) items.set(l.itemId, true)
  const left = [...items.values()].filter(Boolean).length
  return {
    id: record.uid,
    number: record.number!,
    from: end(house, way.fromId),
    to: end(house, way.toId),
    sentAt: iso(record.effectiveAt!),
    by: house.rows.personName.get({ id: record.bookedBy! })!.name,
    carrier: head.carrier,
    due: way.dueOn,
    overdue: left > 0 && way.dueOn !== null && way.dueOn < house.today(),
    left,
    items: items.size,
    named: [...items]
      .sort(([, a], [, b]) => Number(b) - Number(a))
      .slice(0, 3)
      .map(([id]) => house.known.itemById(id)!.name),
  }
}

/** What is on its way from some places or to them, the first due first; or, of what has arrived, the latest. */
export function transferRows(house: House, scope: Scope, over: boolean): TransferRow[] {
  const there = new Set(
    house.db
      .select({ id: transit.placeId })
      .from(transit)
      .where(
        sql`exists (select 1 from ${balance} where ${balance.placeId} = ${transit.placeId} and ${balance.quantity} > 0)`,
      )
      .all()
      .map(r => r.id),
  )
  const ways = [...house.places.transits().values()].filter(
    w => there.has(w.placeId) !== over && (isIn(scope, w.fromId) || isIn(scope, w.toId)),
  )
  const chosen = over ? ways.sort((a, b) => b.slipId - a.slipId).slice(0, MOST) : ways
  return chosen
    .map(way =>
      rowOf(house, { record: house.rows.slipById.get({ id: way.slipId })!, way }, linesOnTheWay(house, way.placeId)),
    )
    .sort((a, b) =>
      over
        ? b.sentAt.localeCompare(a.sentAt)
        : (a.due ?? '9').localeCompare(b.due ?? '9') || a.sentAt.localeCompare(b.sentAt),
    )
}
/** So many that are over are listed. */
const MOST = 100

export function transferView(house: House, caller: Caller, uid: string): TransferView {
  const found = wantTransfer(house, caller, uid)
  const { record, way } = found
  const lines = linesOnTheWay(house, way.placeId)
  const { head } = contentOf(house, record)
  const begun = house.db
    .select()
    .from(slip)
    .where(
      and(eq(slip.state, 'draft'), eq(slip.kind, 'arrival'), sql`json_extract(${slip.head}, '$.head.sent') = ${uid}`),
    )
    .all()
    .find(s => maySee(house, caller, s))
  return {
    ...rowOf(house, found, lines),
    note: head.note,
    lines: lines.map(l => {
      const it = house.known.itemById(l.itemId)!
      const lot = house.rows.lotById.get({ id: l.lotId })!
      return {
        item: { id: it.uid, code: it.code, name: it.name, unit: it.unit },
        lot: lot.code === null ? null : { id: lot.uid, code: lot.code, expiry: lot.expiry },
        sent: formatDecimal(l.sent),
        arrived: formatDecimal(l.arrived),
        lost: formatDecimal(l.lost),
        left: formatDecimal(l.left),
      }
    }),
    slips: slipsOf(house, caller, way.placeId),
    begun: begun ? { id: begun.uid, by: house.rows.personName.get({ id: begun.createdBy })!.name } : null,
    mayArrive: mayAt(house, caller, 'book', way.toId),
    mayBook: mayAt(house, caller, 'book', way.toId) || mayAt(house, caller, 'book', way.fromId),
  }
}

/** The slips by which something came onto the way, or off it. */
function slipsOf(house: House, caller: Caller, place: number): TransferView['slips'] {
  const ids = house.db.all<{ id: bigint }>(
    sql`select distinct slip_id as id from (${movedThrough(place)}) order by slip_id`,
  )
  return ids
    .map(r => house.rows.slipById.get({ id: Number(r.id) })!)
    .filter(s => maySee(house, caller, s))
    .map(s => ({
      id: s.uid,
      number: s.number!,
      kind: s.kind,
      at: iso(s.effectiveAt!),
      by: house.rows.personName.get({ id: s.bookedBy! })!.name,
    }))
}

/** What has arrived, as a draft to be looked at: a line for each lot that is on its way still, and how much of it is awaited. */
export function beginArrival(house: House, caller: Caller, uid: string, body: { id: string; place?: string }): void {
  const { record, way } = wantTransfer(house, caller, uid)
  const area = house.places.area(body.place === undefined ? way.toId : house.places.id(body.place)!)
  demandAt(house, caller, 'book', area)
  const lines = linesOnTheWay(house, way.placeId).filter(l => l.left > 0n)
  if (!lines.length) throw nothingLeft(record.number!)
  const place = house.places.row(area)!.uid
  const goal = way.toId === area || body.place !== undefined ? {} : { to: house.places.row(way.toId)!.uid }
  const content = slipOf(
    {
      kind: 'arrival',
      place,
      head: { sent: uid },
      // What does not fit is still on the way once this is booked.
      lines: whatFits(lines).map(l => ({
        id: house.uid(),
        item: house.known.itemById(l.itemId)!.uid,
        asked: plainly(l.left),
        ...lotOnLine(house, l.lotId),
        ...goal,
      })),
    },
    '',
  )
  beginDraft(house, caller, body.id, content)
  house.events.add('draft', { slip: body.id, places: [place] })
}
/** It is to be there on another day: said by whoever may book at either end. */
export function dueOf(house: House, caller: Caller, uid: string, due: string | null): number[] {
  const { record, way } = wantTransfer(house, caller, uid)
  if (![way.fromId, way.toId].some(p => mayAt(house, caller, 'book', p))) throw mayNot(caller)
  if (due !== null && due < house.today(record.effectiveAt!)) {
    const message = 'It cannot be there before it was sent. Choose the day on which it is to arrive, or none.'
    throw new Refused(422, 'due_before', message, [{ line: null, field: 'due', code: 'due_before', message }])
  }
  dueAnew(house, way.placeId, due)
  return linesOnTheWay(house, way.placeId).map(l => l.itemId)
}

/** How much of a line is said to be lost: all that is left of it, where nothing else is typed. */
function lostOf(house: House, l: WayLine, of: Loss['of']): Quantity {
  if (of === undefined) return l.left
  const it = house.known.itemById(l.itemId)!
  const lot = house.rows.lotById.get({ id: l.lotId })!
  const at = of.findIndex(o => o.item === it.uid && o.lot === (lot.code === null ? null : lot.uid))
  if (at < 0) return 0n
  const { typed } = of[at]!
  if (!typed.trim()) return l.left
  const { quantity, unread } = typedOf(house, it, { typed, unit: null })
  const message =
    unread ??
    (quantity > l.left
      ? `Only ${formatDecimal(l.left)} ${it.unit} of ${it.name} are on the way still: no more of it can be lost.`
      : quantity === 0n
        ? `How much of ${it.name} is lost? Type a number above zero, or leave that line out.`
        : undefined)
  if (message === undefined) return quantity
  const code = unread === null ? 'not_so_much' : 'quantity_unread'
  throw new Refused(422, code, message, [{ line: null, field: `of.${at}.typed`, code, message }])
}

/** What of it is lost is counted as not there, so that it is an open difference that may be found again; the rest is on its way still. */
export async function lose(house: House, caller: Caller, uid: string, { id, why, of }: Loss): Promise<void> {
  const { record, way } = wantTransfer(house, caller, uid)
  if (house.rows.slip.get({ uid: id })?.state === 'booked') return
  const lines = linesOnTheWay(house, way.placeId)
    .filter(l => l.left > 0n)
    .map(l => ({ ...l, lost: lostOf(house, l, of) }))
    .filter(l => l.lost > 0n)
  if (!lines.length) throw nothingLeft(record.number!)
  const content = slipOf(
    {
      kind: 'count',
      place: house.places.row(way.placeId)!.uid,
      head: { blind: false, why },
      lines: lines.map(l => ({
        id: house.uid(),
        item: house.known.itemById(l.itemId)!.uid,
        counted: 'counted',
        // Said twice, as a count is that differs much.
        typed: plainly(l.left - l.lost),
        again: plainly(l.left - l.lost),
        ...lotOnLine(house, l.lotId),
      })),
    },
    'Say of fewer lines at once that they are lost.',
  )
  await bookHanded(house, caller, id, { content }, content, null)
}

/** By whom something went last from one area to another, and how many days it was given. */
export function usualWay(house: House, caller: Caller, from: string, to: string): UsualWay | null {
  const [fromArea, toArea] = [from, to].map(p => house.places.area(house.places.id(p)!))
  const seen = reach(house, caller)
  const last = [...house.places.transits().values()]
    .filter(
      w => house.places.area(w.fromId) === fromArea && house.places.area(w.toId) === toArea && isIn(seen, w.placeId),
    )
    .reduce<TransitRow | undefined>((a, w) => (a && a.slipId > w.slipId ? a : w), undefined)
  if (!last) return null
  const record = house.rows.slipById.get({ id: last.slipId })!
  const { head } = contentOf(house, record)
  const days = head.due === null ? null : dayNumber(head.due) - dayNumber(house.today(record.effectiveAt!))
  return { carrier: head.carrier, days }
}
