import type { SlipContent, SlipKind, SlipLine } from '@shelve/contract'
import {
  type Change,
  type Charge,
  type CountLine,
  type DraftLine,
  formatDecimal,
  isUnknownLot,
  type Measure,
  readQuantity,
  type Refusal,
  refuse,
  UNKNOWN_LOT,
} from '@shelve/core'
import type { ItemRow } from '../../catalogue/index.ts'
import { remember } from '../../ground/index.ts'
import type { slip, SqlBooks } from '../../ledger/index.ts'
import { type StockItem, usualBin } from '../../position/index.ts'
import type { Action, Scope } from '../../rights/index.ts'
import type { Base } from '../base.ts'
import { Planned } from '../cells.ts'
import { type AsTyped, goodsOf, moneyOf } from '../prices.ts'
import { receiverOf } from '../receiver.ts'
import { reservedOf } from '../set-aside.ts'
import { quantityRefusal } from '../words.ts'
import type { Awaited, Expected } from './resolved.ts'

/** What a slip is about, as its title may say it. */
export interface Told {
  readonly house: Base
  readonly content: SlipContent
  /** Its first item, and how many more there are. */
  readonly first: string
  /** The job or the cost centre it is for. */
  readonly receiver: string | undefined
  readonly place: string | undefined
}

/**
 * A kind of slip, as its room knows it. Papers know kinds only by this; which there are stands in one list (`compose`).
 * A kind has `lines`, where what it does is plain movements, or reads its lines in a way of its own.
 */
export interface Kind {
  readonly kind: SlipKind
  /** Letters that a slip's number begins with. */
  readonly prefix: string
  /** What such a slip is about, in a few words: it stands in lists instead of a name. */
  title(of: Told): string
  /** The movements of one typed line. One line of such a slip can be replaced by another. */
  readonly lines?: (r: Reading, line: SlipLine) => DraftLine[]
  /** Reads a line that is no plain movement. */
  readonly read?: (r: Reading, line: SlipLine) => void
  /** Reads the slip as a whole, before its lines. */
  readonly begin?: (r: Reading) => void
  /** What is said of the slip as a whole, when all lines are read. */
  readonly end?: (r: Reading) => void
  /**
   * What somebody saves of a line of a draft. It may be an entry of its own beside what stands under its id: then it comes
   * back with an id of its own, always the same for the same writer.
   */
  readonly entry?: (there: SlipLine | null, sent: SlipLine, slip: SlipContent, writer: string) => SlipLine
  /** It brings what was not there before: nothing of an item that is retired. */
  readonly bringsNew?: boolean
  /** What one must be allowed where such a slip does something: to book, where nothing is said. */
  readonly action?: Action
  /** It changes set-up: items are about everywhere, and what was read of set-up is let go of after it. */
  readonly changesSetUp?: boolean
  /** Whether what a slip does of one item is nothing to the others: while it is written only what changed is judged anew. */
  readonly byItem?: (content: SlipContent) => boolean
  /** It makes a place, on the way from one to another: what was read of those is let go of after it. */
  readonly makesPlaces?: boolean
  /** It changes how something is called in lists, or whether it is in use: what was read of names is let go of. */
  readonly changesNames?: boolean
}

/**
 * A slip while it is read: quantities by the item's packs, lots found, proposed or made, accounts named. What is missing
 * or wrong is collected, line by line; nothing is thrown. Each kind adds what its lines come to.
 */
export class Reading {
  readonly refusals: Refusal[] = []
  readonly lines: DraftLine[] = []
  readonly counts: CountLine[] = []
  readonly changes: Change[] = []
  readonly expected = new Map<string, Expected>()
  /** What is expected of lines that nobody has counted yet, where it may be seen: it changes nothing. */
  readonly awaited = new Map<string, Awaited>()
  readonly tallyUids = new Map<number, string>()
  readonly readings = new Map<string, string>()
  /** What earlier lines of this slip take from each cell (or give back to it). */
  readonly planned = new Planned()
  /** Cells to which something is given back: they may have held nothing any more. */
  readonly freed = new Map<string, { readonly itemId: number; readonly lotId: number; readonly placeId: number }>()
  /** Of a line that replaces something brought back: the issue lines it came from, with how much of each is free again. */
  returns: { readonly costSeq: number; readonly part: number; readonly quantity: bigint }[] | undefined
  /** Events that a correction takes back already, by their place in the order of costing. */
  readonly undone = new Set<number>()
  /** When the line that is read happened, where that is not when its slip did. */
  lineAt: number | undefined
  /** When it happened, where it stands in the place of another slip and says nothing of that. */
  instead: number | undefined
  readonly kind: Kind
  /** Items of its lines of which something is set aside. */
  #reserved: ReadonlySet<number> | undefined
  readonly #now = new Map<number, StockItem>()
  /** Hundreds of lines ask for the same: items' usual bins; jobs by their ids, and where what was picked for each lies. */
  readonly #bins = new Map<number, number>()
  readonly #jobs = new Map<string, number | null>()
  readonly #crates = new Map<number, number | undefined>()
  charges: Charge[] = []
  used: number | undefined
  /** The cell a replacing line looks in first: the one that the replaced line took from. */
  first: { readonly itemId: number; readonly lotId: number; readonly placeId: number } | undefined
  nextTally: number
  /** Of a correction: the slip that it corrects. */
  target: typeof slip.$inferSelect | undefined
  /** Lines that say of an item with lots that there is none: counted, but with nothing to tally. */
  empty = 0

  constructor(
    readonly house: Base,
    readonly kinds: ReadonlyMap<SlipKind, Kind>,
    readonly books: SqlBooks,
    readonly content: SlipContent,
    readonly slipId: number,
    readonly lineIds: ReadonlyMap<string, number>,
    readonly mayOverride: boolean,
    readonly seen: Scope,
  ) {
    this.nextTally = house.rows.nextTally.get()!.id
    this.kind = kinds.get(content.kind)!
  }

  /** What speaks against a line, or (null) against the slip. */
  no(line: SlipLine | null, code: string, field: string | null, detail: Record<string, unknown> = {}): void {
    this.refusals.push(refuse(code, line ? String(this.lineIds.get(line.id)) : null, field, detail))
  }

  /** The line as the books name it. */
  id(line: SlipLine): string {
    return String(this.lineIds.get(line.id))
  }

  item(line: SlipLine): ItemRow | undefined {
    const row = line.item === null ? undefined : this.house.known.item(line.item)
    if (!row) {
      this.no(line, line.item === null ? 'item_needed' : 'unknown_item', 'item')
      return undefined
    }
    // What lies there of it may go, and what was given out may return.
    if (!row.active && this.kind.bringsNew) {
      this.no(line, 'item_retired', 'item', { name: row.name })
      return undefined
    }
    return row
  }

  /** How quantities of an item are read: on a correction as on the slip that it corrects, by the packs of that day. */
  measure(item: ItemRow): Measure {
    const { known } = this.house
    return this.target ? known.measureThen(item, this.target.bookedAt!) : known.measure(item)
  }

  /** Reads the quantity of a line, in its unit; what cannot be read is refused with what was typed and what is possible. */
  quantity(line: SlipLine, item: ItemRow, typed = line.typed, field = 'typed', zero = false): bigint | undefined {
    const measure = this.measure(item)
    const read = readQuantity(typed, measure, line.unit ?? undefined, zero)
    if (read.ok) {
      this.readings.set(this.id(line), `${formatDecimal(read.quantity)} ${item.unit}`)
      return read.quantity
    }
    const { code, detail } = quantityRefusal(read, typed, item.unit)
    this.no(line, code, field, detail)
    return undefined
  }

  /** What a line that says an item and how much of it comes to; nothing where either cannot be read. */
  moved(line: SlipLine, lines: (item: ItemRow, quantity: bigint) => DraftLine[]): DraftLine[] {
    const item = this.item(line)
    const quantity = item && this.quantity(line, item)
    return quantity === undefined ? [] : lines(item!, quantity)
  }

  supplier(): number {
    const name = this.content.head.supplier.trim()
    if (name) return this.books.making.supplier(name)
    this.once('supplier_needed', 'supplier')
    // The line is looked at all the same, so that its effect is seen; with a refusal nothing of it stays.
    return this.books.making.supplier('—')
  }

  /** A refusal of the slip's head is said once, not for each line. */
  once(code: string, field: string, detail: Record<string, unknown> = {}): void {
    if (!this.refusals.some(r => r.code === code && r.lineId === null)) this.no(null, code, field, detail)
  }

  /** What is set aside of an item, by lot: of the job that this is for (or any lot of it), and of others. */
  keptLots(
    itemId: number,
    line: SlipLine,
  ):
    | { readonly own: (lotId: number, placeId: number) => boolean; readonly others: (lotId: number) => boolean }
    | undefined {
    this.#reserved ??= reservedOf(
      this.house,
      this.books,
      this.content.lines.flatMap(l => (l.item ? (this.house.known.item(l.item)?.id ?? []) : [])),
    )
    if (!this.#reserved.has(itemId)) return undefined
    const { demand, held } = remember(this.#now, itemId, () => this.house.stock.now([itemId]).get(itemId)!)
    const job = this.job(line)
    const mine = new Set(demand.needs.filter(n => n.jobId === job).map(n => n.needId))
    const kept = held.filter(h => h.held > 0n).map(h => h.reservation)
    return {
      own: (lotId, placeId) =>
        kept.some(
          r =>
            mine.has(r.needId) &&
            (r.lotId === null || r.lotId === lotId) &&
            this.house.places.within(r.placeId).has(placeId),
        ),
      others: lotId => kept.some(r => !mine.has(r.needId) && r.lotId === lotId),
    }
  }

  /** The job that the slip is for, or a line of it that says so itself; null: none. */
  job(line?: SlipLine): number | null {
    const uid = line?.direct ? line.direct.job : this.content.head.job
    return uid === null ? null : remember(this.#jobs, uid, () => this.house.rows.job.get({ uid })?.id ?? null)
  }
  /** Where what was picked lies for the job that a line is for; undefined: nothing was. */
  withJob(line: SlipLine): number | undefined {
    const job = this.job(line)
    return job === null ? undefined : remember(this.#crates, job, () => this.house.sources.withJob(job))
  }

  /** Something new is charged: what was charged once can be read anew, and comes back, whoever has ended since. */
  get begins(): boolean {
    return this.lineAt === undefined && this.content.kind !== 'bring_back'
  }

  usedBy(): number {
    return (this.used ??= receiverOf(this.house, this.books.making, this.content.head, (code, name) => {
      if (code === 'for_whom' || this.begins) this.once(code, 'costCentre', { name })
    }))
  }

  /** Whom a line is for that says so itself: what goes straight to them, or is handed out to them. */
  straight(line: SlipLine, direct: NonNullable<SlipLine['direct']>): number {
    return receiverOf(this.house, this.books.making, direct, (code, name) => {
      if (code === 'for_whom' || this.begins) this.no(line, code, 'direct', { name })
    })
  }

  place(line: SlipLine, uid: string | null, field: string): number | undefined {
    const id = uid === null ? undefined : this.house.places.id(uid)
    if (id === undefined) this.no(line, uid === null ? 'place_needed' : 'unknown_place', field)
    else if (this.house.places.transit(id)) this.no(line, 'on_the_way', field, { place: id })
    else return id
    return undefined
  }

  /** Where what a line brings is put: as it says, else where that item usually lies in the slip's area. */
  into(line: SlipLine, item: ItemRow): number | undefined {
    const area = this.area()
    if (line.to !== null || area === undefined) return this.place(line, line.to, 'to')
    return remember(this.#bins, item.id, () => usualBin(this.house, item.id, area))
  }

  /** When what is read happened. */
  at(): number {
    const { effectiveAt } = this.content
    return effectiveAt !== null ? Date.parse(effectiveAt) : (this.lineAt ?? this.house.now())
  }

  area(): number | undefined {
    return this.content.place === null ? undefined : this.house.places.id(this.content.place)
  }

  /** An amount of money in a field of a line, or (null) of the slip; undefined where it cannot be read: that is refused. */
  money(line: SlipLine | null, text: string, field: string): bigint | undefined {
    return moneyOf(text, (code, detail) => this.no(line, code, field, detail))
  }

  price(line: SlipLine, item: ItemRow, quantity: bigint, as?: AsTyped): bigint | null | undefined {
    return goodsOf(
      this.measure(item),
      line,
      item,
      quantity,
      (code, field, detail) => this.no(line, code, field, detail),
      as,
    )
  }

  /** The lot that comes in: found by its code, or made. */
  lotIn(line: SlipLine, item: ItemRow): number | undefined {
    const said = line.lot?.code.trim() ?? ''
    // Only what is counted may lie there without anybody knowing of which lot it is; a piece is known by its number or not at all.
    const unknown = this.kind.kind === 'count' && isUnknownLot(said)
    const unlabelled = unknown && item.identifiedBy !== 'serial'
    const code = unlabelled ? UNKNOWN_LOT : unknown ? '' : said
    if (line.lot?.id) {
      const uid = line.lot.id
      const own = this.books.memory.recall(`lot named ${uid}`, () => this.house.rows.lotNamed.get({ uid }))
      if (!own || own.itemId !== item.id) {
        this.no(line, 'lot_of_another_item', 'lot')
        return undefined
      }
      return own.id
    }
    if (item.identifiedBy === 'quantity') {
      if (code) {
        this.no(line, 'item_without_lots', 'lot', { lot: code })
        return undefined
      }
      return this.house.known.plainLot(item.id)
    }
    if (!code) {
      this.no(line, item.identifiedBy === 'serial' ? 'serial_needed' : 'lot_needed', 'lot')
      return undefined
    }
    const known = this.house.rows.lotByCode.get({ item: item.id, code }) ?? this.books.making.lotByCode(item.id, code)
    const expiry = line.lot?.expiry ?? null
    if (known) {
      if (expiry !== null && known.expiry !== null && known.expiry !== expiry) {
        this.no(line, 'expiry_differs', 'expiry', { lot: code, known: known.expiry, given: expiry })
        return undefined
      }
      return known.id
    }
    if (item.identifiedBy === 'lot_expiry' && expiry === null && !unlabelled) {
      this.no(line, 'expiry_needed', 'expiry', { lot: code })
      return undefined
    }
    return this.books.making.newLot(item.id, code, expiry, unlabelled ? { heldFor: 'Counted without a label.' } : {})
  }
}
