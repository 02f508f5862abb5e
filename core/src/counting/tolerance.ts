import { abs, type Quantity, type Value } from '../quantity/micro.ts'
import { nearest } from '../upwards.ts'

/**
 * How far off a count may be: each limit that is set holds. `quantity` in micro-units of the base unit, `percent` of what was
 * expected in millionths of a per cent, `value` in micro-units of the currency; null: no such limit.
 */
export interface Tolerance {
  readonly quantity: Quantity | null
  readonly percent: bigint | null
  readonly value: Value | null
}
/** What a count is judged by: what was counted, what was expected, and what so much of a difference is worth, sign left out. */
export interface Judged {
  readonly counted: Quantity
  readonly expected: Quantity
  readonly worth: (difference: Quantity) => Value
}

const WHOLE = 100_000_000n

/**
 * Whether a count is within tolerance. It is exceeded when any limit that is set is passed; equal is within; of nothing
 * expected any per cent is passed. What agrees is within, whatever is set.
 * Source: rule 26 of the rules that settle figures.
 */
export function isWithin({ quantity, percent, value }: Tolerance, { counted, expected, worth }: Judged): boolean {
  const off = abs(counted - expected)
  if (off === 0n) return true
  if (quantity !== null && off > quantity) return false
  if (percent !== null && (expected === 0n || off * WHOLE > expected * percent)) return false
  return value === null || worth(off) <= value
}

/** Whether any limit is set: where none is, what stands above hands its own down, all three together. */
export const saysTolerance = (t: Tolerance): boolean => t.quantity !== null || t.percent !== null || t.value !== null

/** The nearest that says anything, of an item, its category, those above, and the organisation; of none, nothing is too far. */
export const nearestTolerance = (from: Iterable<Tolerance>): Tolerance =>
  nearest(from, t => (saysTolerance(t) ? t : null)) ?? { quantity: null, percent: null, value: null }
