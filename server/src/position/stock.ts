import { and, asc, eq, gt, gte, inArray, sql } from 'drizzle-orm'
import { type Levels, levels, type LotState, lotState, minuteOf, perDay, split } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { category, item, lot } from '../catalogue/index.ts'
import { groupBy } from '../ground/index.ts'
import { balance, type House as Books, movement, pool, slip } from '../ledger/index.ts'
import type { Scope } from '../rights/index.ts'
import type { Coming, Sources } from './sources.ts'
import { level } from './tables.ts'

/** What it stands on. */
type House = Books & { readonly sources: Sources }
/** Days of use that the average is taken over. */
export const USE_DAYS = 28

const DAY = 86_400_000

/** What lies of one lot in one place, with its share of the pool's value. */
export interface Leaf {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: bigint
  readonly value: bigint
  readonly expiry: string | null
  readonly held: 'usable' | 'held' | 'recalled'
}

interface LevelRow {
  readonly placeId: number
  readonly minimum: bigint | null
  readonly target: bigint | null
  readonly binId: number | null
}

export interface StockItem {
  readonly id: number
  readonly uid: string
  readonly code: string
  readonly name: string
  readonly categoryId: number | null
  readonly category: string | null
  readonly unit: string
  readonly decimals: number
  readonly active: boolean
  leaves: readonly Leaf[]
  /** Those of them that run out of date, first to go first. */
  readonly dated: readonly (Leaf & { readonly expiry: string })[]
  levels: readonly LevelRow[]
  /** Asked for and not come yet, by the place it is for. */
  readonly coming: readonly Coming[]
  /** Used in the last weeks, by the place it was taken from. */
  used: ReadonlyMap<number, bigint>
  value: bigint
  quantity: bigint
  /** Where the name comes among all names, so that lists need not compare them. */
  rank: number
  /** What was worked out of it already, by place; gone with the item when something happens to it. */
  readonly seen: Map<string, { readonly day: string; readonly here: Here }>
  stands?: Standing
}

/** How an item stands, on a day: at each place that has a level for it, and what it is worth in each area. */
export interface Standing {
  readonly day: string
  readonly levels: readonly { readonly placeId: number; readonly areaId: number; readonly levels: Levels }[]
  readonly values: readonly (readonly [areaId: number, value: bigint])[]
}

export interface Here {
  readonly onHand: bigint
  readonly value: bigint
  readonly lots: number
  readonly firstExpiry: string | null
  readonly levels: Levels
  readonly belongs: boolean
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

  /** An item within some places: quantity, value, levels. Levels of several areas add up. */
  here(it: StockItem, scope: Scope, today: string): Here {
    const seen = it.seen.get(scope.key)
    if (seen?.day === today) return seen.here
    const here = this.#work(it, scope.within, today)
    it.seen.set(scope.key, { day: today, here })
    return here
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
  #work(it: StockItem, within: ReadonlySet<number> | undefined, today: string): Here {
    const { places, organisation } = this.#house
    let onHand = 0n
    let value = 0n
    let unusable = 0n
    let firstExpiry: string | null = null
    const lots = new Set<number>()
    for (const l of it.leaves) {
      if (within && !within.has(l.placeId)) continue
      onHand += l.quantity
      value += l.value
      lots.add(l.lotId)
      if (leafState(l, today, places.row(l.placeId)?.kind) !== 'usable') unusable += l.quantity
      else if (l.expiry !== null && (firstExpiry === null || l.expiry < firstExpiry)) firstExpiry = l.expiry
    }
    let minimum: bigint | null = null
    let target: bigint | null = null
    for (const l of it.levels) {
      if (within && !within.has(l.placeId)) continue
      if (l.minimum !== null) minimum = (minimum ?? 0n) + l.minimum
      if (l.target !== null) target = (target ?? 0n) + l.target
    }
    let coming = 0n
    for (const c of it.coming) if (!within || within.has(c.placeId)) coming += c.quantity
    let used = 0n
    for (const [place, q] of it.used) if (!within || within.has(place)) used += q
    const out = levels(
      { onHand, unusable, coming, minimum, target, perDay: perDay(used, USE_DAYS) },
      organisation?.shortRule === 'below' ? 'below' : 'at_or_below',
    )
    return {
      onHand,
      value,
      lots: lots.size,
      firstExpiry,
      levels: out,
      belongs: minimum !== null || target !== null || onHand !== 0n,
    }
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
        .select({ id: pool.id, itemId: pool.itemId, lotId: pool.lotId, value: pool.value, quantity: pool.quantity })
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
    for (const r of rows) {
      const leaves = valued(balances.get(r.id) ?? [], pools.get(r.id) ?? [])
      const dated = leaves
        .filter((l): l is Leaf & { expiry: string } => l.expiry !== null)
        .sort((a, b) => (a.expiry < b.expiry ? -1 : a.expiry > b.expiry ? 1 : 0))
      this.#items!.set(r.id, {
        ...r,
        leaves,
        dated,
        levels: levelRows.get(r.id) ?? [],
        coming: coming.get(r.id) ?? [],
        used: used.get(r.id) ?? new Map(),
        value: leaves.reduce((s, l) => s + l.value, 0n),
        quantity: leaves.reduce((s, l) => s + l.quantity, 0n),
        rank: this.#items!.get(r.id)?.rank ?? 0,
        seen: new Map(),
      })
    }
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

/** What lies in a place for held goods or in transit is not to be used, whatever its lot says. */
export const leafState = (l: Pick<Leaf, 'expiry' | 'held'>, today: string, placeKind: string | undefined): LotState =>
  placeKind === 'held' || placeKind === 'transit' ? 'held' : lotState(l, today)

function valued(
  balances: { lotId: number; placeId: number; quantity: bigint; expiry: string | null; held: string }[],
  pools: { lotId: number | null; value: bigint }[],
): Leaf[] {
  const leaves = (rows: typeof balances, value: bigint): Leaf[] => {
    const parts =
      split(
        value,
        rows.map(b => b.quantity),
      ) ?? rows.map(() => 0n)
    return rows.map((b, i) => ({
      lotId: b.lotId,
      placeId: b.placeId,
      quantity: b.quantity,
      expiry: b.expiry,
      held: b.held as Leaf['held'],
      value: parts[i]!,
    }))
  }
  const whole = pools.find(p => p.lotId === null)
  if (whole && pools.length === 1) return leaves(balances, whole.value)
  return pools
    .filter(p => p.lotId !== null)
    .flatMap(p =>
      leaves(
        balances.filter(b => b.lotId === p.lotId),
        p.value,
      ),
    )
}
