import { decimal, isTwofold, plainly, type Quantity } from '@shelve/core'

const NUMBER = /^\d{1,10}(\.\d{1,6})?$/

/**
 * What is typed on a line after one more scan of it: added exactly where a plain number stands there; what somebody typed with a
 * unit, a sum or a doubtful mark is left as it is, and more written behind it.
 */
export function oneMore(typed: string, more: Quantity): string {
  const text = typed.trim()
  if (!text) return plainly(more)
  return NUMBER.test(text) && !isTwofold(text) ? plainly(decimal(text) + more) : `${text} + ${plainly(more)}`
}
