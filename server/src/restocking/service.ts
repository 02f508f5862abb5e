import { and, desc, eq, inArray, or, sql } from 'drizzle-orm'
import { formatDecimal, readQuantity } from '@shelve/core'
import { SlipContent, type Proposal, type RestockRow, type RestockView } from '@shelve/contract'
import type { z } from 'zod'
import type { AskedInput, ChangedRestock, MailInput, RestockLine } from '@shelve/contract'
import { mail, person, restockLine, restockSlip } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { notFound, stale, type ItemRow } from '../catalogue/service.ts'
import { putDraft } from '../ledger/drafts.ts'
import { quantityRefusal, wordRefusal } from '../ledger/words.ts'
import { mailsOf, queueMail, type Letter } from '../notices/mail.ts'
import { demandAt, reach, type Caller } from '../people/rights.ts'
import { levelsOf } from '../reports/lists.ts'
import { isIn, type Scope } from '../places/tree.ts'
import { letterOf } from './letter.ts'
import { elsewhereOf, elsewhereView, proposals } from './proposal.ts'

/** How long a slip that was asked for stays in the list. */
const REMEMBERED = 120 * 86_400_000
type Row = typeof restockSlip.$inferSelect
type Changed = z.output<typeof ChangedRestock>

/** What stands on slips that are being written: it is not proposed again. What was asked for is on its way, and so not due. */
function takenNow(app: App): Set<string> {
  return new Set(
    app.db
      .select({ item: restockLine.itemId, place: restockLine.placeId })
      .from(restockLine)
      .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
      .where(eq(restockSlip.state, 'open'))
      .all()
      .map(r => `${r.item}.${r.place}`),
  )
}

/** The slips there are in a scope: those being written, those asked for of late. */
function slipsOf(app: App, caller: Caller, scope: Scope): RestockRow[] {
  const rows = app.db
    .select({ s: restockSlip, by: person.name })
    .from(restockSlip)
    .innerJoin(person, eq(person.id, restockSlip.createdBy))
    .where(
      or(
        eq(restockSlip.state, 'open'),
        sql`${restockSlip.state} = 'asked' and ${restockSlip.askedAt} > ${app.now() - REMEMBERED}`,
      ),
    )
    .orderBy(desc(restockSlip.createdAt))
    .all()
  const seen = rows
    .map(r => viewOf(app, caller, r.s, r.by))
    .filter(v => (v.lines.length === 0 ? v.mine : v.lines.some(l => isIn(scope, app.places.id(l.place)!))))
  return seen.map(({ lines, mail, ...v }) => ({
    ...v,
    unsent: mail.letters.find(m => m.state !== 'sent') ?? null,
    count: lines.length,
    owed: lines.filter(l => l.owed !== '0').length,
  }))
}
/** What the figures suggest, and the slips there are. */
export const restockOf = (app: App, caller: Caller, scope: Scope): { proposals: Proposal[]; slips: RestockRow[] } => ({
  proposals: proposals(app, scope, reach(app, caller), takenNow(app)),
  slips: slipsOf(app, caller, scope),
})
/** What was asked for and has not all come, the first to be expected first. */
export const askedFor = (app: App, caller: Caller, scope: Scope): RestockRow[] =>
  slipsOf(app, caller, scope)
    .filter(s => s.state === 'asked')
    .sort((a, b) => ((a.asked!.expected ?? '9') < (b.asked!.expected ?? '9') ? -1 : 1))

const wantSlip = (app: App, uid: string): Row => {
  const row = app.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (!row) throw notFound('restock slip')
  return row
}
export function restockView(app: App, caller: Caller, uid: string): RestockView {
  const row = wantSlip(app, uid)
  const view = viewOf(app, caller, row, app.paper.personName.get({ id: row.createdBy })!.name)
  const seen = reach(app, caller)
  if (view.lines.length ? !view.lines.some(l => isIn(seen, app.places.id(l.place)!)) : !view.mine)
    throw notFound('restock slip')
  return view
}

function viewOf(app: App, caller: Caller, s: Row, by: string): RestockView {
  const seen = reach(app, caller)
  const today = app.today()
  const lines = app.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, s.id))
    .orderBy(restockLine.position)
    .all()
    .map(l => {
      const it = app.stock.item(l.itemId)!
      const scope = app.places.scope([l.placeId])
      const here = app.stock.here(it, scope, today)
      return {
        id: l.uid,
        item: it.uid,
        place: app.places.row(l.placeId)!.uid,
        typed: l.typed,
        unit: l.unit,
        why: l.why,
        code: it.code,
        name: it.name,
        base: it.unit,
        placeName: app.places.name(l.placeId),
        quantity: formatDecimal(l.quantity),
        unread: s.state === 'open' ? typedOf(app, app.known.itemById(l.itemId)!, l).unread : null,
        owed: formatDecimal(
          s.state === 'asked'
            ? (it.coming.find(c => c.lineId === l.id)?.quantity ?? 0n)
            : s.state === 'open'
              ? l.quantity
              : 0n,
        ),
        levels: levelsOf(it, here, scope),
        elsewhere: elsewhereView(app, elsewhereOf(app, it, l.placeId, seen)),
      }
    })
  const source = s.source as RestockView['source']['kind']
  return {
    id: s.uid,
    revision: s.revision,
    source: {
      kind: source,
      id:
        s.sourceId === null
          ? null
          : source === 'shelves'
            ? app.places.row(s.sourceId)!.uid
            : app.paper.supplierUid.get({ id: s.sourceId })!.uid,
    },
    name:
      s.sourceId === null
        ? 'Nobody yet'
        : source === 'shelves'
          ? app.places.name(s.sourceId)
          : app.ids.account.get({ id: s.sourceId })!.name,
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
            by: app.paper.personName.get({ id: s.askedBy! })!.name,
            where: s.askedWhere,
            number: s.theirNumber,
            expected: s.expected,
            move: s.moveId === null ? null : (app.ids.slipById.get({ id: s.moveId })?.uid ?? null),
          },
    lines,
    mail: {
      possible: app.options.mail !== undefined,
      lastTo: s.sourceId === null ? null : lastAddress(app, s.sourceId),
      letters: mailsOf(app, s.id),
    },
  }
}

/** Where the last slip of this source was mailed to. */
const lastAddress = (app: App, source: number): string | null =>
  app.db
    .select({ to: mail.recipient })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(and(eq(restockSlip.sourceId, source), sql`${mail.state} <> 'failed'`))
    .orderBy(desc(mail.id))
    .limit(1)
    .get()?.to ?? null

/** Mails a slip as it stands; where it was not asked for yet, it is from now on. Within one transaction: nothing is asked for that no letter goes out for. */
export function mailRestock(
  app: App,
  caller: Caller,
  uid: string,
  input: z.output<typeof MailInput>,
  attachments: Letter['attachments'],
): void {
  const row = wantSlip(app, uid)
  if (row.state === 'dropped') throw new Refused(409, 'dropped', 'This is no longer waited for. Begin another slip.')
  if (row.state === 'open')
    markAsked(app, caller, uid, {
      where: `by mail, ${input.to}`,
      at: null,
      number: input.number,
      expected: input.expected,
    })
  const { subject, text } = letterOf(restockView(app, caller, uid), app.organisation!, app.today(), caller.name)
  queueMail(app, caller.id, { to: input.to, subject, text, attachments, restockId: row.id })
}

/** The account a source stands for; undefined where there is no such supplier or area. */
function sourceId(app: App, source: Changed['source']): number | null {
  if (source.kind === 'nobody') return null
  const id =
    source.id === null
      ? undefined
      : source.kind === 'shelves'
        ? app.places.id(source.id)
        : app.paper.supplierId.get({ uid: source.id })?.id
  if (id === undefined) throw notFound(source.kind === 'shelves' ? 'place' : 'supplier')
  return id
}

/** What a line asks for; where it cannot be read nothing yet, and why. */
function typedOf(
  app: App,
  it: ItemRow,
  l: { readonly typed: string; readonly unit: string | null },
): { readonly quantity: bigint; readonly unread: string | null } {
  if (!l.typed.trim()) return { quantity: 0n, unread: null }
  const read = readQuantity(l.typed, app.known.measure(it), l.unit ?? undefined, true)
  return read.ok
    ? { quantity: read.quantity, unread: null }
    : { quantity: 0n, unread: wordRefusal(app, quantityRefusal(read, l.typed, it.unit), () => it.unit).message }
}
/** Nothing is asked for while a line says what cannot be read. */
function refuseUnread(app: App, slipId: number): void {
  const unread = app.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, slipId))
    .orderBy(restockLine.position)
    .all()
    .flatMap(l => {
      const message = typedOf(app, app.known.itemById(l.itemId)!, l).unread
      return message === null ? [] : [{ line: l.uid, field: 'typed', code: 'unread', message }]
    })
  if (unread.length) throw new Refused(422, 'unread', unread[0]!.message, unread)
}

/** Takes the lines as they were typed, also what cannot be read: it is kept, and stands there to be corrected. */
function readLines(app: App, caller: Caller, lines: readonly z.output<typeof RestockLine>[]) {
  return lines.map((l, position) => {
    const it = app.known.item(l.item)
    const placeId = app.places.id(l.place)
    const no = (code: string, field: string, message: string): never => {
      throw new Refused(422, code, message, [{ line: l.id, field, code, message }])
    }
    if (!it?.active) return no('unknown_item', 'item', 'There is no such item, or it is retired.')
    if (placeId === undefined) return no('unknown_place', 'place', 'There is no such place.')
    demandAt(app, caller, 'ask', placeId)
    return {
      uid: l.id,
      position,
      itemId: it.id,
      placeId,
      typed: l.typed,
      unit: l.unit,
      quantity: typedOf(app, it, l).quantity,
      why: l.why,
    }
  })
}

/** Begins a slip: what stands on it is taken, nobody else is offered it. What somebody else has taken meanwhile is refused, with who. */
export function beginRestock(app: App, caller: Caller, uid: string, input: Changed): void {
  const again = app.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (again) {
    if (again.createdBy !== caller.id) throw notFound('restock slip')
    return
  }
  const lines = readLines(app, caller, input.lines)
  refuseTaken(app, lines, undefined)
  const { id } = app.db
    .insert(restockSlip)
    .values({
      uid,
      source: input.source.kind,
      sourceId: sourceId(app, input.source),
      state: 'open',
      revision: 1,
      createdAt: app.now(),
      createdBy: caller.id,
      askedWhere: '',
      theirNumber: '',
      note: input.note,
    })
    .returning({ id: restockSlip.id })
    .get()
  if (lines.length)
    app.db
      .insert(restockLine)
      .values(lines.map(l => ({ ...l, slipId: id })))
      .run()
}
function refuseTaken(app: App, lines: ReturnType<typeof readLines>, own: number | undefined): void {
  if (!lines.length) return
  const others = app.db
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
            message: `${app.known.itemById(l.itemId)!.name} stands on a slip that ${o.by} is writing.`,
          },
        ]
      : []
  })
  if (hit.length) throw new Refused(409, 'taken_already', hit[0]!.message, hit)
}

const wantOpen = (app: App, uid: string, revision: number | undefined): Row => {
  const row = wantSlip(app, uid)
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
  app: App,
  caller: Caller,
  uid: string,
  input: Changed,
  revision: number | undefined,
): void {
  const row = wantOpen(app, uid, revision)
  const lines = readLines(app, caller, input.lines)
  refuseTaken(app, lines, row.id)
  app.db
    .update(restockSlip)
    .set({
      source: input.source.kind,
      sourceId: sourceId(app, input.source),
      note: input.note,
      revision: row.revision + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
  app.db.delete(restockLine).where(eq(restockLine.slipId, row.id)).run()
  const known = app.db
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
    app.db
      .insert(restockLine)
      .values(lines.map(l => ({ ...l, slipId: row.id })))
      .run()
}
/** What is on its way changes with it: its items are worked out anew. */
const touch = (app: App, slipId: number): void => {
  for (const l of app.db
    .select({ item: restockLine.itemId })
    .from(restockLine)
    .where(eq(restockLine.slipId, slipId))
    .all())
    app.stock.touch(l.item)
}

/** From now on what stands on it is on its way. Lines of nothing are left out. */
export function markAsked(
  app: App,
  caller: Caller,
  uid: string,
  input: z.output<typeof AskedInput>,
  moveId: number | null = null,
): void {
  const row = wantOpen(app, uid, undefined)
  refuseUnread(app, row.id)
  const at = input.at === null ? app.now() : Date.parse(input.at)
  const no = (code: string, message: string): never => {
    throw new Refused(422, code, message, [{ field: 'at', code, message }])
  }
  if (at > app.now() + 60_000) no('in_the_future', 'That is in the future. It was asked for now or before.')
  if (at < app.now() - REMEMBERED)
    no(
      'too_long_ago',
      'That is more than 120 days ago: what was asked for then is not waited for. Receive it when it comes.',
    )
  app.db
    .delete(restockLine)
    .where(sql`${restockLine.slipId} = ${row.id} and ${restockLine.quantity} = 0`)
    .run()
  if (!app.db.select({ id: restockLine.id }).from(restockLine).where(eq(restockLine.slipId, row.id)).limit(1).get())
    throw new Refused(422, 'no_lines', 'There is nothing on this slip to ask for.')
  app.db
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
  touch(app, row.id)
}
/** An open slip is thrown away, what stood on it is offered again; what was asked for and will not come is no longer waited for. */
export function dropRestock(app: App, uid: string): void {
  const row = wantSlip(app, uid)
  touch(app, row.id)
  if (row.state === 'open') {
    app.db.delete(restockLine).where(eq(restockLine.slipId, row.id)).run()
    app.db.delete(restockSlip).where(eq(restockSlip.id, row.id)).run()
  } else
    app.db
      .update(restockSlip)
      .set({ state: 'dropped', revision: row.revision + 1 })
      .where(eq(restockSlip.id, row.id))
      .run()
}
/** What lies on our own shelves becomes a move, as a draft to be looked at and booked; the slip is then asked for. */
export function moveOf(app: App, caller: Caller, uid: string, moveUid: string): void {
  const row = wantOpen(app, uid, undefined)
  if (row.source !== 'shelves')
    throw new Refused(409, 'not_our_shelves', 'Only what comes from our own shelves becomes a move.')
  refuseUnread(app, row.id)
  const lines = app.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, row.id))
    .orderBy(restockLine.position)
    .all()
    .filter(l => l.quantity > 0n)
  const place = app.places.row(row.sourceId!)!.uid
  const content = SlipContent.parse({
    kind: 'move',
    place,
    head: {},
    lines: lines.map(l => ({
      id: app.uid(),
      item: app.known.itemById(l.itemId)!.uid,
      typed: l.typed,
      unit: l.unit,
      to: app.places.row(l.placeId)!.uid,
    })),
  })
  const { record } = putDraft(app, caller, moveUid, content)
  app.events.add('draft', { slip: moveUid, places: [place] })
  markAsked(app, caller, uid, { where: 'our own shelves', at: null, number: '', expected: null }, record.id)
}
/** The slip that a letter is about. */
export const restockOfMail = (app: App, uid: string): string | undefined =>
  app.db
    .select({ uid: restockSlip.uid })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(eq(mail.uid, uid))
    .get()?.uid
