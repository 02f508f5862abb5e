import { MOST, share, type Value } from '../quantity/micro.ts'
import { formatDecimal } from '../quantity/decimal.ts'
import { spreadCharges, weightOf } from '../receiving/landed.ts'
import type { Change, DraftLine } from './books.ts'
import { eventOrder, isEvent } from './events.ts'
import { answers, type Fact, isInvoiced } from './facts.ts'
import { factKind, judgeLine, judgeSince, judgeTime, wholesOf } from './judge.ts'
import type { InvoiceSays } from './types.ts'
import type { Work } from './work.ts'

/**
 * Prepares what a correction changes: lines taken back, whole or in part; lines replaced by what was true, at their own
 * place in the order of costing; prices and charges put right. What follows for values is left to the replay.
 */
export function applyChanges(work: Work): void {
  const touched = new Set<number>()
  for (const change of work.slip.changes ?? []) {
    if (change.type === 'standard') {
      setStandard(work, change)
      continue
    }
    if (change.type === 'reverse_tally') {
      reverseTally(work, change)
      continue
    }
    const fact =
      change.type === 'replace_event'
        ? work.eventFacts(change.key.costSeq).find(f => f.quantity > 0n)
        : work.factAt(change.key)
    if (!fact || fact.quantity === 0n) {
      work.refuse('nothing_to_correct', change.lineId, 'line', { costSeq: change.key.costSeq })
      continue
    }
    if (fact.kind === 'receipt' || fact.kind === 'direct') touched.add(fact.costSeq)
    // What stands in a pool that was changed over stays as it is, in quantity; what it cost may still be put right.
    if (MOVES.has(change.type) && isChangedOver(work, fact)) {
      work.refuse('before_method_change', change.lineId, 'line', {
        since: work.books.item(fact.itemId)?.costedSince?.at ?? null,
      })
      continue
    }
    if (change.type === 'reverse') reverse(work, change, fact)
    else if (change.type === 'replace') replace(work, change, fact)
    else if (change.type === 'replace_event') replaceEvent(work, change, fact)
    else if (change.type === 'charges') newCharges(work, change, fact)
    else reprice(work, change, fact)
  }
  spreadAnew(work, touched)
}

/** What takes quantities back, beside values. */
const MOVES: ReadonlySet<Change['type']> = new Set(['reverse', 'replace', 'replace_event'])

/** Whether the fact's pool is no longer the one of its item and lot; a change of method itself counts as such. */
const isChangedOver = (work: Work, fact: Fact): boolean =>
  work.eventFacts(fact.costSeq).some(f => work.books.poolOf(f.itemId, f.lotId) !== f.poolId)

function reverse(work: Work, change: Extract<Change, { type: 'reverse' }>, fact: Fact): void {
  const { lineId } = change
  if (isEvent(work.eventFacts(fact.costSeq))) return reverseEvent(work, fact, lineId)
  const quantity = change.quantity ?? fact.quantity
  const free = fact.quantity - work.books.broughtBack(fact)
  if (quantity > free) {
    const code = free < fact.quantity ? 'brought_back' : 'more_than_booked'
    return work.refuse(code, lineId, 'quantity', { given: formatDecimal(quantity), free: formatDecimal(free) })
  }
  if (quantity <= 0n) return work.refuse('not_positive', lineId, 'quantity')
  if (quantity < fact.quantity && isInvoiced(fact)) return work.refuse('invoiced', lineId, 'quantity')
  takeBack(work, fact, lineId, quantity)
}

/** An event is taken back whole: outputs before inputs, so that nothing is left half made. */
function reverseEvent(work: Work, fact: Fact, lineId: string): void {
  for (const f of work.eventFacts(fact.costSeq).reverse()) if (f.quantity > 0n) takeBack(work, f, lineId, f.quantity)
}

/**
 * A make is replaced whole, at its own place in the order of costing (rule 32): what was forgotten goes in where it went in,
 * and what came of it is worth what it would have been worth.
 */
function replaceEvent(work: Work, change: Extract<Change, { type: 'replace_event' }>, fact: Fact): void {
  const { lineId } = change
  const { costSeq } = fact
  const was = work.eventFacts(costSeq)
  if (!was.some(f => work.books.accountKind(f.to) === 'made'))
    return work.refuse('no_make', lineId, 'line', { kind: fact.kind })
  if (change.effectiveAt !== null)
    work.refusals.push(...judgeTime(work.books, work.context, change.effectiveAt, lineId))
  const effectiveAt = change.effectiveAt ?? Math.max(fact.effectiveAt, work.books.openFrom())
  const happened = change.effectiveAt ?? work.standsAt(costSeq, fact.head)
  const found = change.by.flatMap(l => [
    ...judgeLine(work.books, work.context, 'make', l, happened),
    ...judgeSince(work.books, l.itemId, effectiveAt, l.lineId, costSeq),
  ])
  if (!change.by.length) work.refuse('nothing_instead', lineId, 'line')
  if (found.length) return void work.refusals.push(...found)
  reverseEvent(work, fact, lineId)
  let part = Math.max(...was.map(f => f.part)) + 1
  for (const line of eventOrder(change.by, a => work.books.accountKind(a))) {
    const kind = factKind(work.books.accountKind(line.from)!, work.books.accountKind(line.to)!)!
    work.addLine(line, kind, { costSeq, part: part++, effectiveAt })
  }
}

/** The movement that takes back `quantity` of a fact, with its value as it stands now (of a part: its share). */
function takeBack(work: Work, fact: Fact, lineId: string, quantity: bigint): void {
  const whole = quantity === fact.quantity
  const part = (x: bigint) => (whole ? x : share(x, quantity, fact.quantity))
  work.touch(lineId, fact.from)
  work.touch(lineId, fact.to)
  if (whole && fact.gap !== 0n) work.gap(fact, -fact.gap).lineId = lineId
  work.add({
    kind: fact.kind,
    lineId,
    itemId: fact.itemId,
    lotId: fact.lotId,
    poolId: fact.poolId,
    from: fact.to,
    to: fact.from,
    quantity,
    value: part(fact.value),
    costSeq: fact.costSeq,
    part: fact.part,
    ord: fact.ord,
    goods: fact.goods === null ? null : -part(fact.goods),
    charges: -part(fact.charges),
    effectiveAt: Math.max(fact.effectiveAt, work.books.openFrom()),
    reverses: fact.head,
    tallyId: fact.tallyId,
    refCostSeq: fact.refCostSeq,
    refPart: fact.refPart,
    weight: fact.weight,
    mass: fact.mass,
    ...answers(fact),
  })
}

function replace(work: Work, change: Extract<Change, { type: 'replace' }>, fact: Fact): void {
  const { lineId } = change
  if (change.effectiveAt !== null)
    work.refusals.push(...judgeTime(work.books, work.context, change.effectiveAt, lineId))
  // Without a minute of its own it is dated as what it takes back is: never in a closed month.
  const effectiveAt = change.effectiveAt ?? Math.max(fact.effectiveAt, work.books.openFrom())
  const happened = change.effectiveAt ?? work.standsAt(fact.costSeq, fact.head)
  if (isEvent(work.eventFacts(fact.costSeq)) || fact.kind === 'close' || fact.kind === 'standard')
    return work.refuse('replace_whole', lineId, 'line', { kind: fact.kind })
  if (change.by.length === 0) return work.refuse('nothing_instead', lineId, 'line')
  // An invoice was for so much of it: of another quantity it is not known what it says (rule 52).
  if (isInvoiced(fact) && !sameQuantity(change.by, fact) && !change.by.every(statesBoth))
    return work.refuse('invoice_needed', lineId, 'invoiced', { quantity: formatDecimal(fact.quantity) })
  const back = work.books.broughtBack(fact)
  takeBack(work, fact, lineId, fact.quantity)
  let part = fact.part
  const taken = new Set(work.eventFacts(fact.costSeq).map(f => f.part))
  const whole = wholesOf(work.books, change.by)
  for (const [i, line] of change.by.entries()) {
    const kind = factKind(work.books.accountKind(line.from)!, work.books.accountKind(line.to)!)
    const found = kind
      ? [
          ...judgeLine(work.books, work.context, slipKindOf(kind, work, line), line, happened, whole(line)),
          ...judgeSince(work.books, line.itemId, effectiveAt, lineId, fact.costSeq),
        ]
      : []
    if (!kind || found.length) {
      if (!kind) work.refuse('wrong_accounts', lineId, 'to')
      work.refusals.push(...found)
      continue
    }
    if (i === 0 && back > 0n && !carries(work, fact, line, kind, back))
      work.refuse('brought_back', lineId, 'quantity', { free: formatDecimal(fact.quantity - back) })
    if (line.ref && line.ref.costSeq >= fact.costSeq) work.refuse('refers_to_later', lineId, 'ref')
    if (i > 0) {
      while (taken.has(part)) part++
      taken.add(part)
    }
    const mass = line.itemId === fact.itemId && fact.mass !== null ? { mass: fact.mass } : {}
    const same = line.to === fact.to
    const answered = answers({
      needId: line.needId === undefined && same ? fact.needId : line.needId,
      jobId: line.jobId === undefined && same ? fact.jobId : line.jobId,
    })
    const made = work.addLine(line, kind, { costSeq: fact.costSeq, part, effectiveAt, ...mass, ...answered })
    invoiceAnew(work, fact, line, work.factAt(made)!, lineId)
  }
}

const sameQuantity = (by: readonly DraftLine[], fact: Fact): boolean =>
  by.length === 1 && by[0]!.quantity === fact.quantity
const statesBoth = (line: DraftLine): boolean =>
  line.invoiced !== undefined && line.goods !== undefined && line.goods !== null

/** An invoice follows the line it was for, by what it said; or it states anew what the line comes to. */
function invoiceAnew(work: Work, was: Fact, line: DraftLine, made: Fact, lineId: string): void {
  const price = line.goods ?? 0n
  const parts: { goods: Value; invoice: InvoiceSays }[] = []
  if (line.invoiced !== undefined) parts.push({ invoice: 'amount', goods: line.invoiced - price })
  else {
    if (was.invoicedMore !== 0n) parts.push({ invoice: 'more', goods: was.invoicedMore })
    if (was.invoicedAmount !== null)
      parts.push({ invoice: 'amount', goods: (was.goods ?? 0n) - was.invoicedMore - price })
  }
  if (!parts.length) return
  if (!hasPrice(made)) return work.refuse('has_no_price', lineId, 'invoiced', { kind: made.kind })
  const after = parts.reduce((sum, p) => sum + p.goods, price)
  if (after < 0n || after > MOST)
    return work.refuse('price_out_of_range', lineId, 'invoiced', { given: formatDecimal(after) })
  for (const part of parts) work.revalue(made, 0n, { ...part, lineId })
}

/** Whether a replacement can carry what was brought back of the line it replaces: same sort, lot and account, at least that much. */
const carries = (work: Work, fact: Fact, line: DraftLine, kind: string, back: bigint): boolean =>
  kind === fact.kind &&
  line.lotId === fact.lotId &&
  work.books.poolOf(line.itemId, line.lotId) === fact.poolId &&
  line.to === fact.to &&
  line.quantity >= back

/** The kind of slip whose rules a replacing line is judged by. */
function slipKindOf(kind: string, work: Work, line: DraftLine) {
  if (kind === 'receipt')
    return work.books.accountKind(line.from) === 'opening' ? ('opening' as const) : ('receipt' as const)
  const of = {
    direct: 'receipt',
    return: 'supplier_return',
    move: 'move',
    back: 'bring_back',
    spoil: 'bring_back',
    recharge: 'recharge',
    found: 'closing',
    close: 'closing',
  } as const
  if (kind === 'out') return work.books.accountKind(line.to) === 'waste' ? ('waste' as const) : ('issue' as const)
  return of[kind as keyof typeof of]
}

/** What came from a supplier, or went back to one, has a price; all else has only a cost. */
const hasPrice = (fact: Fact): boolean => fact.kind === 'receipt' || fact.kind === 'direct' || fact.kind === 'return'

function reprice(work: Work, change: Extract<Change, { type: 'price' | 'invoice' }>, fact: Fact): void {
  if (!hasPrice(fact)) return work.refuse('has_no_price', change.lineId, 'price', { kind: fact.kind })
  const goods = fact.goods ?? 0n
  const parts = statedAnew(change, fact)
  const after = parts.reduce((sum, p) => sum + p.goods, goods)
  if (after < 0n || after > MOST)
    return work.refuse('price_out_of_range', change.lineId, 'price', { given: formatDecimal(after) })
  work.touch(change.lineId, fact.from)
  work.touch(change.lineId, fact.to)
  // What follows in value is found by the replay; here only the stated parts change.
  for (const part of parts) work.revalue(fact, 0n, { ...part, lineId: change.lineId })
}

/** What a price or an invoice changes in the parts of what goods cost (rule 52): price, invoiced more or less, invoiced amount. */
function statedAnew(
  change: Extract<Change, { type: 'price' | 'invoice' }>,
  fact: Fact,
): { goods: Value; invoice: InvoiceSays | null }[] {
  const { invoicedMore, invoicedAmount } = fact
  const goods = fact.goods ?? 0n
  if (change.type === 'invoice')
    return [{ invoice: change.says, goods: change.says === 'more' ? change.goods : change.goods - goods }]
  const more = change.goods - (goods - invoicedMore - (invoicedAmount ?? 0n))
  const price = { goods: more, invoice: null }
  // The invoice's amount stays what it is: its own part gives way to the price.
  return invoicedAmount === null ? [price] : [price, { goods: -more, invoice: 'amount' }]
}

function newCharges(work: Work, change: Extract<Change, { type: 'charges' }>, fact: Fact): void {
  const delivery = work.books.delivery(fact.costSeq)
  if (!delivery) return work.refuse('has_no_price', change.lineId, 'charges')
  for (const f of delivery.costSeqs.flatMap(c => work.eventFacts(c))) work.touch(change.lineId, f.to)
  work.charges.push({ slipId: delivery.slipId, charges: change.charges })
}

/** Freight is spread anew over what is left of a delivery after a change to any of its lines. */
function spreadAnew(work: Work, touched: ReadonlySet<number>): void {
  // A delivery that is taken back whole is read once, not once more for each of its lines.
  const done = new Set<number>()
  for (const costSeq of touched) {
    const delivery = done.has(costSeq) ? undefined : work.books.delivery(costSeq)
    if (!delivery) continue
    for (const other of delivery.costSeqs) done.add(other)
    const charges = work.charges.find(c => c.slipId === delivery.slipId)?.charges ?? delivery.charges
    const facts = delivery.costSeqs
      .flatMap(c => work.eventFacts(c))
      .filter(f => f.quantity > 0n && (f.kind === 'receipt' || f.kind === 'direct'))
    if (!facts.length) continue
    const spread = spreadCharges(
      facts.map(f => ({
        goods: f.goods,
        quantity: f.quantity,
        unit: work.books.item(f.itemId)!.unit,
        weight: weightOf(f.quantity, f.mass ?? work.books.item(f.itemId)!.mass),
      })),
      charges,
    )
    if (!spread.ok) {
      work.refuse(spread.code, null, 'charges', { basis: spread.basis })
      continue
    }
    for (const [i, f] of facts.entries()) {
      const more = spread.shares[i]! - f.charges
      if (more !== 0n) work.revalue(f, 0n, { charges: more, lineId: work.slip.changes![0]!.lineId })
    }
  }
}

function reverseTally(work: Work, change: Extract<Change, { type: 'reverse_tally' }>): void {
  const tally = work.books.tally(change.tallyId)
  if (!tally || tally.reversed) return work.refuse('nothing_to_correct', change.lineId, 'line')
  if (work.books.movementsAt(tally.costSeq).some(m => m.poolId !== work.books.poolOf(m.itemId, m.lotId)))
    return work.refuse('before_method_change', change.lineId, 'line', {
      since: work.books.item(tally.itemId)?.costedSince?.at ?? null,
    })
  const facts = work.tallyFacts(tally.id).filter(f => f.quantity > 0n)
  const found = facts.find(f => f.kind === 'found')
  if (found) return work.refuse('found_again', change.lineId, 'line', { slipId: found.slipId })
  const closed = facts.find(f => f.kind === 'close')
  // Its closing comes first, also where it is put right: what is open then is another difference.
  if (closed) return work.refuse('already_closed', change.lineId, 'line', { slipId: closed.slipId })
  work.touch(change.lineId, tally.placeId)
  work.reversedTallies.add(tally.id)
  if (change.again) work.tallies.push(tallyOf(change.again, tally))
}

/** A tally as it is kept; a replacing one stands where the replaced one stood in the order of costing. */
export const tallyOf = (line: import('./books.ts').CountLine, key: { costSeq: number; part: number }) => ({
  id: line.tallyId,
  costSeq: key.costSeq,
  part: key.part,
  itemId: line.itemId,
  lotId: line.lotId,
  placeId: line.placeId,
  countedAt: line.countedAt,
  counted: line.counted,
  differenceAccount: line.differenceAccount,
  reversed: false,
})

function setStandard(work: Work, change: Extract<Change, { type: 'standard' }>): void {
  if (change.cost < 0n || change.cost > MOST)
    return work.refuse('price_out_of_range', change.lineId, 'price', { given: formatDecimal(change.cost) })
  work.add({
    kind: 'standard',
    lineId: change.lineId,
    itemId: change.itemId,
    lotId: change.lotId,
    poolId: work.books.poolOf(change.itemId, change.lotId),
    from: work.context.priceDifferenceAccount,
    to: work.context.stockAccount,
    quantity: 0n,
    goods: change.cost,
    open: true,
  })
}
