import { type Booked, minuteOf, type Outlook, type Position, position } from '@shelve/core'
import { chunks, eachInPieces, FIRST_PIECE, letIn, nextPiece } from '../ground/index.ts'
import type { House as Books, SqlBooks } from '../ledger/index.ts'
import type { Scope } from '../rights/index.ts'
import { itemAfter } from './after.ts'
import { FactReader } from './facts.ts'
import type { Standing, StockItem } from './item.ts'
import type { Sources } from './sources.ts'

/** So many items are read in one piece, by whoever does not wait for more. */
const FEW = 50
/** So many in one piece at most, others being let in between. */
const PIECE = 60
/** So many are kept that were asked for by themselves. */
const MOST = 1000

const names = new Intl.Collator('en', { numeric: true }).compare
/** The order of items on every list. */
export const byName = (a: StockItem, b: StockItem): number => names(a.name, b.name) || a.id - b.id

/** What it stands on. */
type House = Books & { readonly sources: Sources }

/**
 * What lies where, in memory: an item is read anew only after something happened to it, so that lists answer at once
 * beside a busy counter. Values are the pool's, split over what lies of it so that the places add up to the pool.
 */
export class StockView {
  readonly #house: House
  #items: Map<number, StockItem> | undefined
  /** Those that were asked for by themselves before all were. */
  readonly #few = new Map<number, StockItem>()
  readonly #stale = new Set<number>()
  readonly #reader: FactReader
  #read = { at: 0, day: '' }
  #following: Promise<void> | undefined
  #catchingUp: Promise<void> | undefined

  constructor(house: House) {
    this.#house = house
    this.#reader = new FactReader(house)
    house.onSetUp(of => {
      if (of === 'everything') this.#touchAll()
      else if (typeof of === 'object') this.touch(of.items)
    })
    house.onMoved(items => this.touch(items))
  }

  forget(): void {
    this.#items = undefined
    this.#few.clear()
  }
  touch(items: readonly number[]): void {
    for (const id of items) {
      if (this.#items) this.#stale.add(id)
      this.#few.delete(id)
    }
  }

  /** Every item, as it is now, in the order of their names. Where much happened since, `ready` is awaited before. */
  all(): ReadonlyMap<number, StockItem> {
    if (!this.#items || this.#old(60) || 2 * this.#stale.size > this.#items.size) this.#loadAll()
    else if (this.#stale.size) this.#loadSome([...this.#stale])
    return this.#items!
  }
  /**
   * Makes ready what a list goes through: reads anew what happened to many items at once, and does something with each of all
   * (what is worked out of an item is kept with it), both in pieces, others being let in.
   */
  async ready(each?: (it: StockItem) => void): Promise<void> {
    do {
      if (!this.#items) this.all()
      if (this.#old(60)) this.#touchAll()
      await (this.#catchingUp ??= this.#catchUp().finally(() => (this.#catchingUp = undefined)))
      if (each) await eachInPieces(this.#items?.values() ?? [], each)
    } while (!this.#items || this.#stale.size > FEW)
    // One may have thousands of lots: what is worked out of it comes after others were let in.
    if (!this.#stale.size) return
    this.#loadSome([...this.#stale])
    await letIn()
  }
  /** One item; where nobody asked for all of them yet, it alone is read, and kept as they are. */
  item(id: number): StockItem | undefined {
    if (this.#items) {
      if (this.#old(60)) this.#touchAll()
      if (this.#stale.size <= FEW) return this.all().get(id)
      if (this.#stale.has(id)) this.#loadSome([id])
      return this.#items.get(id)
    }
    this.want([id])
    return this.#few.get(id)
  }
  /** Some items that will be asked for one by one: those that are to be read are read at once, which costs a tenth. */
  want(ids: readonly number[]): void {
    if (this.#items) {
      if (this.#old(60)) this.#touchAll()
      const stale = ids.filter(id => this.#stale.has(id))
      if (stale.length) this.#loadSome(stale)
      return
    }
    if (this.#few.size > MOST || this.#old(60)) {
      this.#few.clear()
      this.#read = this.#moment()
    }
    const unknown = ids.filter(id => !this.#few.has(id))
    if (unknown.length) for (const it of this.#reader.read(unknown)) this.#few.set(it.id, it)
  }
  /** The same in pieces, others being let in: what is read once more since then is little. */
  async wanted(ids: Iterable<number>): Promise<void> {
    for (const some of chunks([...new Set(ids)], PIECE)) {
      this.want(some)
      await letIn()
    }
  }

  /** Some items as they stand at this very moment: within a transaction that has changed what they stand on. */
  now(ids: readonly number[]): ReadonlyMap<number, StockItem> {
    return new Map(this.#reader.read(ids).map(it => [it.id, it]))
  }

  /** An item as it will stand when a slip is booked. */
  after(it: StockItem, booked: Booked, books: SqlBooks): StockItem {
    return itemAfter(this.#house, it, booked, books)
  }

  /** How an item stands in some places: worked out once, until something happens to it or the day ends. */
  here(it: StockItem, scope: Scope, today: string): Position {
    const seen = it.seen.get(scope.key)
    if (seen?.day === today) return seen.here
    const here = position(it, this.outlook(scope, today))
    it.seen.set(scope.key, { day: today, here })
    return here
  }
  /**
   * Where an item is asked whether it is short: an area that has levels, its own or its bins' (rule 59), or where a job
   * will need it; of whoever looks only into bins of one, those. Every list that says what is short goes by these.
   */
  levelled(it: StockItem, scope: Scope): readonly number[] {
    const inScope = (p: number) => scope.within?.has(p) ?? true
    const places = new Set<number>()
    const ask = (areaId: number, placeId: number) => {
      if (inScope(areaId)) places.add(areaId)
      else if (inScope(placeId)) places.add(placeId)
    }
    for (const l of it.levels) ask(l.areaId, l.placeId)
    for (const p of it.planned) ask(it.areaOf(p.placeId), p.placeId)
    return [...places]
  }
  /** How it stands where that is asked of it. */
  levels(it: StockItem, scope: Scope, today: string): { readonly place: number; readonly here: Position }[] {
    const { places } = this.#house
    return this.levelled(it, scope).map(place => ({ place, here: this.here(it, places.scope([place]), today) }))
  }
  /** From where some places are looked at. */
  outlook(scope: Scope, day: string): Outlook {
    const { places, organisation } = this.#house
    const { within } = scope
    return {
      day,
      within: within ? p => within.has(p) : () => true,
      rule: organisation?.shortRule === 'below' ? 'below' : 'at_or_below',
      ahead: organisation?.aheadDays ?? 0,
      shelf: p => places.isShelf(p),
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
      levels: this.levels(it, places.scope(), today).map(({ place, here }) => ({ areaId: place, levels: here.levels })),
    })
  }
  #moment() {
    return { at: this.#house.now(), day: this.#house.today() }
  }
  #loadAll(): void {
    const moment = this.#moment()
    this.#inOrder(this.#reader.read(undefined))
    this.#read = moment
    this.#few.clear()
    this.#stale.clear()
  }
  /** All of them are to be read anew: as time passes, and where set-up is another one. */
  #touchAll(): void {
    this.#few.clear()
    if (!this.#items) return
    this.#read = this.#moment()
    for (const id of [...this.#items.keys(), ...this.#reader.ids()]) this.#stale.add(id)
  }
  async #catchUp(): Promise<void> {
    for (let piece = FIRST_PIECE; this.#items && this.#stale.size > FEW; await letIn()) {
      const began = performance.now()
      this.#loadSome([...this.#stale].slice(0, piece))
      piece = nextPiece(piece, performance.now() - began, PIECE)
    }
  }
  #loadSome(ids: readonly number[]): void {
    const items = this.#items!
    let renamed = false
    const read = this.#reader.read(ids)
    for (const id of ids) this.#stale.delete(id)
    for (const it of read) {
      const was = items.get(it.id)
      renamed ||= was?.name !== it.name
      it.rank = was?.rank ?? 0
      items.set(it.id, it)
    }
    if (renamed) this.#inOrder([...items.values()])
  }
  /** They are told in the order of their names; an item that is read anew keeps its place. */
  #inOrder(items: StockItem[]): void {
    items.sort(byName)
    for (const [rank, it] of items.entries()) it.rank = rank
    this.#items = new Map(items.map(it => [it.id, it]))
  }
  /**
   * Keeps what was used of late true as time passes: every item is read anew, a few at a time, others being let in between,
   * before somebody who asks would have to wait for all of them.
   */
  follow(every = 30_000): void {
    const timer = setInterval(() => {
      if (this.#items && this.#old(30) && !this.#following)
        this.#following = this.#readAnew()
          // Whoever asks reads it then, and is told what is wrong.
          .catch(() => this.forget())
          .finally(() => {
            this.#following = undefined
          })
    }, every)
    timer.unref()
    this.#house.onClose(() => {
      clearInterval(timer)
      this.forget()
    })
  }
  async #readAnew(): Promise<void> {
    const read = this.#moment()
    const ids = [...this.#items!.keys()]
    for (let i = 0; i < ids.length && this.#items; i += FEW) {
      this.#loadSome(ids.slice(i, i + FEW))
      await letIn()
    }
    if (this.#items) this.#read = read
  }
  /** Whether what is kept was read so many minutes ago, or on another day. */
  #old(minutes: number): boolean {
    return minuteOf(this.#house.now()) - minuteOf(this.#read.at) > minutes || this.#house.today() !== this.#read.day
  }
}
