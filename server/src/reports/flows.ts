import { sql } from 'drizzle-orm'
import { type AccountKind, type Flow, flowOf, noChanges } from '@shelve/core'
import { changesItems, letIn } from '../ground/index.ts'
import type { House } from '../ledger/index.ts'
import { nextMonth, startOfMonth } from './calendar.ts'

/** What passed between stock and one account, of one category, in one area, within a month: positive into stock. `direct`: from a supplier straight to its user. */
export interface FlowCell {
  readonly area: number
  readonly category: number
  readonly account: number
  readonly flow: Flow | 'direct'
  value: bigint
  lines: number
}

/** What was wasted of one item for one reason in one area within a month: positive what was lost. */
export interface WastedCell {
  readonly area: number
  readonly category: number
  readonly account: number
  readonly item: number
  quantity: bigint
  value: bigint
  lines: number
}

type Row = [
  seq: number,
  item: number,
  from: number,
  to: number,
  value: string,
  effectiveAt: number,
  quantity: string,
  costSeq: number,
]

/** So many movements are added in one piece, some 10 ms long. */
const CHUNK = 1_000

/**
 * Sums of the ledger by month, area, category and account, in memory: a year's chart adds up a few thousand cells instead
 * of half a million movements. Built piece by piece beside other requests when it is first wanted, then only what was
 * written since is added. By when things happened, so that a closed month never changes.
 */
export class Flows {
  readonly #house: House
  #months = new Map<string, Map<string, FlowCell>>()
  #wasted = new Map<string, Map<string, WastedCell>>()
  #seq = 0
  #kinds = new Map<number, AccountKind>()
  #categories = new Map<number, number>()
  #starts: { name: string; at: number }[] = []
  #building: Promise<void> | undefined

  constructor(house: House) {
    this.#house = house
    house.onSetUp(of => changesItems(of) && this.forget())
  }

  /** Everything that is written is in it. Others are answered meanwhile. */
  async ready(): Promise<void> {
    while (this.#house.ledger.lastSeq.get()!.seq - this.#seq > CHUNK)
      await (this.#building ??= this.#build().finally(() => {
        this.#building = undefined
      }))
    this.#fold(CHUNK)
  }
  async #build(): Promise<void> {
    while (this.#fold(CHUNK) === CHUNK) await letIn()
  }
  /** After a change of set-up: an item in another category, or another zone, moves what was summed. */
  forget(): void {
    const now = this.#itemCategories()
    const moved =
      [...this.#categories].some(([id, c]) => now.get(id) !== c) ||
      this.#starts.some(s => startOfMonth(this.#house, s.name) !== s.at)
    this.#categories = now
    if (moved) {
      this.#months = new Map()
      this.#wasted = new Map()
      this.#seq = 0
      this.#starts = []
    }
  }
  #itemCategories(): Map<number, number> {
    return new Map(
      this.#house.db
        .all<{ id: bigint; c: bigint | null }>(sql`select id, category_id as c from item`)
        .map(r => [Number(r.id), Number(r.c ?? 0n)]),
    )
  }

  #fold(limit: number): number {
    const { client } = this.#house.store
    if (!this.#categories.size) this.#categories = this.#itemCategories()
    let n = 0
    for (const r of client
      .prepare(
        'select seq, item_id, from_id, to_id, cast(value as text), effective_at, cast(quantity as text), cost_seq from movement where seq > ? order by seq limit ?',
      )
      .safeIntegers(false)
      .raw()
      .all(this.#seq, limit) as Row[]) {
      n++
      this.#seq = r[0]
      this.#add(r)
    }
    return n
  }
  /**
   * What was used and is charged to somebody else, or is wasted after all, leaves the one sum and stands in the other, in the
   * place that its slip was written in, also where its value is another one since.
   */
  #passed([, item, from, to, value, at, quantity, costSeq]: Row): void {
    const slip = this.#house.ledger.slipOf.get({ seq: costSeq })!.slipId
    const place = this.#house.rows.slipById.get({ id: slip })?.placeId ?? null
    const area = place === null ? 0 : this.#house.places.area(place)
    const category = this.#categories.get(item) ?? 0
    const lines = quantity === '0' ? 0 : 1
    for (const account of [from, to]) {
      const flow = flowOf(this.#kind(account))!
      const of = { area, category, account, flow }
      this.#put(at, of, account === from ? BigInt(value) : -BigInt(value), lines)
      if (flow === 'wasted')
        this.#waste(this.monthOf(at), { ...of, item }, BigInt(quantity), BigInt(value), account === from)
    }
  }
  #put(at: number, of: Pick<FlowCell, 'area' | 'category' | 'account' | 'flow'>, value: bigint, lines: number): void {
    const name = this.monthOf(at)
    let month = this.#months.get(name)
    if (!month) this.#months.set(name, (month = new Map()))
    const key = `${of.area}.${of.category}.${of.account}.${of.flow}`
    let cell = month.get(key)
    if (!cell) month.set(key, (cell = { ...of, value: 0n, lines: 0 }))
    cell.value += value
    cell.lines += lines
  }
  #add(row: Row): void {
    const [, item, from, to, valueText, at, quantity] = row
    const { places, accounts } = this.#house
    const stock = (a: number) => places.row(a) !== undefined || a === accounts.stock
    const [out, into] = [stock(from), stock(to)]
    if (out && into) return
    const isUser = (a: number) => this.#kind(a) === 'used' || this.#kind(a) === 'waste'
    if (!out && !into && isUser(from) && isUser(to)) return this.#passed(row)
    const value = BigInt(valueText)
    const kind = this.#kind(into ? from : to)
    const flow =
      out || into
        ? flowOf(kind)
        : this.#kind(from) === 'supplier' || this.#kind(to) === 'supplier'
          ? 'direct'
          : undefined
    if (!flow) return
    // Straight to the user: it stands on the user's account, positive where it went to them.
    const account = flow === 'direct' ? (this.#kind(from) === 'supplier' ? to : from) : into ? from : to
    const place = into ? to : from
    const area = places.row(place) ? places.area(place) : 0
    const category = this.#categories.get(item) ?? 0
    const lines = quantity === '0' ? 0 : 1
    const fromStock = flow === 'direct' ? this.#kind(from) !== 'supplier' : !into
    this.#put(at, { area, category, account, flow }, fromStock ? -value : value, lines)
    if (flow === 'wasted')
      this.#waste(this.monthOf(at), { area, category, account, item }, BigInt(quantity), value, into)
  }
  #waste(
    month: string,
    of: Pick<WastedCell, 'area' | 'category' | 'account' | 'item'>,
    quantity: bigint,
    value: bigint,
    back: boolean,
  ): void {
    let cells = this.#wasted.get(month)
    if (!cells) this.#wasted.set(month, (cells = new Map()))
    const key = `${of.area}.${of.account}.${of.item}`
    let cell = cells.get(key)
    if (!cell) cells.set(key, (cell = { ...of, quantity: 0n, value: 0n, lines: 0 }))
    cell.quantity += back ? -quantity : quantity
    cell.value += back ? -value : value
    if (quantity !== 0n) cell.lines++
  }
  #kind(account: number): AccountKind {
    let k = this.#kinds.get(account)
    if (!k) this.#kinds.set(account, (k = this.#house.rows.account.get({ id: account })!.kind as AccountKind))
    return k
  }

  /** The month of an instant in the organisation's zone; looked up between the beginnings of months, not by the calendar each time. */
  monthOf(at: number): string {
    const s = this.#starts
    if (!s.length) {
      const name = this.#house.today(at).slice(0, 7)
      s.push(
        { name, at: startOfMonth(this.#house, name) },
        { name: nextMonth(name), at: startOfMonth(this.#house, nextMonth(name)) },
      )
    }
    while (at < s[0]!.at) {
      const name = nextMonth(s[0]!.name, -1)
      s.unshift({ name, at: startOfMonth(this.#house, name) })
    }
    while (at >= s.at(-1)!.at) {
      const name = nextMonth(s.at(-1)!.name)
      s.push({ name, at: startOfMonth(this.#house, name) })
    }
    let [lo, hi] = [0, s.length - 1]
    while (hi - lo > 1) {
      const mid = (lo + hi) >> 1
      if (s[mid]!.at <= at) lo = mid
      else hi = mid
    }
    return s[lo]!.name
  }

  /** The months in which anything happened, in order. */
  months(): string[] {
    return [...this.#months.keys()].sort()
  }
  cells(month: string): Iterable<FlowCell> {
    return this.#months.get(month)?.values() ?? []
  }
  /** What was wasted in a month, item by item. */
  wasted(month: string): Iterable<WastedCell> {
    return this.#wasted.get(month)?.values() ?? []
  }
  /** Sums of a month's flows, of what fits. */
  changes(month: string, fits: (c: FlowCell) => boolean): Record<Flow, bigint> {
    const out = noChanges()
    for (const c of this.cells(month)) if (c.flow !== 'direct' && fits(c)) out[c.flow] += c.value
    return out
  }
  /** What stock was worth when a month began: all that came and went before it. */
  valueBefore(month: string, fits: (c: FlowCell) => boolean = () => true): bigint {
    let sum = 0n
    for (const name of this.#months.keys())
      if (name < month) for (const c of this.cells(name)) if (c.flow !== 'direct' && fits(c)) sum += c.value
    return sum
  }
}
