import { and, desc, eq, gt, isNull, lte } from 'drizzle-orm'
import { isCounted, type SlipContent } from '@shelve/contract'
import type { Refusal } from '@shelve/core'
import { slip, slipLine } from '../ledger/index.ts'
import { scopeRefusals } from './coverage.ts'
import type { House } from './house.ts'
import { sheet, sheetLine } from './tables.ts'

export type SheetRow = typeof sheet.$inferSelect

export interface No {
  readonly code: 'sheet_entered' | 'sheet_older'
  readonly detail: { sheet: number; by?: string; newer?: number | null; newerAt?: string }
}

export const numberOf = (house: House, id: number): number =>
  house.db.select({ n: sheet.number }).from(sheet).where(eq(sheet.id, id)).get()!.n

/** Why a sheet cannot be entered on a slip (undefined: on a new one). */
export function refusal(house: House, r: SheetRow, slipId: number | undefined): No | undefined {
  if (r.slipId !== null && r.slipId !== slipId)
    return {
      code: 'sheet_entered',
      detail: {
        sheet: r.number,
        by: house.db.select({ n: slip.number }).from(slip).where(eq(slip.id, r.slipId)).get()?.n ?? 'another draft',
      },
    }
  if (r.voidAt !== null)
    return {
      code: 'sheet_older',
      detail: { sheet: r.number, newer: r.newerId === null ? null : numberOf(house, r.newerId) },
    }
  return undefined
}

export const sheetWords = (no: No): string =>
  no.code === 'sheet_entered'
    ? `Sheet ${no.detail.sheet} was entered already, on ${no.detail.by}. If something on it was wrong, correct that slip, or take it back as a whole and enter the sheet again.`
    : `Sheet ${no.detail.sheet} is not valid any more${no.detail.newer ? `: sheet ${no.detail.newer} was printed after it` : ': it was thrown away'}. What was counted on it can be entered as a count without a sheet.`

/** What is wrong with a count that says it was written on a sheet: entered elsewhere, an older sheet, a time before it was printed. */
export function sheetRefusals(
  house: House,
  content: SlipContent,
  slipId: number,
  lineId: (uid: string) => string,
): Refusal[] {
  if (content.kind !== 'count') return []
  const strange = scopeRefusals(house, content).map(({ code, field }): Refusal => ({
    code,
    lineId: null,
    field,
    detail: {},
  }))
  if (strange.length || content.head.sheet === null) return strange
  const r = house.db.select().from(sheet).where(eq(sheet.uid, content.head.sheet)).get()
  const head = (code: string, detail: Record<string, unknown> = {}): Refusal => ({
    code,
    lineId: null,
    field: 'sheet',
    detail,
  })
  if (!r) return [head('unknown_sheet')]
  const no = refusal(house, r, slipId)
  if (no) return [head(no.code, { text: sheetWords(no) })]
  // Written times have no seconds: the minute in which it was printed counts as after.
  const since = Math.floor(r.printedAt / 60_000) * 60_000
  return content.lines
    .filter(l => isCounted(l) && l.countedAt !== null && Date.parse(l.countedAt) < since)
    .map((l): Refusal => ({
      code: 'before_printing',
      lineId: lineId(l.id),
      field: 'countedAt',
      detail: { sheet: r.number, at: r.printedAt },
    }))
}

/** A draft that a sheet was being entered on is thrown away: the sheet can be entered again. */
export const releaseSheet = (house: House, slipId: number): void => {
  house.db.update(sheet).set({ slipId: null }).where(eq(sheet.slipId, slipId)).run()
}

/** Whether nothing of a booked count stands any more. */
export function wholeTakenBack(house: House, slipId: number): boolean {
  const { n, standing } = house.rows.standing.get({ slip: slipId })!
  return n > 0 && standing === 0
}

/** A count was corrected: where nothing of it stands any more, the sheet it was entered from can be entered again, unless a newer one was printed since. */
export function freeSheet(house: House, countId: number): void {
  const own = house.db.select().from(sheet).where(eq(sheet.slipId, countId)).get()
  if (!own || !wholeTakenBack(house, countId)) return
  const newer = house.db
    .select({ id: sheet.id })
    .from(sheet)
    .where(and(sameAs(own), gt(sheet.id, own.id)))
    .orderBy(desc(sheet.id))
    .limit(1)
    .get()
  house.db
    .update(sheet)
    .set({ slipId: null, ...(newer ? { voidAt: house.now(), newerId: newer.id } : {}) })
    .where(eq(sheet.id, own.id))
    .run()
}

/** The booked count that a sheet was entered on before, if it was taken back since: by its lines, which bear the names of the paper's. */
export const enteredBefore = (house: House, sheetId: number): typeof slip.$inferSelect | undefined =>
  house.db
    .select({ s: slip })
    .from(sheetLine)
    .innerJoin(slipLine, eq(slipLine.uid, sheetLine.uid))
    .innerJoin(slip, eq(slip.id, slipLine.slipId))
    .where(eq(sheetLine.sheetId, sheetId))
    .limit(1)
    .get()?.s

/** Sheets of the same area, or of the same group. */
export const sameAs = ({ placeId, groupId }: Pick<SheetRow, 'placeId' | 'groupId'>) =>
  and(eq(sheet.placeId, placeId), groupId === null ? isNull(sheet.groupId) : eq(sheet.groupId, groupId))

/** The sheet that a page's own code belongs to: of those printed together under its number, the one whose page it is. */
export function sheetByNumber(house: House, number: number, page: number): { id: string; page: number } | undefined {
  const r = house.db
    .select()
    .from(sheet)
    .where(and(eq(sheet.number, number), lte(sheet.firstPage, page)))
    .orderBy(desc(sheet.firstPage))
    .limit(1)
    .get()
  return r && page < r.firstPage + r.pages ? { id: r.uid, page } : undefined
}
