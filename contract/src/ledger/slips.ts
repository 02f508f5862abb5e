import { z } from 'zod'
import { Day, Decimal, Instant, Revision, Short, Uuid, Value } from '../common.ts'
import { AnySlipKind, SlipContent } from '../papers/content.ts'
import { DraftSeen } from '../papers/drafts.ts'
import { idOf, showsValue } from '../things.ts'

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
    /** Where it is taken from, when that is another area than it comes to. */
    from: z.object({ place: Uuid, placeName: z.string(), before: LevelsView, after: LevelsView }).nullable(),
    cost: showsValue(
      z.object({ before: Decimal.nullable(), after: Decimal.nullable(), usual: Decimal.nullable() }),
    ).optional(),
    expected: Decimal.nullable(),
    difference: Decimal.nullable(),
    /** Of a count: what moved there within half an hour of it, and the minute by which it would be on the other side of it. */
    near: z
      .array(
        z.object({
          slip: z.object({ id: Uuid, number: z.string() }),
          at: Instant,
          quantity: Decimal,
          before: z.boolean(),
          turned: Instant,
        }),
      )
      .optional(),
  })
  .meta({ id: 'EffectLine' })
export type EffectLine = z.infer<typeof EffectLine>
export const Effect = z
  .object({
    seq: z.number().int(),
    fingerprint: z.string(),
    ok: z.boolean(),
    refusals: z.array(RefusalView),
    /** What whoever writes it should know, and that does not stand in its way. */ notes: z.array(z.string()),
    /** Who showed that they were there, of what it says now. */ witness: z.string().nullable(),
    lines: z.array(EffectLine),
    /** What the next look may name (`since`), to be told only what differs from this one; null where all is told anew each time. */
    tag: z.string().nullable(),
    /** The look before, where `lines` are those alone that differ from it; null: they are all. */
    since: z.string().nullable(),
    /** Lines of which that look told something, and this one nothing any more. */ without: z.array(Uuid),
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
    /** Of the area that it is taken from, where that is another one. */
    from: z.boolean().default(false),
  })
  .meta({ id: 'EffectWorkingInput' })
export type EffectWorkingInput = z.infer<typeof EffectWorkingInput>

/**
 * Hands a slip in for booking: a draft by what was seen of it (`draft`), or one that was written away from the server by
 * its content. `seen` is the effect's fingerprint: where the books moved meanwhile so that it differs, nothing is booked
 * and the new effect comes back.
 */
export const Booking = z
  .object({
    content: SlipContent.optional(),
    draft: DraftSeen.optional(),
    seen: z.string().max(100).nullable().default(null),
  })
  .refine(b => (b.content === undefined) !== (b.draft === undefined), {
    message: 'either a content or what was seen of a draft is wanted',
  })
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
    /** Who was there when it was thrown away, where two are asked for. */ witness: z.string().nullable(),
    content: SlipContent.nullable(),
    lines: z.array(BookedLine),
    /** What it was worth when it was booked. */ value: Value.optional(),
    now: WorthNow.nullable(),
    /** Freight and fees of a delivery that hold by now. */ charges: z.array(
      z.object({ label: z.string(), amount: Value.optional(), basis: z.enum(['value', 'quantity', 'weight']) }),
    ),
    corrects: z.object({ id: Uuid, number: z.string() }).nullable(),
    correctedBy: z.array(z.object({ id: Uuid, number: z.string(), bookedAt: Instant })),
    hash: z.string().nullable(),
  })
  .meta({ id: 'Slip' })
export type SlipView = z.infer<typeof SlipView>
/** What is told of a slip that was booked to whoever knows already what stands on it. */
export const BookedSlip = SlipView.pick({ id: true, kind: true, title: true, place: true })
  .extend({ number: z.string(), bookedAt: Instant, /** How many lines of it are booked. */ lines: z.number().int() })
  .meta({ id: 'BookedSlip' })
export type BookedSlip = z.infer<typeof BookedSlip>
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
