import { parseDecimal, tick } from '../quantity/decimal.ts'
import { divideHalfEven, ONE, over, type Quantity, ratio, times } from '../quantity/micro.ts'
import type { Formula } from './needs.ts'

/** The largest part of the cost that an output can be said to bear: 1 000 000, in millionths. Weights then fit 64 bits. */
export const SHARE_MOST = 1_000_000n * ONE

/** One line of what comes of a make: of which item, how much, and its part of the cost beside the other items (in millionths). */
export interface Output {
  readonly item: number
  readonly quantity: Quantity
  readonly share: bigint
}

/**
 * By what weights the lines of what was made share what it cost (rules 2 and 63): each item its stated part, lines of one
 * item (several lots, and what of it spoiled) that part by their quantity, so that one of it costs alike in all of them. The
 * part of an item is what its first line says. Undefined where no item bears anything: then the cost would be lost.
 */
export function weightsOf(outputs: readonly Output[]): bigint[] | undefined {
  const whole = new Map<number, { quantity: Quantity; readonly share: bigint; lines: number }>()
  for (const o of outputs) {
    const of = whole.get(o.item)
    if (!of) whole.set(o.item, { quantity: o.quantity, share: o.share, lines: 1 })
    else {
      of.quantity += o.quantity
      of.lines++
    }
  }
  const all = [...whole.values()]
  if (!all.some(w => w.share > 0n && w.quantity > 0n)) return undefined
  // As they are stated where no part is divided: nothing is rounded then.
  const scale = all.every(w => w.lines === 1) ? 1n : ONE
  return outputs.map(o => {
    const of = whole.get(o.item)!
    if (of.lines === 1) return of.share * scale
    return of.quantity === 0n ? 0n : divideHalfEven(of.share * scale * o.quantity, of.quantity)
  })
}

/** A part of the cost as somebody types it (`5`, `0,25`), in millionths; undefined where it is none. Nothing is 1. */
export function readShare(text: string): bigint | undefined {
  const plain = text.trim().replace(',', '.')
  const share = plain === '' ? ONE : parseDecimal(plain)
  return share !== undefined && share >= 0n && share <= SHARE_MOST ? share : undefined
}

/**
 * How much of a by-product is expected at so much of what is made: it grows like what goes in, `amount` is for the formula's
 * base. Half to even in its decimals; what really came is typed.
 */
export function besideAt(
  formula: Pick<Formula, 'base' | 'yields'>,
  amount: Quantity,
  wanted: Quantity,
  decimals: number,
): Quantity {
  const { n, d } = over(times(ratio(amount), ratio(wanted)), times(ratio(formula.base), formula.yields))
  const step = tick(decimals)
  return divideHalfEven(n, d * step) * step
}
