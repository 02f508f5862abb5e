import { z } from 'zod'
import { Day, Decimal, Instant, Short, Uuid } from '../common.ts'
import { ItemNamed } from '../jobs/templates.ts'
import { idOf } from '../things.ts'

const End = z.object({ id: Uuid, name: z.string() })

/** What was sent from one place to another, by the slip that sent it. */
export const TransferRow = z
  .object({
    /** The slip that sent it. */
    id: Uuid,
    number: z.string(),
    from: End,
    to: End,
    sentAt: Instant,
    by: z.string(),
    carrier: z.string(),
    /** The day on which it is to be there. */
    due: Day.nullable(),
    /** Something is on its way past its day. */
    overdue: z.boolean(),
    /** Items of which something is on its way still, and of how many that were sent; the first of them by name. */
    left: z.number().int(),
    items: z.number().int(),
    named: z.array(z.string()),
  })
  .meta({ id: 'TransferRow' })
export type TransferRow = z.infer<typeof TransferRow>

export const TransferLine = z
  .object({
    item: ItemNamed,
    lot: z.object({ id: Uuid, code: z.string(), expiry: Day.nullable() }).nullable(),
    sent: Decimal,
    arrived: Decimal,
    lost: Decimal,
    left: Decimal,
  })
  .meta({ id: 'TransferLine' })
export type TransferLine = z.infer<typeof TransferLine>

export const TransferView = TransferRow.extend({
  note: z.string(),
  lines: z.array(TransferLine),
  /** What became of it, slip by slip. */
  slips: z.array(z.object({ id: Uuid, number: z.string(), kind: z.string(), at: Instant, by: z.string() })),
  /** An arrival that somebody has begun to write. */
  begun: z.object({ id: Uuid, by: z.string() }).nullable(),
  /** Whether one may book where it goes. */
  mayArrive: z.boolean(),
  /** Whether one may book at either end. */
  mayBook: z.boolean(),
}).meta({ id: 'TransferView' })
export type TransferView = z.infer<typeof TransferView>

/** What did not come and will not: all that is left on the way, or of it what is named; it becomes an open difference. */
export const Loss = z
  .object({
    id: idOf('draft'),
    why: Short.min(1, 'how was it lost?'),
    of: z
      .array(
        z.object({
          item: idOf('item'),
          lot: idOf('lot').nullable().default(null),
          /** How much of it; nothing typed: all that is left of it. */ typed: z.string().max(60).default(''),
        }),
      )
      .max(500)
      .optional(),
  })
  .meta({ id: 'Loss' })
export type Loss = z.infer<typeof Loss>

/** How something went last between two places. */
export const UsualWay = z
  .object({ carrier: z.string(), /** So many days it was given. */ days: z.number().int().nullable() })
  .meta({ id: 'UsualWay' })
export type UsualWay = z.infer<typeof UsualWay>
