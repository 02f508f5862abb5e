import type { Quantity, Value } from '../quantity/micro.ts'
import { replay } from '../cost/replay.ts'
import type { PoolState } from '../cost/pool.ts'
import { Cells } from './cells.ts'
import { byCost, factKey, foldFacts, type Fact } from './facts.ts'
import { givesUp, type Movement } from './types.ts'

/** What rebuilding needs beside the movements. */
export interface RebuildContext {
  readonly isPlace: (account: number) => boolean
  readonly isPriceDifference: (account: number) => boolean
  readonly poolStart: (poolId: number) => PoolState
}
/** Something that does not agree with the movements. */
export interface Fault {
  readonly check: string
  readonly where: string
  readonly kept: string
  readonly right: string
}

/**
 * Works everything out anew from the movements alone: each (item, lot, place), each pool, and whether every line carries
 * the value that the facts before it give it. `movements` in the order they were written.
 */
export function rebuild(
  movements: readonly Movement[],
  context: RebuildContext,
): {
  balances: Cells
  pools: Map<number, PoolState>
  /** What went into an event at a price that is not known: pool and `factKey`. */
  unpriced: Set<string>
  faults: Fault[]
} {
  const balances = new Cells()
  const perPool = new Map<number, Movement[]>()
  for (const m of movements) {
    const list = perPool.get(m.poolId)
    if (list) list.push(m)
    else perPool.set(m.poolId, [m])
    balances.move(m, context.isPlace)
  }
  const facts = new Map<number, Fact[]>()
  for (const [pool, list] of perPool) facts.set(pool, foldFacts(list, context.isPriceDifference))
  const events = new Map<number, Fact[]>()
  for (const list of facts.values())
    for (const f of list) {
      if (f.kind !== 'event_in' && f.kind !== 'event_out') continue
      const at = events.get(f.costSeq)
      if (at) at.push(f)
      else events.set(f.costSeq, [f])
    }
  const faults: Fault[] = []
  const unpriced = new Set<string>()
  const pools = new Map<number, PoolState>()
  for (const group of connected(facts, [...events.values(), ...looking(facts)])) {
    const result = replay(
      {
        isPlace: context.isPlace,
        poolStart: context.poolStart,
        poolFacts: id => facts.get(id)!.sort(byCost),
        eventFacts: c => [...(events.get(c) ?? [])],
        // They are in one group already.
        tied: () => [],
        unpriced: () => NONE,
      },
      group,
    )
    if (!result.ok) {
      faults.push({
        check: 'costs',
        where: `movement ${result.fact.head}`,
        kept: String(result.fact.quantity),
        right: `${result.missing} less`,
      })
      continue
    }
    for (const { fact, outcome } of result.valued) {
      if (fact.kind === 'event_out' && outcome.provisional) unpriced.add(`${fact.poolId} ${factKey(fact)}`)
      if (outcome.value !== fact.value)
        faults.push({
          check: 'costs',
          where: `movement ${fact.head}`,
          kept: String(fact.value),
          right: String(outcome.value),
        })
      if (outcome.gap !== fact.gap)
        faults.push({
          check: 'costs',
          where: `price difference of movement ${fact.head}`,
          kept: String(fact.gap),
          right: String(outcome.gap),
        })
    }
    for (const [id, p] of result.pools) pools.set(id, p)
  }
  return { balances, pools, unpriced, faults }
}
const NONE: ReadonlySet<string> = new Set()

/** Facts of different pools of which one looks into the other: what is brought back and its issue, all of a tally's difference. */
function looking(facts: ReadonlyMap<number, Fact[]>): Fact[][] {
  const byTally = new Map<number, Fact[]>()
  const far: Fact[] = []
  for (const list of facts.values()) {
    const back: Fact[] = []
    for (const f of list)
      if (f.tallyId !== null) {
        const found = byTally.get(f.tallyId)
        if (found) found.push(f)
        else byTally.set(f.tallyId, [f])
      } else if (givesUp(f.kind)) back.push(f)
    if (!back.length) continue
    const own = new Set(list.flatMap(f => (['out', 'direct', 'recharge'].includes(f.kind) ? [factKey(f)] : [])))
    for (const f of back) if (!own.has(refKey(f))) far.push(f)
  }
  const out = [...byTally.values()].filter(list => list.some(f => f.poolId !== list[0]!.poolId))
  if (!far.length) return out
  const wanted = new Set(far.map(refKey))
  const issued = new Map(
    [...facts.values()].flatMap(list => list.flatMap(f => (wanted.has(factKey(f)) ? [[factKey(f), f]] : []))),
  )
  for (const f of far) {
    const of = issued.get(refKey(f))
    if (of) out.push([of, f])
  }
  return out
}
const refKey = (f: Fact): string => `${f.refCostSeq}.${f.refPart}`

/** Pools that something ties together are worked out together, the others one by one: memory stays small. */
function connected(facts: ReadonlyMap<number, Fact[]>, ties: readonly Fact[][]): Iterable<Set<number>> {
  const group = new Map<number, Set<number>>()
  for (const id of facts.keys()) group.set(id, new Set([id]))
  for (const list of ties) {
    const first = group.get(list[0]!.poolId)!
    for (const f of list) {
      const other = group.get(f.poolId)!
      if (other === first) continue
      for (const id of other) {
        first.add(id)
        group.set(id, first)
      }
    }
  }
  return new Set(group.values())
}

/** Net value and quantity of every account: over all accounts both are zero for each item (conservation). */
export function balancesByAccount(
  movements: Iterable<Movement>,
): Map<string, { itemId: number; account: number; quantity: Quantity; value: Value }> {
  const out = new Map<string, { itemId: number; account: number; quantity: Quantity; value: Value }>()
  for (const m of movements)
    for (const [account, sign] of [
      [m.from, -1n],
      [m.to, 1n],
    ] as const) {
      const key = `${m.itemId}.${account}`
      const b = out.get(key) ?? { itemId: m.itemId, account, quantity: 0n, value: 0n }
      out.set(key, { ...b, quantity: b.quantity + sign * m.quantity, value: b.value + sign * m.value })
    }
  return out
}
