import { eq } from 'drizzle-orm'
import type { z } from 'zod'
import type { NewRestock, RestockChanges, RestockHead, RestockLine, RestockSaved } from '@shelve/contract'
import { LINE_GAP } from '@shelve/core'
import { notFound, Refused } from '../ground/index.ts'
import { nextNumber } from '../ledger/index.ts'
import { savePaper, type StandingLine, typedOf } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { type Row, wantSlip } from './rows.ts'
import { type Source, sourceView } from './source.ts'
import { restockLine, restockSlip, restockTakenOff } from './tables.ts'

/** The account a source stands for; undefined where there is no such supplier or area. */
function sourceId(house: House, source: RestockHead['source']): number | null {
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

/** Nothing is asked for while a line says what cannot be read. */
export function refuseUnread(house: House, slipId: number): void {
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

/** A line as it is kept; also what cannot be read, to be corrected there. */
interface Written {
  readonly itemId: number
  readonly placeId: number
  readonly typed: string
  readonly unit: string | null
  readonly quantity: bigint
  readonly why: string
}
/** Takes a line as it was typed, for a place where its writer may ask. */
function readLine(house: House, caller: Caller, l: z.output<typeof RestockLine>): Written {
  const it = house.known.item(l.item)
  const placeId = house.places.id(l.place)
  const no = (code: string, field: string, message: string): never => {
    throw new Refused(422, code, message, [{ line: l.id, field, code, message }])
  }
  if (!it?.active) return no('unknown_item', 'item', 'There is no such item, or it is retired.')
  if (placeId === undefined) return no('unknown_place', 'place', 'There is no such place.')
  demandAt(house, caller, 'ask', placeId)
  return { itemId: it.id, placeId, typed: l.typed, unit: l.unit, quantity: typedOf(house, it, l).quantity, why: l.why }
}

/** Begins a slip: what stands on it is taken, nobody else is offered it. What somebody else has taken meanwhile is refused, with who. */
export function beginRestock(
  house: House,
  caller: Caller,
  uid: string,
  input: Omit<z.output<typeof NewRestock>, 'id'>,
): void {
  const again = house.db.select().from(restockSlip).where(eq(restockSlip.uid, uid)).get()
  if (again) {
    if (again.createdBy !== caller.id) throw notFound('restock slip')
    return
  }
  const lines = input.lines.map((l, i) => ({
    ...readLine(house, caller, l),
    uid: l.id,
    position: (i + 1) * LINE_GAP,
    revision: 1,
    savedBy: caller.id,
  }))
  refuseTaken(house, lines, undefined)
  const { id } = house.db
    .insert(restockSlip)
    .values({
      uid,
      number: `RS-${String(nextNumber(house, 'restock')).padStart(4, '0')}`,
      source: input.source.kind,
      sourceId: sourceId(house, input.source),
      state: 'open',
      revision: 1,
      version: 1,
      savedBy: caller.id,
      createdAt: house.now(),
      createdBy: caller.id,
      askedWhere: '',
      theirNumber: '',
      note: input.note,
    })
    .returning({ id: restockSlip.id })
    .get()
  for (const l of lines) insertLine(house, { ...l, slipId: id })
}

/** What stands on another slip that is being written is not asked for twice. */
function refuseTaken(
  house: House,
  lines: readonly (Written & { readonly uid: string })[],
  own: number | undefined,
): void {
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
    const message = `${house.known.itemById(l.itemId)!.name} stands on a slip that ${o?.by} is writing.`
    return o ? [{ line: l.uid, field: 'item', code: 'taken_already', message }] : []
  })
  if (hit.length) throw new Refused(409, 'taken_already', hit[0]!.message, hit)
}

function insertLine(house: House, line: typeof restockLine.$inferInsert): void {
  if (house.db.select({ id: restockLine.id }).from(restockLine).where(eq(restockLine.uid, line.uid)).get())
    throw new Refused(409, 'line_of_another_slip', 'A line with this id stands on another slip.')
  house.db.insert(restockLine).values(line).run()
}

type DraftLine = Omit<z.output<typeof RestockLine>, 'id'>
type Standing = StandingLine<DraftLine>

function standing(house: House, slipId: number): Map<string, Standing> {
  const lines = new Map<string, Standing>(
    house.db
      .select()
      .from(restockLine)
      .where(eq(restockLine.slipId, slipId))
      .all()
      .map(l => [
        l.uid,
        {
          revision: l.revision,
          position: l.position,
          by: l.savedBy,
          content: {
            item: house.known.itemById(l.itemId)!.uid,
            place: house.places.row(l.placeId)!.uid,
            typed: l.typed,
            unit: l.unit,
            why: l.why,
          },
        },
      ]),
  )
  for (const t of house.db.select().from(restockTakenOff).where(eq(restockTakenOff.slipId, slipId)).all())
    lines.set(t.uid, { revision: t.revision, position: 0, by: t.savedBy, content: null })
  return lines
}

/**
 * Saves what was changed of a slip, within the running transaction. What somebody else saved since, otherwise, stays as it
 * is and is told with both versions. An item that is put on for a place for which it stands there already is that line.
 */
export function saveRestock(
  house: House,
  caller: Caller,
  uid: string,
  changes: z.output<typeof RestockChanges>,
  seen: number | undefined,
): Omit<RestockSaved, 'slip'> {
  const row = wantOpen(house, uid)
  const there = standing(house, row.id)
  const { answer, set } = savePaper({
    id: uid,
    row,
    there,
    changes,
    seen,
    theirs: { source: sourceView(house, row.source as Source['kind'], row.sourceId).source, note: row.note },
    by: caller.id,
    now: house.now(),
    nameOf: person => house.rows.personName.get({ id: person })!.name,
    twin: line => lineFor(there, line),
    write: (id, change, stands, version) => writeLine(house, caller, row.id, id, version, change, stands),
    writeHead: head =>
      house.db
        .update(restockSlip)
        .set({ source: head.source.kind, sourceId: sourceId(house, head.source), note: head.note })
        .where(eq(restockSlip.id, row.id))
        .run(),
  })
  house.db.update(restockSlip).set(set).where(eq(restockSlip.id, row.id)).run()
  return answer
}

/** The line on which an item is asked for, for a place. */
const lineFor = (there: ReadonlyMap<string, Standing>, l: DraftLine): string | undefined =>
  [...there].find(([, s]) => s.content?.item === l.item && s.content.place === l.place)?.[0]

function writeLine(
  house: House,
  caller: Caller,
  slipId: number,
  id: string,
  revision: number,
  { line, position }: { readonly line: DraftLine | null; readonly position: number },
  stands: Standing | undefined,
): void {
  const saved = { revision, savedBy: caller.id }
  if (line === null) {
    house.db.delete(restockLine).where(eq(restockLine.uid, id)).run()
    house.db
      .insert(restockTakenOff)
      .values({ uid: id, slipId, ...saved })
      .onConflictDoUpdate({ target: restockTakenOff.uid, set: { slipId, ...saved } })
      .run()
    return
  }
  const written = readLine(house, caller, { ...line, id })
  refuseTaken(house, [{ ...written, uid: id }], slipId)
  if (stands?.content)
    house.db
      .update(restockLine)
      .set({ ...written, position, ...saved })
      .where(eq(restockLine.uid, id))
      .run()
  else {
    house.db.delete(restockTakenOff).where(eq(restockTakenOff.uid, id)).run()
    insertLine(house, { ...written, uid: id, slipId, position, ...saved })
  }
}

/** A slip that is being written; `seen`, a version of it, must be the one that stands. */
export function wantOpen(house: House, uid: string, seen?: number): Row {
  const row = wantSlip(house, uid)
  if (row.state !== 'open')
    throw new Refused(
      409,
      'asked_already',
      'This was asked for already: it is not changed any more. What will not come can be dropped.',
    )
  refuseUnseen(row, seen)
  return row
}
/** What is done with a slip is done with what was seen of it. */
export function refuseUnseen(row: Row, seen: number | undefined): void {
  if (seen !== undefined && seen !== row.version)
    throw new Refused(
      409,
      'saved_meanwhile',
      'This slip was saved meanwhile and says something else by now. Look at what stands there, then go on.',
    )
}
