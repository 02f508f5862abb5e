import { ONE, abs, divideHalfEven, ratio, type Ratio } from './micro.ts'

const WIRE = /^(-?)(\d{1,13})(?:\.(\d{1,6}))?$/

/** Reads a decimal string as it stands on the wire and in files (`"2.5"`, point, no grouping, at most 6 decimals) into micro-units. */
export function parseDecimal(text: string): bigint | undefined {
  const m = WIRE.exec(text)
  if (!m) return undefined
  const amount = BigInt(m[2]!) * ONE + BigInt((m[3] ?? '').padEnd(6, '0') || '0')
  return m[1] ? -amount : amount
}

/** The same for trusted text; throws where it is not a decimal. */
export function decimal(text: string): bigint {
  const x = parseDecimal(text)
  if (x === undefined) throw new RangeError(`not a decimal number: ${text}`)
  return x
}

/** Prints micro-units as a decimal string without trailing zeros; with `places` at least that many decimals. Exact. */
export function formatDecimal(amount: bigint, places = 0): string {
  const whole = abs(amount) / ONE
  const digits = (abs(amount) % ONE).toString().padStart(6, '0')
  let n = 6
  while (n > places && digits[n - 1] === '0') n--
  return `${amount < 0n ? '-' : ''}${whole}${n ? `.${digits.slice(0, n)}` : ''}`
}

/** Prints micro-units rounded to exactly `places` decimals (half to even): for showing money only, never for storing. */
export function formatFixed(amount: bigint, places: number): string {
  const tick = 10n ** BigInt(6 - Math.min(6, Math.max(0, places)))
  const rounded = divideHalfEven(amount, tick) * tick
  const [whole, frac = ''] = formatDecimal(rounded, places).split('.')
  return places > 0 ? `${whole}.${frac.slice(0, places).padEnd(places, '0')}` : whole!
}

/** Prints an exact amount of micro-units to nine decimals at most; `…` where that is not all of it. For showing how something came about. */
export function formatExact({ n, d }: Ratio): string {
  const thousandths = divideHalfEven(n * 1000n, d)
  const [whole, frac = ''] = formatDecimal(thousandths / 1000n).split('.')
  const rest = abs(thousandths % 1000n)
    .toString()
    .padStart(3, '0')
    .replace(/0+$/, '')
  const digits = rest ? frac.padEnd(6, '0') + rest : frac
  return `${whole}${digits ? `.${digits}` : ''}${(n * 1000n) % d === 0n ? '' : '…'}`
}

/** The smallest amount an item with so many decimals can have, in micro-units. */
export const tick = (decimals: number): bigint => 10n ** BigInt(6 - decimals)
export const fits = (amount: bigint, decimals: number): boolean => amount % tick(decimals) === 0n

/** Reads plain digits with one decimal point into an exact ratio, without any limit of decimals. */
export function ratioOf(text: string): Ratio {
  const [whole, frac = ''] = text.split('.')
  return ratio(BigInt((whole || '0') + frac), 10n ** BigInt(frac.length))
}
