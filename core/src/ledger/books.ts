import type { Quantity, Value } from '../quantity/micro.ts'
import type { Charge } from '../receiving/landed.ts'
import type { PoolState } from '../cost/pool.ts'
import type {
  AccountKind,
  CostMethod,
  InvoiceSays,
  ItemRule,
  Key,
  LotRule,
  Movement,
  SlipKind,
  Tally,
} from './types.ts'

/** What lies in one place of one lot, and the latest minute anything happened to it. */
export interface CellBalance {
  readonly quantity: Quantity
  readonly lastEffectiveAt: number
}
export interface LotBalance {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: Quantity
}
/** A delivery as a whole: its charges, and the places of its lines in the order of costing. */
export interface Delivery {
  readonly slipId: number
  readonly charges: readonly Charge[]
  readonly costSeqs: readonly number[]
}

/**
 * What booking reads. The server answers from prepared statements, tests and the rebuilding from memory; booking itself
 * is the same function. Every answer is of one moment.
 */
export interface Books {
  /** The number the next movement gets. */
  nextSeq(): number
  accountKind(id: number): AccountKind | undefined
  item(id: number): ItemRule | undefined
  lot(id: number): LotRule | undefined
  /** The pool that this lot of this item belongs to now. */
  poolOf(itemId: number, lotId: number): number
  /** The pool as kept, ready to be changed by the caller. */
  pool(poolId: number): PoolState
  /** The pool before its first movement. */
  poolStart(poolId: number): PoolState
  /** All movements of a pool, in the order they were written. */
  poolMovements(poolId: number): Movement[]
  /** All movements at one place in the order of costing, in the order they were written. */
  movementsAt(costSeq: number): Movement[]
  /** What left a pool for an event (a make, a relabel between pools) at a price that is not known: by `factKey`. */
  unpriced(poolId: number): ReadonlySet<string>
  balance(itemId: number, lotId: number, placeId: number): CellBalance
  cellMovements(itemId: number, lotId: number, placeId: number): Movement[]
  /** Every place where something of the item lies. */
  lotBalances(itemId: number): readonly LotBalance[]
  tallies(itemId: number, lotId: number, placeId: number): Tally[]
  hasTallyFrom(itemId: number, lotId: number, placeId: number, instant: number): boolean
  tally(id: number): Tally | undefined
  /** All movements of a tally’s difference, in whichever pools: what it found, what was found again, what closed it. */
  tallyMovements(tallyId: number): Movement[]
  /** Whether anything was brought back of the line, and how much. */
  broughtBack(key: Key): Quantity
  /** The delivery a receipt line belongs to. */
  delivery(costSeq: number): Delivery | undefined
  /** The first instant that is not in a closed month. */
  openFrom(): number
}

/** A line of a slip to be booked. The accounts say what it does; `goods` is the price paid for all of it (null: not known), or the credit of a supplier return. */
export interface DraftLine {
  readonly lineId: string
  readonly itemId: number
  readonly lotId: number
  readonly from: number
  readonly to: number
  readonly quantity: Quantity
  /** A part of what is shared out among several, in one line: only all of it is counted in the item's decimals. */
  readonly shared?: boolean
  readonly goods?: Value | null
  readonly weight?: bigint
  /** Of a line that replaces an invoiced one: the amount that the invoice states for it. */
  readonly invoiced?: Value
  readonly ref?: Key
  readonly tallyId?: number
  /** The need of a job that it is taken for; null: none. Where nothing is said, a replacing line answers what the replaced one did. */
  readonly needId?: number | null
  /** The job that it is made or wasted for; null: none. A replacing line is of the same where nothing is said. */
  readonly jobId?: number | null
  /** Lines of one relabel or make carry the same name. */
  readonly event?: string
  /** Of a make: it is wasted of what came of it, not of what went in. */
  readonly ofOutput?: boolean
  /** Another pool than the item's own: only a change of method has it. */
  readonly poolId?: number
  /** Takes a lot that is expired, held or recalled all the same; the caller has checked the right to. */
  readonly override?: boolean
}
/** What was counted of one (item, lot, place) at a minute; `unitCost` answers the question for a surplus of which no cost is known. */
export interface CountLine {
  readonly lineId: string
  readonly tallyId: number
  readonly differenceAccount: number
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
  readonly counted: Quantity
  readonly countedAt: number
  readonly unitCost?: Value | null
}
/** What a correction does to lines already booked. */
export type Change =
  | { readonly type: 'reverse'; readonly lineId: string; readonly key: Key; readonly quantity?: Quantity }
  | {
      readonly type: 'replace'
      readonly lineId: string
      readonly key: Key
      /** When it happened, where that is said; null: when the line that it replaces did. */
      readonly effectiveAt: number | null
      readonly by: readonly DraftLine[]
    }
  /** A make as it really was stands where another stood in the order of costing; `key`: any line of that one. */
  | {
      readonly type: 'replace_event'
      readonly lineId: string
      readonly key: Key
      /** When it happened, where that is said; null: when the one that it replaces did. */
      readonly effectiveAt: number | null
      readonly by: readonly DraftLine[]
    }
  | { readonly type: 'price'; readonly lineId: string; readonly key: Key; readonly goods: Value }
  /** What an invoice says: `more` or less than the price, or the `amount` of the line (rule 52). */
  | {
      readonly type: 'invoice'
      readonly lineId: string
      readonly key: Key
      readonly says: InvoiceSays
      readonly goods: Value
    }
  | { readonly type: 'charges'; readonly lineId: string; readonly key: Key; readonly charges: readonly Charge[] }
  | { readonly type: 'reverse_tally'; readonly lineId: string; readonly tallyId: number; readonly again?: CountLine }
  | {
      readonly type: 'standard'
      readonly lineId: string
      readonly itemId: number
      readonly lotId: number
      readonly cost: Value
    }

/** A slip as it is handed in for booking. */
export interface SlipDraft {
  readonly slipId: number
  readonly kind: SlipKind
  /** When it happened. */
  readonly effectiveAt: number
  readonly lines: readonly DraftLine[]
  readonly counts?: readonly CountLine[]
  readonly changes?: readonly Change[]
  readonly charges?: readonly Charge[]
}
export interface BookContext {
  readonly now: number
  readonly by: number
  /** The day of an instant in the organisation's zone (`2026-11-25`): expiry goes by the day on which something happened. */
  readonly dayOf: (at: number) => string
  readonly stockAccount: number
  readonly priceDifferenceAccount: number
  readonly lossAccount: number
  readonly gainAccount: number
}
/** What booking a slip writes. Nothing is written before all of it is known to be right. */
export interface Booked {
  readonly effectiveAt: number
  readonly movements: readonly Movement[]
  readonly tallies: readonly Tally[]
  /** The places where its lines do something themselves, with or without a quantity: what rights are asked for. */
  readonly touched: readonly { readonly lineId: string; readonly placeId: number }[]
  readonly reversedTallies: readonly number[]
  /** Deliveries whose charges were corrected. */
  readonly charges: readonly { readonly slipId: number; readonly charges: readonly Charge[] }[]
  /** The pools as they are afterwards. */
  readonly pools: ReadonlyMap<number, PoolState>
  /** The items of which something is otherwise afterwards, by what moved or by what was worked out anew. */
  readonly items: ReadonlySet<number>
  /** Of what went into an event: where it changes whether its price is known. */
  readonly unpriced: readonly Unpriced[]
}
/** Something that left a pool for an event, and whether the price of what it was taken from is not known. */
export interface Unpriced extends Key {
  readonly poolId: number
  readonly unpriced: boolean
}
export type { CostMethod }
