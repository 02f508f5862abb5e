import type { SlipLine } from '@shelve/contract'
import { type DraftLine, readShare, weightsOf } from '@shelve/core'
import type { ItemRow } from '../catalogue/index.ts'
import { ENDED } from '../costcentres/index.ts'
import { factsOfLine } from '../ledger/index.ts'
import { givesBack, type Kind, outward, type Reading } from '../papers/index.ts'
import { wastedBy } from '../waste/index.ts'
import type { House } from './house.ts'

/** What comes of a make, line by line, before it is known what each of them is worth. */
interface Outcome {
  readonly line: SlipLine
  readonly item: ItemRow
  readonly quantity: bigint
  readonly share: bigint
  readonly to: number
  readonly lotId: number
}
/** What is collected of a make while its lines are read. */
interface Making {
  readonly takes: DraftLine[]
  readonly gives: Outcome[]
}
const makings = new WeakMap<Reading, Making>()
const makingOf = (r: Reading): Making => {
  let m = makings.get(r)
  if (!m) makings.set(r, (m = { takes: [], gives: [] }))
  return m
}
/** All lines of a make are one event. */
const EVENT = 'make'

/**
 * Something is made: what goes in is taken from its shelves, what comes out is worth all of it and what is stated beside
 * (rule 63). A line with a reason was wasted: of what went in, or of what came out. It is taken back whole; one that `corrects`
 * another stands in its place.
 */
export const kinds = (house: House): readonly Kind[] => [
  {
    kind: 'make',
    prefix: 'MA',
    title: ({ house, content, first, receiver }) => {
      const made = content.lines.flatMap(l =>
        l.side === 'out' && l.item ? [house.known.item(l.item)?.name ?? ''] : [],
      )
      const what = [...new Set(made)].join(', ') || first
      return receiver && receiver !== what ? `${what} for ${receiver}` : what
    },
    changesNames: true,
    begin,
    read: (r, line) => {
      const item = r.item(line)
      const quantity = item && r.quantity(line, item)
      if (quantity === undefined) return
      if (line.side === 'out') comesOut(r, line, item!, quantity)
      else makingOf(r).takes.push(...goesIn(house, r, line, item!, quantity))
    },
    end: r => finish(house, r),
  },
]

/** A make that corrects another: what that one took lies on its shelves again, and what came of it does not. */
function begin(r: Reading): void {
  const { corrects } = r.content.head
  if (corrects === null) return
  const target = r.house.rows.slip.get({ uid: corrects })
  if (target?.state !== 'booked' || target.kind !== 'make') return r.no(null, 'no_make', 'corrects')
  r.target = target
  const facts = factsOf(r, target.id)
  if (!facts.length) return r.no(null, 'nothing_to_correct', 'corrects')
  r.lineAt = facts[0]!.effectiveAt
  r.instead = Math.max(r.lineAt, r.books.openFrom())
  givesBack(r, facts)
}
/** What stands still of a slip. */
const factsOf = (r: Reading, slipId: number) =>
  r.house.rows.lines.all({ slip: slipId }).flatMap(l => factsOfLine(r.house, r.books, l.id))

function goesIn(house: House, r: Reading, line: SlipLine, item: ItemRow, quantity: bigint): DraftLine[] {
  const wasted = line.reason !== null
  const to = wasted ? wastedBy(house, r, line) : r.house.accounts.made
  return outward(r, line, item, quantity, to, { usable: !wasted })
}

function comesOut(r: Reading, line: SlipLine, item: ItemRow, quantity: bigint): void {
  if (!item.active) return r.no(line, 'item_retired', 'item', { name: item.name })
  const to = r.into(line, item)
  const lotId = r.lotIn(line, item)
  const share = readShare(line.share)
  if (share === undefined) return r.no(line, 'not_a_share', 'share', { given: line.share })
  if (to === undefined || lotId === undefined) return
  makingOf(r).gives.push({ line, item, quantity, share, to, lotId })
}

function finish(house: House, r: Reading): void {
  const { takes, gives } = makingOf(r)
  const jobId = jobOf(house, r)
  if (!r.content.lines.some(l => l.side === 'out')) r.no(null, 'makes_nothing', 'lines')
  const weights = weightsOf(gives.map(g => ({ item: g.item.id, quantity: g.quantity, share: g.share })))
  if (gives.length && !weights) r.no(gives[0]!.line, 'no_share', 'share')
  const extra = extraOf(r)
  const lines: DraftLine[] = takes.map(l => ({ ...l, event: EVENT, jobId }))
  for (const [i, { line, item, quantity, to, lotId }] of gives.entries()) {
    const of = { lineId: r.id(line), itemId: item.id, lotId, quantity, event: EVENT, jobId }
    lines.push({
      ...of,
      from: house.accounts.made,
      to,
      weight: weights?.[i] ?? 1n,
      goods: i === 0 && extra !== null ? extra : null,
    })
    if (line.reason !== null) lines.push({ ...of, from: to, to: wastedBy(house, r, line), ofOutput: true })
  }
  if (!r.target) return void r.lines.push(...lines)
  const first = factsOf(r, r.target.id)[0]
  if (!first || !lines.length) return
  const { effectiveAt } = r.content
  r.changes.push({
    type: 'replace_event',
    lineId: lines[0]!.lineId,
    key: { costSeq: first.costSeq, part: first.part },
    effectiveAt: effectiveAt === null ? null : Date.parse(effectiveAt),
    by: lines,
  })
}

/** The job that it is made for. Of one that is over no more is made; what was made can be put right. */
function jobOf(house: House, r: Reading): number | null {
  const uid = r.content.head.job
  const row = uid === null ? undefined : house.rows.job.get({ uid })
  if (row && ENDED.includes(row.state) && !r.target) r.once('for_whom_ended', 'job', { name: row.name })
  return row?.id ?? null
}

/** What it cost beside what went in. */
function extraOf(r: Reading): bigint | null {
  const { extra } = r.content.head
  if (!extra.trim()) return null
  return r.money(null, extra, 'extra') ?? null
}
