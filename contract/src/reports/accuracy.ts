import { z } from 'zod'
import { Decimal, Uuid } from '../common.ts'
import { MonthName } from './lookback.ts'

/**
 * How right the books were where they were counted: of so many lines so many agreed to the last piece (`exact`), and so many were
 * hits, within tolerance by their first tally; `share` is hits of lines in per cent, null where nothing was counted. What was
 * missing and over in value, as counts were booked: net their sum, gross without their signs.
 */
const Counted = z.object({
  lines: z.number().int(),
  exact: z.number().int(),
  hits: z.number().int(),
  share: Decimal.nullable(),
  missing: Decimal,
  over: Decimal,
  net: Decimal,
  gross: Decimal,
})
export type CountedRight = z.infer<typeof Counted>
export const CountAccuracy = Counted.extend({
  before: Counted.extend({ from: MonthName, to: MonthName }),
  months: z.array(Counted.extend({ month: MonthName })),
  /** By area, with what it was before. */
  places: z.array(Counted.extend({ id: Uuid.nullable(), name: z.string(), before: Decimal.nullable() })),
  /** The twenty items of most difference, by gross value and then by misses. */
  items: z.array(Counted.extend({ id: Uuid, code: z.string(), name: z.string() })),
}).meta({ id: 'CountAccuracy' })
export type CountAccuracy = z.infer<typeof CountAccuracy>
