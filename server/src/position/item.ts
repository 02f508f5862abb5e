import {
  belongsIn,
  foundBy,
  type ItemFacts,
  type Leaf,
  type LevelFact,
  type Levels,
  type Lying,
  ONE,
  onTheWay,
  type OnTheWay,
  type Held,
  heldNow,
  type Placed,
  type Planned,
  plannedOf,
  type Position,
  shareOut,
  type Shelves,
  type UnitCost,
  type Way,
} from '@shelve/core'
import type { pool } from '../ledger/index.ts'
import type { Demand, Made, Owed } from './sources.ts'

export type PoolRow = typeof pool.$inferSelect
interface ItemRow {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly name: string
  readonly categoryId: number | null
  readonly category: string | null
  readonly unit: string
  readonly decimals: number
  readonly active: boolean
}
type LevelHere = LevelFact & { readonly binId: number | null }
type Dated = Leaf & { readonly expiry: string }

/** How an item stands, on a day: at each place that has a level for it, and what it is worth in each area. */
export interface Standing {
  readonly day: string
  readonly levels: readonly { readonly areaId: number; readonly levels: Levels }[]
  readonly values: readonly (readonly [areaId: number, value: bigint])[]
}

interface Facts {
  /** What lies where. */
  readonly lying: readonly Lying[]
  /** The pools as they are kept. */
  readonly known: readonly PoolRow[]
  readonly levels: readonly LevelHere[]
  readonly owed: readonly Owed[]
  readonly demand: Demand
  readonly used: ReadonlyMap<number, bigint>
  readonly areaOf: (placeId: number) => number
  /** The day and the places that what is kept for jobs goes by, and what is on its way. */
  readonly around: Pick<Shelves, 'today' | 'shelf' | 'inside'> & {
    readonly patienceDays: number
    readonly way: (placeId: number) => Way | undefined
  }
  /** Which of some pools comes last in the order of costing, and where. */
  readonly lastPool: (among: readonly number[]) => { readonly pool: number; readonly costSeq: number } | undefined
}

/** An item with all that is known of how it stands. A class, since lists go through thousands of them: all are of one shape. */
export class StockItem implements ItemFacts, ItemRow {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly name: string
  /** Name and code as they are searched. */
  readonly words: string
  readonly categoryId: number | null
  readonly category: string | null
  readonly unit: string
  readonly decimals: number
  readonly active: boolean
  readonly leaves: readonly Leaf[]
  readonly pools: ItemFacts['pools']
  readonly levels: readonly LevelHere[]
  /** All that was asked for and has not come; of it what still counts as coming. */
  readonly owed: readonly Owed[]
  readonly coming: readonly (Placed & { readonly day: string })[]
  readonly demand: Demand
  /** What was sent and has not arrived, by where it goes. */
  readonly sent: readonly OnTheWay[]
  readonly shelves: Shelves & Facts['around']
  /** What is kept for which job, and where. */
  readonly held: readonly Held[]
  readonly reserved: readonly Placed[]
  readonly planned: readonly Planned[]
  readonly used: ReadonlyMap<number, bigint>
  readonly areaOf: (placeId: number) => number
  readonly value: bigint
  readonly quantity: bigint
  /** Where the name comes among all names, so that lists need not compare them. */
  rank = 0
  /** What was worked out of it already, by place; gone with the item when something happens to it. */
  readonly seen = new Map<string, { readonly day: string; readonly here: Position }>()
  stands: Standing | undefined
  readonly known: Facts['known']
  readonly lastPool: Facts['lastPool']
  #dated: readonly Dated[] | undefined
  #belongsIn: readonly number[] | undefined
  #last: UnitCost | null | undefined

  constructor(row: ItemRow, facts: Facts) {
    this.id = row.id
    this.uid = row.uid
    this.code = row.code
    this.name = row.name
    this.words = `${foundBy(row.name)}\n${foundBy(row.code)}`
    this.categoryId = row.categoryId
    this.category = row.category
    this.unit = row.unit
    this.decimals = row.decimals
    this.active = row.active
    this.pools = facts.known.map(p => ({
      lotId: p.lotId,
      quantity: p.quantity,
      value: p.value,
      provisional: p.tainted,
    }))
    this.leaves = shareOut(facts.lying, this.pools)
    this.levels = facts.levels
    this.owed = facts.owed
    this.demand = facts.demand
    const { needs, reservations, made } = facts.demand
    const counts = (x: Owed | Made | OnTheWay) => x.counts
    this.sent = onTheWay(facts.lying, facts.around.way, facts.around)
    this.coming =
      made.length || this.sent.length
        ? [...facts.owed.filter(counts), ...made.filter(counts), ...this.sent.filter(counts)]
        : facts.owed.filter(counts)
    const { today, patienceDays, way, shelf, inside } = facts.around
    this.shelves = { today, patienceDays, way, shelf, inside, lying: facts.lying }
    this.held = reservations.length ? heldNow(needs, reservations, this.shelves) : []
    this.reserved = this.held.map(h => ({
      placeId: h.reservation.placeId,
      quantity: h.held,
      needId: h.reservation.needId,
    }))
    this.planned = needs.length ? plannedOf(needs, this.held) : []
    this.used = facts.used
    this.areaOf = facts.areaOf
    this.known = facts.known
    this.lastPool = facts.lastPool
    let value = 0n
    let quantity = 0n
    for (const l of this.leaves) {
      value += l.value
      quantity += l.quantity
    }
    this.value = value
    this.quantity = quantity
  }
  /** The same item with other facts. */
  with(facts: Partial<Facts> & Pick<Facts, 'lying' | 'known'>): StockItem {
    const it = new StockItem(this, {
      levels: this.levels,
      owed: this.owed,
      demand: this.demand,
      around: this.shelves,
      used: this.used,
      areaOf: this.areaOf,
      lastPool: this.lastPool,
      ...facts,
    })
    it.rank = this.rank
    return it
  }
  /** Those of its leaves that run out of date, first to go first. */
  get dated(): readonly Dated[] {
    return (this.#dated ??= this.leaves
      .filter((l): l is Dated => l.expiry !== null)
      .sort((a, b) => (a.expiry < b.expiry ? -1 : a.expiry > b.expiry ? 1 : 0)))
  }
  /** Where it belongs: found once, since every list of a place asks it of every item. */
  get belongsIn(): readonly number[] {
    return (this.#belongsIn ??= belongsIn(this))
  }
  /** The last known cost of one: of the item's pool; by actual lot, of the lot that comes last in the order of costing. */
  get lastKnown(): UnitCost | null {
    return this.#last === undefined ? (this.#last = this.#findLast()) : this.#last
  }
  /** What was last paid for one; by actual lot, the last known cost. */
  get lastPaid(): UnitCost | null {
    const whole = this.known.find(p => p.lotId === null)
    if (!whole || whole.method === 'lot') return this.lastKnown
    return pair(whole.lastReceiptValue, whole.lastReceiptQuantity)
  }
  #findLast(): UnitCost | null {
    if (this.known.length === 1) return knownCost(this.known[0]!)
    const byId = new Map(
      this.known.flatMap(p => {
        const cost = knownCost(p)
        return cost ? [[p.id, cost] as const] : []
      }),
    )
    if (!byId.size) return null
    const last = this.lastPool([...byId.keys()])
    return last === undefined ? null : byId.get(last.pool)!
  }
}

const knownCost = (p: PoolRow): UnitCost | null =>
  p.method === 'standard'
    ? { value: p.standard, quantity: ONE }
    : (pair(p.lastOutValue, p.lastOutQuantity) ?? pair(p.lastReceiptValue, p.lastReceiptQuantity))

const pair = (value: bigint | null, quantity: bigint | null): UnitCost | null =>
  value === null || quantity === null || quantity === 0n ? null : { value, quantity }
