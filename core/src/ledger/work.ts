import type { Quantity, Value } from '../quantity/micro.ts'
import type { PoolState } from '../cost/pool.ts'
import type { Charge } from '../receiving/landed.ts'
import type { BookContext, Books, DraftLine, SlipDraft, Unpriced } from './books.ts'
import { answers, foldFacts, standsAt, type Fact } from './facts.ts'
import { refuse, type FactKind, type Key, type Movement, type Refusal, type Tally } from './types.ts'

/** A movement that is being prepared. `open`: its value is still to be found by costing. */
export type Pending = { -readonly [K in keyof Movement]: Movement[K] } & { open: boolean }

/** A place where a line of a slip does something: moves, counts, prices, takes back, closes. */
export interface Touched {
  readonly lineId: string
  readonly placeId: number
}

/** What is prepared, by what it is looked for by: a long slip looks for each of its lines among all of them. */
class Prepared<K> {
  readonly #by = new Map<K, Pending[]>()
  constructor(readonly key: (m: Pending) => K) {}
  add(m: Pending): void {
    const k = this.key(m)
    const list = this.#by.get(k)
    if (list) list.push(m)
    else this.#by.set(k, [m])
  }
  of(k: K): readonly Pending[] {
    return this.#by.get(k) ?? []
  }
}

/**
 * The bench on which one slip is prepared: movements get their numbers in the order they are made, nothing is written.
 * Reading through it gives the books with the slip already in them.
 */
export class Work {
  readonly pending: Pending[] = []
  readonly #at = new Prepared(m => m.costSeq)
  readonly #inPool = new Prepared(m => m.poolId)
  readonly #ofItem = new Prepared(m => m.itemId)
  readonly #ofTally = new Prepared(m => m.tallyId)
  readonly tallies: Tally[] = []
  readonly reversedTallies = new Set<number>()
  readonly charges: { slipId: number; charges: readonly Charge[] }[] = []
  readonly refusals: Refusal[] = []
  readonly pools = new Map<number, PoolState>()
  readonly items = new Set<number>()
  readonly unpriced: Unpriced[] = []
  /** Where this slip itself does something, line by line; what only follows from it elsewhere is not in it. */
  readonly touched: Touched[] = []
  readonly #touched = new Set<string>()
  readonly firstSeq: number
  #seq: number

  constructor(
    readonly books: Books,
    readonly slip: SlipDraft,
    readonly context: BookContext,
    readonly effectiveAt: number,
  ) {
    this.firstSeq = this.#seq = books.nextSeq()
  }

  refuse(code: string, lineId: string | null, field: string | null = null, detail: Record<string, unknown> = {}): void {
    this.refusals.push(refuse(code, lineId, field, detail))
  }

  readonly isPlace = (account: number): boolean => this.books.accountKind(account) === 'place'
  readonly isPriceDifference = (account: number): boolean => account === this.context.priceDifferenceAccount
  /** The next number in the order of writing. */
  takeSeq(): number {
    return this.#seq++
  }

  /** Notes that a line does something at a place. */
  touch(lineId: string, placeId: number): void {
    if (!this.isPlace(placeId)) return
    const here = `${lineId} ${placeId}`
    if (this.#touched.has(here)) return
    this.#touched.add(here)
    this.touched.push({ lineId, placeId })
  }

  /** Adds a movement; what is not said has its plain meaning (a line of its own, of this slip, now). */
  add(
    m: Pick<Movement, 'kind' | 'lineId' | 'itemId' | 'lotId' | 'poolId' | 'from' | 'to' | 'quantity'> &
      Partial<Pending>,
  ): Pending {
    const seq = m.seq ?? this.takeSeq()
    const made: Pending = {
      costSeq: seq,
      part: 0,
      ord: 0,
      slipId: this.slip.slipId,
      value: 0n,
      goods: null,
      charges: 0n,
      effectiveAt: this.effectiveAt,
      bookedAt: this.context.now,
      bookedBy: this.context.by,
      reverses: null,
      revalues: null,
      refCostSeq: null,
      refPart: null,
      tallyId: null,
      weight: null,
      mass: null,
      invoice: null,
      open: false,
      ...m,
      seq,
    }
    this.pending.push(made)
    for (const by of [this.#at, this.#inPool, this.#ofItem, this.#ofTally]) by.add(made)
    return made
  }

  /** The movement of a draft line, at a place in the order of costing. */
  addLine(line: DraftLine, kind: FactKind, at?: Partial<Pending>): Pending {
    this.touch(line.lineId, line.from)
    this.touch(line.lineId, line.to)
    return this.add({
      kind,
      lineId: line.lineId,
      itemId: line.itemId,
      lotId: line.lotId,
      poolId: line.poolId ?? this.books.poolOf(line.itemId, line.lotId),
      from: line.from,
      to: line.to,
      quantity: line.quantity,
      goods: line.goods ?? null,
      weight: line.weight ?? null,
      mass: kind === 'receipt' || kind === 'direct' ? (this.books.item(line.itemId)?.mass ?? null) : null,
      refCostSeq: line.ref?.costSeq ?? null,
      refPart: line.ref?.part ?? null,
      tallyId: line.tallyId ?? null,
      ...answers(line),
      open: true,
      ...at,
    })
  }

  /** The fact at a place in the order of costing as the books and this slip have it now (lines only, not what tallies found). */
  factAt(key: Key): Fact | undefined {
    const here = (m: Movement) => m.part === key.part && m.kind !== 'difference'
    const movements = this.movementsAt(key.costSeq).filter(here)
    return movements.length ? this.fold(movements)[0] : undefined
  }

  /** The minute by which a line stands before or after a count. */
  standsAt(costSeq: number, head: number): number {
    const lines = (m: Movement) => m.kind !== 'difference' && m.revalues === null
    return standsAt(this.movementsAt(costSeq).filter(lines), head)
  }

  /** All that was ever done at one number in the order of costing. */
  movementsAt(costSeq: number): Movement[] {
    return [...this.books.movementsAt(costSeq), ...this.#at.of(costSeq)]
  }

  eventFacts(costSeq: number): Fact[] {
    return this.fold(this.movementsAt(costSeq)).filter(f => f.kind !== 'difference')
  }

  /** All that was ever found by a tally. */
  tallyMovements(tallyId: number): Movement[] {
    return [...this.books.tallyMovements(tallyId), ...this.#ofTally.of(tallyId)]
  }
  /** What this slip does with an item. */
  pendingOf(itemId: number): readonly Pending[] {
    return this.#ofItem.of(itemId)
  }

  /** The facts of a tally's difference, in the order of costing: they may stand in several pools, where the cost method was changed since. */
  tallyFacts(tallyId: number): Fact[] {
    return this.fold(this.tallyMovements(tallyId))
  }

  poolFacts(poolId: number): Fact[] {
    return this.fold([...this.books.poolMovements(poolId), ...this.#inPool.of(poolId)])
  }

  /** The facts of one (item, lot, place); their quantities are right, their values may miss revaluations. */
  cellFacts(itemId: number, lotId: number, placeId: number): Fact[] {
    const here = (m: Movement) => m.revalues === null && (m.from === placeId || m.to === placeId)
    return this.fold([
      ...this.books.cellMovements(itemId, lotId, placeId).filter(here),
      ...this.pendingOf(itemId).filter(m => m.lotId === lotId && here(m)),
    ])
  }

  /** Other pools that what a fact is worth depends on, or that depend on it, where its item's cost method was changed. */
  tiedPools(fact: Fact): number[] {
    if (!this.books.item(fact.itemId)?.costedSince) return []
    const { refCostSeq, refPart } = fact
    const ref = refCostSeq === null ? [] : this.eventFacts(refCostSeq).filter(f => f.part === refPart)
    const tally = fact.tallyId === null ? [] : this.tallyFacts(fact.tallyId)
    return [this.books.poolOf(fact.itemId, fact.lotId), ...[...ref, ...tally].map(f => f.poolId)]
  }

  fold(movements: Movement[]): Fact[] {
    return foldFacts(movements, this.isPriceDifference)
  }

  /** A change of value alone, of a fact or beside it (`gap`). */
  revalue(fact: Fact, value: Value, more: Partial<Pending> = {}): Pending {
    return this.add({
      kind: fact.kind,
      lineId: fact.lineId,
      itemId: fact.itemId,
      lotId: fact.lotId,
      poolId: fact.poolId,
      from: fact.from,
      to: fact.to,
      quantity: 0n as Quantity,
      value,
      costSeq: fact.costSeq,
      part: fact.part,
      ord: fact.ord,
      tallyId: fact.tallyId,
      revalues: fact.head,
      effectiveAt: this.context.now,
      ...more,
    })
  }

  gap(fact: Fact, value: Value): Pending {
    return this.revalue(fact, value, { from: this.context.stockAccount, to: this.context.priceDifferenceAccount })
  }
}
