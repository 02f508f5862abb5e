import type { SlipKind, SlipLine } from '@shelve/contract'
import { type DraftLine, type Fact, formatDecimal, givesUp, isEvent, isInvoiced, split } from '@shelve/core'
import { differenceAccount, factsOfLine } from '../../ledger/index.ts'
import { cellKey } from '../cells.ts'
import { chargesOf } from '../prices.ts'
import type { Kind, Reading } from './reading.ts'

/** What a correction can do with a line. */
const CORRECTS: ReadonlySet<SlipLine['act']> = new Set([
  'take_back',
  'replace',
  'price',
  'invoice',
  'invoiced_as',
  'charges',
] as const)
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
    return correctTally(r, line, tally)
  }
  const facts = factsOfLine(r.house, r.books, source.id)
  if (!facts.length) return r.no(line, 'nothing_to_correct', 'line')
  if (line.act === 'charges') return recharge(r, line, facts)
  correctFacts(r, line, r.kinds.get(target.kind as SlipKind), facts, JSON.parse(source.content) as Partial<SlipLine>)
}
/** The freight and fees of a delivery are put right: those of the head hold instead, also where it had none or has none any more. */
function recharge(r: Reading, line: SlipLine, facts: readonly Fact[]): void {
  const [inward] = facts.filter(f => f.kind === 'receipt' || f.kind === 'direct')
  if (!inward) return r.no(line, 'has_no_price', 'charges')
  // They are the delivery's, whichever of its lines says so, and said once.
  if (r.changes.some(c => c.type === 'charges')) return
  const charges = chargesOf(r.content.head, (code, field, detail) => r.no(line, code, field, detail))
  const key = { costSeq: inward.costSeq, part: inward.part }
  r.changes.push({ type: 'charges', lineId: r.id(line), key, charges })
}
/** A count's line is taken back, or what was counted is put right: at the same minute, of the same lot, in the same place. */
function correctTally(r: Reading, line: SlipLine, tally: TalliedRow): void {
  const change = { type: 'reverse_tally' as const, lineId: r.id(line), tallyId: tally.id }
  if (line.act === 'take_back') return void r.changes.push(change)
  if (line.act !== 'replace') return r.no(line, 'has_no_price', 'price')
  const counted = r.quantity(line, r.house.known.itemById(tally.itemId)!, line.typed, 'typed', true)
  const unitCost = line.unitCost.trim() ? r.money(line, line.unitCost, 'unitCost') : null
  if (counted === undefined || unitCost === undefined) return
  const tallyId = r.nextTally++
  r.tallyUids.set(tallyId, r.house.uid())
  const { itemId, lotId, placeId, countedAt } = tally
  const again = { lineId: r.id(line), tallyId, differenceAccount: differenceAccount(tallyId) }
  r.changes.push({ ...change, again: { ...again, itemId, lotId, placeId, counted, countedAt, unitCost } })
}
type TalliedRow = NonNullable<ReturnType<Reading['house']['rows']['tallyOfLine']['get']>>

function correctFacts(
  r: Reading,
  line: SlipLine,
  kind: Kind | undefined,
  facts: Fact[],
  { typed = '', unit = null }: Partial<SlipLine>,
): void {
  const lineId = r.id(line)
  const first = facts[0]!
  const key = { costSeq: first.costSeq, part: first.part }
  if (line.act === 'price' || line.act === 'invoice' || line.act === 'invoiced_as')
    return reprice(r, line, facts, { typed, unit })
  if (line.act !== 'replace') {
    for (const f of facts) {
      // An event is taken back whole, by whichever of its lines, and once.
      if (isEvent(r.books.movementsAt(f.costSeq))) {
        if (r.undone.has(f.costSeq)) continue
        r.undone.add(f.costSeq)
      }
      r.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
    }
    return
  }
  if (!kind?.lines) return r.no(line, 'replace_whole', 'line', { kind: kind?.kind })
  givesBack(r, facts)
  r.lineAt = first.effectiveAt
  r.returns = givesUp(first.kind)
    ? facts.map(f => ({ costSeq: f.refCostSeq!, part: f.refPart!, quantity: f.quantity }))
    : undefined
  r.first = { itemId: first.itemId, lotId: first.lotId, placeId: first.from }
  const by = invoiced(r, line, facts, kind.lines(r, line))
  r.first = r.lineAt = r.returns = undefined
  const effectiveAt = r.content.effectiveAt === null ? null : Date.parse(r.content.effectiveAt)
  if (by.length) r.changes.push({ type: 'replace', lineId, key, effectiveAt, by })
  for (const f of facts.slice(1)) r.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
}

/** What is taken back lies on its shelf again while what replaces it is looked for; what came by it does not. */
export function givesBack(r: Reading, facts: readonly Fact[]): void {
  const add = (f: Fact, placeId: number, sign: bigint) => {
    if (!r.house.places.row(placeId)) return
    const cell = { itemId: f.itemId, lotId: f.lotId, placeId }
    r.planned.add(f.itemId, cell, sign * f.quantity)
    if (sign < 0n) r.freed.set(cellKey(f.itemId, cell), cell)
  }
  for (const f of facts) {
    add(f, f.from, -1n)
    if (f.kind === 'event_in') add(f, f.to, 1n)
  }
}

/** What a line cost is put right: its price, or what an invoice says of it; of several lots each has its part (rule 2). */
function reprice(r: Reading, line: SlipLine, facts: readonly Fact[], as: Pick<SlipLine, 'typed' | 'unit'>): void {
  const quantities = facts.map(f => f.quantity)
  const { act } = line
  const goods =
    act === 'price'
      ? r.price(
          line,
          r.house.known.itemById(facts[0]!.itemId)!,
          quantities.reduce((a, b) => a + b),
          as,
        )
      : act === 'invoice'
        ? signed(r, line)
        : r.money(line, line.invoiced, 'invoiced')
  // What cannot be read was refused where it was read.
  if (goods === undefined) return
  if (goods === null) return r.no(line, 'not_a_price', 'price', { given: line.price })
  const parts = split(goods, quantities)!
  for (const [i, { costSeq, part }] of facts.entries()) {
    const change = { lineId: r.id(line), key: { costSeq, part }, goods: parts[i]! }
    if (act === 'price') r.changes.push({ ...change, type: 'price' })
    else r.changes.push({ ...change, type: 'invoice', says: act === 'invoice' ? 'more' : 'amount' })
  }
}
/** An amount that may be less than nothing. */
function signed(r: Reading, line: SlipLine): bigint | undefined {
  const [, minus, text] = /^([-\u2212]?)(.*)$/s.exec(line.price.trim())!
  const amount = r.money(line, text!, 'price')
  return amount !== undefined && minus ? -amount : amount
}

/** What replaces an invoiced line, with the amount that the invoice states for it. */
function invoiced(r: Reading, line: SlipLine, facts: readonly Fact[], by: readonly DraftLine[]): readonly DraftLine[] {
  if (!line.invoiced.trim()) {
    // Of several lots the first is replaced and the others taken back: an invoice for those would be lost.
    if (facts.slice(1).some(isInvoiced))
      r.no(line, 'invoice_needed', 'invoiced', { quantity: formatDecimal(facts.reduce((s, f) => s + f.quantity, 0n)) })
    return by
  }
  const amount = r.money(line, line.invoiced, 'invoiced')
  if (amount === undefined) return []
  if (!by.length) return by
  const parts = split(
    amount,
    by.map(l => l.quantity),
  )!
  return by.map((l, i) => ({ ...l, invoiced: parts[i]! }))
}
