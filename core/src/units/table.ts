import { plainLetters } from '../codes/letters.ts'
import { ratio, type Ratio } from '../quantity/micro.ts'

/** What a unit measures. Units of different dimensions only meet through an item's own packs or its density. */
export type Dimension = 'count' | 'mass' | 'volume' | 'length'

/**
 * A unit of measure: its UN/ECE Recommendation 20 code, how it is written, the other spellings people type, and what
 * one of it is in the dimension's own unit (1 each, 1 g, 1 mL, 1 mm), exactly.
 */
export interface Unit {
  readonly code: string
  readonly symbol: string
  readonly names: readonly string[]
  readonly dimension: Dimension
  readonly size: Ratio
  /** Whether it is a power of ten of the dimension's unit: what is typed in such a unit must fit the item's decimals exactly. */
  readonly metric: boolean
}

const u = (
  code: string,
  symbol: string,
  dimension: Dimension,
  n: bigint,
  d: bigint,
  names: string,
  metric = false,
): Unit => ({ code, symbol, dimension, size: ratio(n, d), names: names.split(' ').filter(Boolean), metric })

/**
 * Exact sizes: NIST SP 811 Appendix B and NIST Handbook 44 Appendix C (from memory; Debian's `units` prints the same).
 * Codes: UN/ECE Recommendation 20, meanings from memory.
 */
export const UNITS: readonly Unit[] = [
  u('EA', 'each', 'count', 1n, 1n, 'ea pc pcs piece pieces', true),
  u('C62', 'one', 'count', 1n, 1n, 'unit units', true),
  u('PR', 'pair', 'count', 2n, 1n, 'pairs'),
  u('DZN', 'dozen', 'count', 12n, 1n, 'doz dozens'),
  u('MC', 'µg', 'mass', 1n, 1_000_000n, 'mcg microgram micrograms', true),
  u('MGM', 'mg', 'mass', 1n, 1000n, 'milligram milligrams', true),
  u('GRM', 'g', 'mass', 1n, 1n, 'gram grams gr', true),
  u('KGM', 'kg', 'mass', 1000n, 1n, 'kilo kilos kilogram kilograms', true),
  u('TNE', 't', 'mass', 1_000_000n, 1n, 'tonne tonnes', true),
  u('LBR', 'lb', 'mass', 45_359_237n, 100_000n, 'lbs pound pounds'),
  u('ONZ', 'oz', 'mass', 28_349_523_125n, 1_000_000_000n, 'ounce ounces'),
  u('4G', 'µl', 'volume', 1n, 1000n, 'microlitre microlitres microliter microliters', true),
  u('MLT', 'ml', 'volume', 1n, 1n, 'mL millilitre millilitres milliliter', true),
  u('CLT', 'cl', 'volume', 10n, 1n, 'centilitre centilitres', true),
  u('DLT', 'dl', 'volume', 100n, 1n, 'decilitre decilitres deciliter deciliters', true),
  u('LTR', 'L', 'volume', 1000n, 1n, 'l litre litres liter liters', true),
  u('HLT', 'hl', 'volume', 100_000n, 1n, 'hectolitre hectolitres', true),
  u('PTL', 'pt', 'volume', 473_176_473n, 1_000_000n, 'pint pints'),
  u('QTL', 'qt', 'volume', 946_352_946n, 1_000_000n, 'quart quarts'),
  u('GLL', 'gal', 'volume', 3_785_411_784n, 1_000_000n, 'gallon gallons'),
  u('PTI', 'imp pt', 'volume', 56_826_125n, 100_000n, 'ipt'),
  u('GLI', 'imp gal', 'volume', 454_609n, 100n, 'igal'),
  u('OZA', 'fl oz', 'volume', 295_735_295_625n, 10_000_000_000n, 'floz'),
  u('G21', 'cup', 'volume', 2_365_882_365n, 10_000_000n, 'cups'),
  u('G24', 'tbsp', 'volume', 1_478_676_478_125n, 100_000_000_000n, 'tablespoon tablespoons'),
  u('G25', 'tsp', 'volume', 492_892_159_375n, 100_000_000_000n, 'teaspoon teaspoons'),
  u('4H', 'µm', 'length', 1n, 1000n, 'micrometre micrometres micrometer micrometers', true),
  u('MMT', 'mm', 'length', 1n, 1n, 'millimetre millimetres', true),
  u('CMT', 'cm', 'length', 10n, 1n, 'centimetre centimetres', true),
  u('MTR', 'm', 'length', 1000n, 1n, 'metre metres meter meters', true),
  u('KMT', 'km', 'length', 1_000_000n, 1n, 'kilometre kilometres kilometer kilometers', true),
  u('INH', 'in', 'length', 254n, 10n, 'inch inches'),
  u('FOT', 'ft', 'length', 3048n, 10n, 'foot feet'),
  u('YRD', 'yd', 'length', 9144n, 10n, 'yard yards'),
]

const bySpelling = new Map<string, Unit>()
for (const unit of UNITS)
  for (const name of [unit.code, unit.symbol, ...unit.names]) {
    if (!bySpelling.has(name)) bySpelling.set(name, unit)
    // Also as it is typed where there is no µ: `ul`.
    for (const spelling of [name.toLowerCase(), plainLetters(name)])
      if (!bySpelling.has(spelling)) bySpelling.set(spelling, unit)
  }

/** The unit that is written so (code, symbol or name; exact spelling first, then without regard to case, then in plain letters). */
export const unitCalled = (text: string): Unit | undefined =>
  bySpelling.get(text) ?? bySpelling.get(text.toLowerCase()) ?? bySpelling.get(plainLetters(text))

/**
 * How many `to` one `from` is. Mass and volume meet only through `density` (g per mL, exact); everything else of
 * different dimension has no answer (undefined).
 */
export function conversion(from: Unit, to: Unit, density?: Ratio): Ratio | undefined {
  const q = (a: Ratio, b: Ratio) => ratio(a.n * b.d, a.d * b.n)
  if (from.dimension === to.dimension) return q(from.size, to.size)
  if (!density) return undefined
  if (from.dimension === 'volume' && to.dimension === 'mass')
    return q(ratio(from.size.n * density.n, from.size.d * density.d), to.size)
  if (from.dimension === 'mass' && to.dimension === 'volume')
    return q(ratio(from.size.n * density.d, from.size.d * density.n), to.size)
  return undefined
}

/** What one of a unit costs, in words after the figure: `2.50 a box`, `2.50 each`. */
export const forOne = (unit: string): string => (unit === 'each' ? 'each' : `a ${unit}`)
