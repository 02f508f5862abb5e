import { divideHalfEven, type Quantity } from '../quantity/micro.ts'
import { formatDecimal, parseDecimal, tick } from '../quantity/decimal.ts'
import { isTwofold } from '../quantity/readings.ts'
import { type Measure, sizeOf } from '../units/typed.ts'
import type { Gs1 } from './gs1.ts'

/** What a label can say of how much it is, each in the unit that the GS1 General Specifications give it (from memory). */
const SAID = [
  ['weight', 'kg'],
  ['volume', 'L'],
  ['length', 'm'],
] as const

/**
 * How much of an item a weighed or measured label says, in the item's base unit, rounded once, half to even, to its decimals:
 * 1.25 kg of an item in g are 1 250 (rule 58). Undefined where it says none, or the item is not measured so.
 */
export function measured(label: Pick<Gs1, 'weight' | 'volume' | 'length'>, measure: Measure): Quantity | undefined {
  for (const [what, unit] of SAID) {
    const amount = label[what]
    const size = amount === undefined ? undefined : sizeOf(unit, measure)
    if (amount === undefined || !size || !('size' in size)) continue
    const step = tick(measure.decimals)
    return divideHalfEven(amount * size.size.n, size.size.d * step) * step
  }
  return undefined
}

/** A quantity as it can be typed and read in one way alone: three digits after a mark might be thousands, four never are. */
export function plainly(quantity: Quantity): string {
  const text = formatDecimal(quantity)
  return isTwofold(text) ? `${text}0` : text
}
/** What was written so, as a figure is shown: with no more decimals than it has. What is no figure stays as it is. */
export function leastOf(text: string): string {
  const amount = parseDecimal(text)
  return amount === undefined ? text : formatDecimal(amount)
}
