import type { Quantity, Value } from '../quantity/micro.ts'

/** The kinds of account a movement runs between. `place` is a shelf; all others are counter-accounts and never shown as places. */
export const ACCOUNT_KINDS = [
  'place',
  'stock',
  'supplier',
  'used',
  'made',
  'relabel',
  'waste',
  'difference',
  'loss',
  'gain',
  'price_difference',
  'opening',
] as const
export type AccountKind = (typeof ACCOUNT_KINDS)[number]
/**
 * An account. `stock` is the pool of an item itself, wherever it lies: movements of value alone stand on it, since value
 * lives in pools and not on shelves.
 */
export interface Account {
  readonly id: number
  readonly kind: AccountKind
}

/** Every kind of slip there is. `adjustment` is a count of single lines; `closing` ends an open difference or says where it was found. */
export const SLIP_KINDS = [
  'opening',
  'receipt',
  'issue',
  'bring_back',
  'move',
  'dispatch',
  'arrival',
  'waste',
  'count',
  'adjustment',
  'relabel',
  'make',
  'supplier_return',
  'correction',
  'revaluation',
  'closing',
  'method_change',
  'recharge',
] as const
export type SlipKind = (typeof SLIP_KINDS)[number]

export const METHODS = ['average', 'fifo', 'lot', 'standard'] as const
/** How an item's outgoing value is found. `lot` keeps one pool for each lot. */
export type CostMethod = (typeof METHODS)[number]

export const IDENTIFIED_BY = ['quantity', 'lot', 'lot_expiry', 'serial'] as const
export type IdentifiedBy = (typeof IDENTIFIED_BY)[number]

/** What the ledger must know of an item. */
export interface ItemRule {
  readonly id: number
  readonly decimals: number
  readonly identifiedBy: IdentifiedBy
  readonly kept: 'stock' | 'bought_for' | 'charge'
  readonly unit: string
  /** Weight of one base unit in micro-grams, where it is known: freight may be spread by it. */
  readonly mass?: bigint | null
  /** When its cost method was last changed (instant in ms, and place in the order of costing); quantities before that are no longer touched. */
  readonly costedSince?: { readonly at: number; readonly costSeq: number } | null
}

/** The derived state of a lot on a day; see lots/state. */
export interface LotRule {
  readonly id: number
  readonly itemId: number
  /** The code on the package; null for the one lot of an item that has no lots. */
  readonly code: string | null
  readonly expiry: string | null
  readonly held: 'usable' | 'held' | 'recalled'
}

/**
 * How the value of a fact is found:
 * `receipt` (from a supplier or an opening onto a shelf), `direct` (from a supplier straight to the user), `out` (off a
 * shelf: use, waste, input of a make), `return` (back to the supplier), `move` (between shelves), `back` (brought back),
 * `difference` (what a tally found, and what later slips do to it), `found` and `close` (an open difference given back or
 * ended), `event_out` and `event_in` (both sides of a relabel or a make), `standard` (the standard cost set anew), `recharge`
 * and `spoil` (what was used is charged to somebody else, or came back spoiled and is wasted: it never sees a shelf).
 */
export const FACT_KINDS = [
  'receipt',
  'direct',
  'out',
  'return',
  'move',
  'back',
  'difference',
  'found',
  'close',
  'event_out',
  'event_in',
  'standard',
  'recharge',
  'spoil',
] as const
export type FactKind = (typeof FACT_KINDS)[number]
/** Kinds of what is taken out of what was used, at its share of that: back on a shelf, charged to somebody else, spoiled (rules 5, 63). */
export const GIVING_KINDS = ['back', 'recharge', 'spoil'] as const satisfies readonly FactKind[]
/** Whether what is done takes something out of what was used. */
export const givesUp = (kind: FactKind): boolean => (GIVING_KINDS as readonly FactKind[]).includes(kind)
/** Kinds of what goes to whoever uses it, and so never comes into a place, but where it is taken back. */
export const LEAVING_KINDS = ['out', 'direct'] as const satisfies readonly FactKind[]

/**
 * What an invoice says of a line (rule 52): so much `more` or less than its price, which stays beside a corrected price; or the
 * `amount` of it, which stays what it is whatever the price is corrected to.
 */
export const INVOICE_SAYS = ['more', 'amount'] as const
export type InvoiceSays = (typeof INVOICE_SAYS)[number]

/** Where a fact stands in the order of costing. Corrections keep it. */
export interface Key {
  readonly costSeq: number
  readonly part: number
}

/**
 * One line of the ledger; never changed once written. `quantity` ≥ 0 goes `from` one account `to` another, and `value`
 * with it. Only revaluations (quantity 0, `revalues` set) may carry a negative value.
 */
export interface Movement extends Key {
  readonly seq: number
  /** −1: an inward correction of a tally, before the line that caused it; 0: the line; 1: an outward one, after it. */
  readonly ord: -1 | 0 | 1
  readonly kind: FactKind
  readonly slipId: number
  readonly lineId: string
  readonly itemId: number
  readonly lotId: number
  readonly poolId: number
  readonly from: number
  readonly to: number
  readonly quantity: Quantity
  readonly value: Value
  /** The stated part of the value: price of the goods, null while it is not known. On a correction of a price: what is added. */
  readonly goods: Value | null
  /** The stated share of freight and fees. */
  readonly charges: Value
  /** Instant in ms since 1970, UTC: when it happened. */
  readonly effectiveAt: number
  readonly bookedAt: number
  readonly bookedBy: number
  readonly reverses: number | null
  readonly revalues: number | null
  /** The costSeq and part of the line that is brought back. */
  readonly refCostSeq: number | null
  readonly refPart: number | null
  /** The tally whose difference this is about. */
  readonly tallyId: number | null
  /** What part of an event's value this output takes, beside the other outputs' weights; null on all else. */
  readonly weight: bigint | null
  /**
   * What one base unit of a delivered line weighed when it was booked, in micrograms: freight by weight goes by it, whatever the
   * item is said to weigh later (rule 54). Null on all else, and where it was not known.
   */
  readonly mass: bigint | null
  /** How an invoice said this change of the goods' value; null where it came by none. */
  readonly invoice: InvoiceSays | null
  /** The need of a job that it was taken for; absent where it answers none. */
  readonly needId?: number
  /** The job that a make is for: with what goes into it, what comes of it and what is wasted on the way; absent on all else. */
  readonly jobId?: number
}

/** What was counted in one (item, lot, place) at one minute, once booked: the truth at that minute. */
export interface Tally extends Key {
  readonly id: number
  readonly itemId: number
  readonly lotId: number
  readonly placeId: number
  readonly countedAt: number
  readonly counted: Quantity
  /** The account of its open difference. */
  readonly differenceAccount: number
  /** Set when the count was taken back. */
  readonly reversed: boolean
}

/** A refusal: what is so and what was asked; never thrown, always returned. */
export interface Refusal {
  readonly code: string
  /** The line it is about, by its id; null: the slip itself. */
  readonly lineId: string | null
  readonly field: string | null
  readonly detail: Readonly<Record<string, unknown>>
}
export type Result<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly refusals: readonly Refusal[] }
export const refuse = (
  code: string,
  lineId: string | null = null,
  field: string | null = null,
  detail: Record<string, unknown> = {},
): Refusal => ({ code, lineId, field, detail })
