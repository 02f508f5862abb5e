import type { SlipKind, SlipLine } from '@shelve/contract'
import { type Fact, readMoney, split } from '@shelve/core'
import { factsOfLine } from '../../ledger/index.ts'
import { cellKey } from '../cells.ts'
import type { Kind, Reading } from './reading.ts'

/** What a correction can do with a line. */
const CORRECTS: ReadonlySet<SlipLine['act']> = new Set(['take_back', 'replace', 'price', 'invoice'] as const)
/** The slip that is corrected must be there, and booked. */
export function begin(r: Reading): void {
  const { corrects } = r.content.head
  const target = corrects === null ? undefined : r.house.rows.slip.get({ uid: corrects })
  if (target?.state === 'booked') r.target = target
  else r.no(null, 'nothing_to_correct', 'corrects')
}

/** What a correction does with one line of the slip that it corrects. */
export function correctLine(r: Reading, line: SlipLine): void {
  const { target } = r
  if (!target) return
  const source = line.ref === null ? undefined : r.house.rows.line.get({ uid: line.ref })
  if (!source || source.slipId !== target.id) return r.no(line, 'unknown_line', 'ref')
  if (!CORRECTS.has(line.act)) return r.no(line, 'act_needed', 'act')
  const tally = r.house.rows.tallyOfLine.get({ line: source.id })
  if (tally && !tally.reversed) {
    if (line.act !== 'take_back') return r.no(line, 'replace_whole', 'line', { kind: target.kind })
    r.changes.push({ type: 'reverse_tally', lineId: r.id(line), tallyId: tally.id })
    return
  }
  const facts = factsOfLine(r.house, r.books, source.id)
  if (!facts.length) return r.no(line, 'nothing_to_correct', 'line')
  correctFacts(r, line, r.kinds.get(target.kind as SlipKind), facts)
}
function correctFacts(r: Reading, line: SlipLine, kind: Kind | undefined, facts: Fact[]): void {
  const lineId = r.id(line)
  const first = facts[0]!
  const key = { costSeq: first.costSeq, part: first.part }
  if (line.act === 'price' || line.act === 'invoice') {
    const item = r.house.known.itemById(first.itemId)!
    const whole = facts.reduce((s, f) => s + f.quantity, 0n)
    if (line.act === 'invoice') {
      const more = line.price.trim().startsWith('-') ? readMoney(line.price.trim().slice(1)) : readMoney(line.price)
      if (more === undefined) return r.no(line, 'not_a_price', 'price', { given: line.price })
      r.changes.push({ type: 'invoice', lineId, key, more: line.price.trim().startsWith('-') ? -more : more })
      return
    }
    const goods = r.price(line, item, whole)
    if (goods === undefined) return
    if (goods === null) return r.no(line, 'not_a_price', 'price', { given: line.price })
    const quantities = facts.map(f => f.quantity)
    const parts = split(goods, quantities)!
    for (const [i, f] of facts.entries())
      r.changes.push({ type: 'price', lineId, key: { costSeq: f.costSeq, part: f.part }, goods: parts[i]! })
    return
  }
  if (line.act !== 'replace') {
    const done = new Set<number>()
    for (const f of facts) {
      const event = f.kind === 'event_in' || f.kind === 'event_out'
      if (event && done.has(f.costSeq)) continue
      done.add(f.costSeq)
      r.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
    }
    return
  }
  if (!kind?.lines) return r.no(line, 'replace_whole', 'line', { kind: kind?.kind })
  // What is taken back lies on the shelf again while the replacing line looks for it.
  for (const f of facts)
    if (r.house.places.row(f.from))
      r.planned.set(
        cellKey(f.itemId, { lotId: f.lotId, placeId: f.from }),
        (r.planned.get(cellKey(f.itemId, { lotId: f.lotId, placeId: f.from })) ?? 0n) - f.quantity,
      )
  r.first = cellKey(first.itemId, { lotId: first.lotId, placeId: first.from })
  const by = kind.lines(r, line)
  r.first = undefined
  const effectiveAt = r.content.effectiveAt === null ? first.effectiveAt : Date.parse(r.content.effectiveAt)
  if (by.length) r.changes.push({ type: 'replace', lineId, key, effectiveAt, by })
  for (const f of facts.slice(1)) r.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
}
