import { z } from 'zod'
import { FLOWS } from '@shelve/core'
import { Decimal, Instant, Uuid, Value } from '../common.ts'
import { idOf } from '../things.ts'

export const MonthName = z.string().regex(/^\d{4}-(0[1-9]|1[0-2])$/, 'a month like 2026-11 is wanted')
/** A month's value: opening + received + made − used − wasted + differences + price = closing. `direct` went straight to users beside stock. */
export const LookMonth = z
  .object({
    month: MonthName,
    opening: Decimal.nullable(),
    received: Decimal,
    used: Decimal,
    wasted: Decimal,
    differences: Decimal,
    price: Decimal,
    made: Decimal,
    begun: Decimal,
    closing: Decimal.nullable(),
    direct: Decimal,
    closed: z.boolean(),
  })
  .meta({ id: 'LookMonth' })
export type LookMonth = z.infer<typeof LookMonth>
export const LookYear = z
  .object({ year: z.number().int(), years: z.array(z.number().int()), rows: z.array(LookMonth) })
  .meta({ id: 'LookYear' })
export type LookYear = z.infer<typeof LookYear>
/** What a bar of the look back can be about; `any`: whatever changed the value of stock. */
export const BARS = ['any', ...FLOWS] as const
/** What a value is looked at by. */
export const LOOK_BY = ['cost_centre', 'job', 'reason', 'supplier', 'category', 'place'] as const
export const LookRow = z
  .object({ id: Uuid.nullable(), name: z.string(), value: Decimal, lines: z.number().int() })
  .meta({ id: 'LookRow' })
export type LookRow = z.infer<typeof LookRow>
/** A reason, a place or an item of which something was wasted; `before`: in as many months just before. */
const Wasted = z.object({
  id: Uuid.nullable(),
  name: z.string(),
  value: Decimal,
  before: Decimal,
  lines: z.number().int(),
})
/** The same of an item: how much of it, and in per cent of what was used and wasted of it; null where neither was. */
const WastedItem = Wasted.extend({
  id: Uuid,
  code: z.string(),
  unit: z.string(),
  quantity: Decimal,
  share: Decimal.nullable(),
})
/** What was wasted in a span of months, beside as many months before, and beside what was used. */
export const WasteReport = z
  .object({
    value: Decimal,
    used: Decimal,
    /** Wasted ÷ (used + wasted), in per cent; null where neither was. */ share: Decimal.nullable(),
    before: z.object({ from: MonthName, to: MonthName, value: Decimal, share: Decimal.nullable() }),
    months: z.array(z.object({ month: MonthName, wasted: Decimal, used: Decimal, share: Decimal.nullable() })),
    reasons: z.array(Wasted),
    places: z.array(Wasted),
    /** The ten of which most was wasted, by value. */ worst: z.array(WastedItem),
    /** The ten of which most more, or most less, was wasted than before. */ changed: z.array(WastedItem),
  })
  .meta({ id: 'WasteReport' })
export type WasteReport = z.infer<typeof WasteReport>
/** What was wasted by its waste code (empty: none), with what it weighs in grams; null: not known. */
export const Disposal = z
  .object({
    rows: z.array(
      z.object({
        code: z.string(),
        grams: Decimal.nullable(),
        items: z.array(
          z.object({
            id: Uuid,
            code: z.string(),
            name: z.string(),
            unit: z.string(),
            quantity: Decimal,
            grams: Decimal.nullable(),
          }),
        ),
      }),
    ),
  })
  .meta({ id: 'Disposal' })
export type Disposal = z.infer<typeof Disposal>
/** What jobs trimmed of what they took, in its cost; and what was wasted of the same. */
export const Trimmed = z
  .object({
    value: Decimal,
    rows: z.array(
      z.object({
        id: Uuid,
        code: z.string(),
        name: z.string(),
        unit: z.string(),
        taken: Decimal,
        trimmed: Decimal,
        value: Decimal,
        wasted: Decimal,
        wastedValue: Decimal,
      }),
    ),
  })
  .meta({ id: 'Trimmed' })
export type Trimmed = z.infer<typeof Trimmed>
/** Who booked how much where. */
export const ActivityRow = z
  .object({
    personId: Uuid,
    person: z.string(),
    placeId: Uuid.nullable(),
    place: z.string().nullable(),
    slips: z.number().int(),
    lines: z.number().int(),
  })
  .meta({ id: 'ActivityRow' })
export type ActivityRow = z.infer<typeof ActivityRow>
export const MonthView = z
  .object({ month: MonthName, closedAt: Instant, by: z.string(), lastSeq: z.number().int(), headHash: z.string() })
  .meta({ id: 'Month' })
export type MonthView = z.infer<typeof MonthView>
/** The month to close next: slips of it that are written and not booked would be refused afterwards. */
export const MonthToClose = z
  .object({ month: MonthName, drafts: z.number().int(), slips: z.number().int(), value: Value.optional() })
  .meta({ id: 'MonthToClose' })
export type MonthToClose = z.infer<typeof MonthToClose>
/** An item's quantities of a month, in its base unit, signed as stock feels them; what remained at its end. */
export const ItemMonth = z
  .object({ month: MonthName, received: Decimal, used: Decimal, wasted: Decimal, other: Decimal, remained: Decimal })
  .meta({ id: 'ItemMonth' })
export type ItemMonth = z.infer<typeof ItemMonth>
export const ItemYears = z
  .object({
    months: z.array(ItemMonth),
    prices: z
      .array(
        z.object({
          at: Instant,
          cost: Value,
          quantity: Decimal,
          supplier: z.string(),
          slip: z.object({ id: Uuid, number: z.string() }),
        }),
      )
      .optional(),
  })
  .meta({ id: 'ItemYears' })
export type ItemYears = z.infer<typeof ItemYears>

/** Sorts of account: what lies in stock, and each way in which value comes to it or leaves it. */
export const ACCOUNT_SORTS = ['stock', ...FLOWS] as const
export const AccountCode = z
  .string()
  .trim()
  .max(30)
  .regex(/^[^\p{Cc}]*$/u, 'no control characters')
/** `code` is what is set here; `inherited` what holds where nothing is. */
const coded = z.object({
  id: Uuid,
  name: z.string(),
  parent: Uuid.nullable(),
  code: AccountCode.nullable(),
  inherited: z.string(),
})
export const AccountCodes = z
  .object({
    sorts: z.array(z.object({ sort: z.enum(ACCOUNT_SORTS), code: AccountCode.nullable(), inherited: z.string() })),
    categories: z.array(coded),
    places: z.array(coded),
    reasons: z.array(coded),
  })
  .meta({ id: 'AccountCodes' })
export type AccountCodes = z.infer<typeof AccountCodes>
/** A code of null is taken away again. */
export const ChangedAccountCodes = z
  .object({
    codes: z
      .array(
        z.discriminatedUnion('kind', [
          z.object({ kind: z.enum(ACCOUNT_SORTS), id: z.null(), code: AccountCode.nullable() }),
          z.object({ kind: z.literal('category'), id: idOf('category'), code: AccountCode.nullable() }),
          z.object({ kind: z.literal('place'), id: idOf('place'), code: AccountCode.nullable() }),
          z.object({ kind: z.literal('reason'), id: idOf('reason'), code: AccountCode.nullable() }),
        ]),
      )
      .max(2000),
  })
  .meta({ id: 'ChangedAccountCodes' })
export type ChangedAccountCodes = z.infer<typeof ChangedAccountCodes>
export const AccountRow = z
  .object({
    code: z.string(),
    name: z.string(),
    party: z.string(),
    opening: Decimal.nullable(),
    debit: Decimal,
    credit: Decimal,
    balance: Decimal,
  })
  .meta({ id: 'AccountRow' })
/** `open`: months of the span that are not closed, so that their figures may still change. */
export const AccountSummary = z
  .object({ rows: z.array(AccountRow), debit: Decimal, credit: Decimal, open: z.array(MonthName) })
  .meta({ id: 'AccountSummary' })
export type AccountSummary = z.infer<typeof AccountSummary>
