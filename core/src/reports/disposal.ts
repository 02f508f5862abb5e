import { divideHalfEven, type Quantity } from '../quantity/micro.ts'
import { type Measure, sizeOf } from '../units/typed.ts'

/**
 * What so much of an item weighs, in grams, rounded once, half to even, to the milligram: by its unit of mass, by its
 * density, or by what one of it weighs (`mass`, grams). Null where none of these is known.
 */
export function gramsOf(quantity: Quantity, measure: Measure, mass: Quantity | null): Quantity | null {
  const gram = sizeOf('g', measure)
  const MILLIGRAM = 1000n
  if ('size' in gram) return divideHalfEven(quantity * gram.size.d, gram.size.n * MILLIGRAM) * MILLIGRAM
  return mass === null ? null : divideHalfEven(quantity * mass, 1_000_000n * MILLIGRAM) * MILLIGRAM
}
