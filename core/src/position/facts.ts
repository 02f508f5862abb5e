import { split, type Quantity, type Value } from '../quantity/micro.ts'
import type { AccountKind, FactKind } from '../ledger/types.ts'
import type { UnitCost } from '../cost/pool.ts'
import type { LotRule } from '../ledger/types.ts'

/** What lies of one lot in one place. */
export interface Lying extends Pick<LotRule, 'expiry' | 'held'> {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: Quantity
}
/** The same with its share of what its pool is worth. */
export interface Leaf extends Lying {
  readonly value: Value
}
/** A pool of the item as it is now: `lotId` null for the whole item, else of one lot. */
export interface ItemPool {
  readonly lotId: number | null
  readonly quantity: Quantity
  readonly value: Value
  /** Whether something in it has no price yet. */
  readonly provisional: boolean
}
/** Minimum and target of an item in a place; `areaId` is the area that the place lies in, or is. */
export interface LevelFact {
  readonly placeId: number
  readonly areaId: number
  readonly minimum: Quantity | null
  readonly target: Quantity | null
}
/** A quantity that is about a place: what is on its way there, reserved there, planned to be taken from there. */
export interface Placed {
  readonly placeId: number
  readonly quantity: Quantity
  /** The need of a job that it is for. */
  readonly needId?: number
}

/** What is known of one item, from which every figure of how it stands is worked out. */
export interface ItemFacts {
  readonly leaves: readonly Leaf[]
  readonly pools: readonly ItemPool[]
  readonly levels: readonly LevelFact[]
  readonly coming: readonly Placed[]
  readonly reserved: readonly Placed[]
  /** What jobs will take beyond what is reserved; `day` null: no day was said. */
  readonly planned: readonly (Placed & { readonly day: string | null })[]
  /** What was used in the last `USE_DAYS` days, net of what came back, by the place it was taken from. */
  readonly used: ReadonlyMap<number, Quantity>
  /** The last known cost of one, by the order of costing over all its pools (rule 10): of use where nothing lies there. */
  readonly lastKnown: UnitCost | null
  /** The area that a place lies in, or is. */
  readonly areaOf: (placeId: number) => number
}

/** So many days of use an average is taken over. */
export const USE_DAYS = 28

/**
 * Shares what pools are worth over what lies of them, so that the places add up to the pool (rule 2; ties by the order of
 * `lying`, which is by lot and place).
 */
export function shareOut(lying: readonly Lying[], pools: readonly ItemPool[]): Leaf[] {
  const of = (rows: readonly Lying[], value: Value): Leaf[] => {
    const quantities = rows.map(r => r.quantity)
    const parts = split(value, quantities) ?? rows.map(() => 0n)
    // Written out: of a spread with one field more V8 makes a hidden class for each object, and there are tens of thousands.
    return rows.map(({ lotId, placeId, quantity, expiry, held }, i) => ({
      lotId,
      placeId,
      quantity,
      expiry,
      held,
      value: parts[i]!,
    }))
  }
  const whole = pools.find(p => p.lotId === null)
  if (whole && pools.length === 1) return of(lying, whole.value)
  return pools
    .filter(p => p.lotId !== null)
    .flatMap(p =>
      of(
        lying.filter(l => l.lotId === p.lotId),
        p.value,
      ),
    )
}

/**
 * Whether what goes to an account (or comes back from it) counts as use of the item: what is handed out, and what goes into a
 * make. What is wasted does not, nor what a make gives (rule 16).
 */
export const isUse = (kind: FactKind, other: AccountKind | undefined): boolean =>
  other === 'used' || (other === 'made' && kind === 'event_out')
