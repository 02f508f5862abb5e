/**
 * Exact amounts. A quantity is a whole number of micro-units (10⁻⁶ of an item's base unit), a value a whole number of
 * micro-units of the currency. Both are `bigint`; the brand keeps one from being handed in where the other is wanted,
 * while sums and products (plain `bigint`) stay usable for either. Nothing here ever passes through a binary fraction.
 */
declare const unit: unique symbol
export type Quantity = bigint & { readonly [unit]?: 'quantity' }
export type Value = bigint & { readonly [unit]?: 'value' }

/** One whole base unit, or one whole unit of the currency, in micro-units. */
export const ONE = 1_000_000n
/** The largest amount Shelve takes: a thousand million whole units. Above it a typing mistake is certain. */
export const MOST = 1_000_000_000n * ONE

/** An exact ratio of two integers; `d` is positive. */
export interface Ratio {
  readonly n: bigint
  readonly d: bigint
}

export const ratio = (n: bigint, d: bigint = 1n): Ratio => {
  if (d === 0n) throw new RangeError('a ratio needs a denominator other than 0')
  if (d < 0n) {
    n = -n
    d = -d
  }
  const g = gcd(n < 0n ? -n : n, d)
  return { n: n / g, d: d / g }
}
export const times = (a: Ratio, b: Ratio): Ratio => ratio(a.n * b.n, a.d * b.d)
export const plus = (a: Ratio, b: Ratio): Ratio => ratio(a.n * b.d + b.n * a.d, a.d * b.d)
export const over = (a: Ratio, b: Ratio): Ratio => ratio(a.n * b.d, a.d * b.n)

export function gcd(a: bigint, b: bigint): bigint {
  while (b) [a, b] = [b, a % b]
  return a || 1n
}

export const abs = (x: bigint): bigint => (x < 0n ? -x : x)
export const min = (a: bigint, b: bigint): bigint => (a < b ? a : b)
export const max = (a: bigint, b: bigint): bigint => (a > b ? a : b)

/** `n ÷ d` rounded to a whole number, half to even (IEEE 754-2019, 4.3.1, there for binary; the bankers' rule). */
export function divideHalfEven(n: bigint, d: bigint): bigint {
  if (d === 0n) throw new RangeError('division by 0')
  if (d < 0n) {
    n = -n
    d = -d
  }
  let q = n / d
  let r = n % d
  if (r < 0n) {
    q -= 1n
    r += d
  }
  const twice = r * 2n
  return twice > d || (twice === d && q % 2n !== 0n) ? q + 1n : q
}

/** `x × a ÷ b`, rounded once, half to even. */
export const share = (x: bigint, a: bigint, b: bigint): bigint => divideHalfEven(x * a, b)

/**
 * Splits `total` by `weights` so that the parts add up to it exactly: each part is floored, the ticks left over go to
 * the largest fractions, ties to the earlier line (largest remainder, Hamilton's method). A negative total is split by
 * its absolute amount. Returns undefined where the weights add up to 0 or one of them is negative: there is nothing to go by.
 */
export function split(total: bigint, weights: readonly bigint[]): bigint[] | undefined {
  const sum = weights.reduce((a, b) => a + b, 0n)
  if (sum <= 0n || weights.some(w => w < 0n)) return undefined
  const sign = total < 0n ? -1n : 1n
  const amount = abs(total)
  const parts = weights.map(w => (amount * w) / sum)
  let left = amount - parts.reduce((a, b) => a + b, 0n)
  const order = weights
    .map((w, i) => ({ i, rest: (amount * w) % sum }))
    .sort((a, b) => (a.rest === b.rest ? a.i - b.i : a.rest > b.rest ? -1 : 1))
  for (const { i } of order) {
    if (left === 0n) break
    parts[i]! += 1n
    left -= 1n
  }
  return parts.map(p => p * sign)
}
