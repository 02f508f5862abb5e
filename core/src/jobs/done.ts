import { divideHalfEven, max, ONE, type Quantity, type Value } from '../quantity/micro.ts'

/**
 * What is proposed to be taken of an item for a part of a job (rule 66): what the job needs for all that is made by then,
 * less what it needed for what was made before; what was handed out beforehand for what comes now need not be taken again.
 */
export function neededFor(of: {
  /** The need at all that is made with this part, and at what was made before. */
  readonly then: Quantity
  readonly before: Quantity
  /** What earlier parts took of it, and what was handed out for the job otherwise. */
  readonly made: Quantity
  readonly handedOut: Quantity
}): Quantity {
  const went = max(of.before - of.made, 0n)
  return max(of.then - of.before - max(of.handedOut - went, 0n), 0n)
}

/** How what was used stands beside what was planned at what really came of it, in quantity and in value (rule 66). */
export interface Deviation {
  readonly quantity: Quantity
  readonly value: Value | null
}
/**
 * `used` − `need`; in value: what was used − need × (its value ÷ its quantity); of nothing used: the need at what one costs
 * (`one`), null where nobody knows that.
 */
export function deviationOf(of: {
  readonly need: Quantity
  readonly used: Quantity
  readonly value: Value
  readonly one: Value | null
}): Deviation {
  const quantity = of.used - of.need
  if (of.used > 0n) return { quantity, value: of.value - divideHalfEven(of.need * of.value, of.used) }
  if (of.need === 0n) return { quantity, value: of.value }
  return { quantity, value: of.one === null ? null : of.value - divideHalfEven(of.need * of.one, ONE) }
}
