import { abs, type Quantity, type Value } from '../quantity/micro.ts'

/** A tally as it bears on how right the books were: what was counted first of its line, and what its difference was worth. */
export interface FirstTally {
  readonly expected: Quantity
  /** Counted − expected, of the first tally of the line. */ readonly off: Quantity
  /** Whether that was within tolerance when it was booked. */ readonly within: boolean
  /** What the tally that stands put right in stock, signed. */ readonly value: Value
}
/**
 * How right the books were: of so many `lines` that were counted so many agreed to the last piece, and so many were `hits`;
 * what was `missing` and what was `over`, both as they are signed in stock. Net = missing + over, gross = over − missing.
 */
export interface Accuracy {
  lines: number
  exact: number
  hits: number
  missing: Value
  over: Value
}
export const noAccuracy = (): Accuracy => ({ lines: 0, exact: 0, hits: 0, missing: 0n, over: 0n })

/** A line of which the first tally is within tolerance; what is found where the books knew of nothing is a miss, however little. */
export const isHit = ({ expected, off, within }: Pick<FirstTally, 'expected' | 'off' | 'within'>): boolean =>
  within && !(expected === 0n && off > 0n)

/**
 * Adds a counted line. What was not counted is never asked here, so that it is left out.
 * Source: rule 29 of the rules that settle figures; inventory record accuracy as cycle counting has it, common practice.
 */
export function addTally(to: Accuracy, tally: FirstTally): void {
  to.lines++
  if (tally.off === 0n) to.exact++
  if (isHit(tally)) to.hits++
  if (tally.value < 0n) to.missing += tally.value
  else to.over += tally.value
}
export const netOf = (a: Accuracy): Value => a.missing + a.over
export const grossOf = (a: Accuracy): Value => abs(a.missing) + a.over
