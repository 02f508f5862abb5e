import { formatDecimal, tick } from '../quantity/decimal.ts'
import { divideHalfEven, type Quantity } from '../quantity/micro.ts'
import { type Measure, readQuantity, sizeOf } from '../units/typed.ts'

/** Grams, as a weight is kept: typed with or without a unit of mass. */
const GRAMS: Measure = { base: 'g', decimals: 6, packs: [] }

/**
 * Reads a weight (`812`, `0.812 kg`) as grams; what cannot be read says why, as a quantity does. With its unit it is as a
 * scale shows it: `1.250 kg` is a kilo and a quarter, since no scale groups thousands.
 */
export function readWeight(
  text: string,
): { readonly ok: true; readonly quantity: Quantity } | { readonly ok: false; readonly code: string } {
  const read = readQuantity(text, GRAMS)
  if (!read.ok && read.code === 'ambiguous' && /[a-z]/i.test(text)) return { ok: true, quantity: read.quantities[0] }
  return read
}

/** Whether what an item weighs says how much of it there is: its unit is one of mass, or it has a density. */
export const isWeighable = (measure: Measure): boolean => 'size' in sizeOf('g', measure)

/**
 * What is left in a container by its weight: gross less tare, in the item's base unit, rounded once, half to even, to its
 * decimals (the trade's own words; net = gross − tare is OIML R 76, T.5, from memory). All weights in grams. Undefined
 * where the item is not measured by mass; below zero where it weighs less than it does empty.
 */
export function leftByWeight(gross: Quantity, tare: Quantity, measure: Measure): Quantity | undefined {
  const gram = sizeOf('g', measure)
  if (!('size' in gram)) return undefined
  const step = tick(measure.decimals)
  const net = gross - tare
  const left = divideHalfEven((net < 0n ? -net : net) * gram.size.n, gram.size.d * step) * step
  return net < 0n ? -left : left
}

/**
 * What a container weighs empty, where it was weighed full: its gross weight less what is in it, in grams, to the
 * milligram. Undefined where the item is not measured by mass.
 */
export function tareOfFull(gross: Quantity, content: Quantity, measure: Measure): Quantity | undefined {
  const gram = sizeOf('g', measure)
  if (!('size' in gram)) return undefined
  return gross - divideHalfEven(content * gram.size.d, gram.size.n * tick(3)) * tick(3)
}

/** How an opened container is called where nobody says it: as its lot, with the first number that no sibling has. */
export function containerCode(lot: string, taken: (code: string) => boolean): string {
  for (let n = 1; ; n++) if (!taken(`${lot}/${n}`)) return `${lot}/${n}`
}

/** A weight of so many grams, as it is read: kilograms from one on. */
export const weightSaid = (grams: Quantity): string =>
  grams >= 1_000_000_000n ? `${formatDecimal(grams / 1000n)} kg` : `${formatDecimal(grams)} g`
