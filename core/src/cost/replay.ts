import { byCost, factKey, type Fact } from '../ledger/facts.ts'
import { Queue } from '../queue.ts'
import { Costing, type Outcome } from './costing.ts'
import type { PoolState } from './pool.ts'
import type { Quantity } from '../quantity/micro.ts'

/** What a replay reads. Facts come with the corrections of the slip at hand already in them. */
export interface ReplayBooks {
  readonly isPlace: (account: number) => boolean
  /** The pool as it was before its first movement: method and first standard cost. */
  readonly poolStart: (poolId: number) => PoolState
  readonly poolFacts: (poolId: number) => Fact[]
  readonly eventFacts: (costSeq: number) => Fact[]
  /** What left the pool for an event at a price that was not known, as kept: by `factKey`. */
  readonly unpriced: (poolId: number) => ReadonlySet<string>
  /**
   * Pools of the same item that a fact looks into: where an issue stands that it brings back, or the difference that it finds
   * or closes; and the pool that has taken the place of its own since, from which it may be looked for. None where the
   * cost method of the item was never changed.
   */
  readonly tied: (fact: Fact) => Iterable<number>
}
export interface Valued {
  readonly fact: Fact
  readonly outcome: Outcome
}
export type Replay =
  | {
      readonly ok: true
      readonly valued: Valued[]
      readonly pools: ReadonlyMap<number, PoolState>
      readonly costing: Costing
    }
  | { readonly ok: false; readonly code: string; readonly fact: Fact; readonly missing: Quantity }

/**
 * Values flow forward: replays the given pools from their first movement, all in the one order of costing, and says what
 * each fact is worth. Where the value of what went into an event changes, or whether it is known, the pools of its
 * outputs join at that point:
 *
 *     pool A   ──●────●────◆──────●────      ◆ event: its input changed its value
 *     pool B   ──○────○────◆──────●────      ○ as kept (B joined here, folded up to ◆)  ● valued anew
 *
 * Since value never flows backward in the order of costing, one pass ends. Nothing is written here.
 */
export function replay(kept: ReplayBooks, pools: Iterable<number>): Replay {
  // An event is read once, not by each of the many pools that went into it: nothing is written while it is replayed.
  const events = new Map<
    number,
    { readonly facts: readonly Fact[]; readonly pools: ReadonlyMap<number, Set<number>> }
  >()
  const event = (costSeq: number) => {
    let known = events.get(costSeq)
    if (!known) {
      const facts = kept.eventFacts(costSeq)
      const pools = new Map<number, Set<number>>()
      for (const f of facts) pools.set(f.itemId, (pools.get(f.itemId) ?? new Set()).add(f.poolId))
      events.set(costSeq, (known = { facts, pools }))
    }
    return known
  }
  const books = { ...kept, eventFacts: (costSeq: number) => event(costSeq).facts }
  const valued: Valued[] = []
  const now = new Map<string, Outcome>()
  const unpriced = (f: Fact) =>
    now.get(`${f.poolId}:${factKey(f)}`)?.provisional ?? books.unpriced(f.poolId).has(factKey(f))
  const costing = new Costing({
    isPlace: books.isPlace,
    eventFacts: costSeq =>
      books
        .eventFacts(costSeq)
        .toSorted(byCost)
        .map(f => {
          const o = now.get(`${f.poolId}:${factKey(f)}`)
          return o ? { ...f, value: o.value } : f
        }),
    unpricedEvent: costSeq =>
      books.eventFacts(costSeq).some(f => f.kind === 'event_out' && f.quantity > 0n && unpriced(f)),
  })
  const joined = new Set<number>()
  // Hundreds of pools hang together by what is made of them: the next of all their facts is not looked for among each.
  const queue = new Queue<{ facts: Fact[]; at: number }>((a, b) => byCost(a.facts[a.at]!, b.facts[b.at]!))
  const join = (poolId: number) => {
    if (joined.has(poolId)) return
    joined.add(poolId)
    costing.pools.set(poolId, books.poolStart(poolId))
    const facts = books.poolFacts(poolId)
    if (facts.length) queue.add({ facts, at: 0 })
    // What was issued from one pool of an item may come back into the one that took its place: they are replayed together.
    for (const f of facts) {
      if (f.kind === 'event_in' || f.kind === 'event_out')
        for (const id of event(f.costSeq).pools.get(f.itemId) ?? []) join(id)
      for (const id of books.tied(f)) join(id)
    }
  }
  for (const p of pools) join(p)

  for (let next = queue.first(); next; next = queue.first()) {
    const fact = next.facts[next.at++]!
    if (next.at < next.facts.length) queue.again()
    else queue.take()
    const outcome = costing.apply(fact)
    if ('short' in outcome) return { ok: false, code: outcome.code, fact, missing: outcome.missing }
    valued.push({ fact, outcome })
    if (fact.kind === 'event_out' || fact.kind === 'event_in') {
      now.set(`${fact.poolId}:${factKey(fact)}`, outcome)
      const known = () => outcome.provisional === books.unpriced(fact.poolId).has(factKey(fact))
      if (fact.kind === 'event_out' && (outcome.value !== fact.value || !known()))
        for (const f of books.eventFacts(fact.costSeq)) if (f.kind === 'event_in') join(f.poolId)
    }
  }
  return { ok: true, valued, pools: costing.pools, costing }
}
