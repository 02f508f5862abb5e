import { z } from 'zod'
import { SLIP_KINDS } from '@shelve/core'
import { Day, Decimal, Instant, Method, Note, Revision, Short, Uuid, Value, TypedValue } from '../common.ts'
import { idOf, showsValue } from '../things.ts'

/** Kinds of slip that can be written on a screen or sent by a script. */
export const SlipKind = z.enum([
  'opening',
  'receipt',
  'issue',
  'bring_back',
  'move',
  'waste',
  'count',
  'closing',
  'supplier_return',
  'correction',
  'method_change',
])
export type SlipKind = z.infer<typeof SlipKind>
/** Any kind that the books know. */
export const AnySlipKind = z.enum(SLIP_KINDS)

const place = idOf('place').nullable().default(null)
/**
 * A line as it is typed. A draft may lack anything; what is missing is said when it is to be booked. Which fields count
 * depends on the kind of slip. Quantities are typed as people say them (`2 case + 3`), in `unit` where they name none.
 */
export const SlipLine = z
  .object({
    id: idOf('own'),
    item: idOf('item').nullable().default(null),
    typed: z.string().max(60).default(''),
    unit: z.string().max(120).nullable().default(null),
    lot: z
      .object({
        id: idOf('lot').nullable().default(null),
        code: z
          .string()
          .trim()
          .max(60)
          .regex(/^[^\p{Cc}]*$/u)
          .default(''),
        expiry: Day.nullable().default(null),
      })
      .nullable()
      .default(null),
    from: place,
    to: place,
    price: TypedValue,
    discount: TypedValue,
    reason: idOf('reason').nullable().default(null),
    /** The issue line that is brought back; the line that is corrected. */
    ref: idOf('line').nullable().default(null),
    difference: idOf('difference').nullable().default(null),
    act: z.enum(['take_back', 'replace', 'price', 'invoice', 'found', 'close', 'none']).default('none'),
    counted: z.enum(['not', 'counted', 'confirmed']).default('not'),
    countedAt: Instant.nullable().default(null),
    unitCost: TypedValue,
    /** A second count of the same line: asked where the first is beyond tolerance. */
    again: z.string().max(60).default(''),
    override: z.boolean().default(false),
    note: Short.default(''),
    /** Of a delivery: it goes straight to a job or a cost centre, and a person there; it is charged and never lies on a shelf. */
    direct: z
      .object({
        job: idOf('job').nullable().default(null),
        costCentre: idOf('cost_centre').nullable().default(null),
        person: Short.default(''),
      })
      .nullable()
      .default(null),
    picture: idOf('picture').nullable().default(null),
  })
  .meta({ id: 'SlipLine' })
export type SlipLine = z.infer<typeof SlipLine>

export const SlipHead = z
  .object({
    supplier: Short.default(''),
    deliveryNote: Short.default(''),
    charges: z
      .array(
        z.object({
          label: Short,
          amount: showsValue(z.string().max(30)),
          basis: z.enum(['value', 'quantity', 'weight']),
        }),
      )
      .max(10)
      .default([]),
    costCentre: idOf('cost_centre').nullable().default(null),
    job: idOf('job').nullable().default(null),
    reason: idOf('reason').nullable().default(null),
    /** What a change of cost method changes to; its lines name the items, `unitCost` a standard cost. */ method:
      Method.nullable().default(null),
    corrects: idOf('slip').nullable().default(null),
    blind: z.boolean().default(true),
    /** The sheet on paper that a count was written on. */ sheet: idOf('sheet').nullable().default(null),
    why: Short.default(''),
    note: Note.default(''),
    /** Photographs: of a delivery note, of what came. */ pictures: z.array(idOf('picture')).max(8).default([]),
  })
  .meta({ id: 'SlipHead' })
export type SlipHead = z.infer<typeof SlipHead>

/** What a slip says. `place` is the area it is written in; `effectiveAt` null means now. */
export const SlipContent = z
  .object({
    kind: SlipKind,
    place,
    effectiveAt: Instant.nullable().default(null),
    taker: Short.default(''),
    head: SlipHead.prefault({}),
    lines: z.array(SlipLine).max(500).default([]),
  })
  .refine(c => new Set(c.lines.map(l => l.id)).size === c.lines.length, {
    message: 'two lines have the same id',
    path: ['lines'],
  })
  .meta({ id: 'SlipContent' })
export type SlipContent = z.infer<typeof SlipContent>
export type SlipContentInput = z.input<typeof SlipContent>

const HEAD = SlipHead.parse({})
const LINE = SlipLine.parse({ id: '00000000-0000-0000-0000-000000000000' })
const CONTENT = { place: null, effectiveAt: null, taker: '' }
type Said = Omit<Partial<SlipContent>, 'lines' | 'head'> & {
  readonly head?: Partial<SlipHead>
  readonly lines: readonly (Partial<SlipLine> & Pick<SlipLine, 'id'>)[]
}
/** What of something is otherwise than where nothing is said. */
function otherwise<T extends object>(given: T, silent: Partial<T>): Partial<T> {
  const out: Partial<T> = {}
  for (const key of Object.keys(given) as (keyof T)[])
    if (!(key in silent) || JSON.stringify(given[key]) !== JSON.stringify(silent[key])) out[key] = given[key]
  return out
}
/**
 * What a slip says, without what goes without saying. That is what is stored and what its hash is over, so that a field
 * that is added later changes neither.
 */
export function saidOf({ lines, head, ...rest }: SlipContent): Said {
  const said = otherwise(head, HEAD)
  return {
    ...otherwise(rest, CONTENT),
    ...(Object.keys(said).length ? { head: said } : {}),
    lines: lines.map(l => ({ ...otherwise(l, LINE), id: l.id })),
  }
}
/** The slip as it was, of what it said: not judged anew, since a contract that is stricter by now does not unsay it. */
export const asWasSaid = ({ lines, head, ...rest }: Said): SlipContent =>
  ({
    ...CONTENT,
    ...rest,
    head: { ...HEAD, ...head },
    lines: lines.map(l => ({ ...LINE, ...l })),
  }) as SlipContent

export const LevelsView = z
  .object({
    onHand: Decimal,
    available: Decimal,
    reserved: Decimal,
    unusable: Decimal,
    coming: Decimal,
    minimum: Decimal.nullable(),
    target: Decimal.nullable(),
    state: z.enum(['out', 'short', 'short_coming', 'in_range', 'over', 'none']),
    over: Decimal,
    bring: Decimal,
    due: z.boolean(),
    days: z.number().int().nullable(),
  })
  .meta({ id: 'Levels' })
export type LevelsView = z.infer<typeof LevelsView>
export const RefusalView = z
  .object({
    line: Uuid.nullable(),
    field: z.string().nullable(),
    code: z.string(),
    message: z.string(),
    detail: z.record(z.string(), z.unknown()),
  })
  .meta({ id: 'Refusal' })
export type RefusalView = z.infer<typeof RefusalView>
/** Before → after of one line, from the booking function itself. Values are absent for whoever may not see value. */
export const EffectLine = z
  .object({
    line: Uuid,
    item: Uuid,
    place: Uuid.nullable(),
    placeName: z.string(),
    reading: z.string(),
    quantity: Decimal,
    unit: z.string(),
    value: Value.optional(),
    provisional: z.boolean(),
    lots: z.array(
      z.object({
        id: Uuid.nullable(),
        code: z.string().nullable(),
        expiry: Day.nullable(),
        quantity: Decimal,
        place: z.string(),
      }),
    ),
    before: LevelsView,
    after: LevelsView,
    cost: showsValue(
      z.object({ before: Decimal.nullable(), after: Decimal.nullable(), usual: Decimal.nullable() }),
    ).optional(),
    expected: Decimal.nullable(),
    difference: Decimal.nullable(),
  })
  .meta({ id: 'EffectLine' })
export type EffectLine = z.infer<typeof EffectLine>
export const Effect = z
  .object({
    seq: z.number().int(),
    fingerprint: z.string(),
    ok: z.boolean(),
    refusals: z.array(RefusalView),
    lines: z.array(EffectLine),
    goods: Value.optional(),
    charges: Value.optional(),
    value: Value.optional(),
  })
  .meta({ id: 'Effect' })
export type Effect = z.infer<typeof Effect>

/** Asks for the working of a figure of the effect, before or after; without a line that of the slip's whole value. */
export const EffectWorkingInput = z
  .object({
    content: SlipContent,
    line: idOf('own').nullable().default(null),
    figure: z.enum(['on-hand', 'available', 'state', 'days', 'unit-cost', 'value', 'expected', 'difference']),
    side: z.enum(['before', 'after']).default('after'),
  })
  .meta({ id: 'EffectWorkingInput' })
export type EffectWorkingInput = z.infer<typeof EffectWorkingInput>

/** Hands a slip in for booking. `seen` is the effect's fingerprint: where the books moved meanwhile so that it differs, nothing is booked and the new effect comes back. */
export const Booking = z
  .object({ content: SlipContent, seen: z.string().max(100).nullable().default(null) })
  .meta({ id: 'Booking' })

/** What something booked is worth by now, where slips since then changed that, and which. */
export const WorthNow = z.object({
  value: Value.optional(),
  by: z.array(z.object({ id: Uuid, number: z.string() })),
})
export const BookedLine = z.object({
  id: Uuid,
  item: z.object({ id: Uuid, code: z.string(), name: z.string(), unit: z.string() }).nullable(),
  typed: z.string(),
  unit: z.string().nullable(),
  state: z.enum(['stands', 'taken_back', 'replaced', 'part_taken_back']),
  act: z.string(),
  movements: z.array(
    z.object({
      seq: z.number().int(),
      kind: z.string(),
      from: z.string(),
      to: z.string(),
      lot: z.string().nullable(),
      expiry: Day.nullable(),
      quantity: Decimal,
      value: Value.optional(),
      corrects: z.boolean(),
      revalues: z.boolean(),
    }),
  ),
  quantity: Decimal,
  /** What it was worth when it was booked. */ value: Value.optional(),
  now: WorthNow.nullable(),
  by: z.object({ slip: Uuid, number: z.string() }).nullable(),
  note: z.string(),
})
export const SlipView = z
  .object({
    id: Uuid,
    kind: AnySlipKind,
    state: z.enum(['draft', 'booked']),
    number: z.string().nullable(),
    revision: Revision,
    title: z.string(),
    place: z.object({ id: Uuid, name: z.string() }).nullable(),
    effectiveAt: Instant.nullable(),
    savedAt: Instant,
    savedBy: z.string(),
    bookedAt: Instant.nullable(),
    bookedBy: z.string().nullable(),
    taker: z.string(),
    content: SlipContent.nullable(),
    lines: z.array(BookedLine),
    /** What it was worth when it was booked. */ value: Value.optional(),
    now: WorthNow.nullable(),
    corrects: z.object({ id: Uuid, number: z.string() }).nullable(),
    correctedBy: z.array(z.object({ id: Uuid, number: z.string(), bookedAt: Instant })),
    hash: z.string().nullable(),
  })
  .meta({ id: 'Slip' })
export type SlipView = z.infer<typeof SlipView>
export const SlipRow = z
  .object({
    id: Uuid,
    kind: AnySlipKind,
    state: z.enum(['draft', 'booked']),
    number: z.string().nullable(),
    title: z.string(),
    place: z.string().nullable(),
    at: Instant,
    by: z.string(),
    mine: z.boolean(),
    taker: z.string(),
    lines: z.number().int(),
    value: Value.optional(),
    corrected: z.boolean(),
  })
  .meta({ id: 'SlipRow' })
export type SlipRow = z.infer<typeof SlipRow>
export const DraftSaved = z.object({ id: Uuid, revision: Revision, savedAt: Instant }).meta({ id: 'DraftSaved' })
export type DraftSaved = z.infer<typeof DraftSaved>
/** Takes back a booked slip, whole or by lines. `id` is the new slip's. */
export const Reversal = z
  .object({ id: idOf('draft'), lines: z.array(idOf('line')).max(500).nullable().default(null), why: Short.default('') })
  .meta({ id: 'Reversal' })

/** Labels to print: of an item, or of one lot of it. `skip`: places of the first sheet that are used up already. */
export const LabelsInput = z
  .object({
    size: z.enum(['sheet', 'roll']),
    skip: z.number().int().min(0).max(23).default(0),
    labels: z
      .array(
        z.object({
          item: idOf('item'),
          lot: idOf('lot').nullable().default(null),
          count: z.number().int().min(1).max(300),
        }),
      )
      .min(1)
      .max(300),
  })
  .refine(l => l.labels.reduce((n, x) => n + x.count, 0) <= 600, {
    message: 'more than 600 labels at once',
    path: ['labels'],
  })
  .meta({ id: 'LabelsInput' })
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
