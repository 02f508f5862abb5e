import type { Quantity, Value } from '../quantity/micro.ts'
import type { FactKind, Movement } from './types.ts'

/**
 * A fact is what the books say now of one event in the order of costing: the line as written, less what was taken back
 * of it, with every revaluation. Many movements may tell one fact; costing sees facts only, and so it gives the same
 * values whether something was known early or late.
 *
 *     movements (by seq)                                    facts (by costSeq)
 *     12  receipt   10 for 20                               12  receipt 10 for 24
 *     13  issue      4 for  8            ── fold ──▶        13  issue    4 for 9.6   (live value)
 *     20  revalues 12      +4 (an invoice)
 *     21  revalues 13      +1.6 (what follows from it)
 */
export interface Fact {
  readonly costSeq: number
  readonly part: number
  readonly ord: -1 | 0 | 1
  readonly tallyId: number | null
  readonly kind: FactKind
  readonly itemId: number
  readonly lotId: number
  readonly poolId: number
  readonly from: number
  readonly to: number
  quantity: Quantity
  value: Value
  /** What went from the pool to price differences beside it; signed, not part of the value. */
  gap: Value
  goods: Value | null
  charges: Value
  /** Of the goods' value: what invoices named more or less than the price. */
  invoicedMore: Value
  /** Of the goods' value: what brings the price to the amount that an invoice states; null where none does. */
  invoicedAmount: Value | null
  readonly refCostSeq: number | null
  readonly refPart: number | null
  readonly weight: bigint | null
  readonly mass: bigint | null
  readonly needId?: number
  readonly jobId?: number
  readonly effectiveAt: number
  readonly slipId: number
  readonly lineId: string
  /** The movement that a correction names: the line as last written. */
  readonly head: number
}

/** What a line answers, as far as it says so: the need that it is taken for, the job whose output or waste it is. */
export const answers = ({
  needId,
  jobId,
}: {
  readonly needId?: number | null | undefined
  readonly jobId?: number | null | undefined
}): Pick<Movement, 'needId' | 'jobId'> => ({
  ...(needId == null ? {} : { needId }),
  ...(jobId == null ? {} : { jobId }),
})

/** Whether an invoice was booked for the line. */
export const isInvoiced = (fact: Pick<Fact, 'invoicedMore' | 'invoicedAmount'>): boolean =>
  fact.invoicedMore !== 0n || fact.invoicedAmount !== null

/** Sorts by the order of costing: inward tally corrections, the lines in their order, outward tally corrections. */
export const byCost = (a: Ordered, b: Ordered): number =>
  a.costSeq - b.costSeq || a.ord - b.ord || a.part - b.part || (a.tallyId ?? 0) - (b.tallyId ?? 0)
type Ordered = Pick<Fact, 'costSeq' | 'ord' | 'part' | 'tallyId'>

/**
 * The name of a fact within a pool. What later lines do to a tally is one fact for each cause and account (the open
 * difference, or where it was closed).
 */
export const factKey = (m: Pick<Movement, 'costSeq' | 'part' | 'ord' | 'kind' | 'tallyId' | 'from' | 'to'>): string =>
  m.kind !== 'difference'
    ? `${m.costSeq}.${m.part}`
    : `${m.costSeq}.${m.part}t${m.tallyId}${m.ord === 0 ? '' : `@${m.ord < 0 ? m.from : m.to}`}`

/**
 * Folds movements (in the order they were written) into facts, in the order of costing. `isPriceDifference` tells
 * the account for price differences. Facts of which nothing is left are kept, with quantity 0: a tally that found nothing is a fact too.
 */
export function foldFacts(movements: readonly Movement[], isPriceDifference: (account: number) => boolean): Fact[] {
  const facts = new Map<string, Fact>()
  // Few are revalued: of the others nobody asks for their fact.
  const revalued = new Set<number>()
  for (const m of movements) if (m.revalues !== null) revalued.add(m.revalues)
  const keyOf = new Map<number, string>()
  for (const m of movements) {
    const key = (m.revalues !== null ? keyOf.get(m.revalues) : undefined) ?? factKey(m)
    if (revalued.has(m.seq)) keyOf.set(m.seq, key)
    const fact = facts.get(key)
    if (m.revalues !== null) {
      if (!fact) throw new Error(`movement ${m.seq} revalues a line that is not there`)
      if (isPriceDifference(m.to) && m.kind !== 'standard') fact.gap += m.value
      else fact.value += m.from === fact.from ? m.value : -m.value
      if (m.goods !== null) fact.goods = (fact.goods ?? 0n) + m.goods
      fact.charges += m.charges
      if (m.invoice === 'more') fact.invoicedMore += m.goods ?? 0n
      if (m.invoice === 'amount') fact.invoicedAmount = (fact.invoicedAmount ?? 0n) + (m.goods ?? 0n)
    } else if (fact && (m.reverses !== null || m.kind === 'difference')) {
      facts.set(key, net(fact, m))
    } else {
      facts.set(key, factOf(m))
    }
  }
  return [...facts.values()].sort(byCost)
}

/**
 * The minute by which a line stands before or after a count (rules 36 and 48): its own; of one that was put in the place of
 * another and says no minute of its own (it is dated as what it takes back is), the minute of that one. `movements`: all
 * at its place in the order of costing; `head`: the line as last written.
 */
export function standsAt(movements: readonly Movement[], head: number): number {
  const line = movements.find(m => m.seq === head)!
  const undone = movements.findLast(m => m.slipId === line.slipId && m.reverses !== null && m.seq < head)
  return undone && undone.effectiveAt === line.effectiveAt ? standsAt(movements, undone.reverses!) : line.effectiveAt
}

function factOf(m: Movement): Fact {
  const fact: Fact = {
    costSeq: m.costSeq,
    part: m.part,
    ord: m.ord,
    tallyId: m.tallyId,
    kind: m.kind,
    itemId: m.itemId,
    lotId: m.lotId,
    poolId: m.poolId,
    from: m.from,
    to: m.to,
    quantity: m.quantity,
    value: m.value,
    gap: 0n,
    goods: m.goods,
    charges: m.charges,
    invoicedMore: 0n,
    invoicedAmount: null,
    refCostSeq: m.refCostSeq,
    refPart: m.refPart,
    weight: m.weight,
    mass: m.mass,
    effectiveAt: m.effectiveAt,
    slipId: m.slipId,
    lineId: m.lineId,
    head: m.seq,
  }
  // Most lines answer nothing: a spread would make each of a million facts twice.
  return m.needId === undefined && m.jobId === undefined ? fact : { ...fact, ...answers(m) }
}

/** A fact after a movement that runs the same way as it (adds) or against it (takes back, and may turn it round). */
function net(fact: Fact, m: Movement): Fact {
  const sign = m.from === fact.from && m.to === fact.to ? 1n : -1n
  const quantity = fact.quantity + sign * m.quantity
  const value = fact.value + sign * m.value
  const turned = quantity < 0n
  return {
    ...fact,
    ord: turned ? m.ord : fact.ord,
    quantity: turned ? -quantity : quantity,
    value: turned ? -value : value,
    from: turned ? fact.to : fact.from,
    to: turned ? fact.from : fact.to,
    goods: m.goods === null ? fact.goods : (fact.goods ?? 0n) + m.goods,
    charges: fact.charges + m.charges,
    head: m.reverses === null ? m.seq : fact.head,
  }
}
