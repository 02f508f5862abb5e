import { and, desc, eq, gte, or, type SQL, sql } from 'drizzle-orm'
import type { SQLiteColumn } from 'drizzle-orm/sqlite-core'
import { groupBy, type Lying, USE_DAYS } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { category, item } from '../catalogue/index.ts'
import type { Db } from '../ground/index.ts'
import { exactly, type House as Books, movement, pool, slip } from '../ledger/index.ts'
import { place } from '../places/index.ts'
import { StockItem } from './item.ts'
import { NO_DEMAND, type Sources } from './sources.ts'
import { level } from './tables.ts'

/** What it stands on. */
type House = Books & { readonly sources: Sources }
const DAY = 86_400_000

/**
 * What is asked of some items (their numbers as a JSON list, `:ids`), or of all: the same statements, prepared once each,
 * since after every booking a few items are read anew.
 */
function prepare(db: Db, some: boolean) {
  const p = sql.placeholder
  const only = (column: SQLiteColumn): SQL | undefined =>
    some ? sql`${column} in (select value from json_each(${p('ids')}))` : undefined
  // A few items by their own index; all of them by what was booked since.
  const recent = and(
    some ? only(movement.itemId) : gte(movement.seq, p('first')),
    gte(movement.effectiveAt, p('since')),
    // As `isUse` says it.
    or(eq(account.kind, 'used'), and(eq(account.kind, 'made'), eq(movement.kind, 'event_out'))),
  )
  const total = sql<bigint | null>`sum(${movement.quantity})`.mapWith(movement.quantity)
  type Side = typeof movement.fromId | typeof movement.toId
  const used = (at: Side, other: Side) => {
    // What lay with a job was used where that is done, as `PlaceTree.standing` says it: jobs are many.
    const standing = sql<number>`iif(${place.kind} = 'with_job', ${place.parentId}, ${at})`.mapWith(Number)
    return db
      .select({ itemId: movement.itemId, place: standing, q: total })
      .from(movement)
      .innerJoin(account, eq(account.id, other))
      .leftJoin(place, eq(place.id, at))
      .where(recent)
      .groupBy(movement.itemId, standing)
      .prepare()
  }
  return {
    items: db
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
      .where(only(item.id))
      .prepare(),
    pools: db
      .select()
      .from(pool)
      .where(and(only(pool.itemId), sql`${pool.current} = 1`))
      .prepare(),
    levels: db.select().from(level).where(only(level.itemId)).prepare(),
    taken: used(movement.fromId, movement.toId),
    given: used(movement.toId, movement.fromId),
  }
}

type LyingSaid = [lot: number, place: number, quantity: number | string, expiry: string | null, held: Lying['held']]
/**
 * What lies of some items, or of all, lot by lot: of each item as one text, which crosses from the database in less than half the
 * time of its values; an item may have thousands of lots.
 */
function prepareLying(house: House, some: boolean): (ids: string) => ReadonlyMap<number, Lying[]> {
  const statement = house.store.client
    .prepare<unknown[], [item: number, said: string]>(
      `select b.item_id, json_group_array(json_array(b.lot_id, b.place_id, ${exactly('b.quantity')}, l.expiry, l.held)
         order by b.lot_id, b.place_id)
       from balance b join lot l on l.id = b.lot_id
       where b.quantity > 0 ${some ? 'and b.item_id in (select value from json_each(:ids))' : ''} group by b.item_id`,
    )
    .raw()
    .safeIntegers(false)
  // Written out: of objects that are put together of others each would have a shape of its own, and takes several times as long.
  const lying = ([lotId, placeId, quantity, expiry, held]: LyingSaid): Lying => ({
    lotId,
    placeId,
    quantity: BigInt(quantity),
    expiry,
    held,
  })
  return ids =>
    new Map(
      statement
        .all(some ? { ids } : {})
        .map(([id, said]) => [id, (JSON.parse(said) as LyingSaid[]).map(lying)] as const),
    )
}

/** Reads the facts that an item's position is worked out from. */
export class FactReader {
  readonly #house: House
  readonly #all: ReturnType<typeof prepare>
  readonly #some: ReturnType<typeof prepare>
  readonly #lyingOfAll
  readonly #lyingOfSome
  readonly #ids
  readonly #first
  readonly #lastPool

  constructor(house: House) {
    this.#house = house
    this.#all = prepare(house.db, false)
    this.#some = prepare(house.db, true)
    this.#lyingOfAll = prepareLying(house, false)
    this.#lyingOfSome = prepareLying(house, true)
    const p = sql.placeholder
    this.#ids = house.store.client.prepare('select id from item').pluck().safeIntegers(false)
    this.#first = house.db
      .select({ seq: sql<number>`coalesce(min(${slip.firstSeq}), 0)`.mapWith(Number) })
      .from(slip)
      .where(gte(slip.bookedAt, p('since')))
      .prepare()
    this.#lastPool = house.db
      .select({ pool: movement.poolId, costSeq: movement.costSeq })
      .from(movement)
      .where(
        and(eq(movement.itemId, p('item')), sql`${movement.poolId} in (select value from json_each(${p('pools')}))`),
      )
      .orderBy(desc(movement.costSeq))
      .limit(1)
      .prepare()
  }

  /** The numbers of all items that there are. */
  ids(): number[] {
    return this.#ids.all() as number[]
  }
  /** Some items, or all, as they are now. */
  read(ids: readonly number[] | undefined): StockItem[] {
    if (ids?.length === 0) return []
    const st = ids ? this.#some : this.#all
    const asked = { ids: JSON.stringify(ids ?? []) }
    const pools = groupBy(st.pools.all(asked), p => p.itemId)
    const lying = (ids ? this.#lyingOfSome : this.#lyingOfAll)(asked.ids)
    const levels = groupBy(st.levels.all(asked), l => l.itemId)
    const used = this.#used(ids, asked)
    const owed = this.#house.sources.owed(ids)
    const demand = this.#house.sources.demand(ids)
    const { areaOf, around } = this.#around()
    return st.items.all(asked).map(
      r =>
        new StockItem(r, {
          lying: lying.get(r.id) ?? [],
          known: pools.get(r.id) ?? [],
          levels: (levels.get(r.id) ?? []).map(({ placeId, minimum, target, binId }) => ({
            placeId,
            areaId: areaOf(placeId),
            minimum,
            target,
            binId,
          })),
          owed: owed.get(r.id) ?? [],
          demand: demand.get(r.id) ?? NO_DEMAND,
          around,
          used: used.get(r.id) ?? new Map<number, bigint>(),
          areaOf,
          lastPool: this.#lastPoolOf(r.id),
        }),
    )
  }

  // What each item keeps for asking later is made apart: a function that is made where rows are read keeps all those rows.
  #around() {
    const { places } = this.#house
    return {
      areaOf: (placeId: number) => places.area(placeId),
      around: {
        today: this.#house.today(),
        patienceDays: this.#house.organisation?.patienceDays ?? 0,
        way: (placeId: number) => places.transit(placeId),
        shelf: (placeId: number) => places.isShelf(placeId),
        inside: (placeId: number, outer: number) => places.within(outer).has(placeId),
      },
    }
  }
  #lastPoolOf(item: number): StockItem['lastPool'] {
    return among => this.#lastPool.get({ item, pools: JSON.stringify(among) })
  }

  /** What jobs took in the last weeks, net of what was brought back or taken back: by item and place. */
  #used(ids: readonly number[] | undefined, asked: { readonly ids: string }): Map<number, Map<number, bigint>> {
    const since = this.#house.now() - USE_DAYS * DAY
    const first = ids ? 1 : this.#first.get({ since })!.seq
    const out = new Map<number, Map<number, bigint>>()
    if (!first) return out
    const add = (rows: { itemId: number; place: number; q: bigint | null }[], sign: bigint) => {
      for (const r of rows) {
        const m = out.get(r.itemId) ?? new Map<number, bigint>()
        out.set(r.itemId, m.set(r.place, (m.get(r.place) ?? 0n) + sign * (r.q ?? 0n)))
      }
    }
    const st = ids ? this.#some : this.#all
    add(st.taken.all({ ...asked, first, since }), 1n)
    add(st.given.all({ ...asked, first, since }), -1n)
    return out
  }
}
