import { MOST, ONE, divideHalfEven, plus, ratio, times, type Quantity, type Ratio } from '../quantity/micro.ts'
import { fits, formatDecimal, ratioOf, tick } from '../quantity/decimal.ts'
import { isTwofold, readingsOf, TYPED_NUMBER } from '../quantity/readings.ts'
import { plainLetters } from '../codes/letters.ts'
import { conversion, unitCalled } from './table.ts'

/** How an item may be measured: what the reading of a typed quantity needs to know of it. */
export interface Measure {
  /** Name of the base unit as the item calls it (`vial`, `kg`). */
  readonly base: string
  /** How many decimals of the base unit are kept (0 to 6). */
  readonly decimals: number
  /** Packs by name, each as so many base units. */
  readonly packs: readonly { readonly name: string; readonly size: Ratio }[]
  /** Grams per millilitre, where mass and volume may be exchanged. */
  readonly density?: Ratio
}

/** One term of what was typed: `count × unit`, in base units before any rounding. */
export interface Term {
  readonly text: string
  readonly count: Ratio
  readonly unit: string
  readonly base: Ratio
}

export type Typed =
  | { readonly ok: true; readonly quantity: Quantity; readonly terms: readonly Term[]; readonly rounded: boolean }
  | {
      readonly ok: false
      readonly code: 'empty' | 'not_a_quantity' | 'negative' | 'too_large' | 'zero'
      readonly at?: string
    }
  | { readonly ok: false; readonly code: 'unknown_unit'; readonly unit: string; readonly known: readonly string[] }
  | { readonly ok: false; readonly code: 'other_dimension'; readonly unit: string; readonly base: string }
  | {
      readonly ok: false
      readonly code: 'too_many_decimals'
      readonly decimals: number
      readonly nearest: readonly [string, string]
    }
  | {
      readonly ok: false
      readonly code: 'ambiguous'
      readonly choices: readonly [string, string]
      readonly quantities: readonly [Quantity, Quantity]
    }

/** What was typed, in base units, before it was rounded. */
export const exactOf = (terms: readonly Term[]): Ratio => terms.map(t => t.base).reduce(plus, ratio(0n))

const NUMBER = String.raw`\d+\s*/\s*\d+|${TYPED_NUMBER}`
const TERM = new RegExp(String.raw`^\s*(${NUMBER})\s*(?:[*x×]\s*(${NUMBER})\s*)?([^\d+*×.,/-][^+*×]*?)?\s*$`, 'u')

/**
 * Reads a quantity as people say it: `24`, `2 case + 3`, `1.5 kg`, `1,5 kg`, `250 ml`, `3*12`, `1/2 case`.
 * Point and comma are both decimal marks; what may be read in two ways is asked (rule 58). A number without a unit is in
 * `unit` (a pack or unit of the item) or else in the base unit. The sum is rounded once: to the item's decimals, half to even, and only
 * where a unit outside the metric system makes it necessary; whatever else does not fit the decimals is refused.
 */
export function readQuantity(text: string, measure: Measure, unit?: string, allowZero = false): Typed {
  if (!text.trim()) return { ok: false, code: 'empty' }
  const plain = evaluate(text, measure, unit, allowZero, false)
  if (!twofold(text)) return plain
  const grouped = evaluate(text, measure, unit, allowZero, true)
  if (plain.ok && grouped.ok)
    return {
      ok: false,
      code: 'ambiguous',
      quantities: [plain.quantity, grouped.quantity],
      choices: [
        `${formatDecimal(plain.quantity)} ${measure.base}`,
        `${formatDecimal(grouped.quantity)} ${measure.base}`,
      ],
    }
  return grouped.ok ? grouped : plain
}

const twofold = (text: string): boolean =>
  text.split('+').some(t => {
    const m = TERM.exec(t)
    return m !== null && [m[1], m[2]].some(n => n !== undefined && isTwofold(n))
  })

function evaluate(
  text: string,
  measure: Measure,
  unit: string | undefined,
  allowZero: boolean,
  grouped: boolean,
): Typed {
  const terms: Term[] = []
  let metric = true
  for (const part of text.split('+')) {
    if (/^\s*[-−–]\s*\d/.test(part)) return { ok: false, code: 'negative', at: part.trim() }
    const m = TERM.exec(part)
    if (!m) return { ok: false, code: 'not_a_quantity', at: part.trim() }
    const count = numberOf(m[1]!, grouped)
    const by = m[2] === undefined ? ratio(1n) : numberOf(m[2], grouped)
    if (!count || !by) return { ok: false, code: 'not_a_quantity', at: part.trim() }
    const name = m[3]?.trim() || unit || measure.base
    const size = sizeOf(name, measure)
    if ('code' in size) return size
    metric &&= size.metric
    const all = times(count, by)
    terms.push({ text: part.trim(), count: all, unit: name, base: times(all, size.size) })
  }
  return settle(exactOf(terms), measure, metric, terms, allowZero)
}

function settle(sum: Ratio, measure: Measure, metric: boolean, terms: Term[], allowZero: boolean): Typed {
  const micro = ratio(sum.n * ONE, sum.d)
  const step = tick(measure.decimals)
  if (micro.n > MOST * micro.d) return { ok: false, code: 'too_large' }
  if (micro.n === 0n && !allowZero) return { ok: false, code: 'zero' }
  if (micro.d === 1n && fits(micro.n, measure.decimals)) return { ok: true, quantity: micro.n, terms, rounded: false }
  const nearest = divideHalfEven(micro.n, micro.d * step) * step
  if (!metric && nearest > 0n) return { ok: true, quantity: nearest, terms, rounded: true }
  const floor = (micro.n / (micro.d * step)) * step
  return {
    ok: false,
    code: 'too_many_decimals',
    decimals: measure.decimals,
    nearest: [`${formatDecimal(floor)} ${measure.base}`, `${formatDecimal(floor + step)} ${measure.base}`],
  }
}

function numberOf(text: string, grouped: boolean): Ratio | undefined {
  const fraction = text.split('/').map(s => s.trim())
  if (fraction.length === 2)
    return fraction[1]!.replaceAll('0', '') === '' ? undefined : ratio(BigInt(fraction[0]!), BigInt(fraction[1]!))
  const read = readingsOf(text)
  const it = grouped ? read.at(-1) : read[0]
  return it === undefined ? undefined : ratioOf(it)
}

type Size = { readonly size: Ratio; readonly metric: boolean }

/** What one of the named unit is in base units: the base itself, a pack of the item, or a measured unit of its dimension. */
export function sizeOf(
  name: string,
  measure: Measure,
): Size | Extract<Typed, { code: 'unknown_unit' | 'other_dimension' }> {
  if (same(name, measure.base)) return { size: ratio(1n), metric: true }
  const pack =
    measure.packs.find(p => same(name, p.name)) ??
    measure.packs.find(p => same(plainLetters(name), plainLetters(p.name)))
  if (pack) return { size: pack.size, metric: true }
  const from = unitCalled(name)
  const to = unitCalled(measure.base)
  if (!from)
    return { ok: false, code: 'unknown_unit', unit: name, known: [measure.base, ...measure.packs.map(p => p.name)] }
  const size = to && conversion(from, to, measure.density)
  if (!size) return { ok: false, code: 'other_dimension', unit: name, base: measure.base }
  return { size, metric: from.metric && to.metric && from.dimension === to.dimension }
}

/** Names match without regard to case, and a plain English plural is understood: `cases` is `case`, `boxes` is `box`. */
function same(typed: string, name: string): boolean {
  const a = typed.toLowerCase().replace(/\.$/, '')
  const b = name.toLowerCase()
  return a === b || a === `${b}s` || a === `${b}es`
}
