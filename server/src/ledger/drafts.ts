import { eq } from 'drizzle-orm'
import { SlipContent } from '@shelve/contract'
import { slip, slipLine } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { notFound, stale } from '../catalogue/service.ts'
import { releaseSheet } from '../counting/printed.ts'
import { reach, type Caller } from '../people/rights.ts'
import { unknownPictures } from './pictures.ts'

export type SlipRecord = typeof slip.$inferSelect

/** What a slip is about, in a few words: it stands in lists instead of a name. */
export function titleOf(app: App, c: SlipContent): string {
  const { head } = c
  const job = head.job ? app.ids.job.get({ uid: head.job })?.name : undefined
  const centre = head.costCentre ? app.ids.costCentre.get({ uid: head.costCentre })?.name : undefined
  const place = c.place ? app.places.row(app.places.id(c.place) ?? -1)?.name : undefined
  const items = [...new Set(c.lines.map(l => l.item))].flatMap(uid => (uid ? [app.known.item(uid)?.name ?? ''] : []))
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
      const target = head.corrects ? app.ids.slip.get({ uid: head.corrects }) : undefined
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
  app: App,
  caller: Caller,
  uid: string,
  content: SlipContent,
): { record: SlipRecord; lineIds: Map<string, number> } {
  const now = app.now()
  const found = app.ids.slip.get({ uid })
  if (found?.state === 'booked')
    throw new Refused(409, 'booked_already', `This slip is booked already as ${found.number}.`)
  const lost = unknownPictures(app, content)
  if (lost.length)
    throw new Refused(422, 'unknown_picture', 'A picture of this slip is not there. Take it again.', [
      { field: 'pictures', code: 'unknown_picture', message: 'A picture of this slip is not there. Take it again.' },
    ])
  const { lines, ...rest } = content
  const placeId = content.place === null ? null : (app.places.id(content.place) ?? null)
  const common = {
    kind: content.kind,
    placeId,
    effectiveAt: content.effectiveAt === null ? null : Date.parse(content.effectiveAt),
    savedAt: now,
    taker: content.taker,
    title: titleOf(app, content),
    head: JSON.stringify(rest),
  }
  const record = found
    ? app.paper.updateSlip.get({ id: found.id, ...common })!
    : app.paper.insertSlip.get({ uid, by: caller.id, ...common })!
  const old = new Map((found ? app.paper.lines.all({ slip: record.id }) : []).map(l => [l.uid, l]))
  const lineIds = new Map<string, number>()
  for (const [position, line] of lines.entries()) {
    const text = JSON.stringify(line)
    const was = old.get(line.id)
    old.delete(line.id)
    if (was) {
      if (was.content !== text || was.position !== position)
        app.paper.updateLine.run({ id: was.id, content: text, position })
      lineIds.set(line.id, was.id)
    } else {
      lineIds.set(line.id, newLine(app, record.id, line.id, position, text))
    }
  }
  for (const gone of old.values()) app.paper.deleteLine.run({ id: gone.id })
  return { record, lineIds }
}

/** The database itself knows whether the id stands elsewhere: asking it first would cost a search for every line. */
function newLine(app: App, slipId: number, uid: string, position: number, content: string): number {
  try {
    return Number(app.paper.insertLine.run({ uid, slip: slipId, position, content }).lastInsertRowid)
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
  app: App,
  caller: Caller,
  uid: string,
  content: SlipContent,
  revision: number | undefined,
): { id: string; revision: number; savedAt: string } {
  const saved = app.store.client
    .transaction(() => {
      const found = app.ids.slip.get({ uid })
      if (found && (revision === undefined || revision !== found.revision)) throw stale()
      if (!found && revision !== undefined)
        throw new Refused(404, 'not_found', 'This draft is not there any more: it was booked or thrown away elsewhere.')
      const area = content.place === null ? undefined : app.places.id(content.place)
      const mine = reach(app, caller, 'book').within
      if (area !== undefined && mine && !mine.has(area))
        throw new Refused(403, 'not_allowed', `You may not book in ${app.places.name(area)}.`)
      const { record } = putDraft(app, caller, uid, content)
      app.events.add('draft', { slip: uid, ...(area === undefined ? {} : { places: [content.place] }) })
      return record
    })
    .immediate()
  app.events.flush()
  return { id: uid, revision: saved.revision, savedAt: iso(saved.savedAt) }
}

export function dropDraft(app: App, uid: string): void {
  app.store.client
    .transaction(() => {
      const found = app.ids.slip.get({ uid })
      if (!found) throw notFound('slip')
      if (found.state === 'booked')
        throw new Refused(
          409,
          'booked_already',
          `This slip is booked as ${found.number}: it is not thrown away but taken back.`,
        )
      releaseSheet(app, found.id)
      app.db.delete(slipLine).where(eq(slipLine.slipId, found.id)).run()
      app.db.delete(slip).where(eq(slip.id, found.id)).run()
      app.events.add('draft', { slip: uid })
    })
    .immediate()
  app.events.flush()
}

/** The content of a slip as it was last saved. */
export function contentOf(app: App, record: SlipRecord): SlipContent {
  const lines = app.paper.lines.all({ slip: record.id })
  return SlipContent.parse({
    ...(JSON.parse(record.head) as object),
    lines: lines.map(l => JSON.parse(l.content) as unknown),
  })
}
