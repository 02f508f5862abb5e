import { and, desc, eq, inArray, or, sql } from 'drizzle-orm'
import type { z } from 'zod'
import {
  type AskedInput,
  type ChangedRestock,
  type MailInput,
  type Proposal,
  type RestockLine,
  type RestockRow,
  type RestockView,
  SlipContent,
} from '@shelve/contract'
import { formatDecimal, readQuantity } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { iso, notFound, Refused, stale } from '../ground/index.ts'
import { type Letter, mail, mailsOf, queueMail } from '../notices/index.ts'
import { putDraft, quantityRefusal, wordRefusal } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { levelsView } from '../position/index.ts'
import { type Caller, demandAt, isIn, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { letterOf } from './letter.ts'
import { elsewhereOf, elsewhereView, proposals } from './proposal.ts'
import { type Source, sourceView } from './source.ts'
import { restockLine, restockSlip } from './tables.ts'

/** How long a slip that was asked for stays in the list. */
const REMEMBERED = 120 * 86_400_000

type Row = typeof restockSlip.$inferSelect

type Changed = z.output<typeof ChangedRestock>

/** What stands on slips that are being written: it is not proposed again. What was asked for is on its way, and so not due. */
function takenNow(house: House): Set<string> {
  return new Set(
    house.db
      .select({ item: restockLine.itemId, place: restockLine.placeId })
      .from(restockLine)
      .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
      .where(eq(restockSlip.state, 'open'))
      .all()
      .map(r => `${r.item}.${r.place}`),
  )
}

/** The slips there are in a scope: those being written, those asked for of late. */
function slipsOf(house: House, caller: Caller, scope: Scope): RestockRow[] {
  const rows = house.db
    .select({ s: restockSlip, by: person.name })
    .from(restockSlip)
    .innerJoin(person, eq(person.id, restockSlip.createdBy))
    .where(
      or(
        eq(restockSlip.state, 'open'),
        sql`${restockSlip.state} = 'asked' and ${restockSlip.askedAt} > ${house.now() - REMEMBERED}`,
      ),
    )
    .orderBy(desc(restockSlip.createdAt))
    .all()
  const seen = rows
    .map(r => viewOf(house, caller, r.s, r.by))
    .filter(v => (v.lines.length === 0 ? v.mine : v.lines.some(l => isIn(scope, house.places.id(l.place)!))))
  return seen.map(({ lines, mail, ...v }) => ({
    ...v,
    unsent: mail.letters.find(m => m.state !== 'sent') ?? null,
    count: lines.length,
    owed: lines.filter(l => l.owed !== '0').length,
  }))
}

/** What the figures suggest, and the slips there are. */
export const restockOf = (
  house: House,
  caller: Caller,
  scope: Scope,
): { proposals: Proposal[]; slips: RestockRow[] } => ({
  proposals: proposals(house, scope, reach(house, caller), takenNow(house)),
  slips: slipsOf(house, caller, scope),
})

/** What was asked for and has not all come, the first to be expected first. */
export const askedFor = (house: House, caller: Caller, scope: Scope): RestockRow[] =>
  slipsOf(house, caller, scope)
    .filter(s => s.state === 'asked')
    .sort((a, b) => ((a.asked!.expected ?? '9') < (b.asked!.expected ?? '9') ? -1 : 1))

const wantSlip = (house: House, uid: string): Row => {
  const row = house.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (!row) throw notFound('restock slip')
  return row
}

const placesOf = (house: House, slipId: number): number[] =>
  house.db
    .select({ place: restockLine.placeId })
    .from(restockLine)
    .where(eq(restockLine.slipId, slipId))
    .all()
    .map(l => l.place)

/** Whether a restock slip is there for somebody: where they may look, something on it is asked for, or it is empty and theirs. */
export function maySeeRestock(house: House, caller: Caller, uid: string): boolean {
  const row = house.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (!row) return false
  const places = placesOf(house, row.id)
  const seen = reach(house, caller)
  return places.length ? places.some(p => isIn(seen, p)) : row.createdBy === caller.id
}
/** What is done with a restock slip is done with all of it: whoever does it may ask for everything that stands on it. */
export function demandAll(house: House, caller: Caller, uid: string): void {
  for (const place of placesOf(house, wantSlip(house, uid).id))
    if (!isIn(reach(house, caller, 'ask'), place))
      throw new Refused(
        403,
        'not_all_yours',
        'This slip also asks for places where you may not ask. Leave it to whoever keeps them.',
      )
}

/** A restock slip as its reader may see it: lines for other places are left out. */
export function restockView(house: House, caller: Caller, uid: string): RestockView {
  const row = wantSlip(house, uid)
  const view = viewOf(house, caller, row, house.rows.personName.get({ id: row.createdBy })!.name)
  const seen = reach(house, caller)
  return { ...view, lines: view.lines.filter(l => isIn(seen, house.places.id(l.place)!)) }
}

function viewOf(house: House, caller: Caller, s: Row, by: string): RestockView {
  const seen = reach(house, caller)
  const today = house.today()
  const lines = house.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, s.id))
    .orderBy(restockLine.position)
    .all()
    .map(l => {
      const it = house.stock.item(l.itemId)!
      const scope = house.places.scope([l.placeId])
      const here = house.stock.here(it, scope, today)
      return {
        id: l.uid,
        item: it.uid,
        place: house.places.row(l.placeId)!.uid,
        typed: l.typed,
        unit: l.unit,
        why: l.why,
        code: it.code,
        name: it.name,
        base: it.unit,
        placeName: house.places.name(l.placeId),
        quantity: formatDecimal(l.quantity),
        unread: s.state === 'open' ? typedOf(house, house.known.itemById(l.itemId)!, l).unread : null,
        owed: formatDecimal(
          s.state === 'asked'
            ? (it.coming.find(c => c.lineId === l.id)?.quantity ?? 0n)
            : s.state === 'open'
              ? l.quantity
              : 0n,
        ),
        levels: levelsView(here),
        elsewhere: elsewhereView(house, elsewhereOf(house, it, l.placeId, seen)),
      }
    })
  return {
    id: s.uid,
    revision: s.revision,
    ...sourceView(house, s.source as Source['kind'], s.sourceId),
    state:
      s.state === 'asked' && lines.length > 0 && lines.every(l => l.owed === '0')
        ? 'arrived'
        : (s.state as RestockView['state']),
    by,
    mine: s.createdBy === caller.id,
    createdAt: iso(s.createdAt),
    note: s.note,
    asked:
      s.askedAt === null
        ? null
        : {
            at: iso(s.askedAt),
            by: house.rows.personName.get({ id: s.askedBy! })!.name,
            where: s.askedWhere,
            number: s.theirNumber,
            expected: s.expected,
            move: s.moveId === null ? null : (house.rows.slipById.get({ id: s.moveId })?.uid ?? null),
          },
    lines,
    mail: {
      possible: house.post !== undefined,
      lastTo: s.sourceId === null ? null : lastAddress(house, s.sourceId),
      letters: mailsOf(house, s.id),
    },
  }
}

/** Where the last slip of this source was mailed to. */
const lastAddress = (house: House, source: number): string | null =>
  house.db
    .select({ to: mail.recipient })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(and(eq(restockSlip.sourceId, source), sql`${mail.state} <> 'failed'`))
    .orderBy(desc(mail.id))
    .limit(1)
    .get()?.to ?? null

/** Mails a slip as it stands; where it was not asked for yet, it is from now on. Within one transaction: nothing is asked for that no letter goes out for. */
export function mailRestock(
  house: House,
  caller: Caller,
  uid: string,
  input: z.output<typeof MailInput>,
  attachments: Letter['attachments'],
): void {
  const row = wantSlip(house, uid)
  if (row.state === 'dropped') throw new Refused(409, 'dropped', 'This is no longer waited for. Begin another slip.')
  if (row.state === 'open')
    markAsked(house, caller, uid, {
      where: `by mail, ${input.to}`,
      at: null,
      number: input.number,
      expected: input.expected,
    })
  const { subject, text } = letterOf(restockView(house, caller, uid), house.organisation!, house.today(), caller.name)
  queueMail(house, caller.id, { to: input.to, subject, text, attachments, restockId: row.id })
}

/** The account a source stands for; undefined where there is no such supplier or area. */
function sourceId(house: House, source: Changed['source']): number | null {
  if (source.kind === 'nobody') return null
  const id =
    source.id === null
      ? undefined
      : source.kind === 'shelves'
        ? house.places.id(source.id)
        : house.rows.supplierId.get({ uid: source.id })?.id
  if (id === undefined) throw notFound(source.kind === 'shelves' ? 'place' : 'supplier')
  return id
}

/** What a line asks for; where it cannot be read nothing yet, and why. */
function typedOf(
  house: House,
  it: ItemRow,
  l: { readonly typed: string; readonly unit: string | null },
): { readonly quantity: bigint; readonly unread: string | null } {
  if (!l.typed.trim()) return { quantity: 0n, unread: null }
  const read = readQuantity(l.typed, house.known.measure(it), l.unit ?? undefined, true)
  return read.ok
    ? { quantity: read.quantity, unread: null }
    : { quantity: 0n, unread: wordRefusal(house, quantityRefusal(read, l.typed, it.unit), () => it.unit).message }
}

/** Nothing is asked for while a line says what cannot be read. */
function refuseUnread(house: House, slipId: number): void {
  const unread = house.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, slipId))
    .orderBy(restockLine.position)
    .all()
    .flatMap(l => {
      const message = typedOf(house, house.known.itemById(l.itemId)!, l).unread
      return message === null ? [] : [{ line: l.uid, field: 'typed', code: 'unread', message }]
    })
  if (unread.length) throw new Refused(422, 'unread', unread[0]!.message, unread)
}

/** Takes the lines as they were typed, also what cannot be read: it is kept, and stands there to be corrected. */
function readLines(house: House, caller: Caller, lines: readonly z.output<typeof RestockLine>[]) {
  return lines.map((l, position) => {
    const it = house.known.item(l.item)
    const placeId = house.places.id(l.place)
    const no = (code: string, field: string, message: string): never => {
      throw new Refused(422, code, message, [{ line: l.id, field, code, message }])
    }
    if (!it?.active) return no('unknown_item', 'item', 'There is no such item, or it is retired.')
    if (placeId === undefined) return no('unknown_place', 'place', 'There is no such place.')
    demandAt(house, caller, 'ask', placeId)
    return {
      uid: l.id,
      position,
      itemId: it.id,
      placeId,
      typed: l.typed,
      unit: l.unit,
      quantity: typedOf(house, it, l).quantity,
      why: l.why,
    }
  })
}

/** Begins a slip: what stands on it is taken, nobody else is offered it. What somebody else has taken meanwhile is refused, with who. */
export function beginRestock(house: House, caller: Caller, uid: string, input: Changed): void {
  const again = house.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (again) {
    if (again.createdBy !== caller.id) throw notFound('restock slip')
    return
  }
  const lines = readLines(house, caller, input.lines)
  refuseTaken(house, lines, undefined)
  const { id } = house.db
    .insert(restockSlip)
    .values({
      uid,
      source: input.source.kind,
      sourceId: sourceId(house, input.source),
      state: 'open',
      revision: 1,
      createdAt: house.now(),
      createdBy: caller.id,
      askedWhere: '',
      theirNumber: '',
      note: input.note,
    })
    .returning({ id: restockSlip.id })
    .get()
  if (lines.length)
    house.db
      .insert(restockLine)
      .values(lines.map(l => ({ ...l, slipId: id })))
      .run()
}

function refuseTaken(house: House, lines: ReturnType<typeof readLines>, own: number | undefined): void {
  if (!lines.length) return
  const others = house.db
    .select({ item: restockLine.itemId, place: restockLine.placeId, slip: restockSlip.id, by: person.name })
    .from(restockLine)
    .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
    .innerJoin(person, eq(person.id, restockSlip.createdBy))
    .where(eq(restockSlip.state, 'open'))
    .all()
    .filter(o => o.slip !== own)
  const hit = lines.flatMap(l => {
    const o = others.find(x => x.item === l.itemId && x.place === l.placeId)
    return o
      ? [
          {
            line: l.uid,
            field: 'item',
            code: 'taken_already',
            message: `${house.known.itemById(l.itemId)!.name} stands on a slip that ${o.by} is writing.`,
          },
        ]
      : []
  })
  if (hit.length) throw new Refused(409, 'taken_already', hit[0]!.message, hit)
}

const wantOpen = (house: House, uid: string, revision: number | undefined): Row => {
  const row = wantSlip(house, uid)
  if (row.state !== 'open')
    throw new Refused(
      409,
      'asked_already',
      'This was asked for already: it is not changed any more. What will not come can be dropped.',
    )
  if (revision !== undefined && revision !== row.revision) throw stale()
  return row
}

export function changeRestock(
  house: House,
  caller: Caller,
  uid: string,
  input: Changed,
  revision: number | undefined,
): void {
  const row = wantOpen(house, uid, revision)
  const lines = readLines(house, caller, input.lines)
  refuseTaken(house, lines, row.id)
  house.db
    .update(restockSlip)
    .set({
      source: input.source.kind,
      sourceId: sourceId(house, input.source),
      note: input.note,
      revision: row.revision + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
  house.db.delete(restockLine).where(eq(restockLine.slipId, row.id)).run()
  const known = house.db
    .select({ uid: restockLine.uid })
    .from(restockLine)
    .where(
      inArray(
        restockLine.uid,
        lines.map(l => l.uid),
      ),
    )
    .all()
  if (known.length) throw new Refused(409, 'line_of_another_slip', 'A line with this id stands on another slip.')
  if (lines.length)
    house.db
      .insert(restockLine)
      .values(lines.map(l => ({ ...l, slipId: row.id })))
      .run()
}

/** What is on its way changes with it: its items are worked out anew. */
const touch = (house: House, slipId: number): void => {
  for (const l of house.db
    .select({ item: restockLine.itemId })
    .from(restockLine)
    .where(eq(restockLine.slipId, slipId))
    .all())
    house.stock.touch(l.item)
}

/** From now on what stands on it is on its way. Lines of nothing are left out. */
export function markAsked(
  house: House,
  caller: Caller,
  uid: string,
  input: z.output<typeof AskedInput>,
  moveId: number | null = null,
): void {
  const row = wantOpen(house, uid, undefined)
  refuseUnread(house, row.id)
  const at = input.at === null ? house.now() : Date.parse(input.at)
  const no = (code: string, message: string): never => {
    throw new Refused(422, code, message, [{ field: 'at', code, message }])
  }
  if (at > house.now() + 60_000) no('in_the_future', 'That is in the future. It was asked for now or before.')
  if (at < house.now() - REMEMBERED)
    no(
      'too_long_ago',
      'That is more than 120 days ago: what was asked for then is not waited for. Receive it when it comes.',
    )
  house.db
    .delete(restockLine)
    .where(sql`${restockLine.slipId} = ${row.id} and ${restockLine.quantity} = 0`)
    .run()
  if (!house.db.select({ id: restockLine.id }).from(restockLine).where(eq(restockLine.slipId, row.id)).limit(1).get())
    throw new Refused(422, 'no_lines', 'There is nothing on this slip to ask for.')
  house.db
    .update(restockSlip)
    .set({
      state: 'asked',
      askedAt: at,
      askedBy: caller.id,
      askedWhere: input.where,
      theirNumber: input.number,
      expected: input.expected,
      moveId,
      revision: row.revision + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
  touch(house, row.id)
}

/** An open slip is thrown away, what stood on it is offered again; what was asked for and will not come is no longer waited for. */
export function dropRestock(house: House, uid: string): void {
  const row = wantSlip(house, uid)
  touch(house, row.id)
  if (row.state === 'open') {
    house.db.delete(restockLine).where(eq(restockLine.slipId, row.id)).run()
    house.db.delete(restockSlip).where(eq(restockSlip.id, row.id)).run()
  } else
    house.db
      .update(restockSlip)
      .set({ state: 'dropped', revision: row.revision + 1 })
      .where(eq(restockSlip.id, row.id))
      .run()
}

/** What lies on our own shelves becomes a move, as a draft to be looked at and booked; the slip is then asked for. */
export function moveOf(house: House, caller: Caller, uid: string, moveUid: string): void {
  const row = wantOpen(house, uid, undefined)
  if (row.source !== 'shelves')
    throw new Refused(409, 'not_our_shelves', 'Only what comes from our own shelves becomes a move.')
  refuseUnread(house, row.id)
  const lines = house.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, row.id))
    .orderBy(restockLine.position)
    .all()
    .filter(l => l.quantity > 0n)
  const place = house.places.row(row.sourceId!)!.uid
  const content = SlipContent.parse({
    kind: 'move',
    place,
    head: {},
    lines: lines.map(l => ({
      id: house.uid(),
      item: house.known.itemById(l.itemId)!.uid,
      typed: l.typed,
      unit: l.unit,
      to: house.places.row(l.placeId)!.uid,
    })),
  })
  const { record } = putDraft(house, caller, moveUid, content)
  house.events.add('draft', { slip: moveUid, places: [place] })
  markAsked(house, caller, uid, { where: 'our own shelves', at: null, number: '', expected: null }, record.id)
}

/** The slip that a letter is about. */
export const restockOfMail = (house: House, uid: string): string | undefined =>
  house.db
    .select({ uid: restockSlip.uid })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(eq(mail.uid, uid))
    .get()?.uid
