import { and, eq, sql } from 'drizzle-orm'
import type { z } from 'zod'
import type { AskedInput, MailInput } from '@shelve/contract'
import { decimal, plainly } from '@shelve/core'
import { notFound, Refused } from '../ground/index.ts'
import { type Letter, queueMail } from '../notices/index.ts'
import { beginDraft, slipOf, whatFits } from '../papers/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'
import { letterOf } from './letter.ts'
import { itemsOf, REMEMBERED, restockView } from './restock.ts'
import { wantSlip } from './rows.ts'
import { restockLine, restockSlip, restockTakenOff } from './tables.ts'
import { refuseUnread, refuseUnseen, wantOpen } from './writing.ts'

/** From now on what stands on it is on its way. Lines of nothing are left out. The items are answered of which more is coming. */
export function markAsked(
  house: House,
  caller: Caller,
  uid: string,
  input: z.output<typeof AskedInput>,
  seen?: number,
  moveId: number | null = null,
): number[] {
  const row = wantOpen(house, uid, seen)
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
  house.db.delete(restockTakenOff).where(eq(restockTakenOff.slipId, row.id)).run()
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
      version: row.version + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
  return itemsOf(house, row.id)
}

/**
 * An open slip is thrown away, what stood on it is offered again; what was asked for and will not come is no longer
 * waited for. The items it was about are answered.
 */
export function dropRestock(house: House, uid: string, seen?: number): number[] {
  const row = wantSlip(house, uid)
  refuseUnseen(row, seen)
  const items = itemsOf(house, row.id)
  if (row.state === 'open') {
    house.db.delete(restockLine).where(eq(restockLine.slipId, row.id)).run()
    house.db.delete(restockTakenOff).where(eq(restockTakenOff.slipId, row.id)).run()
    house.db.delete(restockSlip).where(eq(restockSlip.id, row.id)).run()
  } else
    house.db
      .update(restockSlip)
      .set({ state: 'dropped', version: row.version + 1 })
      .where(eq(restockSlip.id, row.id))
      .run()
  return items
}

/** Whoever may only ask is done with a slip: it waits for whoever sends out what is asked for, and still can be written on. */
export function handOver(house: House, caller: Caller, uid: string, seen?: number): void {
  const row = wantOpen(house, uid, seen)
  refuseUnread(house, row.id)
  if (!house.db.select({ id: restockLine.id }).from(restockLine).where(eq(restockLine.slipId, row.id)).limit(1).get())
    throw new Refused(422, 'no_lines', 'There is nothing on this slip to ask for.')
  house.db
    .update(restockSlip)
    .set({
      handedAt: house.now(),
      handedBy: caller.id,
      backAt: null,
      backBy: null,
      backWhy: '',
      version: row.version + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
}

/** What was handed over is not sent out: it is the asker's again, and says why. */
export function giveBack(house: House, caller: Caller, uid: string, why: string, seen?: number): void {
  const row = wantOpen(house, uid, seen)
  if (row.handedAt === null)
    throw new Refused(409, 'not_handed', 'Nobody has handed this slip over: there is nobody to give it back to.')
  house.db
    .update(restockSlip)
    .set({
      handedAt: null,
      handedBy: null,
      backAt: house.now(),
      backBy: caller.id,
      backWhy: why,
      version: row.version + 1,
    })
    .where(eq(restockSlip.id, row.id))
    .run()
}

/** Of a line nothing more will come: it is no longer waited for, and may be asked for anew. What has come of it has. */
export function cancelLine(house: House, caller: Caller, uid: string, line: string, why: string): number[] {
  const row = wantSlip(house, uid)
  const of = house.db
    .select()
    .from(restockLine)
    .where(and(eq(restockLine.slipId, row.id), eq(restockLine.uid, line)))
    .get()
  if (!of) throw notFound('line')
  if (row.state !== 'asked')
    throw new Refused(
      409,
      'not_asked',
      'Only of what was asked for something will not come. Take the line off instead.',
    )
  if (of.cancelledAt !== null) return []
  house.db
    .update(restockLine)
    .set({ cancelledAt: house.now(), cancelledBy: caller.id, cancelledWhy: why.trim() })
    .where(eq(restockLine.id, of.id))
    .run()
  house.db
    .update(restockSlip)
    .set({ version: row.version + 1 })
    .where(eq(restockSlip.id, row.id))
    .run()
  return [of.itemId]
}

/** It has come: what is owed for a place (and what lies in it) as a delivery, begun as a draft; what came otherwise is put right there. */
export function arrivalOf(house: House, caller: Caller, uid: string, draft: string, place: string): void {
  const row = wantSlip(house, uid)
  const v = restockView(house, caller, uid)
  const within = house.places.within(house.places.id(place)!)
  const lines = v.lines.filter(l => l.owed !== '0' && within.has(house.places.id(l.place)!))
  if (row.source === 'shelves')
    throw new Refused(409, 'our_shelves', 'This comes from our own shelves: book the move instead.')
  if (v.state !== 'asked' || !lines.length)
    throw new Refused(
      409,
      'nothing_owed',
      `Nothing more is owed on ${v.number} for ${house.places.name(house.places.id(place)!)}.`,
    )
  const content = slipOf(
    {
      kind: 'receipt',
      place,
      head: { supplier: v.source.kind === 'supplier' ? v.name : '' },
      // What does not fit is still owed once this is booked.
      lines: whatFits(lines).map(l => ({
        id: house.uid(),
        item: l.item,
        // As it was asked for where all of it is owed, so that cases stay cases.
        ...(l.owed === l.quantity ? { typed: l.typed, unit: l.unit } : { typed: plainly(decimal(l.owed)), unit: null }),
        ...(l.place === place ? {} : { to: l.place }),
      })),
    },
    '',
  )
  beginDraft(house, caller, draft, content)
  house.events.add('draft', { slip: draft, places: [place] })
}

/** What lies on our own shelves becomes a move, as a draft to be looked at and booked; the slip is then asked for. */
export function moveOf(house: House, caller: Caller, uid: string, moveUid: string, seen?: number): number[] {
  const row = wantOpen(house, uid, seen)
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
  const content = slipOf(
    {
      kind: 'move',
      place,
      lines: lines.map(l => ({
        id: house.uid(),
        item: house.known.itemById(l.itemId)!.uid,
        typed: l.typed,
        unit: l.unit,
        to: house.places.row(l.placeId)!.uid,
      })),
    },
    'Take some of its lines off, and ask for them by another.',
  )
  const record = beginDraft(house, caller, moveUid, content)
  house.events.add('draft', { slip: moveUid, places: [place] })
  return markAsked(
    house,
    caller,
    uid,
    { where: 'our own shelves', at: null, number: '', expected: null },
    undefined,
    record.id,
  )
}

/** Mails a slip as it stands; where it was not asked for yet, it is from now on. Within one transaction: nothing is asked for that no letter goes out for. */
export function mailRestock(
  house: House,
  caller: Caller,
  uid: string,
  input: z.output<typeof MailInput>,
  attachments: Letter['attachments'],
  seen?: number,
): number[] {
  const row = wantSlip(house, uid)
  refuseUnseen(row, seen)
  if (row.state === 'dropped') throw new Refused(409, 'dropped', 'This is no longer waited for. Begin another slip.')
  const asked =
    row.state === 'open'
      ? markAsked(house, caller, uid, {
          where: `by mail, ${input.to}`,
          at: null,
          number: input.number,
          expected: input.expected,
        })
      : []
  const { subject, text } = letterOf(restockView(house, caller, uid), house.organisation!, house.today(), caller.name)
  queueMail(house, caller.id, { to: input.to, subject, text, attachments, restockId: row.id })
  return asked
}
