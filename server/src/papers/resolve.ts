import type { SlipContent, SlipKind, SlipLine } from '@shelve/contract'
import {
  type Change,
  type Charge,
  type CountLine,
  type DraftLine,
  expectedAt,
  type Fact,
  firstToGo,
  formatDecimal,
  lotState,
  methodChangeLines,
  readMoney,
  readQuantity,
  type Refusal,
  refuse,
  split,
} from '@shelve/core'
import { createLot, type ItemRow, sortable } from '../catalogue/index.ts'
import { changePools, factsOfLine, type LotCell, methodOfPools, returnable, type SqlBooks } from '../ledger/index.ts'
import { usualBin } from '../position/index.ts'
import { isIn, type Scope } from '../rights/index.ts'
import { wantSupplier } from '../suppliers/index.ts'
import { type Cell, cellKey } from './cells.ts'
import type { House } from './house.ts'
import { chargesOf, goodsOf } from './prices.ts'
import { receiverOf } from './receiver.ts'
import type { Expected, Resolved } from './resolved.ts'
import { quantityRefusal } from './words.ts'

/** What a correction can do with a line. */
const CORRECTS: ReadonlySet<SlipLine['act']> = new Set(['take_back', 'replace', 'price', 'invoice'] as const)
/** Kinds of which one line can be replaced by another; of others a line is taken back as a whole. */
const REPLACEABLE: ReadonlySet<SlipKind> = new Set([
  ...(['receipt', 'opening', 'issue', 'bring_back', 'waste', 'move', 'supplier_return'] as const),
])

/**
 * Turns what was typed into what is booked: quantities read by the item's packs, lots found, proposed or made, accounts
 * named. Runs inside the transaction of the booking (or of its trial, which is taken back). What is missing or wrong is
 * collected, line by line; nothing is thrown.
 */
export class Resolver {
  readonly refusals: Refusal[] = []
  readonly lines: DraftLine[] = []
  readonly counts: CountLine[] = []
  readonly changes: Change[] = []
  readonly expected = new Map<string, Expected>()
  readonly tallyUids = new Map<number, string>()
  readonly readings = new Map<string, string>()
  /** What earlier lines of this slip take from each cell (or give back to it). */
  readonly #planned = new Map<string, bigint>()
  #charges: Charge[] = []
  #used: number | undefined
  /** The cell a replacing line looks in first: the one that the replaced line took from. */
  #first: string | undefined
  #nextTally: number
  /** Lines that say of an item with lots that there is none: counted, but with nothing to tally. */
  #empty = 0

  constructor(
    readonly house: House,
    readonly books: SqlBooks,
    readonly content: SlipContent,
    readonly slipId: number,
    readonly lineIds: ReadonlyMap<string, number>,
    readonly mayOverride: boolean,
    readonly seen: Scope,
  ) {
    this.#nextTally = house.rows.nextTally.get()!.id
  }

  resolve(): Resolved {
    const { content, house } = this
    if (content.kind === 'correction') this.#corrections()
    else {
      for (const line of content.lines) {
        if (content.kind === 'count') this.#count(line)
        else if (content.kind === 'closing') this.#closing(line)
        else if (content.kind === 'method_change') this.#methodChange(line)
        else this.lines.push(...this.line(content.kind, line))
      }
      if (content.kind === 'receipt' || content.kind === 'opening')
        this.#charges = chargesOf(content.head, (code, field, detail) => this.#no(null, code, field, detail))
    }
    if (content.kind === 'count' && !this.counts.length && !this.refusals.length)
      this.refusals.push(refuse(this.#empty ? 'nothing_to_tally' : 'nothing_counted', null, 'lines'))
    const at = content.effectiveAt === null ? house.now() : Date.parse(content.effectiveAt)
    return {
      draft: {
        slipId: this.slipId,
        kind: content.kind,
        effectiveAt: at,
        lines: this.lines,
        counts: this.counts,
        changes: this.changes,
        charges: this.#charges,
      },
      refusals: this.refusals,
      expected: this.expected,
      tallyUids: this.tallyUids,
      readings: this.readings,
    }
  }

  #no(line: SlipLine | null, code: string, field: string | null, detail: Record<string, unknown> = {}): void {
    this.refusals.push(refuse(code, line ? String(this.lineIds.get(line.id)) : null, field, detail))
  }
  #id(line: SlipLine): string {
    return String(this.lineIds.get(line.id))
  }

  #item(line: SlipLine): ItemRow | undefined {
    const row = line.item === null ? undefined : this.house.known.item(line.item)
    if (!row) {
      this.#no(line, line.item === null ? 'item_needed' : 'unknown_item', 'item')
      return undefined
    }
    if (!row.active) {
      this.#no(line, 'item_retired', 'item', { name: row.name })
      return undefined
    }
    return row
  }

  /** Reads the quantity of a line, in its unit; what cannot be read is refused with what was typed and what is possible. */
  quantity(line: SlipLine, item: ItemRow, typed = line.typed, field = 'typed', zero = false): bigint | undefined {
    const measure = this.house.known.measure(item)
    const read = readQuantity(typed, measure, line.unit ?? undefined, zero)
    if (read.ok) {
      this.readings.set(this.#id(line), `${formatDecimal(read.quantity)} ${item.unit}`)
      return read.quantity
    }
    const { code, detail } = quantityRefusal(read, typed, item.unit)
    this.#no(line, code, field, detail)
    return undefined
  }

  /** The ledger lines of one typed line. */
  line(kind: SlipKind, line: SlipLine): DraftLine[] {
    const item = kind === 'bring_back' && line.item === null ? undefined : this.#item(line)
    if (kind === 'bring_back') return this.#bringBack(line, item)
    if (!item) return []
    const quantity = this.quantity(line, item)
    if (quantity === undefined) return []
    switch (kind) {
      case 'receipt':
      case 'opening':
        return this.#inward(kind, line, item, quantity)
      case 'issue':
        return this.#outward(kind, line, item, quantity, this.#usedBy())
      case 'waste':
        return this.#outward(kind, line, item, quantity, this.#reason(line))
      case 'move': {
        const to = this.#place(line, line.to, 'to')
        return to === undefined ? [] : this.#outward(kind, line, item, quantity, to)
      }
      case 'supplier_return':
        return this.#outward(kind, line, item, quantity, this.#supplier())
      default:
        return []
    }
  }

  #supplier(): number {
    const name = this.content.head.supplier.trim()
    if (name) return wantSupplier(this.house, name)
    this.#once('supplier_needed', 'supplier')
    // The line is looked at all the same, so that its effect is seen; with a refusal nothing of it stays.
    return wantSupplier(this.house, '—')
  }
  /** A refusal of the slip's head is said once, not for each line. */
  #once(code: string, field: string): void {
    if (!this.refusals.some(r => r.code === code && r.lineId === null)) this.#no(null, code, field)
  }
  #usedBy(): number {
    return (this.#used ??= receiverOf(this.house, this.content.head, () => this.#once('for_whom', 'costCentre')))
  }
  /** Whom a line of a delivery goes straight to. */
  #straight(line: SlipLine, direct: NonNullable<SlipLine['direct']>): number {
    return receiverOf(this.house, direct, () => this.#no(line, 'for_whom', 'direct'))
  }
  #reason(line: SlipLine): number {
    const uid = line.reason ?? this.content.head.reason
    const row = uid ? this.house.rows.wasteReason.get({ uid }) : undefined
    if (row) return row.id
    this.#no(line, 'reason_needed', 'reason')
    return this.house.rows.firstAccount.get({ kind: 'waste' })!.id
  }
  #place(line: SlipLine, uid: string | null, field: string): number | undefined {
    const id = uid === null ? undefined : this.house.places.id(uid)
    if (id === undefined) this.#no(line, uid === null ? 'place_needed' : 'unknown_place', field)
    return id
  }
  #area(): number | undefined {
    return this.content.place === null ? undefined : this.house.places.id(this.content.place)
  }

  #inward(kind: 'receipt' | 'opening', line: SlipLine, item: ItemRow, quantity: bigint): DraftLine[] {
    const from = kind === 'opening' ? this.house.accounts.opening : this.#supplier()
    const area = this.#area()
    // What is bought for someone goes straight to them and never lies on a shelf.
    const to = line.direct
      ? this.#straight(line, line.direct)
      : item.kept === 'bought_for'
        ? this.#usedBy()
        : line.to !== null
          ? this.#place(line, line.to, 'to')
          : area === undefined
            ? this.#place(line, null, 'to')
            : usualBin(this.house, item.id, area)
    const lotId = this.#lotIn(line, item)
    const goods = this.#price(line, item, quantity)
    if (to === undefined || lotId === undefined || goods === undefined) return []
    return [{ lineId: this.#id(line), itemId: item.id, lotId, from, to, quantity, goods }]
  }

  #price(line: SlipLine, item: ItemRow, quantity: bigint): bigint | null | undefined {
    return goodsOf(this.house, line, item, quantity, (code, field, detail) => this.#no(line, code, field, detail))
  }

  /** The lot that comes in: found by its code, or made. */
  #lotIn(line: SlipLine, item: ItemRow): number | undefined {
    const code = line.lot?.code.trim() ?? ''
    if (line.lot?.id) {
      const own = this.house.rows.lot.get({ uid: line.lot.id })
      if (!own || own.itemId !== item.id) {
        this.#no(line, 'lot_of_another_item', 'lot')
        return undefined
      }
      return own.id
    }
    if (item.identifiedBy === 'quantity') {
      if (code) {
        this.#no(line, 'item_without_lots', 'lot', { lot: code })
        return undefined
      }
      return this.house.known.plainLot(item.id)
    }
    if (!code) {
      this.#no(line, item.identifiedBy === 'serial' ? 'serial_needed' : 'lot_needed', 'lot')
      return undefined
    }
    const known = this.house.rows.lotByCode.get({ item: item.id, code })
    const expiry = line.lot?.expiry ?? null
    if (known) {
      if (expiry !== null && known.expiry !== null && known.expiry !== expiry) {
        this.#no(line, 'expiry_differs', 'expiry', { lot: code, known: known.expiry, given: expiry })
        return undefined
      }
      return known.id
    }
    if (item.identifiedBy === 'lot_expiry' && expiry === null) {
      this.#no(line, 'expiry_needed', 'expiry', { lot: code })
      return undefined
    }
    return createLot(this.house, item.id, code, expiry)
  }

  /** What lies within the scope of a line: the named bin, or the area the slip is written in. */
  #cells(line: SlipLine, item: ItemRow): { cells: LotCell[]; scope: number } | undefined {
    const scope =
      line.from !== null ? this.#place(line, line.from, 'from') : (this.#area() ?? this.#place(line, null, 'from'))
    if (scope === undefined) return undefined
    const within = this.house.places.within(scope)
    const cells = this.books
      .lotBalances(item.id)
      .filter(b => within.has(b.placeId))
      .map(b => ({ ...b, quantity: b.quantity - (this.#planned.get(cellKey(item.id, b)) ?? 0n) }))
      .filter(b => b.quantity > 0n)
    return { cells, scope }
  }

  /** Takes from shelves: the chosen lot, or first expired first out, then oldest; bins in walking order. */
  #outward(kind: SlipKind, line: SlipLine, item: ItemRow, quantity: bigint, to: number): DraftLine[] {
    const here = this.#cells(line, item)
    if (!here) return []
    const today = this.house.today()
    const goods = kind === 'supplier_return' ? this.#price(line, item, quantity) : undefined
    if (kind === 'supplier_return' && goods === undefined) return []
    const chosen =
      line.lot?.id ??
      (line.lot?.code ? (this.house.rows.lotByCode.get({ item: item.id, code: line.lot.code })?.uid ?? 'none') : null)
    const lots = new Map(here.cells.map(c => [c.lotId, c.lot]))
    const usable = (c: Cell) =>
      !this.#isHeld(c.placeId) &&
      lotState({ held: lots.get(c.lotId)!.held, expiry: lots.get(c.lotId)!.expiry }, today) === 'usable'
    const cells = here.cells
      .filter(
        c =>
          c.placeId !== to &&
          (chosen !== null ? lots.get(c.lotId)!.uid === chosen : kind === 'issue' ? usable(c) : true),
      )
      .sort(
        (a, b) =>
          Number(this.#first === cellKey(item.id, b)) - Number(this.#first === cellKey(item.id, a)) ||
          firstToGo(sortable(lots.get(a.lotId)!), sortable(lots.get(b.lotId)!)) ||
          this.house.places.order(a.placeId) - this.house.places.order(b.placeId),
      )
    const out: DraftLine[] = []
    let missing = quantity
    const override = line.override && this.mayOverride && this.content.head.why.trim() !== ''
    for (const c of cells) {
      if (missing === 0n) break
      const x = c.quantity < missing ? c.quantity : missing
      missing -= x
      this.#planned.set(cellKey(item.id, c), (this.#planned.get(cellKey(item.id, c)) ?? 0n) + x)
      out.push({
        lineId: this.#id(line),
        itemId: item.id,
        lotId: c.lotId,
        from: c.placeId,
        to,
        quantity: x,
        override,
        ...(goods === undefined ? {} : { goods }),
      })
    }
    const credits = goods ? split(goods, [...out.map(l => l.quantity), missing]) : undefined
    if (credits) for (const [i, l] of out.entries()) out[i] = { ...l, goods: credits[i]! }
    const already = here.cells.filter(c => c.placeId === to).reduce((s, c) => s + c.quantity, 0n)
    if (missing > 0n && already > 0n)
      this.#no(line, 'already_there', 'to', {
        asked: formatDecimal(quantity),
        already: formatDecimal(already),
        others: formatDecimal(quantity - missing),
        place: to,
        unit: item.unit,
      })
    else if (missing > 0n) this.#missing(line, item, quantity, missing, here, lots, usable, chosen)
    return out
  }
  #isHeld(placeId: number): boolean {
    const k = this.house.places.row(placeId)?.kind
    return k === 'held' || k === 'transit'
  }

  #missing(
    line: SlipLine,
    item: ItemRow,
    quantity: bigint,
    missing: bigint,
    here: { cells: Cell[]; scope: number },
    lots: ReadonlyMap<number, { code: string | null }>,
    usable: (c: Cell) => boolean,
    chosen: string | null,
  ): void {
    const within = this.house.places.within(here.scope)
    const elsewhere = new Map<number, bigint>()
    for (const b of this.books.lotBalances(item.id))
      if (b.quantity > 0n && !within.has(b.placeId) && isIn(this.seen, b.placeId))
        elsewhere.set(
          this.house.places.area(b.placeId),
          (elsewhere.get(this.house.places.area(b.placeId)) ?? 0n) + b.quantity,
        )
    const locked = here.cells.filter(c => !usable(c)).reduce((s, c) => s + c.quantity, 0n)
    this.#no(line, 'insufficient_stock', 'typed', {
      place: here.scope,
      asked: formatDecimal(quantity),
      there: formatDecimal(quantity - missing),
      missing: formatDecimal(missing),
      unit: item.unit,
      unusable: formatDecimal(locked),
      chosenLot: chosen !== null,
      inLots: here.cells
        .map(c => ({
          lot: lots.get(c.lotId)?.code ?? null,
          place: c.placeId,
          quantity: formatDecimal(c.quantity),
          usable: usable(c),
        }))
        .slice(0, 8),
      elsewhere: [...elsewhere].map(([place, q]) => ({ place, quantity: formatDecimal(q) })),
    })
  }

  /** Brought back: the named issue line, or what the job still has of the item, latest first. */
  #bringBack(line: SlipLine, item: ItemRow | undefined): DraftLine[] {
    const source = line.ref === null ? undefined : this.house.rows.line.get({ uid: line.ref })
    if (line.ref !== null && !source) {
      this.#no(line, 'unknown_line', 'ref')
      return []
    }
    let facts: { fact: Fact; free: bigint }[]
    if (source)
      facts = factsOfLine(this.house, this.books, source.id)
        .filter(f => f.kind === 'out' || f.kind === 'direct')
        .map(fact => ({ fact, free: fact.quantity - this.books.broughtBack(fact) }))
    else {
      const used = this.#usedBy()
      if (!item) return []
      facts = returnable(this.house, this.books, used, item.id)
    }
    const owner = item ?? (facts[0] ? this.house.known.itemById(facts[0].fact.itemId) : undefined)
    if (!owner) {
      this.#no(line, 'nothing_to_bring_back', 'ref')
      return []
    }
    const quantity = this.quantity(line, owner)
    if (quantity === undefined) return []
    const out: DraftLine[] = []
    let left = quantity
    for (const { fact, free } of facts.sort((a, b) => b.fact.costSeq - a.fact.costSeq)) {
      if (left === 0n || free <= 0n) continue
      const x = free < left ? free : left
      left -= x
      const place =
        line.to !== null
          ? this.#place(line, line.to, 'to')
          : this.house.places.row(fact.from)
            ? fact.from
            : this.#area()
      if (place === undefined) {
        if (line.to === null) this.#no(line, 'place_needed', 'to')
        return []
      }
      out.push({
        lineId: this.#id(line),
        itemId: fact.itemId,
        lotId: fact.lotId,
        from: fact.to,
        to: place,
        quantity: x,
        ref: { costSeq: fact.costSeq, part: fact.part },
      })
    }
    if (left > 0n)
      this.#no(line, 'more_than_issued', 'typed', {
        asked: formatDecimal(quantity),
        free: formatDecimal(quantity - left),
        unit: owner.unit,
      })
    return out
  }

  #count(line: SlipLine): void {
    if (line.counted === 'not') return
    const item = this.#item(line)
    const placeId = line.from === null ? this.#area() : this.#place(line, line.from, 'from')
    if (!item || placeId === undefined) return
    const at = Math.min(
      line.countedAt === null
        ? this.content.effectiveAt === null
          ? this.house.now()
          : Date.parse(this.content.effectiveAt)
        : Date.parse(line.countedAt),
      this.house.now(),
    )
    if (
      item.identifiedBy !== 'quantity' &&
      !line.lot?.id &&
      !line.lot?.code.trim() &&
      this.#noneOfAnyLot(line, item, placeId, at)
    )
      return
    const lotId =
      line.lot === null && item.identifiedBy !== 'quantity'
        ? (this.#no(line, 'lot_needed', 'lot'), undefined)
        : this.#lotIn(line, item)
    if (lotId === undefined) return
    const working = expectedAt(this.books.cellMovements(item.id, lotId, placeId), placeId, at)
    const expected = working.figure
    const counted = line.counted === 'confirmed' ? expected : this.quantity(line, item, line.typed, 'typed', true)
    if (counted === undefined) return
    // In a blind count what was expected stays hidden until two counts agree.
    if (!this.content.head.blind)
      this.expected.set(this.#id(line), { working, expected, counted, confirmed: false, at })
    if (!this.#agreed(line, item, counted, expected)) return
    // Two entries of one line (two heaps) add up; their minute is the last one's.
    const twin = this.counts.findIndex(c => c.itemId === item.id && c.lotId === lotId && c.placeId === placeId)
    if (twin >= 0) {
      const first = this.counts[twin]!
      const both = { ...first, counted: first.counted + counted, countedAt: Math.max(first.countedAt, at) }
      this.counts[twin] = both
      this.expected.set(first.lineId, {
        working,
        expected,
        counted: both.counted,
        confirmed: false,
        at: both.countedAt,
      })
      return
    }
    const unitCost = line.unitCost.trim() ? readMoney(line.unitCost) : null
    if (unitCost === undefined) return this.#no(line, 'not_a_price', 'unitCost', { given: line.unitCost })
    const differenceAccount = this.house.rows.insertAccount.get({
      kind: 'difference',
      name: item.code,
      jobId: null,
      costCentreId: null,
    })!.id
    const tallyId = this.#nextTally++
    this.tallyUids.set(tallyId, this.house.uid())
    this.expected.set(this.#id(line), { working, expected, counted, confirmed: line.counted === 'confirmed', at })
    this.counts.push({
      lineId: this.#id(line),
      tallyId,
      differenceAccount,
      itemId: item.id,
      lotId,
      placeId,
      counted,
      countedAt: at,
      unitCost,
    })
  }

  /**
   * None of an item that has lots, where the books know of none either: nothing that could be tallied, so nobody is
   * asked for a lot. The line stands on the slip as counted.
   */
  #noneOfAnyLot(line: SlipLine, item: ItemRow, placeId: number, at: number): boolean {
    const said = line.counted === 'confirmed' ? 0n : this.quantity(line, item, line.typed, 'typed', true)
    if (said !== 0n) return false
    const lots = this.house.rows.itemLots
      .all({ item: item.id })
      .map(l => expectedAt(this.books.cellMovements(item.id, l.id, placeId), placeId, at))
    if (lots.some(w => w.figure !== 0n)) return false
    this.expected.set(this.#id(line), {
      working: lots[0] ?? expectedAt([], placeId, at),
      expected: 0n,
      counted: 0n,
      confirmed: line.counted === 'confirmed',
      at,
    })
    this.#empty++
    return true
  }

  /** A difference beyond tolerance is counted twice; two equal counts stand. Within tolerance, or confirmed, one is enough. */
  #agreed(line: SlipLine, item: ItemRow, counted: bigint, expected: bigint): boolean {
    if (line.counted === 'confirmed' || counted === expected) return true
    const off = counted > expected ? counted - expected : expected - counted
    const beyond = expected === 0n || off * 100_000_000n > expected * this.house.organisation!.tolerancePercent
    if (!beyond) return true
    if (!line.again.trim()) {
      this.#no(line, 'count_twice', 'again', { counted: formatDecimal(counted), unit: item.unit })
      return false
    }
    const second = this.quantity(line, item, line.again, 'again', true)
    if (second === undefined) return false
    if (second !== counted) {
      this.#no(line, 'counts_differ', 'again', {
        first: formatDecimal(counted),
        second: formatDecimal(second),
        unit: item.unit,
      })
      return false
    }
    return true
  }

  #closing(line: SlipLine): void {
    const tally = line.difference === null ? undefined : this.house.rows.tally.get({ uid: line.difference })
    if (!tally) return this.#no(line, 'no_such_difference', 'difference')
    const item = this.house.known.itemById(tally.itemId)!
    const base = {
      lineId: this.#id(line),
      itemId: tally.itemId,
      lotId: tally.lotId,
      from: tally.differenceAccount,
      tallyId: tally.id,
    }
    if (line.act === 'found') {
      const quantity = this.quantity(line, item)
      const to = line.to === null ? tally.placeId : this.#place(line, line.to, 'to')
      if (quantity !== undefined && to !== undefined) this.lines.push({ ...base, to, quantity })
    } else this.lines.push({ ...base, to: this.house.accounts.loss, quantity: 0n })
  }

  /** All that lies of an item goes into the pools of another cost method. */
  #methodChange(line: SlipLine): void {
    const item = this.#item(line)
    if (!item) return
    const { method } = this.content.head
    if (method === null) return this.#once('method_needed', 'method')
    if (this.content.effectiveAt !== null) return this.#once('only_now', 'effectiveAt')
    if (methodOfPools(this.house, item.id) === method) return this.#no(line, 'same_method', 'method', { method })
    const standard = line.unitCost.trim() ? readMoney(line.unitCost) : 0n
    if (standard === undefined || (method === 'standard' && !line.unitCost.trim()))
      return this.#no(
        line,
        method === 'standard' && !line.unitCost.trim() ? 'standard_needed' : 'not_a_price',
        'unitCost',
        { given: line.unitCost },
      )
    const lies = this.books.lotBalances(item.id).filter(b => b.quantity > 0n)
    const before = new Map(lies.map(b => [b.lotId, this.books.poolOf(item.id, b.lotId)]))
    changePools(this.house, item.id, method, standard)
    this.books.forgetPools()
    this.lines.push(
      ...methodChangeLines(lies, {
        itemId: item.id,
        lineId: this.#id(line),
        relabel: this.house.accounts.relabel,
        poolBefore: l => before.get(l)!,
        poolAfter: l => this.books.poolOf(item.id, l),
      }),
    )
    // Nothing lies anywhere: there is nothing to book, the pools alone are changed.
    if (!lies.length) this.#no(line, 'nothing_lies', 'item', { name: item.name })
  }

  #corrections(): void {
    const target =
      this.content.head.corrects === null ? undefined : this.house.rows.slip.get({ uid: this.content.head.corrects })
    if (!target || target.state !== 'booked') return this.#no(null, 'nothing_to_correct', 'corrects')
    for (const line of this.content.lines) {
      const source = line.ref === null ? undefined : this.house.rows.line.get({ uid: line.ref })
      if (!source || source.slipId !== target.id) {
        this.#no(line, 'unknown_line', 'ref')
        continue
      }
      if (!CORRECTS.has(line.act)) {
        this.#no(line, 'act_needed', 'act')
        continue
      }
      const tally = this.house.rows.tallyOfLine.get({ line: source.id })
      if (tally && !tally.reversed) {
        if (line.act !== 'take_back') {
          this.#no(line, 'replace_whole', 'line', { kind: target.kind })
          continue
        }
        this.changes.push({ type: 'reverse_tally', lineId: this.#id(line), tallyId: tally.id })
        continue
      }
      const facts = factsOfLine(this.house, this.books, source.id)
      if (!facts.length) {
        this.#no(line, 'nothing_to_correct', 'line')
        continue
      }
      this.#correctLine(line, target.kind as SlipKind, facts)
    }
  }

  #correctLine(line: SlipLine, kind: SlipKind, facts: Fact[]): void {
    const lineId = this.#id(line)
    const first = facts[0]!
    const key = { costSeq: first.costSeq, part: first.part }
    if (line.act === 'price' || line.act === 'invoice') {
      const item = this.house.known.itemById(first.itemId)!
      const whole = facts.reduce((s, f) => s + f.quantity, 0n)
      if (line.act === 'invoice') {
        const more = line.price.trim().startsWith('-') ? readMoney(line.price.trim().slice(1)) : readMoney(line.price)
        if (more === undefined) return this.#no(line, 'not_a_price', 'price', { given: line.price })
        this.changes.push({ type: 'invoice', lineId, key, more: line.price.trim().startsWith('-') ? -more : more })
        return
      }
      const goods = this.#price(line, item, whole)
      if (goods === undefined) return
      if (goods === null) return this.#no(line, 'not_a_price', 'price', { given: line.price })
      const quantities = facts.map(f => f.quantity)
      const parts = split(goods, quantities)!
      for (const [i, f] of facts.entries())
        this.changes.push({ type: 'price', lineId, key: { costSeq: f.costSeq, part: f.part }, goods: parts[i]! })
      return
    }
    if (line.act !== 'replace') {
      const done = new Set<number>()
      for (const f of facts) {
        const event = f.kind === 'event_in' || f.kind === 'event_out'
        if (event && done.has(f.costSeq)) continue
        done.add(f.costSeq)
        this.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
      }
      return
    }
    if (!REPLACEABLE.has(kind)) return this.#no(line, 'replace_whole', 'line', { kind })
    // What is taken back lies on the shelf again while the replacing line looks for it.
    for (const f of facts)
      if (this.house.places.row(f.from))
        this.#planned.set(
          cellKey(f.itemId, { lotId: f.lotId, placeId: f.from }),
          (this.#planned.get(cellKey(f.itemId, { lotId: f.lotId, placeId: f.from })) ?? 0n) - f.quantity,
        )
    this.#first = cellKey(first.itemId, { lotId: first.lotId, placeId: first.from })
    const by = this.line(kind, line)
    this.#first = undefined
    const effectiveAt = this.content.effectiveAt === null ? first.effectiveAt : Date.parse(this.content.effectiveAt)
    if (by.length) this.changes.push({ type: 'replace', lineId, key, effectiveAt, by })
    for (const f of facts.slice(1))
      this.changes.push({ type: 'reverse', lineId, key: { costSeq: f.costSeq, part: f.part } })
  }
}
