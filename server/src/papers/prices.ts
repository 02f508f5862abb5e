import type { SlipHead, SlipLine } from '@shelve/contract'
import {
  type Charge,
  exactOf,
  lineValue,
  type Measure,
  moneyTyped,
  MOST,
  ONE,
  ratio,
  readQuantity,
  sizeOf,
} from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'

/** Says what of a line cannot be read. */
type No = (code: string, field: string, detail: Record<string, unknown>) => void

/** An amount of money that somebody typed; undefined where it cannot be read, or in two ways: `no` is told of it. */
export function moneyOf(text: string, no: (code: string, detail: Record<string, unknown>) => void): bigint | undefined {
  const read = moneyTyped(text)
  if (read.ok) return read.value
  no(read.code, read.code === 'ambiguous' ? { typed: text.trim(), choices: read.choices } : { given: text })
  return undefined
}
/** How much of an item was typed, and in which unit, where it names none. */
export type AsTyped = Pick<SlipLine, 'typed' | 'unit'>

/**
 * What a line's goods are worth: price × quantity − discount; null where no price was typed, undefined where it cannot
 * be read. `measure`: how quantities of it are read; `as`: how this one was typed.
 */
export function goodsOf(
  measure: Measure,
  line: SlipLine,
  item: ItemRow,
  quantity: bigint,
  no: No,
  as: AsTyped = line,
): bigint | null | undefined {
  const read = (text: string, field: string): bigint | null | undefined => {
    return text.trim() ? moneyOf(text, (code, detail) => no(code, field, detail)) : null
  }
  const price = read(line.price, 'price')
  const discount = read(line.discount, 'discount')
  if (price === undefined || discount === undefined) return undefined
  if (price === null) return null
  const size = sizeOf(line.unit ?? item.unit, measure)
  // What was typed in a foreign unit is priced as it was typed, not as it was rounded for the shelf (rule 47).
  const typed = readQuantity(as.typed, measure, as.unit ?? undefined)
  const value = lineValue({
    price,
    pack: 'size' in size ? size.size : ratio(1n),
    quantity: typed.ok && typed.quantity === quantity ? exactOf(typed.terms) : ratio(quantity, ONE),
    ...(discount === null ? {} : { discount }),
  })
  if (value < 0n) {
    no('discount_too_large', 'discount', { given: line.discount })
    return undefined
  }
  return value
}

/** Freight and the like, of those that were filled in. */
export function chargesOf(head: SlipHead, no: No): Charge[] {
  return head.charges
    .filter(c => c.amount.trim())
    .flatMap(c => {
      const amount = moneyOf(c.amount, (code, detail) => no(code, 'charges', detail))
      if (amount !== undefined && amount > MOST) no('price_out_of_range', 'charges', { given: c.amount })
      return amount !== undefined && amount > 0n && amount <= MOST ? [{ amount, basis: c.basis }] : []
    })
}
