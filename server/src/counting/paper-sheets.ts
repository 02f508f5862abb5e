import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import { type CountArea, type PrintedSheet, type PrintedSheetView, SlipContent } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { item, lot } from '../catalogue/index.ts'
import { iso, notFound, Refused } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { contentOf, beginDraft } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { code128, press } from '../printing/index.ts'
import { type Caller, demandAt, isIn, mayAt, reach, type Scope } from '../rights/index.ts'
import { belongings, countCycles } from './cycles.ts'
import type { House } from './house.ts'
import { enteredBefore, refusal, type SheetRow, sheetWords } from './printed.ts'
import { type SheetFacts, type SheetLineFacts, sheetPages, sheetPaper } from './sheet-paper.ts'
import { draftsNow, linesOf, type Lying, unbooked } from './sheets.ts'
import { sheet, sheetLine } from './tables.ts'

export interface SheetsWanted {
  readonly areas: readonly string[]
  readonly blind: boolean
  readonly extra: number
}

const areaId = (house: House, caller: Caller, uid: string): number => {
  const id = house.places.id(uid)
  if (id === undefined || !isIn(reach(house, caller), id)) throw notFound('place')
  demandAt(house, caller, 'book', id)
  return id
}

const packsOf = (house: House, itemId: number): string[] =>
  house.rows.packs
    .all({ item: itemId })
    .filter(p => p.counting)
    .map(p => `${p.name} of ${p.sizeD === 1n ? p.sizeN : `${p.sizeN}/${p.sizeD}`}`)

const facts = (house: House, l: Lying): SheetLineFacts => ({
  bin: house.places.name(l.placeId),
  code: l.code,
  name: l.name,
  unit: l.unit,
  packs: packsOf(house, l.itemId),
  lot: l.lot?.code ?? null,
  expiry: l.lot?.expiry ?? null,
  expected: l.quantity,
})

const common = (house: House, at: number, by: string) => ({ organisation: house.organisation!.name, at, by })

/** How sheets of some areas would look now, as PDF; nothing is written down, so they carry no number and no code. */
export async function previewSheets(house: House, caller: Caller, wanted: SheetsWanted): Promise<Uint8Array> {
  const sheets = wanted.areas.map((uid): SheetFacts => {
    const id = areaId(house, caller, uid)
    return {
      number: null,
      area: house.places.name(id),
      blind: wanted.blind,
      extra: wanted.extra,
      lines: linesOf(house, id).map(l => facts(house, l)),
      ...common(house, house.now(), caller.name),
    }
  })
  return press(sheetPaper(sheets, house.organisation!, await code128()))
}

/** Writes down a sheet for each area, with what it says line by line. Sheets of the same area that nobody began to enter are void. */
export function printSheets(house: House, caller: Caller, wanted: SheetsWanted): PrintedSheet[] {
  const areas = [...new Set(wanted.areas)].map(uid => areaId(house, caller, uid))
  const ids = house.change('sheet', () =>
    areas.map(placeId => {
      const lines = linesOf(house, placeId)
      const pages = sheetPages(
        lines.map(l => ({ ...l, bin: house.places.name(l.placeId) })),
        wanted.extra,
      )
      if (pages.length > 99)
        throw new Refused(
          422,
          'too_many_pages',
          `${house.places.name(placeId)} would take ${pages.length} pages; a sheet has at most 99. Print its bins or parts one by one.`,
        )
      const id = house.db
        .insert(sheet)
        .values({
          uid: house.uid(),
          placeId,
          blind: wanted.blind,
          extra: wanted.extra,
          pages: pages.length,
          printedAt: house.now(),
          printedBy: caller.id,
        })
        .returning({ id: sheet.id })
        .get().id
      house.db
        .update(sheet)
        .set({ voidAt: house.now(), newerId: id })
        .where(and(eq(sheet.placeId, placeId), isNull(sheet.slipId), isNull(sheet.voidAt), sql`${sheet.id} <> ${id}`))
        .run()
      let position = 0
      pages.forEach((rows, i) => {
        for (const r of rows)
          if (r.kind === 'line')
            house.db
              .insert(sheetLine)
              .values({
                uid: house.uid(),
                sheetId: id,
                position: position++,
                page: i + 1,
                itemId: r.line.itemId,
                lotId: r.line.lot?.id ?? null,
                placeId: r.line.placeId,
                expected: r.line.quantity,
              })
              .run()
      })
      return id
    }),
  )
  return ids.map(id => printed(house, house.db.select().from(sheet).where(eq(sheet.id, id)).get()!))
}

function printed(house: House, r: SheetRow): PrintedSheet {
  const entry =
    r.slipId === null
      ? undefined
      : house.db
          .select({ uid: slip.uid, number: slip.number, by: person.name })
          .from(slip)
          .innerJoin(person, eq(person.id, slip.createdBy))
          .where(eq(slip.id, r.slipId))
          .get()
  return {
    id: r.uid,
    number: r.id,
    place: house.places.row(r.placeId)!.uid,
    placeName: house.places.name(r.placeId),
    blind: r.blind,
    pages: r.pages,
    printedAt: iso(r.printedAt),
    printedBy: house.rows.personName.get({ id: r.printedBy })!.name,
    entry: entry ? { slip: entry.uid, number: entry.number, by: entry.by } : null,
    void: r.voidAt !== null,
    newer: r.newerId,
  }
}

function wanted(house: House, caller: Caller, uid: string): SheetRow {
  const r = house.db.select().from(sheet).where(eq(sheet.uid, uid)).get()
  if (!r || !isIn(reach(house, caller), r.placeId)) throw notFound('sheet')
  return r
}

const rowsOf = (house: House, sheetId: number) =>
  house.db
    .select({
      s: sheetLine,
      item: item.uid,
      code: item.code,
      name: item.name,
      unit: item.unit,
      lotUid: lot.uid,
      lotCode: lot.code,
      expiry: lot.expiry,
    })
    .from(sheetLine)
    .innerJoin(item, eq(item.id, sheetLine.itemId))
    .leftJoin(lot, eq(lot.id, sheetLine.lotId))
    .where(eq(sheetLine.sheetId, sheetId))
    .orderBy(sheetLine.position)
    .all()

/** A printed sheet, for entering what was written on it. */
export function printedSheet(house: House, caller: Caller, uid: string): PrintedSheetView {
  const r = wanted(house, caller, uid)
  return {
    ...printed(house, r),
    lines: rowsOf(house, r.id).map(l => ({
      id: l.s.uid,
      page: l.s.page,
      position: l.s.position,
      item: l.item,
      lot: l.lotUid === null ? null : { id: l.lotUid, code: l.lotCode, expiry: l.expiry },
      place: house.places.row(l.s.placeId)!.uid,
      placeName: house.places.name(l.s.placeId),
      expected: r.blind ? null : formatDecimal(l.s.expected),
    })),
  }
}

/** Printed sheets as PDF, as they were when they were printed. */
export async function sheetsAsPdf(house: House, caller: Caller, uids: readonly string[]): Promise<Uint8Array> {
  const sheets = uids.map((uid): SheetFacts => {
    const r = wanted(house, caller, uid)
    return {
      number: r.id,
      area: house.places.name(r.placeId),
      blind: r.blind,
      extra: r.extra,
      ...common(house, r.printedAt, house.rows.personName.get({ id: r.printedBy })!.name),
      lines: rowsOf(house, r.id).map(l => ({
        bin: house.places.name(l.s.placeId),
        code: l.code,
        name: l.name,
        unit: l.unit,
        packs: packsOf(house, l.s.itemId),
        lot: l.lotCode,
        expiry: l.expiry,
        expected: l.s.expected,
      })),
    }
  })
  if (!sheets.length) throw notFound('sheet')
  return press(sheetPaper(sheets, house.organisation!, await code128()))
}

export function voidSheet(house: House, caller: Caller, uid: string): void {
  const r = wanted(house, caller, uid)
  demandAt(house, caller, 'book', r.placeId)
  if (r.slipId !== null)
    throw new Refused(409, 'sheet_entered', `Sheet ${r.id} is being entered or was: it is not thrown away.`)
  house.change('sheet', () => house.db.update(sheet).set({ voidAt: house.now() }).where(eq(sheet.id, r.id)).run())
}

/**
 * Begins to enter a sheet: a draft of a count with its lines, in the order of the paper. Whoever comes second goes on
 * with the same draft; a sheet that was booked, or that a newer one took the place of, is refused. Where the count was
 * taken back as a whole it begins with what had been typed.
 */
export function enterSheet(house: House, caller: Caller, uid: string, slipUid: string): string {
  const r = wanted(house, caller, uid)
  demandAt(house, caller, 'book', r.placeId)
  const was = r.slipId === null ? undefined : house.db.select().from(slip).where(eq(slip.id, r.slipId)).get()
  if (was?.state === 'draft') return was.uid
  const no = refusal(house, r, undefined)
  if (no) throw new Refused(409, no.code, sheetWords(no))
  house.store.client
    .transaction(() => {
      // Lines that were booked keep their names; the paper's lines get new ones, with what had been typed on them.
      const earlier = enteredBefore(house, r.id)
      const before = earlier && contentOf(house, earlier)
      const renewed = new Map(before ? rowsOf(house, r.id).map(l => [l.s.uid, house.uid()]) : [])
      for (const [old, next] of renewed)
        house.db.update(sheetLine).set({ uid: next }).where(eq(sheetLine.uid, old)).run()
      const content = SlipContent.parse({
        kind: 'count',
        place: house.places.row(r.placeId)!.uid,
        head: { blind: r.blind, sheet: r.uid },
        lines: before
          ? before.lines.map(l => ({ ...l, id: renewed.get(l.id) ?? house.uid(), again: '' }))
          : rowsOf(house, r.id).map(l => ({
              id: l.s.uid,
              item: l.item,
              lot: l.lotUid === null ? null : { id: l.lotUid, code: l.lotCode ?? '', expiry: l.expiry },
              from: house.places.row(l.s.placeId)!.uid,
            })),
      })
      const record = beginDraft(house, caller, slipUid, content)
      house.db.update(sheet).set({ slipId: record.id }).where(eq(sheet.id, r.id)).run()
      house.events.add('draft', { slip: slipUid, places: [content.place] })
    })
    .immediate()
  house.events.flush()
  return slipUid
}

/** The areas to be counted, each with when that was, when it is due, and what is open there; and the sheets on paper that wait. */
export function countAreas(house: House, caller: Caller, scope: Scope): { rows: CountArea[]; sheets: PrintedSheet[] } {
  const counts = house.db
    .select({ s: slip, by: person.name })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.createdBy))
    .where(and(eq(slip.kind, 'count'), eq(slip.state, 'draft')))
    .all()
  const onPaper = new Set(
    house.db
      .select({ id: sheet.slipId })
      .from(sheet)
      .where(
        inArray(
          sheet.slipId,
          counts.map(c => c.s.id),
        ),
      )
      .all()
      .map(r => r.id),
  )
  const drafts = draftsNow(house)
  const rows = countCycles(house, scope).map((c): CountArea => {
    const uid = house.places.row(c.placeId)!.uid
    const draft = counts.find(d => d.s.placeId === c.placeId)
    const last =
      c.last === null
        ? undefined
        : house.db
            .select({ id: slip.uid, number: slip.number })
            .from(slip)
            .where(
              and(
                eq(slip.kind, 'count'),
                eq(slip.state, 'booked'),
                eq(slip.placeId, c.placeId),
                eq(slip.effectiveAt, c.last),
              ),
            )
            .get()
    return {
      id: uid,
      name: house.places.name(c.placeId),
      last: c.last === null ? null : iso(c.last),
      lastSlip: last ? { id: last.id, number: last.number! } : null,
      every: c.every,
      due: c.due,
      lines: belongings(house, c.placeId),
      waiting: unbooked(house, c.placeId, drafts).length,
      draft: draft
        ? { id: draft.s.uid, by: draft.by, mine: draft.s.createdBy === caller.id, paper: onPaper.has(draft.s.id) }
        : null,
      may: mayAt(house, caller, 'book', c.placeId),
    }
  })
  const areas = new Set(rows.map(r => house.places.id(r.id)))
  const waiting = house.db
    .select()
    .from(sheet)
    .where(isNull(sheet.voidAt))
    .orderBy(sql`${sheet.id} desc`)
    .limit(500)
    .all()
    .filter(r => areas.has(r.placeId))
    .map(r => printed(house, r))
    .filter(s => s.entry?.number == null)
  return { rows, sheets: waiting }
}
