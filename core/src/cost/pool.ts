import { divideHalfEven, ONE, share, type Quantity, type Value } from '../quantity/micro.ts'
import type { CostMethod, Key } from '../ledger/types.ts'

/** What is left of one receipt under first in, first out; named by the place of that receipt in the order of costing. */
export interface Layer extends Key {
  quantity: Quantity
  value: Value
}
/** How much of which layer a movement took, and at what value. */
export interface Draw extends Key {
  quantity: Quantity
  value: Value
}
/** A unit cost as the exact pair it came from. */
export interface UnitCost {
  readonly value: Value
  readonly quantity: Quantity
}

/**
 * What costs alike: one item in the organisation or, by actual lot, one lot. Quantity lies in places, value in pools.
 * `standard` is the set cost of one whole base unit. `tainted`: something in it has no price yet.
 */
export interface PoolState {
  readonly method: CostMethod
  quantity: Quantity
  value: Value
  layers: Layer[]
  standard: Value
  lastOut: UnitCost | null
  lastReceipt: UnitCost | null
  tainted: boolean
}

export const emptyPool = (method: CostMethod, standard: Value = 0n): PoolState => ({
  method,
  quantity: 0n,
  value: 0n,
  layers: [],
  standard,
  lastOut: null,
  lastReceipt: null,
  tainted: false,
})

export const copyPool = (p: PoolState): PoolState => ({ ...p, layers: p.layers.map(l => ({ ...l })) })

/** What a whole base unit costs in the pool now, as an exact pair; the last known where the pool is empty; null where nothing is known. */
export function unitCost(pool: PoolState): UnitCost | null {
  if (pool.method === 'standard') return { value: pool.standard, quantity: ONE }
  if (pool.quantity > 0n) return { value: pool.value, quantity: pool.quantity }
  return pool.lastOut ?? pool.lastReceipt
}

/** `quantity` at a unit cost, rounded once. */
export const atCost = (quantity: Quantity, unit: UnitCost): Value =>
  divideHalfEven(quantity * unit.value, unit.quantity)

/** Value of a pool under standard cost: value = round(quantity × standard), so that it is never negative and 0 at 0. */
const standardValue = (quantity: Quantity, standard: Value): Value => divideHalfEven(quantity * standard, ONE)

/**
 * Puts a quantity of stated value into the pool. Returns the value by which the pool grew: the stated one, except under
 * standard cost, where the rest is a price difference. `key` names the layer it makes.
 */
export function put(pool: PoolState, key: Key, quantity: Quantity, value: Value): Value {
  if (pool.method === 'standard') {
    const after = standardValue(pool.quantity + quantity, pool.standard)
    const grown = after - pool.value
    pool.quantity += quantity
    pool.value = after
    return grown
  }
  pool.quantity += quantity
  pool.value += value
  if (pool.method === 'fifo' && quantity > 0n) intoLayer(pool, key, quantity, value)
  return value
}

/** Adds to the layer so named, or makes it anew in its old place: oldest = smallest in the order of costing. */
function intoLayer(pool: PoolState, { costSeq, part }: Key, quantity: Quantity, value: Value): void {
  let i = pool.layers.length
  while (i > 0) {
    const l = pool.layers[i - 1]!
    if (l.costSeq === costSeq && l.part === part) {
      l.quantity += quantity
      l.value += value
      return
    }
    if (l.costSeq < costSeq || (l.costSeq === costSeq && l.part < part)) break
    i--
  }
  pool.layers.splice(i, 0, { costSeq, part, quantity, value })
}

/** Puts back what was drawn, each amount into the layer that it left. */
export function putBack(pool: PoolState, draws: readonly Draw[]): void {
  for (const d of draws) {
    pool.quantity += d.quantity
    pool.value += d.value
    intoLayer(pool, d, d.quantity, d.value)
  }
}

/**
 * Takes a quantity out by the pool's method; returns its value and, under first in first out, the layers it drew:
 *
 *     layers   R1 3 @ 14.25   R2 4 @ 17.25          take 5
 *              └── all of it ┘└─ 2 of 4 ┘           draws R1 3 → 42.75, R2 2 → 34.50
 *
 * Part of a layer: quantity × rest value ÷ rest quantity, rounded; the last part takes the rest. Undefined where there is
 * less than that in the pool.
 */
export function take(pool: PoolState, quantity: Quantity): { value: Value; draws: Draw[] } | undefined {
  if (quantity > pool.quantity) return undefined
  if (quantity === 0n) return { value: 0n, draws: [] }
  const draws: Draw[] = []
  let value = 0n
  if (pool.method === 'fifo') {
    let left = quantity
    while (left > 0n) {
      const l = pool.layers[0]!
      const all = l.quantity <= left
      const x = all ? l.quantity : left
      const v = all ? l.value : share(l.value, x, l.quantity)
      draws.push({ costSeq: l.costSeq, part: l.part, quantity: x, value: v })
      value += v
      left -= x
      if (all) pool.layers.shift()
      else {
        l.quantity -= x
        l.value -= v
      }
    }
  } else if (pool.method === 'standard') {
    value = pool.value - standardValue(pool.quantity - quantity, pool.standard)
  } else {
    value = quantity === pool.quantity ? pool.value : share(pool.value, quantity, pool.quantity)
  }
  pool.quantity -= quantity
  pool.value -= value
  if (!pool.tainted) pool.lastOut = { value, quantity }
  if (pool.quantity === 0n) pool.tainted = false
  return { value, draws }
}
