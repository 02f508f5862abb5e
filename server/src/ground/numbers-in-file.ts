import { decimal, formatDecimal, isTwofold, plainly, readingsOf, TYPED_NUMBER } from '@shelve/core'

/** How a file marks decimals. */
export type DecimalMark = '.' | ','
const NUMBER = `(?<![\\d.,])(?:${TYPED_NUMBER})(?![\\d.,])`
const NUMBERS = new RegExp(NUMBER, 'g')
const SIZES = new RegExp(`(?<==\\s*)${NUMBER}`, 'g')
/** Where the numbers of a cell stand: anywhere, or behind a name and `=` (a name may hold a number, too). */
export type Where = 'anywhere' | 'behind names'
const numbersIn = (where: Where) => (where === 'anywhere' ? NUMBERS : SIZES)

/** The decimal mark that one number shows, as far as it has one reading and a mark at all. */
function shown(number: string): DecimalMark | undefined {
  if (isTwofold(number) || !/[.,]/.test(number)) return undefined
  const [point, comma] = [number.lastIndexOf('.'), number.lastIndexOf(',')]
  const last = point > comma ? '.' : ','
  const other = last === '.' ? ',' : '.'
  // A mark that stands more than once groups thousands.
  return number.indexOf(last) === Math.max(point, comma) ? last : other
}

/**
 * How a file marks decimals: as those of its numbers show that can be read in one way only; where none does, a file whose
 * columns stand between commas has a point (RFC 4180 would want quotes otherwise). `undefined`: it cannot be told.
 */
export function markOf(cells: Iterable<readonly [string, Where]>, delimiter: string): DecimalMark | undefined {
  const marks = new Set<DecimalMark>()
  for (const [cell, where] of cells)
    for (const [number] of cell.matchAll(numbersIn(where))) {
      const mark = shown(number)
      if (mark) marks.add(mark)
    }
  const [mark = delimiter === ',' ? '.' : undefined, other] = marks
  return other ? undefined : mark
}

/** A cell with its numbers written so that they have one reading each; or the first that has two, and which. */
export function withPlainNumbers(
  cell: string,
  where: Where,
  mark: DecimalMark | undefined,
): string | { readonly number: string; readonly readings: readonly string[] } {
  let asked: { number: string; readings: readonly string[] } | undefined
  const plain = cell.replace(numbersIn(where), number => {
    const readings = readingsOf(number)
    if (readings.length < 2) return number
    if (!mark) {
      asked ??= { number, readings: readings.map(r => formatDecimal(decimal(r))) }
      return number
    }
    return plainly(decimal(readings[number.includes(mark) ? 0 : 1]!))
  })
  return asked ?? plain
}
