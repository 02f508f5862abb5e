import type { SlipKind, SlipLine } from '@shelve/contract'
import { refuse } from '@shelve/core'
import { chargesOf } from '../prices.ts'
import { closeDifference } from './closing.ts'
import { correct } from './correction.ts'
import { countLine } from './count.ts'
import { linesOf } from './lines.ts'
import { changeMethod } from './method-change.ts'
import type { Reading } from './reading.ts'
import type { Resolved } from './resolved.ts'

/** Kinds whose lines are no plain movements: each says itself what becomes of a line. */
const OWN: Partial<Record<SlipKind, (r: Reading, line: SlipLine) => void>> = {
  count: countLine,
  closing: closeDifference,
  method_change: changeMethod,
}

/**
 * Turns what was typed into what is booked, and says what speaks against it and how each line was read. Runs inside the
 * transaction of the booking, or of its trial, which is taken back.
 */
export function resolve(r: Reading): Resolved {
  const { content } = r
  const own = OWN[content.kind]
  if (content.kind === 'correction') correct(r)
  else
    for (const line of content.lines)
      if (own) own(r, line)
      else r.lines.push(...linesOf(r, content.kind, line))
  if (content.kind === 'receipt' || content.kind === 'opening')
    r.charges = chargesOf(content.head, (code, field, detail) => r.no(null, code, field, detail))
  if (content.kind === 'count' && !r.counts.length && !r.refusals.length)
    r.refusals.push(refuse(r.empty ? 'nothing_to_tally' : 'nothing_counted', null, 'lines'))
  return {
    draft: {
      slipId: r.slipId,
      kind: content.kind,
      effectiveAt: content.effectiveAt === null ? r.house.now() : Date.parse(content.effectiveAt),
      lines: r.lines,
      counts: r.counts,
      changes: r.changes,
      charges: r.charges,
    },
    refusals: r.refusals,
    expected: r.expected,
    tallyUids: r.tallyUids,
    readings: r.readings,
  }
}
