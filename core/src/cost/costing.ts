import { divideHalfEven, min, ONE, share, split, type Quantity, type Value } from '../quantity/micro.ts'
import type { Fact } from '../ledger/facts.ts'
import type { Key } from '../ledger/types.ts'
import { atCost, put, putBack, take, unitCost, type Draw, type PoolState } from './pool.ts'

/**
 * What a fact is worth: `value` passes between its accounts, `gap` goes from the pool to price differences beside it (the
 * pool grows by value − gap on the way in, and shrinks by value + gap on the way out). `provisional`: no price is known yet.
 */
export interface Outcome {
  readonly value: Value
  readonly gap: Value
  readonly provisional: boolean
  readonly draws: readonly Draw[]
}
/** A fact that the pool cannot give: `missing` more would have been needed. */
export interface Short {
  readonly short: true
  readonly code: 'would_have_been_missing' | 'brought_back'
  readonly missing: Quantity
}

/** What costing reads of the world around a pool. */
export interface CostContext {
  readonly isPlace: (account: number) => boolean
  /** All facts of an event (a relabel between pools, a make), in their order, at the values that hold now. */
  readonly eventFacts: (costSeq: number) => readonly Fact[]
  /** Whether the price of something that went into the event is not known, as it holds now. */
  readonly unpricedEvent: (costSeq: number) => boolean
}

/** A quantity that left a pool and may come back at its share: an issue, or the shortage of a tally. */
interface Taken extends Key {
  quantity: Quantity
  value: Value
  draws: Draw[]
}
interface Difference {
  readonly shortages: Taken[]
  readonly surpluses: Taken[]
}

interface Made {
  readonly costSeq: number
  readonly shares: ReadonlyMap<number, Value>
  readonly unpriced: boolean
}

/**
 * Values facts one after the other, in the order of costing. The same function costs a new slip on the pool as it stands
 * and replays a pool from its first movement; so a value never depends on when it was worked out.
 */
export class Costing {
  readonly #context: CostContext
  readonly pools = new Map<number, PoolState>()
  readonly #issued = new Map<string, Taken>()
  readonly #differences = new Map<number, Difference>()
  /** Of the event whose outputs are being valued, one after the other: nothing else changes meanwhile. */
  #made: Made | undefined

  constructor(context: CostContext) {
    this.#context = context
  }

  /** The value of the next fact; the pool is changed by it. A fact of which nothing is left is worth nothing. */
  apply(fact: Fact): Outcome | Short {
    const pool = this.pools.get(fact.poolId)
    if (!pool) throw new Error(`pool ${fact.poolId} is not part of this costing`)
    if (fact.kind !== 'event_in') this.#made = undefined
    if (fact.kind === 'standard') return this.#standard(pool, fact)
    if (fact.quantity === 0n) return worth(0n)
    switch (fact.kind) {
      case 'move':
        return worth(0n)
      case 'receipt':
        return this.#receipt(pool, fact)
      case 'direct':
        return this.#direct(pool, fact)
      case 'out':
      case 'event_out':
        return this.#out(pool, fact)
      case 'return':
        return this.#return(pool, fact)
      case 'back':
        return this.#back(pool, fact)
      case 'recharge':
      case 'spoil':
        return this.#passed(fact)
      case 'difference':
      case 'found':
        return this.#context.isPlace(fact.to) ? this.#inward(pool, fact) : this.#outward(pool, fact)
      case 'close':
        return this.#close(fact)
      case 'event_in':
        return this.#eventIn(pool, fact)
    }
  }

  /** What is open on a tally's difference now: positive while something is missing. */
  open(tallyId: number): { quantity: Quantity; value: Value } {
    const d = this.#difference(tallyId)
    const sum = (xs: Taken[], of: 'quantity' | 'value') => xs.reduce((a, x) => a + x[of], 0n)
    return {
      quantity: sum(d.shortages, 'quantity') - sum(d.surpluses, 'quantity'),
      value: sum(d.shortages, 'value') - sum(d.surpluses, 'value'),
    }
  }

  /** How much of an issue may still be brought back, and at what value. */
  returnable(key: Key): { quantity: Quantity; value: Value } | undefined {
    return this.#issued.get(name(key))
  }

  /** A stated price counts as such; without one: the pool's unit cost, else the last known, else 0, and it is provisional. */
  #stated(pool: PoolState, fact: Fact): { value: Value; provisional: boolean } {
    if (fact.goods !== null) return { value: fact.goods + fact.charges, provisional: false }
    const unit = unitCost(pool)
    return { value: (unit ? atCost(fact.quantity, unit) : 0n) + fact.charges, provisional: true }
  }

  #receipt(pool: PoolState, fact: Fact): Outcome {
    const { value, provisional } = this.#stated(pool, fact)
    const grown = put(pool, fact, fact.quantity, value)
    if (provisional) pool.tainted = true
    else pool.lastReceipt = { value, quantity: fact.quantity }
    return worth(value, value - grown, provisional)
  }

  /** Straight from the supplier to the user: never in the pool, but it can be brought back like an issue. */
  #direct(pool: PoolState, fact: Fact): Outcome {
    const { value, provisional } = this.#stated(pool, fact)
    this.#remember(fact, value, [])
    return worth(value, 0n, provisional)
  }

  #out(pool: PoolState, fact: Fact): Outcome | Short {
    // Set costs are known whatever is paid.
    const unpriced = fact.kind === 'event_out' && pool.tainted && pool.method !== 'standard'
    const taken = take(pool, fact.quantity)
    if (!taken) return short(fact.quantity - pool.quantity)
    if (fact.kind === 'out') this.#remember(fact, taken.value, taken.draws)
    return worth(taken.value, 0n, unpriced, taken.draws)
  }

  /** Back to the supplier: leaves at the method's cost, the supplier owes what is credited; the rest is a price difference. */
  #return(pool: PoolState, fact: Fact): Outcome | Short {
    const out = this.#out(pool, fact)
    return 'short' in out || fact.goods === null ? out : { ...out, value: fact.goods, gap: out.value - fact.goods }
  }

  /** Brought back: the share of what was issued; under first in first out from the layers drawn, last taken first. */
  #back(pool: PoolState, fact: Fact): Outcome | Short {
    const issued = this.#issued.get(name({ costSeq: fact.refCostSeq!, part: fact.refPart! }))
    if (!issued || issued.quantity < fact.quantity)
      return { short: true, code: 'brought_back', missing: fact.quantity - (issued?.quantity ?? 0n) }
    const { value, draws } = giveBack(issued, fact.quantity)
    return this.#enter(pool, fact, fact.quantity, value, draws)
  }

  /** Charged to somebody else, or spoiled: its share of what was used, without the pool; it can be given up again from there. */
  #passed(fact: Fact): Outcome | Short {
    const issued = this.#issued.get(name({ costSeq: fact.refCostSeq!, part: fact.refPart! }))
    if (!issued || issued.quantity < fact.quantity)
      return { short: true, code: 'brought_back', missing: fact.quantity - (issued?.quantity ?? 0n) }
    const { value, draws } = giveBack(issued, fact.quantity)
    this.#remember(fact, value, draws.reverse())
    return worth(value)
  }

  /** Something that was missing is there: open shortages get it back at their share; beyond them it is a surplus at the pool's cost. */
  #inward(pool: PoolState, fact: Fact): Outcome {
    const { shortages, surpluses } = this.#difference(fact.tallyId!)
    let left = fact.quantity
    let value = 0n
    let gap = 0n
    for (let i = shortages.length - 1; i >= 0 && left > 0n; i--) {
      const x = min(left, shortages[i]!.quantity)
      const back = giveBack(shortages[i]!, x)
      gap += this.#enter(pool, fact, x, back.value, back.draws).gap
      value += back.value
      left -= x
    }
    drop(shortages)
    if (left === 0n) return worth(value, gap)
    const unit = unitCost(pool)
    const stated = unit
      ? atCost(left, unit)
      : fact.goods === null
        ? null
        : atCost(left, { value: fact.goods, quantity: ONE })
    const rest = stated ?? 0n
    gap += this.#enter(pool, fact, left, rest, []).gap
    if (stated === null) pool.tainted = true
    surpluses.push({ costSeq: fact.costSeq, part: fact.part, quantity: left, value: rest, draws: [] })
    return worth(value + rest, gap, stated === null)
  }

  /** Something is missing: it leaves at the pool's cost; an open surplus gives up its share, the gap is a price difference. */
  #outward(pool: PoolState, fact: Fact): Outcome | Short {
    const { shortages, surpluses } = this.#difference(fact.tallyId!)
    if (fact.quantity > pool.quantity) return short(fact.quantity - pool.quantity)
    let left = fact.quantity
    let value = 0n
    let gap = 0n
    for (let i = surpluses.length - 1; i >= 0 && left > 0n; i--) {
      const x = min(left, surpluses[i]!.quantity)
      const given = giveBack(surpluses[i]!, x).value
      gap += take(pool, x)!.value - given
      value += given
      left -= x
    }
    drop(surpluses)
    const { value: rest, draws } = take(pool, left)!
    if (left > 0n)
      shortages.push({
        costSeq: fact.costSeq,
        part: fact.part,
        quantity: left,
        value: rest,
        draws: draws.map(d => ({ ...d })),
      })
    return worth(value + rest, gap, false, draws)
  }

  /** Closing takes all that is open. The difference itself goes on: what later slips do to it stands where it was closed. */
  #close(fact: Fact): Outcome {
    const { value } = this.open(fact.tallyId!)
    return worth(value < 0n ? -value : value)
  }

  /**
   * An output of an event: its share, by weight, of all that went in and of the stated extra cost. Where the price of an
   * input is not known, that of the output is not known either (rule 63), and is never the last known (rule 42).
   */
  #eventIn(pool: PoolState, fact: Fact): Outcome {
    if (this.#made?.costSeq !== fact.costSeq) this.#made = this.#sharesOf(fact.costSeq)
    const { shares, unpriced } = this.#made
    const value = shares.get(fact.part) ?? 0n
    const grown = put(pool, fact, fact.quantity, value)
    if (unpriced) pool.tainted = true
    else pool.lastReceipt = { value, quantity: fact.quantity }
    return worth(value, value - grown, unpriced)
  }

  /** What each output of an event is worth, by its part: what went in, and what it cost beside, by their weights (rule 2). */
  #sharesOf(costSeq: number): Made {
    const facts = this.#context.eventFacts(costSeq).filter(f => f.quantity > 0n)
    const outputs = facts.filter(f => f.kind === 'event_in')
    const total = facts.reduce((sum, f) => sum + (f.kind === 'event_out' ? f.value : (f.goods ?? 0n)), 0n)
    const parts = split(
      total,
      outputs.map(f => f.weight ?? 1n),
    )
    const shares = new Map(outputs.map((f, i) => [f.part, parts?.[i] ?? 0n]))
    return { costSeq, shares, unpriced: this.#context.unpricedEvent(costSeq) }
  }

  /** The standard cost set anew: the pool is worth the new one at once, against price differences. */
  #standard(pool: PoolState, fact: Fact): Outcome {
    pool.standard = fact.goods ?? pool.standard
    if (pool.method !== 'standard') return worth(0n)
    const after = divideHalfEven(pool.quantity * pool.standard, ONE)
    const change = after - pool.value
    pool.value = after
    return worth(change)
  }

  #enter(pool: PoolState, fact: Fact, quantity: Quantity, value: Value, draws: readonly Draw[]): Outcome {
    if (pool.method === 'fifo' && draws.length) {
      putBack(pool, draws)
      return worth(value)
    }
    return worth(value, value - put(pool, fact, quantity, value))
  }

  #remember(fact: Fact, value: Value, draws: readonly Draw[]): void {
    this.#issued.set(name(fact), {
      costSeq: fact.costSeq,
      part: fact.part,
      quantity: fact.quantity,
      value,
      draws: draws.map(d => ({ ...d })),
    })
  }

  #difference(tallyId: number): Difference {
    let d = this.#differences.get(tallyId)
    if (!d) this.#differences.set(tallyId, (d = { shortages: [], surpluses: [] }))
    return d
  }
}

const name = (key: Key): string => `${key.costSeq}.${key.part}`
const worth = (value: Value, gap: Value = 0n, provisional = false, draws: readonly Draw[] = []): Outcome => ({
  value,
  gap,
  provisional,
  draws,
})
const short = (missing: Quantity): Short => ({ short: true, code: 'would_have_been_missing', missing })
const drop = (xs: Taken[]): void => {
  while (xs.length && xs.at(-1)!.quantity === 0n) xs.pop()
}

/** Takes `quantity` out of what was taken, at its share: layer by layer, last taken first, where layers were drawn. */
function giveBack(from: Taken, quantity: Quantity): { value: Value; draws: Draw[] } {
  const draws: Draw[] = []
  let value = 0n
  if (from.draws.length) {
    let left = quantity
    while (left > 0n) {
      const d = from.draws.at(-1)!
      const x = min(left, d.quantity)
      const v = x === d.quantity ? d.value : share(d.value, x, d.quantity)
      draws.push({ costSeq: d.costSeq, part: d.part, quantity: x, value: v })
      d.quantity -= x
      d.value -= v
      value += v
      left -= x
      if (d.quantity === 0n) from.draws.pop()
    }
  } else {
    value = quantity === from.quantity ? from.value : share(from.value, quantity, from.quantity)
  }
  from.quantity -= quantity
  from.value -= value
  return { value, draws }
}
