import { isCounted, type SlipContent, type SlipLine } from '@shelve/contract'
import { sha256 } from '../ground/index.ts'

/**
 * An entry of a count belongs to whoever counted: a line is (item, lot, place, counter). Whoever enters another figure
 * where somebody has counted already adds an entry of their own beside it; only taking one off, counting it again or a
 * note is written on the entry that stands. What is entered from a sheet on paper is the paper's, whoever types it.
 */
export function entryOf(there: SlipLine | null, sent: SlipLine, slip: SlipContent, writer: string): SlipLine {
  if (slip.head.sheet !== null) return { ...sent, counter: null }
  if (sent.counted === 'not') return { ...sent, counter: null }
  if (there && isCounted(there) && sameFigure(there, sent)) return { ...sent, counter: there.counter }
  const own = { ...sent, counter: writer }
  if (!there || !isCounted(there) || there.counter === null || there.counter === writer) return own
  return { ...own, id: ownId(sent.id, writer), again: '' }
}
const sameFigure = (a: SlipLine, b: SlipLine): boolean =>
  a.counted === b.counted && a.typed === b.typed && a.unit === b.unit && a.countedAt === b.countedAt

/**
 * The id of somebody's own entry beside a line: always the same, so that what is sent twice is one entry. A UUID of
 * version 8 (RFC 9562, 5.8), made of the line's id and the counter's. It begins as the line's, which is of version 7: of
 * two on one position the smaller id comes first, and so the entry that was there.
 */
function ownId(line: string, writer: string): string {
  const h = sha256(`count entry ${line} ${writer}`)
  const variant = ((parseInt(h[16]!, 16) & 3) | 8).toString(16)
  return `${line.slice(0, 13)}-8${h.slice(13, 16)}-${variant}${h.slice(17, 20)}-${h.slice(20, 32)}`
}
