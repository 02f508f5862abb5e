import { z } from 'zod'
import { Day, Decimal, Instant, Uuid, Value } from '../common.ts'
import { JobState } from '../jobs/jobs.ts'
import { TransferRow } from '../moving/transfers.ts'
import { RestockRow } from '../restocking/restock.ts'
import { SlipRow } from '../ledger/slips.ts'
import { AnySlipKind } from '../papers/content.ts'

/** What can be waiting. */
export const WAITING = [
  'expiring',
  'job',
  'unkept',
  'short',
  'handed',
  'given_back',
  'owed',
  'transfer',
  'count',
  'difference',
  'unpriced',
  'found',
  'sheet',
  'closed',
  'draft',
] as const
const OfSlip = z.object({
  id: Uuid,
  kind: AnySlipKind,
  title: z.string(),
  number: z.string().nullable(),
  by: z.string(),
  mine: z.boolean(),
})
/**
 * Something that waits: `day` is when it is due or hurts (past: since then), null where no day is known; `n` how many
 * things it is about, `named` the first of them.
 */
export const Waiting = z
  .object({
    kind: z.enum(WAITING),
    day: Day.nullable(),
    at: Instant.nullable(),
    n: z.number().int(),
    out: z.number().int(),
    value: Value.optional(),
    place: z.object({ id: Uuid, name: z.string() }).nullable(),
    slip: OfSlip.nullable(),
    /** A restock slip that somebody who may only ask has handed over, or that was given back to them. */ handed: z
      .object({ id: Uuid, number: z.string(), by: z.string(), why: z.string().nullable() })
      .nullable(),
    /** Where it is about several slips: the first of them, `out` of them in all. */ slips: z.array(OfSlip),
    /** A sheet on paper that nobody entered yet. */ sheet: z
      .object({ id: Uuid, number: z.number().int(), by: z.string() })
      .nullable(),
    /** A job that is due, or in want of something: how many of its needs can be met. */
    job: z
      .object({
        id: Uuid,
        code: z.string(),
        name: z.string(),
        state: JobState,
        time: z.string(),
        wanted: Decimal,
        unit: z.string(),
        needs: z.number().int(),
        met: z.number().int(),
      })
      .nullable(),
    /** Jobs for which less is kept than was set aside. */
    jobs: z.array(z.string()),
    /** Something that was sent: it is to arrive, or is late. */ transfer: TransferRow.nullable(),
    /** An area that is closed for counting. */ closed: z.object({ by: z.string() }).nullable(),
    named: z.array(
      z.object({ item: Uuid, name: z.string(), quantity: Decimal, unit: z.string(), day: Day.nullable() }),
    ),
  })
  .meta({ id: 'Waiting' })
export type Waiting = z.infer<typeof Waiting>
/** How a stockroom stands: how many of its items are in which state. */
export const Shelf = z
  .object({
    place: Uuid,
    name: z.string(),
    out: z.number().int(),
    short: z.number().int(),
    coming: z.number().int(),
    inRange: z.number().int(),
    over: z.number().int(),
    value: Value.optional(),
  })
  .meta({ id: 'Shelf' })
export type Shelf = z.infer<typeof Shelf>
export const Today = z
  .object({
    day: Day,
    waiting: z.array(Waiting),
    shelves: z.array(Shelf),
    /** What travels to these places or from them: it lies on no shelf, and its value is in none of theirs. */
    onTheWay: z.object({ things: z.number().int(), value: Value.optional() }).nullable(),
    /** What was asked for and has not all come. */ coming: z.array(RestockRow),
    lately: z.array(SlipRow),
  })
  .meta({ id: 'Today' })
export type Today = z.infer<typeof Today>

/** A lot that runs out of date, or has: what lies of it where. */
export const ExpiringRow = z
  .object({
    item: Uuid,
    code: z.string(),
    name: z.string(),
    unit: z.string(),
    lot: z.object({
      id: Uuid,
      code: z.string(),
      expiry: Day,
      state: z.enum(['usable', 'held', 'expired', 'recalled']),
    }),
    place: z.object({ id: Uuid, name: z.string() }),
    quantity: Decimal,
    value: Value.optional(),
    /** Days until what lies here is used up, at the use of the last weeks. */ lasts: z.number().int().nullable(),
  })
  .meta({ id: 'ExpiringRow' })
export type ExpiringRow = z.infer<typeof ExpiringRow>
