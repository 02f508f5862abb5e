import { parseDecimal, tick } from '../quantity/decimal.ts'
import {
  divideHalfEven,
  max,
  min,
  ONE,
  over,
  plus,
  type Quantity,
  type Ratio,
  ratio,
  times,
} from '../quantity/micro.ts'

/** What a formula takes of one item: an amount for its base output, one more for each run, and what is lost of both. */
export interface FormulaLine {
  readonly item: number
  readonly amount: Quantity
  readonly fixed: Quantity
  /** The part that is lost on the way, as a share of what is taken: 0 or more, below 1. */
  readonly loss: Ratio
}
/** How something is made. Amounts of its lines are for `base`; of `base`, `yields` really comes out. */
export interface Formula {
  readonly output: number
  readonly base: Quantity
  readonly yields: Ratio
  /** It is made in whole multiples of this; null: in any amount. */
  readonly batch: Quantity | null
  readonly lines: readonly FormulaLine[]
}
/** Everything that is made, by what comes out; what is not in it is bought. */
export type Formulas = ReadonlyMap<number, Formula>
/** With how many decimals an item is counted; 0: in whole units. */
export type DecimalsOf = (item: number) => number

/** What is lost of something may be less than all of it; what comes out, more than nothing. Beyond these it is a slip of the keyboard. */
const LOSS_MOST = 95n
const YIELD_MOST = 200n
const HUNDRED = 100n * ONE

/** A share in per cent as somebody types it (`12.5`, `12,5 %`), in millionths; undefined where it is none. Nothing is `silent`. */
export function readPercent(text: string, silent: bigint): bigint | undefined {
  const plain = text.trim().replace(/ *%$/, '').replace(',', '.')
  return plain === '' ? silent * ONE : parseDecimal(plain)
}
/** What is lost: 0 to 95 per cent. */
export function readLoss(text: string): Ratio | undefined {
  const p = readPercent(text, 0n)
  return p !== undefined && p >= 0n && p <= LOSS_MOST * ONE ? ratio(p, HUNDRED) : undefined
}
/** What comes out: above 0, to 200 per cent. */
export function readYield(text: string): Ratio | undefined {
  const p = readPercent(text, 100n)
  return p !== undefined && p > 0n && p <= YIELD_MOST * ONE ? ratio(p, HUNDRED) : undefined
}

/** What a make takes of an item: exactly, and as it is written. */
export interface Need {
  readonly exact: Ratio
  readonly quantity: Quantity
}
const NOTHING = ratio(0n)

/** A need as it is written: whole units up, measured ones half to even, and never a need above 0 as 0 (rule 61). */
export function written(exact: Ratio, decimals: number): Quantity {
  if (exact.n <= 0n) return 0n
  const step = tick(decimals)
  const { n, d } = over(exact, ratio(step))
  return max(decimals === 0 ? (n + d - 1n) / d : divideHalfEven(n, d), 1n) * step
}

/**
 * What one make of `wanted` takes, in micro-units: (amount × wanted ÷ (base × yield) + fixed) ÷ (1 − loss) for each line
 * (rule 61); lines of one item are added first, then written once.
 */
export function needsOf(formula: Formula, wanted: Quantity, decimals: DecimalsOf): Map<number, Need> {
  const scale = over(ratio(wanted), times(ratio(formula.base), formula.yields))
  const exact = new Map<number, Ratio>()
  for (const l of formula.lines) {
    const taken = plus(times(ratio(l.amount), scale), ratio(l.fixed))
    const need = over(taken, plus(ratio(1n), ratio(-l.loss.n, l.loss.d)))
    exact.set(l.item, plus(exact.get(l.item) ?? NOTHING, need))
  }
  return new Map([...exact].map(([item, x]) => [item, { exact: x, quantity: written(x, decimals(item)) }]))
}

/**
 * Which part of what is taken of an item is lost on the way (peeled, boned, poured away): by its lines, each weighed with what
 * it takes (rule 61: what is taken × its loss). It belongs to what is made, and is no waste.
 */
export function lossOf(formula: Formula, wanted: Quantity, item: number): Ratio {
  const scale = over(ratio(wanted), times(ratio(formula.base), formula.yields))
  let taken = NOTHING
  let lost = NOTHING
  for (const l of formula.lines) {
    if (l.item !== item) continue
    const gross = over(plus(times(ratio(l.amount), scale), ratio(l.fixed)), plus(ratio(1n), ratio(-l.loss.n, l.loss.d)))
    taken = plus(taken, gross)
    lost = plus(lost, times(gross, l.loss))
  }
  return taken.n > 0n ? over(lost, taken) : NOTHING
}

/** A quantity raised to a whole multiple of the batch. */
export const inBatches = (quantity: Quantity, batch: Quantity | null): Quantity =>
  batch === null ? quantity : ((quantity + batch - 1n) / batch) * batch

/**
 * The way round from a made thing back to itself, with it at both ends; undefined where there is none. Found before a
 * formula is saved: nothing below works on a circle.
 */
export function circleFrom(formulas: Formulas, output: number): number[] | undefined {
  const done = new Set<number>()
  const way: number[] = []
  const from = (item: number): number[] | undefined => {
    const at = way.indexOf(item)
    if (at >= 0) return [...way.slice(at), item]
    if (done.has(item)) return undefined
    way.push(item)
    for (const l of formulas.get(item)?.lines ?? []) {
      const found = from(l.item)
      if (found) return found
    }
    way.pop()
    done.add(item)
    return undefined
  }
  return from(output)
}

/** A made thing and all that is made for it, each before everything that it is made of. */
export function makingOrder(formulas: Formulas, output: number): number[] {
  const seen = new Set<number>()
  const out: number[] = []
  const visit = (item: number) => {
    const formula = formulas.get(item)
    if (!formula || seen.has(item)) return
    seen.add(item)
    for (const l of formula.lines) visit(l.item)
    out.push(item)
  }
  visit(output)
  return out.reverse()
}

export interface Explosion {
  /** What is made, in the order in which each comes before what it is made of; quantities in whole batches. */
  readonly make: ReadonlyMap<number, Quantity>
  /** What is taken from stock: what is bought, and of what is made as much as is there. */
  readonly take: ReadonlyMap<number, Quantity>
  /** Everything that is needed, from whatever it then comes. */
  readonly need: ReadonlyMap<number, Need>
}

/**
 * What making `wanted` of something needs, through all its parts (rule 62): level by level, an item's need is the sum over
 * everything above it, is met once from what is there (`have`; nothing of the output itself), and the rest is made once,
 * raised once to whole batches. `formulas` must be without a circle.
 */
export function explode(
  formulas: Formulas,
  output: number,
  wanted: Quantity,
  have: (item: number) => Quantity,
  decimals: DecimalsOf,
  order = makingOrder(formulas, output),
): Explosion {
  const need = new Map<number, Need>([[output, { exact: ratio(wanted), quantity: wanted }]])
  const make = new Map<number, Quantity>()
  const take = new Map<number, Quantity>()
  for (const item of order) {
    const needed = need.get(item)?.quantity ?? 0n
    const there = item === output ? 0n : min(needed, max(have(item), 0n))
    if (there > 0n) take.set(item, there)
    if (needed <= there) continue
    const formula = formulas.get(item)!
    const made = inBatches(needed - there, formula.batch)
    make.set(item, made)
    for (const [part, n] of needsOf(formula, made, decimals)) {
      const more = need.get(part)
      need.set(part, more ? { exact: plus(more.exact, n.exact), quantity: more.quantity + n.quantity } : n)
    }
  }
  for (const [item, { quantity }] of need) if (!formulas.has(item) && quantity > 0n) take.set(item, quantity)
  return { make, take, need }
}

export interface CouldMake {
  readonly quantity: Quantity
  /** What would be short at one step more, and by how much. */
  readonly short: ReadonlyMap<number, Quantity>
}

/**
 * The largest output whose whole explosion is met by what is there (rule 64), in steps of the output's decimals. Needs never
 * fall as the output grows, so it is found by halving. `most` bounds it where nothing that is needed can run out.
 */
export function couldMake(
  formulas: Formulas,
  output: number,
  have: (item: number) => Quantity,
  decimals: DecimalsOf,
  most: Quantity = 1_000_000n * ONE,
): CouldMake {
  const order = makingOrder(formulas, output)
  const step = tick(decimals(output))
  const shortOf = (steps: bigint): Map<number, Quantity> => {
    const { take } = explode(formulas, output, steps * step, have, decimals, order)
    return new Map(
      [...take].flatMap(([item, q]) =>
        formulas.has(item) || q <= have(item) ? [] : [[item, q - max(have(item), 0n)]],
      ),
    )
  }
  const end = most / step
  let enough = 0n
  let tooMuch = 1n
  while (tooMuch <= end && shortOf(tooMuch).size === 0) {
    enough = tooMuch
    tooMuch *= 2n
  }
  if (tooMuch > end) tooMuch = end + 1n
  while (tooMuch - enough > 1n) {
    const middle = (enough + tooMuch) / 2n
    if (shortOf(middle).size === 0) enough = middle
    else tooMuch = middle
  }
  return { quantity: enough * step, short: shortOf(tooMuch) }
}

/**
 * How much of a stock solution gives `volume` at a lower strength, and how much is added to it: C₁V₁ = C₂V₂ (the dilution
 * equation of any chemistry primer). Strengths are in one unit. Refused (undefined) where the stock is not stronger.
 */
export function dilution(
  stock: Ratio,
  wanted: Ratio,
  volume: Quantity,
): { stock: Quantity; diluent: Quantity } | undefined {
  if (stock.n <= 0n || wanted.n < 0n || plus(stock, ratio(-wanted.n, wanted.d)).n < 0n) return undefined
  const { n, d } = over(times(wanted, ratio(volume)), stock)
  const taken = divideHalfEven(n, d)
  return { stock: taken, diluent: volume - taken }
}
