import {
  MemoryBooks,
  ONE,
  book,
  decimal,
  foldFacts,
  type Account,
  type BookContext,
  type Booked,
  type Change,
  type CostMethod,
  type CountLine,
  type DraftLine,
  type ItemRule,
  type Key,
  type LotRule,
  type Refusal,
  type SlipDraft,
} from '@shelve/core'

/** Accounts of the little world that the ledger's tests play in. */
export const A = {
  stock: 1,
  priceDifference: 2,
  loss: 3,
  gain: 4,
  opening: 5,
  supplier: 6,
  jobA: 7,
  jobB: 8,
  waste: 9,
  made: 10,
  relabel: 11,
  shelf: 20,
  bench: 21,
  transit: 22,
  difference: 1000,
} as const
export const MINUTE = 60_000
export const T0 = Date.UTC(2026, 0, 5, 8)

export interface WorldItem {
  readonly method: CostMethod
  readonly lots?: number
  readonly identifiedBy?: ItemRule['identifiedBy']
  readonly standard?: string
  readonly decimals?: number
  readonly unit?: string
  /** What one weighs, in grams; a microgram where nothing is said. */ readonly mass?: string | null
  /** The method it is changed to later: its pool is the item’s number + 50, or the lots’ own. */ readonly next?: CostMethod
}
/** Lots are numbered item × 100 + n; by actual lot each has its own pool of that number, else the pool has the item's number. */
export class World {
  readonly books: MemoryBooks
  now = T0
  /** Items whose cost method was changed. */
  readonly changed = new Set<number>()
  #slip = 0
  #line = 0
  #tally = 0

  readonly #items: readonly WorldItem[]
  constructor(items: readonly WorldItem[]) {
    this.#items = items
    const accounts: Account[] = [
      { id: A.stock, kind: 'stock' },
      { id: A.priceDifference, kind: 'price_difference' },
      { id: A.loss, kind: 'loss' },
      { id: A.gain, kind: 'gain' },
      { id: A.opening, kind: 'opening' },
      { id: A.supplier, kind: 'supplier' },
      { id: A.jobA, kind: 'used' },
      { id: A.jobB, kind: 'used' },
      { id: A.waste, kind: 'waste' },
      { id: A.made, kind: 'made' },
      { id: A.relabel, kind: 'relabel' },
      { id: A.shelf, kind: 'place' },
      { id: A.bench, kind: 'place' },
      { id: A.transit, kind: 'place' },
      ...Array.from({ length: 400 }, (_, i) => ({ id: A.difference + i, kind: 'difference' as const })),
    ]
    const lots: LotRule[] = items.flatMap((item, i) =>
      Array.from({ length: item.lots ?? 1 }, (_, n) => ({
        id: (i + 1) * 100 + n,
        itemId: i + 1,
        code: item.lots ? `L${n}` : null,
        expiry: null,
        held: 'usable' as const,
      })),
    )
    this.books = new MemoryBooks({
      accounts,
      lots,
      priceDifferenceAccount: A.priceDifference,
      items: items.map((it, i) => ({
        id: i + 1,
        decimals: it.decimals ?? 6,
        identifiedBy: it.identifiedBy ?? (it.lots ? 'lot' : 'quantity'),
        kept: 'stock',
        unit: it.unit ?? 'each',
        mass: it.mass === undefined ? ONE : it.mass === null ? null : decimal(it.mass),
      })),
      pools: items.flatMap((it, i) => {
        const pool = (id: number, method: CostMethod) => ({ id, method, standard: decimal(it.standard ?? '0') })
        return [
          pool(i + 1, it.method),
          ...(it.next ? [pool(i + 51, it.next)] : []),
          ...lots
            .filter(l => l.itemId === i + 1)
            .map(l => pool(l.id, it.method === 'lot' ? 'lot' : (it.next ?? it.method))),
        ]
      }),
      poolOf: (itemId, lotId) => this.poolOf(itemId, lotId, this.changed.has(itemId)),
    })
  }

  /** The pool of a lot before or after its item's method was changed. */
  poolOf(itemId: number, lotId: number, changed: boolean): number {
    const { method, next } = this.#items[itemId - 1]!
    return (changed ? next : method) === 'lot' ? lotId : changed ? itemId + 50 : itemId
  }
  /** The item is costed by its other method from the minute that has just passed. */
  changedOver(itemId: number): void {
    this.changed.add(itemId)
    ;(this.books.item(itemId) as { costedSince?: ItemRule['costedSince'] }).costedSince = {
      at: this.now,
      costSeq: this.books.nextSeq() - 1,
    }
  }

  get context(): BookContext {
    return {
      now: this.now,
      by: 1,
      dayOf: at => new Date(at).toISOString().slice(0, 10),
      stockAccount: A.stock,
      priceDifferenceAccount: A.priceDifference,
      lossAccount: A.loss,
      gainAccount: A.gain,
    }
  }
  line(from: number, to: number, quantity: string, more: Partial<DraftLine> = {}): DraftLine {
    const itemId = more.itemId ?? 1
    return { lineId: `l${++this.#line}`, itemId, lotId: itemId * 100, from, to, quantity: decimal(quantity), ...more }
  }
  count(counted: string, more: Partial<CountLine> = {}): CountLine {
    const tallyId = ++this.#tally
    const itemId = more.itemId ?? 1
    return {
      lineId: `l${++this.#line}`,
      tallyId,
      differenceAccount: A.difference + tallyId,
      itemId,
      lotId: itemId * 100,
      placeId: A.shelf,
      counted: decimal(counted),
      countedAt: this.now,
      ...more,
    }
  }
  /** Whoever has what was used at a place in the order of costing, as it stands now. */
  userOf(key: Key): number | undefined {
    return foldFacts(this.books.movementsAt(key.costSeq), () => false).find(f => f.part === key.part)?.to
  }
  lineId(): string {
    return `l${++this.#line}`
  }

  /** Books a slip and writes it; a minute passes. Returns what was booked, or the refusals. */
  try(
    slip: Omit<SlipDraft, 'slipId' | 'effectiveAt' | 'lines'> & { effectiveAt?: number; lines?: readonly DraftLine[] },
  ): Booked | readonly Refusal[] {
    this.now += MINUTE
    const result = book(this.books, { slipId: ++this.#slip, effectiveAt: this.now, lines: [], ...slip }, this.context)
    if (!result.ok) return result.refusals
    this.books.write(result.value)
    return result.value
  }
  /** The same where a refusal would be a mistake of the test. */
  must(slip: Parameters<World['try']>[0]): Booked {
    const r = this.try(slip)
    if (!('movements' in r))
      throw new Error(`refused: ${JSON.stringify(r, (_, v) => (typeof v === 'bigint' ? v.toString() : v))}`)
    return r
  }
  receive(quantity: string, goods: string | null, more: Partial<DraftLine> = {}) {
    return this.must({
      kind: 'receipt',
      lines: [this.line(A.supplier, A.shelf, quantity, { goods: goods === null ? null : decimal(goods), ...more })],
    }).movements[0]!
  }
  issue(quantity: string, more: Partial<DraftLine> = {}) {
    return this.must({ kind: 'issue', lines: [this.line(A.shelf, A.jobA, quantity, more)] }).movements[0]!
  }
  change(...changes: Change[]) {
    return this.must({ kind: 'correction', changes })
  }
  value(account: number): bigint {
    return this.books.movements.reduce(
      (s, m) => s + (m.to === account ? m.value : 0n) - (m.from === account ? m.value : 0n),
      0n,
    )
  }
  onHand(place: number, itemId = 1): bigint {
    return this.books
      .lotBalances(itemId)
      .filter(b => b.placeId === place)
      .reduce((s, b) => s + b.quantity, 0n)
  }
}
