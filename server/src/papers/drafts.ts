import { eq } from 'drizzle-orm'
import { asWasSaid, lineSaid, saidOf, type SlipContent, type SlipLine } from '@shelve/contract'
import { canonical, LINE_GAP } from '@shelve/core'
import { notFound, Refused } from '../ground/index.ts'
import type { slip, slipLine } from '../ledger/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'
import { refuseUnknownPictures } from './pictures.ts'
import { takenOff, witness } from './tables.ts'

export type SlipRecord = typeof slip.$inferSelect

/** What a slip is about, in a few words: it stands in lists instead of a name. */
export function titleOf(house: House, content: SlipContent): string {
  const { head } = content
  const called = ({ job, costCentre }: { job: string | null; costCentre: string | null }): string | undefined =>
    (job ? house.rows.job.get({ uid: job })?.name : undefined) ??
    (costCentre ? house.rows.costCentre.get({ uid: costCentre })?.name : undefined)
  const each = content.kind === 'issue' ? content.lines.flatMap(l => l.direct ?? []) : []
  const named = [...new Set([head, ...head.among, ...each].flatMap(who => called(who) ?? []))]
  const receiver = named.length > 2 ? `${named[0]} and ${named.length - 1} more` : named.join(' and ') || undefined
  const place = content.place ? house.places.row(house.places.id(content.place) ?? -1)?.name : undefined
  /** A line that names another slip's line and no item is about that line's item. */
  const itemOf = (l: SlipLine): string | null => {
    const of = l.item === null && l.ref ? house.rows.line.get({ uid: l.ref }) : undefined
    return of ? (JSON.parse(of.content) as SlipLine).item : l.item
  }
  const items = [...new Set(content.lines.map(itemOf))].flatMap(uid => (uid ? [house.known.item(uid)?.name ?? ''] : []))
  const first = items[0] ? `${items[0]}${items.length > 1 ? ` and ${items.length - 1} more` : ''}` : ''
  return house.kinds.get(content.kind)!.title({ house, content, first, receiver, place })
}

/** A slip with the numbers that it and its lines have or will get: reading it needs them, and writes nothing. */
export interface Numbered {
  readonly uid: string
  readonly found: SlipRecord | undefined
  readonly id: number
  readonly lineIds: ReadonlyMap<string, number>
  /** Its lines as they were last saved. */
  readonly saved: ReadonlyMap<string, typeof slipLine.$inferSelect>
}

/** Numbers a slip and its lines: those that are saved keep theirs. What is booked, or names pictures that are not there, is refused. */
export function numbered(house: House, uid: string, content: SlipContent): Numbered {
  const found = house.rows.slip.get({ uid })
  if (found?.state === 'booked')
    throw new Refused(409, 'booked_already', `This slip is booked already as ${found.number}.`)
  refuseUnknownPictures(house, content)
  const saved = new Map((found ? house.rows.lines.all({ slip: found.id }) : []).map(l => [l.uid, l]))
  let next = house.rows.nextLine.get()!.id
  return {
    uid,
    found,
    id: found?.id ?? house.rows.nextSlip.get()!.id,
    lineIds: new Map(content.lines.map(l => [l.id, saved.get(l.id)?.id ?? next++])),
    saved,
  }
}

/** What of a slip's content stands on its row. */
export const headColumns = (house: House, content: SlipContent, said = saidOf(content)) => {
  const { lines: _, ...head } = said
  return {
    placeId: content.place === null ? null : (house.places.id(content.place) ?? null),
    effectiveAt: content.effectiveAt === null ? null : Date.parse(content.effectiveAt),
    taker: content.taker,
    head: JSON.stringify(head),
  }
}
/** What a line says, as it is kept. */
export const lineText = (line: SlipLine): string => JSON.stringify(lineSaid(line))

/** Writes a slip that is not there yet, with the numbers it was given; `gap` leaves room for lines in between. */
export function insertDraft(
  house: House,
  caller: Caller,
  slip: Numbered,
  content: SlipContent,
  gap: number,
  said = saidOf(content),
): SlipRecord {
  const now = house.now()
  const record: SlipRecord = {
    ...{ id: slip.id, uid: slip.uid, kind: content.kind, state: 'draft', revision: 1, version: 1 },
    ...{ createdAt: now, createdBy: caller.id, savedAt: now, savedBy: caller.id },
    title: titleOf(house, content),
    ...headColumns(house, content, said),
    ...{ number: null, bookedAt: null, bookedBy: null, witnessId: null, correctsId: null, jobId: null },
    ...{ requestHash: null, firstSeq: null, lastSeq: null, chainVersion: null, hash: null },
  }
  house.rows.insertSlip.run(record)
  for (const [i, { id, ...line }] of said.lines.entries())
    insertLine(house, {
      id: slip.lineIds.get(id)!,
      uid: id,
      slip: slip.id,
      position: (i + 1) * gap,
      revision: 1,
      by: caller.id,
      content: JSON.stringify(line),
    })
  return record
}

/** Whether a slip says, as it was saved, what a content says. */
export const saysThat = (house: House, record: SlipRecord, content: SlipContent): boolean =>
  canonical(saidOf(contentOf(house, record))) === canonical(saidOf(content))

/**
 * Begins a draft, within the running transaction. One that is there already is not written over: it is taken as it
 * stands where it says the same (the answer to the first time got lost), else refused.
 */
export function beginDraft(house: House, caller: Caller, uid: string, content: SlipContent): SlipRecord {
  const slip = numbered(house, uid, content)
  if (!slip.found) return insertDraft(house, caller, slip, content, LINE_GAP)
  if (saysThat(house, slip.found, content)) return slip.found
  throw new Refused(
    409,
    'draft_there',
    'This slip was begun already, and says something else. Read it and save what is to be changed.',
  )
}

/** The database itself knows whether the id stands elsewhere: asking it first would cost a search for every line. */
export function insertLine(
  house: House,
  line: { id: number; uid: string; slip: number; position: number; revision: number; by: number; content: string },
): void {
  try {
    house.rows.insertLine.run(line)
  } catch (e) {
    const { code, cause } = e as { code?: string; cause?: { code?: string } }
    if ((code ?? cause?.code) !== 'SQLITE_CONSTRAINT_UNIQUE') throw e
    throw ofAnotherSlip(line.uid)
  }
}
const ofAnotherSlip = (line: string): Refused =>
  new Refused(409, 'line_of_another_slip', 'A line with this id stands on another slip.', [
    { line, field: 'id', code: 'line_of_another_slip', message: 'This line stands on another slip.' },
  ])
/** On trial nothing is written that would find it: lines that are new are looked for. */
export function refuseForeignLines(house: House, slip: Numbered): void {
  const fresh = [...slip.lineIds.keys()].filter(uid => !slip.saved.has(uid))
  const foreign = house.rows.lineAmong.get({ uids: JSON.stringify(fresh) })
  if (foreign) throw ofAnotherSlip(foreign.uid)
}

/** Tells of a draft: whoever may look into its place, or its writer alone while it has none. */
export function tellOf(
  house: House,
  caller: Caller,
  draft: Pick<SlipRecord, 'uid' | 'placeId'> & { readonly version?: number },
): void {
  const places = draft.placeId === null ? [] : [house.places.row(draft.placeId)!.uid]
  house.events.add('draft', { slip: draft.uid, places, version: draft.version, by: caller.uid })
}

/** Throws a draft away; where it was saved since `seen`, a version of it, nothing is. */
export function dropDraft(house: House, caller: Caller, uid: string, seen: number | undefined): void {
  house.store.client
    .transaction(() => {
      const found = house.rows.slip.get({ uid })
      if (!found) throw notFound('slip')
      if (found.state === 'booked')
        throw new Refused(
          409,
          'booked_already',
          `This slip is booked as ${found.number}: it is not thrown away but taken back.`,
        )
      if (seen !== undefined && seen !== found.version)
        throw new Refused(
          409,
          'changed_meanwhile',
          'Somebody saved this slip meanwhile. Look at what stands there now, then throw it away.',
        )
      for (const h of house.hooks) h.dropped?.(found.id)
      house.rows.deleteLines.run({ slip: found.id })
      forgetTakenOff(house, found.id)
      forgetWitness(house, uid)
      house.rows.deleteSlip.run({ id: found.id })
      tellOf(house, caller, { uid, placeId: found.placeId })
    })
    .immediate()
  house.events.flush()
}
/** The slip is booked, or thrown away: who was there stands on it, or nowhere. */
export const forgetWitness = (house: House, uid: string): void => {
  house.db.delete(witness).where(eq(witness.slipUid, uid)).run()
}
/** A slip that is booked or gone keeps no markers of what was taken off it. */
export const forgetTakenOff = (house: House, slipId: number): void => {
  house.db.delete(takenOff).where(eq(takenOff.slipId, slipId)).run()
}

/** A line as it was last saved. */
export const lineOf = (l: { readonly uid: string; readonly content: string }): Partial<SlipLine> & { id: string } => ({
  ...(JSON.parse(l.content) as object),
  id: l.uid,
})
/** The content of a slip as it was last saved. */
export function contentOf(
  house: House,
  record: SlipRecord,
  lines = house.rows.lines.all({ slip: record.id }),
): SlipContent {
  return asWasSaid({ ...(JSON.parse(record.head) as object), lines: lines.map(lineOf) })
}
