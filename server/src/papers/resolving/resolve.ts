import type { DraftLine } from '@shelve/core'
import { remember } from '../../ground/index.ts'
import type { Reading } from './reading.ts'
import type { Resolved } from './resolved.ts'

/**
 * Turns what was typed into what is booked, and says what speaks against it and how each line was read; each kind says
 * itself what becomes of a line. Nothing is written.
 */
export function resolve(r: Reading): Resolved {
  const { content, kind } = r
  onTheWay(r)
  kind.begin?.(r)
  for (const line of content.lines)
    if (kind.lines) r.lines.push(...kind.lines(r, line))
    else kind.read!(r, line)
  kind.end?.(r)
  const answers = answered(r)
  return {
    draft: {
      slipId: r.slipId,
      kind: content.kind,
      effectiveAt: content.effectiveAt === null ? (r.instead ?? r.house.now()) : Date.parse(content.effectiveAt),
      lines: r.lines.map(answers),
      counts: r.counts,
      changes: r.changes.map(c => ('by' in c ? { ...c, by: c.by.map(answers) } : c)),
      charges: r.charges,
    },
    refusals: r.refusals,
    expected: r.expected,
    awaited: r.awaited,
    tallyUids: r.tallyUids,
    readings: r.readings,
  }
}

/** Of what is on its way nothing is taken, given or put there: it arrives first, or is counted as lost (rule 67). */
function onTheWay(r: Reading): void {
  const at = r.area()
  if (at !== undefined && r.content.kind !== 'count' && r.house.places.transit(at))
    r.once('on_the_way', 'place', { place: at })
}

/** What is taken for a job answers the need that it has of that item, where it has one. */
function answered(r: Reading): (line: DraftLine) => DraftLine {
  // Most slips are for one: it is asked once.
  const needs = new Map<number, ReadonlyMap<number, number>>()
  const ofJob = (job: number | null) => (job === null ? null : remember(needs, job, () => r.house.sources.needs(job)))
  const receivers = new Map<number, ReadonlyMap<number, number> | null>()
  const needsOf = (account: number) =>
    remember(receivers, account, () => {
      const kind = r.books.accountKind(account)
      if (kind === 'place') return ofJob(r.house.sources.jobWith(account) ?? null)
      return kind === 'used' ? ofJob(r.books.making.jobOf(account)) : null
    })
  const madeFor = r.job()
  return line => {
    const made = r.books.accountKind(line.to) === 'made'
    const of = line.needId !== undefined ? null : made ? ofJob(madeFor) : needsOf(line.to)
    return of ? { ...line, needId: of.get(line.itemId) ?? null } : line
  }
}
