import { decimal, plainly, type Quantity } from '@shelve/core'

/** A plain number, and one that could be thousands as well as decimals. */
const NUMBER = /^\d{1,10}(\.\d{1,6})?$/
const DOUBTFUL = /^[1-9]\d{0,2}\.\d{3}$/

/**
 * What is typed on a line after one more scan of it: added exactly where a plain number stands there; what somebody typed with a
 * unit, a sum or a doubtful mark is left as it is, and more written behind it.
 */
export function oneMore(typed: string, more: Quantity): string {
  const text = typed.trim()
  if (!text) return plainly(more)
  return NUMBER.test(text) && !DOUBTFUL.test(text) ? plainly(decimal(text) + more) : `${text} + ${plainly(more)}`
}
