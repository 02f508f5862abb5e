import { eq } from 'drizzle-orm'
import { asWasSaid, saidOf, type SlipContent } from '@shelve/contract'
import { iso, notFound, Refused, stale } from '../ground/index.ts'
import { slip, slipLine } from '../ledger/index.ts'
import { type Caller, demandAt } from '../rights/index.ts'
import type { House } from './house.ts'
import { unknownPictures } from './pictures.ts'

export type SlipRecord = typeof slip.$inferSelect

/** What a slip is about, in a few words: it stands in lists instead of a name. */
export function titleOf(house: House, c: SlipContent): string {
  const { head } = c
  const job = head.job ? house.rows.job.get({ uid: head.job })?.name : undefined
  const centre = head.costCentre ? house.rows.costCentre.get({ uid: head.costCentre })?.name : undefined
  const place = c.place ? house.places.row(house.places.id(c.place) ?? -1)?.name : undefined
  const items = [...new Set(c.lines.map(l => l.item))].flatMap(uid => (uid ? [house.known.item(uid)?.name ?? ''] : []))
  const first = items[0] ? `${items[0]}${items.length > 1 ? ` and ${items.length - 1} more` : ''}` : ''
  switch (c.kind) {
    case 'receipt':
      return head.supplier ? `from ${head.supplier}` : 'a delivery'
    case 'issue':
      return `to ${job ?? centre ?? 'somebody'}`
    case 'bring_back':
      return (job ?? centre) ? `from ${job ?? centre}` : first
    case 'waste':
      return first || 'waste'
    case 'count':
      return place ?? ''
    case 'correction': {
      const target = head.corrects ? house.rows.slip.get({ uid: head.corrects }) : undefined
      return target?.number ? `of ${target.number}` : ''
    }
    case 'opening':
      return place ?? ''
    default:
      return first
  }
}

/**
 * Writes a slip as a draft, without a revision check: used by saving and, inside its own transaction, by booking. Lines
 * keep their ids; lines of another slip are refused.
 */
export function putDraft(
  house: House,
  caller: Caller,
  uid: string,
  content: SlipContent,
): { record: SlipRecord; lineIds: Map<string, number> } {
  const now = house.now()
  const found = house.rows.slip.get({ uid })
  if (found?.state === 'booked')
    throw new Refused(409, 'booked_already', `This slip is booked already as ${found.number}.`)
  const lost = unknownPictures(house, content)
  if (lost.length)
    throw new Refused(422, 'unknown_picture', 'A picture of this slip is not there. Take it again.', [
      { field: 'pictures', code: 'unknown_picture', message: 'A picture of this slip is not there. Take it again.' },
    ])
  const { lines, ...head } = saidOf(content)
  const placeId = content.place === null ? null : (house.places.id(content.place) ?? null)
  const common = {
    kind: content.kind,
    placeId,
    effectiveAt: content.effectiveAt === null ? null : Date.parse(content.effectiveAt),
    savedAt: now,
    taker: content.taker,
    title: titleOf(house, content),
    head: JSON.stringify(head),
  }
  const record = found
    ? house.rows.updateSlip.get({ id: found.id, ...common })!
    : house.rows.insertSlip.get({ uid, by: caller.id, ...common })!
  const old = new Map((found ? house.rows.lines.all({ slip: record.id }) : []).map(l => [l.uid, l]))
  const lineIds = new Map<string, number>()
  for (const [position, line] of lines.entries()) {
    const { id, ...said } = line
    const text = JSON.stringify(said)
    const was = old.get(id)
    old.delete(id)
    if (was) {
      if (was.content !== text || was.position !== position)
        house.rows.updateLine.run({ id: was.id, content: text, position })
      lineIds.set(id, was.id)
    } else {
      lineIds.set(id, newLine(house, record.id, id, position, text))
    }
  }
  for (const gone of old.values()) house.rows.deleteLine.run({ id: gone.id })
  return { record, lineIds }
}

/** The database itself knows whether the id stands elsewhere: asking it first would cost a search for every line. */
function newLine(house: House, slipId: number, uid: string, position: number, content: string): number {
  try {
    return Number(house.rows.insertLine.run({ uid, slip: slipId, position, content }).lastInsertRowid)
  } catch (e) {
    const { code, cause } = e as { code?: string; cause?: { code?: string } }
    if ((code ?? cause?.code) !== 'SQLITE_CONSTRAINT_UNIQUE') throw e
    throw new Refused(409, 'line_of_another_slip', 'A line with this id stands on another slip.', [
      { line: uid, field: 'id', code: 'line_of_another_slip', message: 'This line stands on another slip.' },
    ])
  }
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
      const { record } = putDraft(house, caller, uid, content)
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
