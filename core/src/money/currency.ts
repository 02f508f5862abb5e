import { divideHalfEven, ONE, share, type Quantity, type Ratio, type Value } from '../quantity/micro.ts'
import { formatDecimal, formatFixed, parseDecimal } from '../quantity/decimal.ts'
import { readingsOf } from '../quantity/readings.ts'

/** Minor digits that differ from 2, by ISO 4217 code (list of npm `currency-codes` 2.2; `Intl` differs for 29 of them). */
const MINOR: Readonly<Record<string, number>> = {
  BIF: 0,
  CLP: 0,
  DJF: 0,
  GNF: 0,
  ISK: 0,
  JPY: 0,
  KMF: 0,
  KRW: 0,
  PYG: 0,
  RWF: 0,
  UGX: 0,
  UYI: 0,
  VND: 0,
  VUV: 0,
  XAF: 0,
  XOF: 0,
  XPF: 0,
  BHD: 3,
  IQD: 3,
  JOD: 3,
  KWD: 3,
  LYD: 3,
  OMR: 3,
  TND: 3,
  CLF: 4,
  UYW: 4,
}
/** How many decimals amounts of this currency are written with. */
export const minorDigits = (currency: string): number => MINOR[currency] ?? 2

/** An amount of money as it is written in its currency, rounded half to even; for showing, never for storing. */
export const formatMoney = (value: Value, currency: string): string => formatFixed(value, minorDigits(currency))

/**
 * Reads an amount of money as a file of ours or another program says it: digits with a point or a comma, at most 6
 * decimals, never negative. `1.250` is one and a quarter.
 */
export function readMoney(text: string): Value | undefined {
  const [plain] = readingsOf(text)
  return plain === undefined ? undefined : parseDecimal(plain)
}

export type MoneyTyped =
  | { readonly ok: true; readonly value: Value }
  | { readonly ok: false; readonly code: 'not_a_price' }
  | { readonly ok: false; readonly code: 'ambiguous'; readonly choices: readonly [string, string] }

/** Reads an amount of money as somebody typed it: what may be read in two ways is asked, in money as in quantities (rule 58). */
export function moneyTyped(text: string): MoneyTyped {
  const values = readingsOf(text).map(parseDecimal)
  const [value, other] = values
  if (value === undefined) return { ok: false, code: 'not_a_price' }
  if (other !== undefined)
    return { ok: false, code: 'ambiguous', choices: [formatDecimal(value), formatDecimal(other)] }
  return { ok: true, value }
}

/**
 * What a line costs before freight: price × quantity − discount + tax that cannot be reclaimed. The price is for one
 * priced pack of `pack` base units; the whole is one ratio, rounded once (rules 1 and 47: never through a rounded unit
 * price, nor through the rounded base quantity of what was typed in a foreign unit: that is given as a ratio).
 * `taxRate` is in micro-units of 1 (7.75 % = 77 500), on the amount after discount.
 */
export function lineValue(line: {
  price: Value
  pack: Ratio
  quantity: Quantity | Ratio
  discount?: Value
  taxRate?: bigint
}): Value {
  const { n, d } = typeof line.quantity === 'bigint' ? { n: line.quantity, d: ONE } : line.quantity
  const gross = divideHalfEven(line.price * n * line.pack.d, line.pack.n * d)
  const net = gross - (line.discount ?? 0n)
  return net + share(net, line.taxRate ?? 0n, ONE)
}

/** Rounds an amount to the currency's minor unit by the rule asked for: half to even, or half away from zero (as many invoices do). */
export function toMinor(value: Value, currency: string, rule: 'even' | 'up' = 'even'): Value {
  const step = 10n ** BigInt(6 - minorDigits(currency))
  if (rule === 'even') return divideHalfEven(value, step) * step
  const sign = value < 0n ? -1n : 1n
  return ((value * sign * 2n + step) / (2n * step)) * step * sign
}
