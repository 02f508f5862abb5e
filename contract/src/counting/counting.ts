import { z } from 'zod'
import { Day, Decimal, Instant, Uuid, Value } from '../common.ts'
import { idOf } from '../things.ts'

export const DifferenceView = z
  .object({
    id: Uuid,
    item: z.object({ id: Uuid, code: z.string(), name: z.string(), unit: z.string() }),
    lot: z.string().nullable(),
    place: z.object({ id: Uuid, name: z.string() }),
    countedAt: Instant,
    counted: Decimal,
    expected: Decimal,
    open: Decimal,
    value: Value.optional(),
    slip: z.object({ id: Uuid, number: z.string() }),
    elsewhere: z.array(z.object({ difference: Uuid, place: z.string(), open: Decimal })),
  })
  .meta({ id: 'Difference' })
export type DifferenceView = z.infer<typeof DifferenceView>
/** A line of a sheet: what should be in an area, in walking order, with what belongs there and is at zero. */
export const SheetLine = z.object({
  item: Uuid,
  lot: z.object({ id: Uuid, code: z.string().nullable(), expiry: Day.nullable() }).nullable(),
  place: Uuid,
  placeName: z.string(),
  expected: Decimal.nullable(),
})
/** An area to be counted: when it was and when it is due by its cycle, what a sheet of it would hold, and the sheets printed for it. */
export const PrintedSheet = z.object({
  id: Uuid,
  number: z.number().int(),
  place: Uuid,
  placeName: z.string(),
  blind: z.boolean(),
  pages: z.number().int(),
  printedAt: Instant,
  printedBy: z.string(),
  entry: z.object({ slip: Uuid, number: z.string().nullable(), by: z.string() }).nullable(),
  void: z.boolean(),
  newer: z.number().int().nullable(),
})
export type PrintedSheet = z.infer<typeof PrintedSheet>
export const CountArea = z
  .object({
    id: Uuid,
    name: z.string(),
    last: Instant.nullable(),
    lastSlip: z.object({ id: Uuid, number: z.string() }).nullable(),
    every: z.number().int().nullable(),
    due: Day.nullable(),
    lines: z.number().int(),
    draft: z.object({ id: Uuid, by: z.string(), mine: z.boolean(), paper: z.boolean() }).nullable(),
    waiting: z.number().int(),
    may: z.boolean(),
  })
  .meta({ id: 'CountArea' })
export type CountArea = z.infer<typeof CountArea>
export const SheetsInput = z
  .object({
    areas: z.array(idOf('place')).min(1).max(100),
    blind: z.boolean(),
    extra: z.number().int().min(0).max(60).default(6),
  })
  .meta({ id: 'SheetsInput' })
export const PrintedLine = z.object({
  id: Uuid,
  page: z.number().int(),
  position: z.number().int(),
  item: Uuid,
  lot: z.object({ id: Uuid, code: z.string().nullable(), expiry: Day.nullable() }).nullable(),
  place: Uuid,
  placeName: z.string(),
  expected: Decimal.nullable(),
})
export type PrintedLine = z.infer<typeof PrintedLine>
export const PrintedSheetView = PrintedSheet.extend({ lines: z.array(PrintedLine) }).meta({ id: 'PrintedSheet' })
export type PrintedSheetView = z.infer<typeof PrintedSheetView>
export const Sheet = z
  .object({
    place: Uuid,
    name: z.string(),
    lines: z.array(SheetLine),
    open: z.array(z.object({ id: Uuid, title: z.string(), by: z.string(), savedAt: Instant })),
  })
  .meta({ id: 'Sheet' })
