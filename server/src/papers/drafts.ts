import { eq } from 'drizzle-orm'
import { asWasSaid, saidOf, type SlipContent } from '@shelve/contract'
import { iso, notFound, Refused, stale } from '../ground/index.ts'
import { slip, slipLine } from '../ledger/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { unknownPictures } from './pictures.ts'

export type SlipRecord = typeof slip.$inferSelect

/** What a slip is about, in a few words: it stands in lists instead of a name. */
export function titleOf(house: House, content: SlipContent): string {
  const { head } = content
  const job = head.job ? house.rows.job.get({ uid: head.job })?.name : undefined
  const centre = head.costCentre ? house.rows.costCentre.get({ uid: head.costCentre })?.name : undefined
  const place = content.place ? house.places.row(house.places.id(content.place) ?? -1)?.name : undefined
  const items = [...new Set(content.lines.map(l => l.item))].flatMap(uid =>
    uid ? [house.known.item(uid)?.name ?? ''] : [],
  )
  const first = items[0] ? `${items[0]}${items.length > 1 ? ` and ${items.length - 1} more` : ''}` : ''
  return house.kinds.get(content.kind)!.title({ house, content, first, receiver: job ?? centre, place })
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
  const lost = unknownPictures(house, content)
  if (lost.length)
    throw new Refused(422, 'unknown_picture', 'A picture of this slip is not there. Take it again.', [
      { field: 'pictures', code: 'unknown_picture', message: 'A picture of this slip is not there. Take it again.' },
    ])
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

/** Writes a slip as a draft with the numbers it was given. Lines of another slip are refused. */
export function writeDraft(house: House, caller: Caller, slip: Numbered, content: SlipContent): SlipRecord {
  const { lines, ...head } = saidOf(content)
  const common = {
    kind: content.kind,
    placeId: content.place === null ? null : (house.places.id(content.place) ?? null),
    effectiveAt: content.effectiveAt === null ? null : Date.parse(content.effectiveAt),
    savedAt: house.now(),
    taker: content.taker,
    title: titleOf(house, content),
    head: JSON.stringify(head),
  }
  const record = slip.found
    ? house.rows.updateSlip.get({ id: slip.id, ...common })!
    : house.rows.insertSlip.get({ id: slip.id, uid: slip.uid, by: caller.id, ...common })!
  const gone = new Map(slip.saved)
  for (const [position, { id: uid, ...said }] of lines.entries()) {
    const text = JSON.stringify(said)
    const was = slip.saved.get(uid)
    gone.delete(uid)
    if (!was) newLine(house, { id: slip.lineIds.get(uid)!, uid, slip: slip.id, position, content: text })
    else if (was.content !== text || was.position !== position)
      house.rows.updateLine.run({ id: was.id, content: text, position })
  }
  for (const l of gone.values()) house.rows.deleteLine.run({ id: l.id })
  return record
}

/** Numbers a slip and writes it as a draft, without a revision check. */
export function putDraft(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
): { record: SlipRecord; lineIds: ReadonlyMap<string, number> } {
  const slip = numbered(house, uid, content)
  return { record: writeDraft(house, caller, slip, content), lineIds: slip.lineIds }
}

/** The database itself knows whether the id stands elsewhere: asking it first would cost a search for every line. */
function newLine(
  house: House,
  line: { id: number; uid: string; slip: number; position: number; content: string },
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

/** Saves a draft; whoever saved it meanwhile is not overwritten. */
export function saveDraft(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
  revision: number | undefined,
): { id: string; revision: number; savedAt: string } {
  const saved = house.store.client
    .transaction(() => {
      const found = house.rows.slip.get({ uid })
      if (found && (revision === undefined || revision !== found.revision)) throw stale()
      if (!found && revision !== undefined)
        throw new Refused(404, 'not_found', 'This draft is not there any more: it was booked or thrown away elsewhere.')
      const area = content.place === null ? undefined : house.places.id(content.place)
      if (area !== undefined) demandAt(house, caller, 'book', area)
      const record = writeDraft(house, caller, numbered(house, uid, content), content)
      tellOf(house, caller, record)
      return record
    })
    .immediate()
  house.events.flush()
  return { id: uid, revision: saved.revision, savedAt: iso(saved.savedAt) }
}

/** Tells of a draft: whoever may look into its place, or its writer alone while it has none. */
function tellOf(house: House, caller: Caller, draft: Pick<SlipRecord, 'uid' | 'placeId'>): void {
  const places = draft.placeId === null ? [] : [house.places.row(draft.placeId)!.uid]
  house.events.add('draft', { slip: draft.uid, places, by: caller.uid })
}

export function dropDraft(house: House, caller: Caller, uid: string): void {
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
      for (const h of house.hooks) h.dropped?.(found.id)
      house.db.delete(slipLine).where(eq(slipLine.slipId, found.id)).run()
      house.db.delete(slip).where(eq(slip.id, found.id)).run()
      tellOf(house, caller, found)
    })
    .immediate()
  house.events.flush()
}

/** The content of a slip as it was last saved. */
export function contentOf(house: House, record: SlipRecord): SlipContent {
  const lines = house.rows.lines.all({ slip: record.id })
  return asWasSaid({
    ...(JSON.parse(record.head) as object),
    lines: lines.map(l => ({ ...(JSON.parse(l.content) as object), id: l.uid })),
  })
}
