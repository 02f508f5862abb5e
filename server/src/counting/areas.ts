import { and, desc, eq, inArray, isNull, or, sql } from 'drizzle-orm'
import type { CountArea, PrintedSheet } from '@shelve/contract'
import { eachInPieces, iso } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { type Caller, mayAt, type Scope } from '../rights/index.ts'
import { closedAreas, closedView } from './closed.ts'
import { belongings, countCycles, type Cycle } from './cycles.ts'
import type { House } from './house.ts'
import { printed } from './paper-sheets.ts'
import { draftsNow, unbooked } from './sheets.ts'
import { sheet } from './tables.ts'

/**
 * The areas and groups to be counted, each with when that was, when it is due, and what is open there; and the sheets on
 * paper that wait. Others are let in meanwhile.
 */
export async function countAreas(
  house: House,
  caller: Caller,
  scope: Scope,
): Promise<{ rows: CountArea[]; sheets: PrintedSheet[] }> {
  await house.stock.ready()
  const counts = house.db
    .select({ s: slip, by: person.name, group: sql<string | null>`json_extract(${slip.head}, '$.head.group')` })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.createdBy))
    .where(and(eq(slip.kind, 'count'), eq(slip.state, 'draft')))
    .all()
  const drawn = counts.map(c => c.s.id)
  const onPaper = new Set(
    house.db
      .select({ id: sheet.slipId })
      .from(sheet)
      .where(inArray(sheet.slipId, drawn))
      .all()
      .map(r => r.id),
  )
  const drafts = draftsNow(house)
  const closed = closedAreas(house)
  const row = (c: Cycle): CountArea => {
    const uid = house.places.row(c.placeId)!.uid
    const draft = counts.find(d => d.s.placeId === c.placeId && d.group === (c.group?.uid ?? null))
    const last = c.last === null ? undefined : house.rows.slipById.get({ id: c.last.slipId })
    return {
      id: uid,
      name: house.places.name(c.placeId),
      group: c.group && { id: c.group.uid, name: c.group.name },
      last: c.last === null ? null : iso(c.last.countedAt),
      lastSlip: last ? { id: last.uid, number: last.number! } : null,
      left: c.last?.open ?? 0,
      closed: closedView(closed.get(c.placeId)),
      every: c.every,
      due: c.due,
      lines: belongings(house, c),
      waiting: unbooked(house, c.placeId, drafts).length,
      draft: draft
        ? { id: draft.s.uid, by: draft.by, mine: draft.s.createdBy === caller.id, paper: onPaper.has(draft.s.id) }
        : null,
      may: mayAt(house, caller, 'book', c.placeId),
    }
  }
  const rows: CountArea[] = []
  await eachInPieces(countCycles(house, scope), c => rows.push(row(c)))
  const areas = new Set(rows.map(r => house.places.id(r.id)))
  // However many were counted since: few wait of each area.
  const waiting = house.db
    .select({ s: sheet })
    .from(sheet)
    .leftJoin(slip, eq(slip.id, sheet.slipId))
    .where(and(isNull(sheet.voidAt), or(isNull(sheet.slipId), eq(slip.state, 'draft'))))
    .orderBy(desc(sheet.id))
    .all()
    .filter(r => areas.has(r.s.placeId))
  return { rows, sheets: waiting.map(r => printed(house, r.s)) }
}
