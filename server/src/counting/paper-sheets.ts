import { and, eq, inArray, isNull, sql } from 'drizzle-orm'
import { formatDecimal } from '@shelve/core'
import { SlipContent, type CountArea, type PrintedSheet, type PrintedSheetView } from '@shelve/contract'
import { item, lot, person, sheet, sheetLine, slip } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { notFound } from '../catalogue/service.ts'
import { contentOf, putDraft } from '../ledger/drafts.ts'
import { press } from '../papers/press.ts'
import { code128 } from '../papers/symbols.ts'
import { demandAt, mayAt, reach, type Caller } from '../people/rights.ts'
import { isIn, type Scope } from '../places/tree.ts'
import { belongings, countCycles } from '../reports/today.ts'
import { enteredBefore, refusal, sheetWords, type SheetRow } from './printed.ts'
import { sheetPages, sheetPaper, type SheetFacts, type SheetLineFacts } from './sheet-paper.ts'
import { draftsNow, linesOf, unbooked, type Lying } from './sheets.ts'

export interface SheetsWanted {
  readonly areas: readonly string[]
  readonly blind: boolean
  readonly extra: number
}

const areaId = (app: App, caller: Caller, uid: string): number => {
  const id = app.places.id(uid)
  if (id === undefined || !isIn(reach(app, caller), id)) throw notFound('place')
  demandAt(app, caller, 'book', id)
  return id
}
const packsOf = (app: App, itemId: number): string[] =>
  app.ids.packs
    .all({ item: itemId })
    .filter(p => p.counting)
    .map(p => `${p.name} of ${p.sizeD === 1n ? p.sizeN : `${p.sizeN}/${p.sizeD}`}`)
const facts = (app: App, l: Lying): SheetLineFacts => ({
  bin: app.places.name(l.placeId),
  code: l.code,
  name: l.name,
  unit: l.unit,
  packs: packsOf(app, l.itemId),
  lot: l.lot?.code ?? null,
  expiry: l.lot?.expiry ?? null,
  expected: l.quantity,
})
const common = (app: App, at: number, by: string) => ({ organisation: app.organisation!.name, at, by })

/** How sheets of some areas would look now, as PDF; nothing is written down, so they carry no number and no code. */
export async function previewSheets(app: App, caller: Caller, wanted: SheetsWanted): Promise<Uint8Array> {
  const sheets = wanted.areas.map((uid): SheetFacts => {
    const id = areaId(app, caller, uid)
    return {
      number: null,
      area: app.places.name(id),
      blind: wanted.blind,
      extra: wanted.extra,
      lines: linesOf(app, id).map(l => facts(app, l)),
      ...common(app, app.now(), caller.name),
    }
  })
  return press(sheetPaper(sheets, app.organisation!, await code128()))
}

/** Writes down a sheet for each area, with what it says line by line. Sheets of the same area that nobody began to enter are void. */
export function printSheets(app: App, caller: Caller, wanted: SheetsWanted): PrintedSheet[] {
  const areas = [...new Set(wanted.areas)].map(uid => areaId(app, caller, uid))
  const ids = app.change('sheet', () =>
    areas.map(placeId => {
      const lines = linesOf(app, placeId)
      const pages = sheetPages(
        lines.map(l => ({ ...l, bin: app.places.name(l.placeId) })),
        wanted.extra,
      )
      if (pages.length > 99)
        throw new Refused(
          422,
          'too_many_pages',
          `${app.places.name(placeId)} would take ${pages.length} pages; a sheet has at most 99. Print its bins or parts one by one.`,
        )
      const id = app.db
        .insert(sheet)
        .values({
          uid: app.uid(),
          placeId,
          blind: wanted.blind,
          extra: wanted.extra,
          pages: pages.length,
          printedAt: app.now(),
          printedBy: caller.id,
        })
        .returning({ id: sheet.id })
        .get().id
      app.db
        .update(sheet)
        .set({ voidAt: app.now(), newerId: id })
        .where(and(eq(sheet.placeId, placeId), isNull(sheet.slipId), isNull(sheet.voidAt), sql`${sheet.id} <> ${id}`))
        .run()
      let position = 0
      pages.forEach((rows, i) => {
        for (const r of rows)
          if (r.kind === 'line')
            app.db
              .insert(sheetLine)
              .values({
                uid: app.uid(),
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
  return ids.map(id => printed(app, app.db.select().from(sheet).where(eq(sheet.id, id)).get()!))
}

function printed(app: App, r: SheetRow): PrintedSheet {
  const entry =
    r.slipId === null
      ? undefined
      : app.db
          .select({ uid: slip.uid, number: slip.number, by: person.name })
          .from(slip)
          .innerJoin(person, eq(person.id, slip.createdBy))
          .where(eq(slip.id, r.slipId))
          .get()
  return {
    id: r.uid,
    number: r.id,
    place: app.places.row(r.placeId)!.uid,
    placeName: app.places.name(r.placeId),
    blind: r.blind,
    pages: r.pages,
    printedAt: iso(r.printedAt),
    printedBy: app.paper.personName.get({ id: r.printedBy })!.name,
    entry: entry ? { slip: entry.uid, number: entry.number, by: entry.by } : null,
    void: r.voidAt !== null,
    newer: r.newerId,
  }
}
function wanted(app: App, caller: Caller, uid: string): SheetRow {
  const r = app.db.select().from(sheet).where(eq(sheet.uid, uid)).get()
  if (!r || !isIn(reach(app, caller), r.placeId)) throw notFound('sheet')
  return r
}
const rowsOf = (app: App, sheetId: number) =>
  app.db
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
export function printedSheet(app: App, caller: Caller, uid: string): PrintedSheetView {
  const r = wanted(app, caller, uid)
  return {
    ...printed(app, r),
    lines: rowsOf(app, r.id).map(l => ({
      id: l.s.uid,
      page: l.s.page,
      position: l.s.position,
      item: l.item,
      lot: l.lotUid === null ? null : { id: l.lotUid, code: l.lotCode, expiry: l.expiry },
      place: app.places.row(l.s.placeId)!.uid,
      placeName: app.places.name(l.s.placeId),
      expected: r.blind ? null : formatDecimal(l.s.expected),
    })),
  }
}
/** Printed sheets as PDF, as they were when they were printed. */
export async function sheetsAsPdf(app: App, caller: Caller, uids: readonly string[]): Promise<Uint8Array> {
  const sheets = uids.map((uid): SheetFacts => {
    const r = wanted(app, caller, uid)
    return {
      number: r.id,
      area: app.places.name(r.placeId),
      blind: r.blind,
      extra: r.extra,
      ...common(app, r.printedAt, app.paper.personName.get({ id: r.printedBy })!.name),
      lines: rowsOf(app, r.id).map(l => ({
        bin: app.places.name(l.s.placeId),
        code: l.code,
        name: l.name,
        unit: l.unit,
        packs: packsOf(app, l.s.itemId),
        lot: l.lotCode,
        expiry: l.expiry,
        expected: l.s.expected,
      })),
    }
  })
  if (!sheets.length) throw notFound('sheet')
  return press(sheetPaper(sheets, app.organisation!, await code128()))
}

export function voidSheet(app: App, caller: Caller, uid: string): void {
  const r = wanted(app, caller, uid)
  demandAt(app, caller, 'book', r.placeId)
  if (r.slipId !== null)
    throw new Refused(409, 'sheet_entered', `Sheet ${r.id} is being entered or was: it is not thrown away.`)
  app.change('sheet', () => app.db.update(sheet).set({ voidAt: app.now() }).where(eq(sheet.id, r.id)).run())
}

/**
 * Begins to enter a sheet: a draft of a count with its lines, in the order of the paper. Whoever comes second goes on
 * with the same draft; a sheet that was booked, or that a newer one took the place of, is refused. Where the count was
 * taken back as a whole it begins with what had been typed.
 */
export function enterSheet(app: App, caller: Caller, uid: string, slipUid: string): string {
  const r = wanted(app, caller, uid)
  demandAt(app, caller, 'book', r.placeId)
  const was = r.slipId === null ? undefined : app.db.select().from(slip).where(eq(slip.id, r.slipId)).get()
  if (was?.state === 'draft') return was.uid
  const no = refusal(app, r, undefined)
  if (no) throw new Refused(409, no.code, sheetWords(no))
  app.store.client
    .transaction(() => {
      // Lines that were booked keep their names; the paper's lines get new ones, with what had been typed on them.
      const earlier = enteredBefore(app, r.id)
      const before = earlier && contentOf(app, earlier)
      const renewed = new Map(before ? rowsOf(app, r.id).map(l => [l.s.uid, app.uid()]) : [])
      for (const [old, next] of renewed) app.db.update(sheetLine).set({ uid: next }).where(eq(sheetLine.uid, old)).run()
      const content = SlipContent.parse({
        kind: 'count',
        place: app.places.row(r.placeId)!.uid,
        head: { blind: r.blind, sheet: r.uid },
        lines: before
          ? before.lines.map(l => ({ ...l, id: renewed.get(l.id) ?? app.uid(), again: '' }))
          : rowsOf(app, r.id).map(l => ({
              id: l.s.uid,
              item: l.item,
              lot: l.lotUid === null ? null : { id: l.lotUid, code: l.lotCode ?? '', expiry: l.expiry },
              from: app.places.row(l.s.placeId)!.uid,
            })),
      })
      const { record } = putDraft(app, caller, slipUid, content)
      app.db.update(sheet).set({ slipId: record.id }).where(eq(sheet.id, r.id)).run()
      app.events.add('draft', { slip: slipUid, places: [content.place] })
    })
    .immediate()
  app.events.flush()
  return slipUid
}

/** The areas to be counted, each with when that was, when it is due, and what is open there; and the sheets on paper that wait. */
export function countAreas(app: App, caller: Caller, scope: Scope): { rows: CountArea[]; sheets: PrintedSheet[] } {
  const counts = app.db
    .select({ s: slip, by: person.name })
    .from(slip)
    .innerJoin(person, eq(person.id, slip.createdBy))
    .where(and(eq(slip.kind, 'count'), eq(slip.state, 'draft')))
    .all()
  const onPaper = new Set(
    app.db
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
  const drafts = draftsNow(app)
  const rows = countCycles(app, scope).map((c): CountArea => {
    const uid = app.places.row(c.placeId)!.uid
    const draft = counts.find(d => d.s.placeId === c.placeId)
    const last =
      c.last === null
        ? undefined
        : app.db
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
      name: app.places.name(c.placeId),
      last: c.last === null ? null : iso(c.last),
      lastSlip: last ? { id: last.id, number: last.number! } : null,
      every: c.every,
      due: c.due,
      lines: belongings(app, c.placeId),
      waiting: unbooked(app, c.placeId, drafts).length,
      draft: draft
        ? { id: draft.s.uid, by: draft.by, mine: draft.s.createdBy === caller.id, paper: onPaper.has(draft.s.id) }
        : null,
      may: mayAt(app, caller, 'book', c.placeId),
    }
  })
  const areas = new Set(rows.map(r => app.places.id(r.id)))
  const waiting = app.db
    .select()
    .from(sheet)
    .where(isNull(sheet.voidAt))
    .orderBy(sql`${sheet.id} desc`)
    .limit(500)
    .all()
    .filter(r => areas.has(r.placeId))
    .map(r => printed(app, r))
    .filter(s => s.entry?.number == null)
  return { rows, sheets: waiting }
}
