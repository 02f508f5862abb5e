import { and, eq, isNull, sql } from 'drizzle-orm'
import { MOST_LINES, type PrintedSheet, type PrintedSheetView, SlipContent } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { item, lot } from '../catalogue/index.ts'
import { eachInPieces, iso, notFound, Refused } from '../ground/index.ts'
import { slip } from '../ledger/index.ts'
import { contentOf, beginDraft } from '../papers/index.ts'
import { person } from '../people/index.ts'
import { code128, press } from '../printing/index.ts'
import { type Caller, demandAt, isIn, reach } from '../rights/index.ts'
import type { Counted } from './cycles.ts'
import { groupOf, groupById } from './groups.ts'
import type { House } from './house.ts'
import { enteredBefore, numberOf, refusal, sameAs, type SheetRow, sheetWords } from './printed.ts'
import { type SheetFacts, type SheetLineFacts, sheetPages, sheetPaper } from './sheet-paper.ts'
import { linesUpTo, type Lying } from './sheets.ts'
import { sheet, sheetLine } from './tables.ts'

export interface SheetsWanted {
  readonly areas: readonly string[]
  readonly groups: readonly string[]
  readonly blind: boolean
  readonly extra: number
}

const areaId = (house: House, caller: Caller, uid: string): number => {
  const id = house.places.id(uid)
  if (id === undefined || !isIn(reach(house, caller), id)) throw notFound('place')
  demandAt(house, caller, 'book', id)
  return id
}

/** What sheets are wanted of: areas, then groups, each once. */
const wantedOf = (house: House, caller: Caller, wanted: SheetsWanted): Counted[] => [
  ...[...new Set(wanted.areas)].map((uid): Counted => ({ placeId: areaId(house, caller, uid), group: null })),
  ...[...new Set(wanted.groups)].map((uid): Counted => {
    const group = groupOf(house, uid)
    if (!group || !isIn(reach(house, caller), group.placeId)) throw notFound('group')
    demandAt(house, caller, 'book', group.placeId)
    return { placeId: group.placeId, group }
  }),
]
/** What a sheet is headed with. */
const headOf = (house: House, { placeId, group }: Counted): string =>
  group ? `${group.name}, ${house.places.name(placeId)}` : house.places.name(placeId)

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

/** A page is named by two digits. */
const MOST_PAGES = 99
const refused = (code: string, why: string) => new Refused(422, code, why)

/** Sheets that are printed together, one after the other: what stands on each, and on which pages. What would be too long is refused. */
function* sheetsOf(house: House, all: readonly Counted[], extra: number) {
  let firstPage = 1
  for (const of of all) {
    // What is entered from a sheet is one slip.
    const lines = linesUpTo(house, of, MOST_LINES)
    if (!lines)
      throw refused(
        'too_many_lines',
        `${headOf(house, of)} has more than ${MOST_LINES} lines; a count has at most ${MOST_LINES}. Print it in parts, as groups of items.`,
      )
    const pages = sheetPages(
      lines.map(l => ({ ...l, bin: house.places.name(l.placeId) })),
      extra,
    )
    const last = firstPage + pages.length - 1
    if (last > MOST_PAGES)
      throw refused(
        'too_many_pages',
        all.length > 1
          ? `Up to ${headOf(house, of)} that would be ${last} pages; what is printed together has at most ${MOST_PAGES}. Print fewer at once.`
          : `${headOf(house, of)} would take ${last} pages; a sheet has at most ${MOST_PAGES}. Print it in parts, as groups of items.`,
      )
    yield { of, lines, pages, firstPage }
    firstPage = last + 1
  }
}

const common = (house: House, at: number, by: string) => ({ organisation: house.organisation!.name, at, by })

/** How sheets of some areas would look now, as PDF; nothing is written down, so they carry no number and no code. */
export async function previewSheets(house: House, caller: Caller, wanted: SheetsWanted): Promise<Uint8Array> {
  const sheets: SheetFacts[] = []
  await eachInPieces(sheetsOf(house, wantedOf(house, caller, wanted), wanted.extra), ({ of, lines }) =>
    sheets.push({
      number: null,
      firstPage: 1,
      ofPages: null,
      area: headOf(house, of),
      blind: wanted.blind,
      extra: wanted.extra,
      lines: lines.map(l => facts(house, l)),
      ...common(house, house.now(), caller.name),
    }),
  )
  return press(sheetPaper(sheets, house.organisation!, await code128()))
}

/**
 * Writes down a sheet for each area and each group, with what it says line by line: one number for all that is printed
 * together, and their pages run through. Sheets of the same that nobody began to enter are void.
 */
export function printSheets(house: House, caller: Caller, wanted: SheetsWanted): PrintedSheet[] {
  const all = wantedOf(house, caller, wanted)
  const ids = house.change('sheet', () => {
    const number = house.db
      .select({ n: sql<number>`coalesce(max(${sheet.number}), 0) + 1`.mapWith(Number) })
      .from(sheet)
      .get()!.n
    return [...sheetsOf(house, all, wanted.extra)].map(({ of, pages, firstPage }) => {
      const { placeId, group } = of
      const groupId = group?.id ?? null
      const id = house.db
        .insert(sheet)
        .values({
          uid: house.uid(),
          placeId,
          groupId,
          number,
          firstPage,
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
        .where(and(sameAs({ placeId, groupId }), isNull(sheet.slipId), isNull(sheet.voidAt), sql`${sheet.id} <> ${id}`))
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
                page: firstPage + i,
                itemId: r.line.itemId,
                lotId: r.line.lot?.id ?? null,
                placeId: r.line.placeId,
                expected: r.line.quantity,
              })
              .run()
      })
      return id
    })
  })
  return ids.map(id => printed(house, house.db.select().from(sheet).where(eq(sheet.id, id)).get()!))
}

const countedOf = (house: House, r: SheetRow): Counted => ({
  placeId: r.placeId,
  group: r.groupId === null ? null : groupById(house, r.groupId),
})
const groupView = (house: House, r: SheetRow) => {
  const { group } = countedOf(house, r)
  return group && { id: group.uid, name: group.name }
}
/** How many pages there are under a number. */
const pagesOf = (house: House, number: number): number =>
  house.db
    .select({ n: sql<number>`sum(${sheet.pages})`.mapWith(Number) })
    .from(sheet)
    .where(eq(sheet.number, number))
    .get()!.n

export function printed(house: House, r: SheetRow): PrintedSheet {
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
    number: r.number,
    firstPage: r.firstPage,
    place: house.places.row(r.placeId)!.uid,
    placeName: house.places.name(r.placeId),
    group: groupView(house, r),
    blind: r.blind,
    pages: r.pages,
    printedAt: iso(r.printedAt),
    printedBy: house.rows.personName.get({ id: r.printedBy })!.name,
    entry: entry ? { slip: entry.uid, number: entry.number, by: entry.by } : null,
    void: r.voidAt !== null,
    newer: r.newerId === null ? null : numberOf(house, r.newerId),
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
      number: r.number,
      firstPage: r.firstPage,
      ofPages: pagesOf(house, r.number),
      area: headOf(house, countedOf(house, r)),
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
    throw new Refused(409, 'sheet_entered', `Sheet ${r.number} is being entered or was: it is not thrown away.`)
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
        head: { blind: r.blind, sheet: r.uid, group: groupView(house, r)?.id ?? null },
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
