import type { DraftLine } from '@shelve/core'
import type { Reading } from './reading.ts'
import type { Resolved } from './resolved.ts'

/**
 * Turns what was typed into what is booked, and says what speaks against it and how each line was read; each kind says
 * itself what becomes of a line. Nothing is written.
 */
export function resolve(r: Reading): Resolved {
  const { content, kind } = r
  kind.begin?.(r)
  for (const line of content.lines)
    if (kind.lines) r.lines.push(...kind.lines(r, line))
    else kind.read!(r, line)
  kind.end?.(r)
  return {
    draft: {
      slipId: r.slipId,
      kind: content.kind,
      effectiveAt: content.effectiveAt === null ? r.house.now() : Date.parse(content.effectiveAt),
      lines: r.lines.map(answered(r)),
      counts: r.counts,
      changes: r.changes.map(c => (c.type === 'replace' ? { ...c, by: c.by.map(answered(r)) } : c)),
      charges: r.charges,
    },
    refusals: r.refusals,
    expected: r.expected,
    awaited: r.awaited,
    tallyUids: r.tallyUids,
    readings: r.readings,
  }
}

/** What is taken for a job answers the need that it has of that item, where it has one. */
function answered(r: Reading): (line: DraftLine) => DraftLine {
  return line => {
    if (line.needId !== undefined || r.books.accountKind(line.to) !== 'used') return line
    const jobId = r.books.making.jobOf(line.to)
    return jobId === null ? line : { ...line, needId: r.house.sources.need(jobId, line.itemId) ?? null }
  }
}
