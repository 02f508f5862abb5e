import { MOST_LINES, SlipContent } from '@shelve/contract'
import { Refused } from '../ground/index.ts'

/** Of what would stand on a slip, as much as fits beside so many lines that stand there already. */
export const whatFits = <T>(lines: readonly T[], there = 0): T[] => lines.slice(0, Math.max(0, MOST_LINES - there))

/** A slip of more lines than one may have; `instead`: what can be done. */
export const tooManyLines = (lines: number, instead: string): Refused =>
  new Refused(422, 'too_many_lines', `That would be ${lines} lines; a slip has at most ${MOST_LINES}. ${instead}`)

/**
 * A slip that is put together out of what stands in the books, with what goes without saying. Of more lines than a slip may
 * have none is dropped in silence: it is refused, with what can be done `instead`.
 */
export function slipOf(
  content: { readonly lines: readonly object[]; readonly [more: string]: unknown },
  instead: string,
): SlipContent {
  if (content.lines.length > MOST_LINES) throw tooManyLines(content.lines.length, instead)
  return SlipContent.parse(content)
}
