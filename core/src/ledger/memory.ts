import { copyPool, emptyPool, type PoolState } from '../cost/pool.ts'
import type { Charge } from '../receiving/landed.ts'
import type { Booked, Books, CellBalance, Delivery, LotBalance } from './books.ts'
import { foldFacts } from './facts.ts'
import { deltaIn } from './timeline.ts'
import {
  givesUp,
  type Account,
  type AccountKind,
  type CostMethod,
  type ItemRule,
  type Key,
  type LotRule,
  type Movement,
  type Tally,
} from './types.ts'

/** The standing data of books in memory. `poolOf` says which pool each lot belongs to. */
export interface Standing {
  readonly accounts: readonly Account[]
  readonly items: readonly ItemRule[]
  readonly lots: readonly LotRule[]
  readonly pools: readonly { readonly id: number; readonly method: CostMethod; readonly standard?: bigint }[]
  readonly poolOf: (itemId: number, lotId: number) => number
  readonly priceDifferenceAccount: number
}

/** Books kept in memory: for tests, for trying out what a slip would do, and for building everything anew from the movements alone. */
export class MemoryBooks implements Books {
  readonly movements: Movement[] = []
  readonly charges = new Map<number, readonly Charge[]>()
  closedUntil = -Infinity
  readonly #standing: Standing
  readonly #accounts: Map<number, AccountKind>
  readonly #items: Map<number, ItemRule>
  readonly #lots: Map<number, LotRule>
  readonly #pools = new Map<number, PoolState>()
  readonly #byPool = new Map<number, Movement[]>()
  readonly #byCost = new Map<number, Movement[]>()
  readonly #byCell = new Map<string, Movement[]>()
  readonly #balances = new Map<string, CellBalance>()
  readonly #tallies = new Map<number, Tally>()
  readonly #unpriced = new Map<number, Set<string>>()
  #nextSeq = 1

  constructor(standing: Standing) {
    this.#standing = standing
    this.#accounts = new Map(standing.accounts.map(a => [a.id, a.kind]))
    this.#items = new Map(standing.items.map(i => [i.id, i]))
    this.#lots = new Map(standing.lots.map(l => [l.id, l]))
  }

  /** Writes what booking made. */
  write(booked: Booked): void {
    for (const m of booked.movements) this.add(m)
    for (const t of booked.tallies) this.#tallies.set(t.id, t)
    for (const id of booked.reversedTallies) this.#tallies.set(id, { ...this.#tallies.get(id)!, reversed: true })
    for (const c of booked.charges) this.charges.set(c.slipId, c.charges)
    for (const [id, p] of booked.pools) this.#pools.set(id, copyPool(p))
    for (const u of booked.unpriced) {
      const set = this.#unpriced.get(u.poolId) ?? new Set()
      this.#unpriced.set(u.poolId, set)
      if (u.unpriced) set.add(`${u.costSeq}.${u.part}`)
      else set.delete(`${u.costSeq}.${u.part}`)
    }
  }

  /** Adds one movement as it is, without judging it. */
  add(m: Movement): void {
    this.movements.push(m)
    this.#nextSeq = Math.max(this.#nextSeq, m.seq + 1)
    push(this.#byPool, m.poolId, m)
    push(this.#byCost, m.costSeq, m)
    for (const place of new Set([m.from, m.to])) {
      if (this.#accounts.get(place) !== 'place') continue
      const key = cellKey(m.itemId, m.lotId, place)
      push(this.#byCell, key, m)
      if (m.quantity === 0n) continue
      const b = this.#balances.get(key) ?? { quantity: 0n, lastEffectiveAt: -Infinity }
      this.#balances.set(key, {
        quantity: b.quantity + deltaIn(m, place),
        lastEffectiveAt: Math.max(b.lastEffectiveAt, m.effectiveAt),
      })
    }
  }

  nextSeq(): number {
    return this.#nextSeq
  }
  accountKind(id: number): AccountKind | undefined {
    return this.#accounts.get(id)
  }
  item(id: number): ItemRule | undefined {
    return this.#items.get(id)
  }
  lot(id: number): LotRule | undefined {
    return this.#lots.get(id)
  }
  poolOf(itemId: number, lotId: number): number {
    return this.#standing.poolOf(itemId, lotId)
  }
  pool(poolId: number): PoolState {
    return copyPool(this.#pools.get(poolId) ?? this.poolStart(poolId))
  }
  poolStart(poolId: number): PoolState {
    const p = this.#standing.pools.find(x => x.id === poolId)
    return emptyPool(p?.method ?? 'average', p?.standard ?? 0n)
  }
  poolMovements(poolId: number): Movement[] {
    return this.#byPool.get(poolId) ?? []
  }
  movementsAt(costSeq: number): Movement[] {
    return this.#byCost.get(costSeq) ?? []
  }
  unpriced(poolId: number): ReadonlySet<string> {
    return this.#unpriced.get(poolId) ?? new Set()
  }
  balance(itemId: number, lotId: number, placeId: number): CellBalance {
    return this.#balances.get(cellKey(itemId, lotId, placeId)) ?? { quantity: 0n, lastEffectiveAt: -Infinity }
  }
  cellMovements(itemId: number, lotId: number, placeId: number): Movement[] {
    return this.#byCell.get(cellKey(itemId, lotId, placeId)) ?? []
  }
  lotBalances(itemId: number): LotBalance[] {
    return [...this.#balances].flatMap(([key, b]) => {
      const [item, lotId, placeId] = key.split('.').map(Number)
      return item === itemId ? [{ lotId: lotId!, placeId: placeId!, quantity: b.quantity }] : []
    })
  }
  tallies(itemId: number, lotId: number, placeId: number): Tally[] {
    return [...this.#tallies.values()].filter(t => t.itemId === itemId && t.lotId === lotId && t.placeId === placeId)
  }
  hasTallyFrom(itemId: number, lotId: number, placeId: number, instant: number): boolean {
    return this.tallies(itemId, lotId, placeId).some(t => t.countedAt >= instant && !t.reversed)
  }
  tally(id: number): Tally | undefined {
    return this.#tallies.get(id)
  }
  allTallies(): Tally[] {
    return [...this.#tallies.values()]
  }
  tallyMovements(tallyId: number): Movement[] {
    return this.movements.filter(m => m.tallyId === tallyId)
  }
  broughtBack(key: Key): bigint {
    return foldFacts(
      this.movements.filter(
        m => givesUp(m.kind) && m.revalues === null && m.refCostSeq === key.costSeq && m.refPart === key.part,
      ),
      () => false,
    ).reduce((sum, f) => sum + f.quantity, 0n)
  }
  delivery(costSeq: number): Delivery | undefined {
    const first = this.movementsAt(costSeq)[0]
    const charges = first && this.charges.get(first.slipId)
    if (!first || !charges) return undefined
    const costSeqs = [
      ...new Set(this.movements.filter(m => m.slipId === first.slipId && m.costSeq === m.seq).map(m => m.costSeq)),
    ]
    return { slipId: first.slipId, charges, costSeqs }
  }
  openFrom(): number {
    return this.closedUntil
  }
  accountsOf(kind: AccountKind): number[] {
    return this.#standing.accounts.filter(a => a.kind === kind).map(a => a.id)
  }
  get priceDifferenceAccount(): number {
    return this.#standing.priceDifferenceAccount
  }
}

const cellKey = (itemId: number, lotId: number, placeId: number): string => `${itemId}.${lotId}.${placeId}`
function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}
