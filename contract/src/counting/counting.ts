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
/**
 * A sheet on paper of an area, or of a group of items in a place. What is printed together shares a number: this one's
 * pages are `firstPage` and those after it.
 */
export const PrintedSheet = z.object({
  id: Uuid,
  number: z.number().int(),
  firstPage: z.number().int(),
  place: Uuid,
  placeName: z.string(),
  group: z.object({ id: Uuid, name: z.string() }).nullable(),
  blind: z.boolean(),
  pages: z.number().int(),
  printedAt: Instant,
  printedBy: z.string(),
  entry: z.object({ slip: Uuid, number: z.string().nullable(), by: z.string() }).nullable(),
  void: z.boolean(),
  newer: z.number().int().nullable(),
})
export type PrintedSheet = z.infer<typeof PrintedSheet>
/** What is counted together though it is no area: a category or items picked by hand, within a place. */
export const CountGroup = z
  .object({
    id: Uuid,
    revision: z.number().int(),
    name: z.string(),
    place: Uuid,
    placeName: z.string(),
    category: z.object({ id: Uuid, name: z.string() }).nullable(),
    items: z.array(z.object({ id: Uuid, code: z.string(), name: z.string() })),
    everyDays: z.number().int().nullable(),
    active: z.boolean(),
  })
  .meta({ id: 'CountGroup' })
export type CountGroup = z.infer<typeof CountGroup>
export const CountGroupInput = z
  .object({
    name: z.string().trim().min(1).max(80),
    place: idOf('place'),
    category: idOf('category').nullable().default(null),
    items: z.array(idOf('item')).max(500).default([]),
    everyDays: z.number().int().min(1).max(3660).nullable().default(null),
    active: z.boolean().default(true),
  })
  .refine(g => (g.category === null) !== (g.items.length === 0), {
    message: 'either a category or some items are wanted',
    path: ['items'],
  })
  .meta({ id: 'CountGroupInput' })
export type CountGroupInput = z.infer<typeof CountGroupInput>
/**
 * An area, or a group of items in a place, that is counted: when it last was and how much of it was left then, when it is
 * due by its cycle (which only a whole count moves on), what a sheet of it would hold, and whether it is closed meanwhile.
 */
export const CountArea = z
  .object({
    /** The place. */ id: Uuid,
    name: z.string(),
    group: z.object({ id: Uuid, name: z.string() }).nullable(),
    last: Instant.nullable(),
    lastSlip: z.object({ id: Uuid, number: z.string() }).nullable(),
    /** Lines that the last count left, where it was not the whole. */ left: z.number().int(),
    closed: z.object({ since: Instant, by: z.string() }).nullable(),
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
    areas: z.array(idOf('place')).max(100).default([]),
    groups: z.array(idOf('count_group')).max(100).default([]),
    blind: z.boolean(),
    extra: z.number().int().min(0).max(60).default(6),
  })
  .refine(w => w.areas.length + w.groups.length > 0, { message: 'which areas?', path: ['areas'] })
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
/** A booked count, line by line, as it was and as it stands by now. */
export const CountReport = z
  .object({
    slip: Uuid,
    number: z.string(),
    place: z.string(),
    group: z.string().nullable(),
    countedAt: Instant,
    rows: z.array(
      z.object({
        line: Uuid,
        item: z.object({ id: Uuid, code: z.string(), name: z.string(), unit: z.string() }),
        place: z.string(),
        lot: z.string().nullable(),
        state: z.enum(['counted', 'confirmed', 'left_out', 'not']),
        by: z.string().nullable(),
        at: Instant.nullable(),
        expected: Decimal.nullable(),
        counted: Decimal.nullable(),
        difference: Decimal.nullable(),
        open: Decimal.nullable(),
        takenBack: z.boolean(),
        note: z.string(),
        value: Value.nullable().optional(),
      }),
    ),
    counted: z.number().int(),
    /** Lines whose figure was what was expected. */ agreeing: z.number().int(),
    leftOut: z.number().int(),
    left: z.number().int(),
    /** Sum of the differences' values, and of their amounts whatever their sign. */
    net: Value.optional(),
    gross: Value.optional(),
  })
  .meta({ id: 'CountReport' })
export type CountReport = z.infer<typeof CountReport>
export const Sheet = z
  .object({
    place: Uuid,
    name: z.string(),
    lines: z.array(SheetLine),
    open: z.array(z.object({ id: Uuid, title: z.string(), by: z.string(), savedAt: Instant })),
  })
  .meta({ id: 'Sheet' })
