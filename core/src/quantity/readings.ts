/** A number with thousands grouped, so that it cannot be read otherwise: both marks, or one of them more than once. */
const GROUPED = String.raw`[1-9]\d{0,2}(?:\.\d{3})+,\d+|[1-9]\d{0,2}(?:,\d{3})+\.\d+|[1-9]\d{0,2}(?:(?:\.\d{3}){2,}|(?:,\d{3}){2,})`
/** A number as people type it, as the source of a regular expression; point and comma are both decimal marks. */
export const TYPED_NUMBER = String.raw`${GROUPED}|\d*[.,]\d+|\d+[.,]?`
const GROUPS = new RegExp(`^(?:${GROUPED})$`)
const NUMBER = new RegExp(`^(?:${TYPED_NUMBER})$`)
/** A mark followed by exactly three digits, with one to three digits before it: `1.500` may be one and a half, or fifteen hundred. */
const TWOFOLD = /^([1-9]\d{0,2})[.,](\d{3})$/

/** Whether a number may be read in two ways. */
export const isTwofold = (number: string): boolean => TWOFOLD.test(number)

/**
 * What a typed number may mean, as plain decimals with a point: nothing where it is no number; one reading; or two where a
 * mark is followed by exactly three digits and may as well group thousands (rule 58), the one with decimals first.
 */
export function readingsOf(text: string): readonly string[] {
  const t = text.trim()
  if (!NUMBER.test(t)) return []
  if (GROUPS.test(t)) {
    const mark = Math.max(t.lastIndexOf('.'), t.lastIndexOf(','))
    const parts = [t.slice(0, mark), t.slice(mark + 1)].map(p => p.replace(/[.,]/g, ''))
    return [parts.join(t.includes('.') && t.includes(',') ? '.' : '')]
  }
  const plain = t.replace(',', '.').replace(/^\./, '0.').replace(/\.$/, '')
  const two = TWOFOLD.exec(t)
  return two ? [plain, two[1]! + two[2]!] : [plain]
}
