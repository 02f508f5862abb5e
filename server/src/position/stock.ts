import { and, asc, desc, eq, gt, gte, inArray, sql } from 'drizzle-orm'
import {
  type ItemFacts,
  type Leaf,
  type LevelFact,
  type Levels,
  type Lying,
  minuteOf,
  ONE,
  type Outlook,
  type Position,
  position,
  shareOut,
  type UnitCost,
  USE_DAYS,
} from '@shelve/core'
import { account } from '../accounts/index.ts'
import { category, item, lot } from '../catalogue/index.ts'
import { groupBy } from '../ground/index.ts'
import { balance, type House as Books, movement, pool, slip } from '../ledger/index.ts'
import type { Scope } from '../rights/index.ts'
import type { Coming, Sources } from './sources.ts'
import { level } from './tables.ts'

/** What it stands on. */
type House = Books & { readonly sources: Sources }
const DAY = 86_400_000

/** An item with all that is known of how it stands. */
export interface StockItem extends ItemFacts {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly name: string
  readonly categoryId: number | null
  readonly category: string | null
  readonly unit: string
  readonly decimals: number
  readonly active: boolean
  /** Those of its leaves that run out of date, first to go first. */
  readonly dated: readonly (Leaf & { readonly expiry: string })[]
  readonly levels: readonly (LevelFact & { readonly binId: number | null })[]
  readonly coming: readonly Coming[]
  readonly value: bigint
  readonly quantity: bigint
  /** Where the name comes among all names, so that lists need not compare them. */
  rank: number
  /** What was worked out of it already, by place; gone with the item when something happens to it. */
  readonly seen: Map<string, { readonly day: string; readonly here: Position }>
  stands?: Standing
}

/** How an item stands, on a day: at each place that has a level for it, and what it is worth in each area. */
export interface Standing {
  readonly day: string
  readonly levels: readonly { readonly placeId: number; readonly areaId: number; readonly levels: Levels }[]
  readonly values: readonly (readonly [areaId: number, value: bigint])[]
}

/**
 * What lies where, in memory: an item is read anew only after something happened to it, so that lists answer at once
 * beside a busy counter. Values are the pool's, split over what lies of it so that the places add up to the pool.
 */
export class StockView {
  readonly #house: House
  #items: Map<number, StockItem> | undefined
  readonly #stale = new Set<number>()
  #usedAt = 0

  constructor(house: House) {
    this.#house = house
    house.onSetUp(() => this.forget())
  }

  forget(): void {
    this.#items = undefined
  }
  touch(itemId: number): void {
    this.#stale.add(itemId)
  }

  /** Every item, as it is now, in the order of their names. */
  all(): ReadonlyMap<number, StockItem> {
    if (!this.#items || minuteOf(this.#house.now()) - minuteOf(this.#usedAt) > 60) this.#loadAll()
    else if (this.#stale.size) this.#load([...this.#stale])
    this.#stale.clear()
    return this.#items!
  }
  item(id: number): StockItem | undefined {
    return this.all().get(id)
  }

  /** How an item stands in some places: worked out once, until something happens to it or the day ends. */
  here(it: StockItem, scope: Scope, today: string): Position {
    const seen = it.seen.get(scope.key)
    if (seen?.day === today) return seen.here
    const here = position(it, this.outlook(scope, today))
    it.seen.set(scope.key, { day: today, here })
    return here
  }
  /** From where some places are looked at. */
  outlook(scope: Scope, day: string): Outlook {
    const { places, organisation } = this.#house
    const { within } = scope
    return {
      day,
      within: within ? p => within.has(p) : () => true,
      rule: organisation?.shortRule === 'below' ? 'below' : 'at_or_below',
      shelf: p => {
        const kind = places.row(p)?.kind
        return kind !== 'held' && kind !== 'transit'
      },
    }
  }
  /** What Today asks of every item: worked out once, until something happens to it or the day ends. */
  standing(it: StockItem, today: string): Standing {
    if (it.stands?.day === today) return it.stands
    const { places } = this.#house
    const values = new Map<number, bigint>()
    for (const l of it.leaves) {
      const a = places.area(l.placeId)
      values.set(a, (values.get(a) ?? 0n) + l.value)
    }
    return (it.stands = {
      day: today,
      values: [...values],
      levels: it.levels.map(l => ({
        placeId: l.placeId,
        areaId: places.area(l.placeId),
        levels: this.here(it, places.scope([l.placeId]), today).levels,
      })),
    })
  }
  #loadAll(): void {
    this.#items = new Map()
    this.#usedAt = this.#house.now()
    this.#load(undefined)
    const byName = new Intl.Collator('en', { numeric: true }).compare
    const inOrder = [...this.#items.values()].sort((a, b) => byName(a.name, b.name) || a.id - b.id)
    inOrder.forEach((it, rank) => {
      it.rank = rank
    })
    // From here on they are told in the order of their names: an item that is read anew keeps its place.
    this.#items = new Map(inOrder.map(it => [it.id, it]))
  }

  #load(ids: number[] | undefined): void {
    const { db } = this.#house
    const only = <T extends { itemId: typeof balance.itemId }>(t: T) => (ids ? inArray(t.itemId, ids) : undefined)
    const rows = db
      .select({
        id: item.id,
        uid: item.uid,
        code: item.code,
        name: item.name,
        categoryId: item.categoryId,
        category: category.name,
        unit: item.unit,
        decimals: item.decimals,
        active: item.active,
      })
      .from(item)
      .leftJoin(category, eq(category.id, item.categoryId))
      .where(ids ? inArray(item.id, ids) : undefined)
      .all()
    const pools = groupBy(
      db
        .select()
        .from(pool)
        .where(and(only(pool as never), eq(pool.current, true)))
        .all(),
      p => p.itemId,
    )
    const balances = groupBy(
      db
        .select({
          itemId: balance.itemId,
          lotId: balance.lotId,
          placeId: balance.placeId,
          quantity: balance.quantity,
          expiry: lot.expiry,
          held: lot.held,
        })
        .from(balance)
        .innerJoin(lot, eq(lot.id, balance.lotId))
        .where(and(only(balance), gt(balance.quantity, 0n)))
        .orderBy(asc(balance.lotId), asc(balance.placeId))
        .all(),
      b => b.itemId,
    )
    const levelRows = groupBy(
      db
        .select()
        .from(level)
        .where(only(level as never))
        .all(),
      l => l.itemId,
    )
    const used = this.#used(ids)
    const coming = this.#house.sources.coming(ids)
    const areaOf = (placeId: number) => this.#house.places.area(placeId)
    for (const r of rows) {
      const own = pools.get(r.id) ?? []
      const facts = own.map(p => ({ lotId: p.lotId, quantity: p.quantity, value: p.value, provisional: p.tainted }))
      const leaves = shareOut((balances.get(r.id) ?? []) as Lying[], facts)
      const dated = leaves
        .filter((l): l is Leaf & { expiry: string } => l.expiry !== null)
        .sort((a, b) => (a.expiry < b.expiry ? -1 : a.expiry > b.expiry ? 1 : 0))
      const lastKnown = () => this.#lastKnown(r.id, own)
      let last: UnitCost | null | undefined
      this.#items!.set(r.id, {
        ...r,
        leaves,
        dated,
        pools: facts,
        levels: (levelRows.get(r.id) ?? []).map(l => ({ ...l, areaId: areaOf(l.placeId) })),
        coming: coming.get(r.id) ?? [],
        reserved: [],
        planned: [],
        used: used.get(r.id) ?? new Map(),
        areaOf,
        get lastKnown() {
          return (last ??= lastKnown())
        },
        value: leaves.reduce((s, l) => s + l.value, 0n),
        quantity: leaves.reduce((s, l) => s + l.quantity, 0n),
        rank: this.#items!.get(r.id)?.rank ?? 0,
        seen: new Map(),
      })
    }
  }

  /** The last known cost of one: of the item's pool; by actual lot, of the lot that comes last in the order of costing. */
  #lastKnown(itemId: number, pools: readonly (typeof pool.$inferSelect)[]): UnitCost | null {
    const known = (p: typeof pool.$inferSelect): UnitCost | null =>
      p.method === 'standard'
        ? { value: p.standard, quantity: ONE }
        : (pair(p.lastOutValue, p.lastOutQuantity) ?? pair(p.lastReceiptValue, p.lastReceiptQuantity))
    if (pools.length === 1) return known(pools[0]!)
    const byId = new Map(pools.flatMap(p => (known(p) ? [[p.id, known(p)] as const] : [])))
    if (!byId.size) return null
    const last = this.#house.db
      .select({ pool: movement.poolId })
      .from(movement)
      .where(and(eq(movement.itemId, itemId), inArray(movement.poolId, [...byId.keys()])))
      .orderBy(desc(movement.costSeq))
      .limit(1)
      .get()
    return last ? byId.get(last.pool)! : null
  }

  /** What jobs took in the last weeks, net of what was brought back or taken back: by item and place. */
  #used(ids: number[] | undefined): Map<number, Map<number, bigint>> {
    const { db } = this.#house
    const since = this.#house.now() - USE_DAYS * DAY
    const first = ids
      ? 1
      : db
          .select({ seq: sql<number>`coalesce(min(${slip.firstSeq}), 0)`.mapWith(Number) })
          .from(slip)
          .where(gte(slip.bookedAt, since))
          .get()!.seq
    const out = new Map<number, Map<number, bigint>>()
    if (!first) return out
    const add = (rows: { itemId: number; place: number; q: bigint | null }[], sign: bigint) => {
      for (const r of rows) {
        const m = out.get(r.itemId) ?? new Map<number, bigint>()
        out.set(r.itemId, m.set(r.place, (m.get(r.place) ?? 0n) + sign * (r.q ?? 0n)))
      }
    }
    // A few items by their own index; all of them by what was booked since.
    const recent = and(
      ids ? inArray(movement.itemId, ids) : gte(movement.seq, first),
      gte(movement.effectiveAt, since),
      eq(account.kind, 'used'),
    )
    const total = sql<bigint | null>`sum(${movement.quantity})`.mapWith(movement.quantity)
    add(
      db
        .select({ itemId: movement.itemId, place: movement.fromId, q: total })
        .from(movement)
        .innerJoin(account, eq(account.id, movement.toId))
        .where(recent)
        .groupBy(movement.itemId, movement.fromId)
        .all(),
      1n,
    )
    add(
      db
        .select({ itemId: movement.itemId, place: movement.toId, q: total })
        .from(movement)
        .innerJoin(account, eq(account.id, movement.fromId))
        .where(recent)
        .groupBy(movement.itemId, movement.toId)
        .all(),
      -1n,
    )
    return out
  }
}

const pair = (value: bigint | null, quantity: bigint | null): UnitCost | null =>
  value === null || quantity === null || quantity === 0n ? null : { value, quantity }
