import { and, desc, eq, isNotNull, or, sql } from 'drizzle-orm'
import type { Proposal, RestockRow, RestockView } from '@shelve/contract'
import { formatDecimal, groupBy } from '@shelve/core'
import { among, iso, once, Refused } from '../ground/index.ts'
import { mail, mailsOf } from '../notices/index.ts'
import { person } from '../people/index.ts'
import { levelsView } from '../position/index.ts'
import { type Action, type Caller, isIn, mayAt, reach, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { elsewhereOf, elsewhereView, proposals } from './proposal.ts'
import { type Row, wantSlip } from './rows.ts'
import { type Source, sourceView } from './source.ts'
import { restockLine, restockSlip } from './tables.ts'
import { typedOf } from '../papers/index.ts'

/** How long a slip that was asked for stays in the list. */
export const REMEMBERED = 120 * 86_400_000

/** Something on it is asked for where one may look: in one of these places, or anywhere. */
const isSeen = sql`exists (select 1 from ${restockLine} l where l.slip_id = ${restockSlip.id}
  and (${sql.placeholder('within')} is null or l.place_id in (select value from json_each(${sql.placeholder('within')}))))`

const statements = once((house: House) => ({
  lines: house.db
    .select()
    .from(restockLine)
    .where(eq(restockLine.slipId, sql.placeholder('slip')))
    .orderBy(restockLine.position, restockLine.uid)
    .prepare(),
  lastMail: house.db
    .select({ to: mail.recipient })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(and(eq(restockSlip.sourceId, sql.placeholder('source')), sql`${mail.state} <> 'failed'`, isSeen))
    .orderBy(desc(mail.id))
    .limit(1)
    .prepare(),
  lastAsked: house.db
    .select({ where: restockSlip.askedWhere })
    .from(restockSlip)
    .where(and(eq(restockSlip.sourceId, sql.placeholder('source')), isNotNull(restockSlip.askedAt), isSeen))
    .orderBy(desc(restockSlip.askedAt))
    .limit(1)
    .prepare(),
}))

/** What stands on slips that are being written: it is not proposed again. What was asked for is on its way, and so not due. */
const takenNow = (house: House): ReadonlyMap<number, readonly { place: number }[]> =>
  groupBy(
    house.db
      .select({ item: restockLine.itemId, place: restockLine.placeId })
      .from(restockLine)
      .innerJoin(restockSlip, eq(restockSlip.id, restockLine.slipId))
      .where(eq(restockSlip.state, 'open'))
      .all(),
    r => r.item,
  )

/** Every line of which something is owed, however long. */
const owedLines = (house: House): number[] => [...house.stock.all().values()].flatMap(it => it.owed.map(o => o.lineId))

/** The slips there are in a scope: those being written, those asked for of late. */
function slipsOf(house: House, caller: Caller, scope: Scope): RestockRow[] {
  const rows = house.db
    .select({ s: restockSlip, by: person.name })
    .from(restockSlip)
    .innerJoin(person, eq(person.id, restockSlip.createdBy))
    .where(
      or(
        eq(restockSlip.state, 'open'),
        // Of what was asked for long ago, that of which something is owed still.
        sql`${restockSlip.state} = 'asked' and (${restockSlip.askedAt} > ${house.now() - REMEMBERED} or ${restockSlip.id} in (
          select slip_id from restock_line where ${among(sql.raw('id'), owedLines(house))}))`,
      ),
    )
    .orderBy(desc(restockSlip.createdAt))
    .all()
  return rows.flatMap(r => {
    const lines = linesOf(house, r.s).map(l => ({ placeId: l.placeId, ...stands(house, r.s, l) }))
    const { mail, ...v } = headView(house, caller, r, lines)
    if (lines.length === 0 ? !v.mine : !lines.some(l => isIn(scope, l.placeId))) return []
    return {
      ...v,
      unsent: mail.letters.find(m => m.state !== 'sent') ?? null,
      count: lines.length,
      owed: lines.filter(l => l.owed !== '0').length,
      late: lines.filter(l => l.late).length,
    }
  })
}

/** What the figures suggest, and the slips there are. */
export const restockOf = async (
  house: House,
  caller: Caller,
  scope: Scope,
): Promise<{ proposals: Proposal[]; slips: RestockRow[] }> => ({
  proposals: await proposals(house, scope, reach(house, caller), takenNow(house)),
  slips: slipsOf(house, caller, scope),
})

/** What of the slips waits: asked for and not all come, the first to be expected first; handed over to whoever may send it out, and given back to whoever asks, the longest first. */
export function restockWaiting(
  house: House,
  caller: Caller,
  scope: Scope,
): { asked: RestockRow[]; handed: RestockRow[]; back: RestockRow[] } {
  const rows = slipsOf(house, caller, scope)
  return {
    asked: rows
      .filter(s => s.state === 'asked')
      .sort((a, b) => ((a.asked!.expected ?? '9') < (b.asked!.expected ?? '9') ? -1 : 1)),
    handed: rows
      .filter(s => s.state === 'open' && s.handed && s.sends)
      .sort((a, b) => (a.handed!.at < b.handed!.at ? -1 : 1)),
    back: rows.filter(s => s.state === 'open' && s.back && s.mine).sort((a, b) => (a.back!.at < b.back!.at ? -1 : 1)),
  }
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
export function demandAll(house: House, caller: Caller, uid: string, action: Action = 'ask'): void {
  for (const place of placesOf(house, wantSlip(house, uid).id))
    if (!isIn(reach(house, caller, action), place))
      throw new Refused(
        403,
        'not_all_yours',
        action === 'ask'
          ? 'This slip also asks for places where you may not ask. Leave it to whoever keeps them.'
          : `What is asked for in ${house.places.name(place)} is sent out by whoever keeps it. Hand the slip over.`,
      )
}

/** A restock slip as its reader may see it: lines for other places are left out. */
export function restockView(house: House, caller: Caller, uid: string): RestockView {
  const row = wantSlip(house, uid)
  const by = house.rows.personName.get({ id: row.createdBy })!.name
  const seen = reach(house, caller)
  const lines = linesOf(house, row)
  house.stock.want(lines.map(l => l.itemId))
  const standing = lines.map(l => ({ placeId: l.placeId, ...stands(house, row, l) }))
  return {
    ...headView(house, caller, { s: row, by }, standing),
    lines: lines.filter(l => isIn(seen, l.placeId)).map(l => lineView(house, seen, row, l)),
    lastWhere:
      row.state === 'open' && row.sourceId !== null
        ? (statements(house).lastAsked.get(ofSource(house, caller, row.sourceId))?.where ?? null)
        : null,
  }
}

/** The items that a slip asks for: what is on its way of them changes with it. */
export const itemsOf = (house: House, slipId: number): number[] =>
  statements(house)
    .lines.all({ slip: slipId })
    .map(l => l.itemId)

type Line = typeof restockLine.$inferSelect
const linesOf = (house: House, s: Row): Line[] => statements(house).lines.all({ slip: s.id })

/** What of a line is still to come, and whether longer than anybody waits. */
function stands(house: House, s: Row, l: Line): { owed: string; late: boolean } {
  const owed = s.state === 'asked' ? house.stock.item(l.itemId)!.owed.find(o => o.lineId === l.id) : undefined
  return {
    owed: formatDecimal(s.state === 'open' ? l.quantity : (owed?.quantity ?? 0n)),
    late: owed?.counts === false,
  }
}
function lineView(house: House, seen: Scope, s: Row, l: Line): RestockView['lines'][number] {
  const it = house.stock.item(l.itemId)!
  const here = house.stock.here(it, house.places.scope([l.placeId]), house.today())
  return {
    id: l.uid,
    revision: l.revision,
    position: l.position,
    by: house.rows.personName.get({ id: l.savedBy })!.name,
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
    cancelled:
      l.cancelledAt === null
        ? null
        : {
            at: iso(l.cancelledAt),
            by: house.rows.personName.get({ id: l.cancelledBy! })!.name,
            why: l.cancelledWhy,
          },
    ...stands(house, s, l),
    levels: levelsView(here),
    elsewhere: elsewhereView(house, elsewhereOf(house, it, l.placeId, seen)),
  }
}

/** All of a slip but its lines, of which it wants to know how they stand. */
function headView(
  house: House,
  caller: Caller,
  { s, by }: { readonly s: Row; readonly by: string },
  lines: readonly { readonly placeId: number; readonly owed: string }[],
): Omit<RestockView, 'lastWhere' | 'lines'> {
  const mayAll = (what: Action) => caller.may.has(what) && lines.every(l => mayAt(house, caller, what, l.placeId))
  return {
    id: s.uid,
    revision: s.revision,
    version: s.version,
    ...sourceView(house, s.source as Source['kind'], s.sourceId),
    state:
      s.state === 'asked' && lines.length > 0 && lines.every(l => l.owed === '0')
        ? 'arrived'
        : (s.state as RestockView['state']),
    by,
    mine: s.createdBy === caller.id,
    number: s.number,
    handed:
      s.handedAt === null ? null : { at: iso(s.handedAt), by: house.rows.personName.get({ id: s.handedBy! })!.name },
    back:
      s.backAt === null
        ? null
        : { at: iso(s.backAt), by: house.rows.personName.get({ id: s.backBy! })!.name, why: s.backWhy },
    may: mayAll('ask'),
    sends: mayAll('order'),
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
    mail: {
      possible: house.post !== undefined,
      lastTo:
        s.sourceId === null ? null : (statements(house).lastMail.get(ofSource(house, caller, s.sourceId))?.to ?? null),
      letters: mailsOf(house, s.id),
    },
  }
}

/** How, or by which address, something of a source was asked for last is looked for where its reader may look. */
function ofSource(house: House, caller: Caller, source: number) {
  const { within } = reach(house, caller)
  return { source, within: within ? JSON.stringify([...within]) : null }
}

/** The slip that a letter is about. */
export const restockOfMail = (house: House, uid: string): string | undefined =>
  house.db
    .select({ uid: restockSlip.uid })
    .from(mail)
    .innerJoin(restockSlip, eq(restockSlip.id, mail.restockId))
    .where(eq(mail.uid, uid))
    .get()?.uid
