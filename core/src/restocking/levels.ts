import { divideHalfEven, type Quantity } from '../quantity/micro.ts'
import { workOut, type Working } from '../ledger/working.ts'

/** What is known of one item in one place. `unusable`: expired, held, recalled or lying with a job. */
export interface LevelInput {
  readonly onHand: Quantity
  readonly reserved?: Quantity
  readonly unusable?: Quantity
  readonly coming?: Quantity
  /** Planned demand until the end of lead time and review period, beyond what is reserved. */
  readonly planned?: Quantity
  readonly minimum: Quantity | null
  readonly target: Quantity | null
  /** Average use a day, in micro-units. */
  readonly perDay?: Quantity
}
/** At or below the minimum is short, or only below it: a setting of the organisation. */
export type ShortRule = 'at_or_below' | 'below'
export type LevelState = 'out' | 'short' | 'short_coming' | 'in_range' | 'over' | 'none'

export interface Levels {
  readonly available: Working
  readonly position: Working
  readonly state: LevelState
  /** What lies beyond the target. */
  readonly over: Quantity
  /** What brings the position up to the target, where that is called for. */
  readonly due: boolean
  readonly bring: Working
  /** Whole days that what is available lasts at the average use; null where nothing is used. */
  readonly days: number | null
}

/** The levels of an item in a place: available, position, state, how long it lasts, and what is to be brought. */
export function levels(input: LevelInput, rule: ShortRule = 'at_or_below'): Levels {
  const { minimum, target } = input
  const available = workOut('quantity', [
    { label: 'on_hand', amount: input.onHand },
    ...(input.reserved ? [{ label: 'reserved', amount: -input.reserved }] : []),
    ...(input.unusable ? [{ label: 'unusable', amount: -input.unusable }] : []),
  ])
  const position = workOut('quantity', [
    { label: 'available', amount: available.figure },
    ...(input.coming ? [{ label: 'coming', amount: input.coming }] : []),
    ...(input.planned ? [{ label: 'planned', amount: -input.planned }] : []),
  ])
  const low = (x: Quantity) => minimum !== null && (rule === 'below' ? x < minimum : x <= minimum)
  const due = low(position.figure)
  const upTo = target ?? minimum
  return {
    available,
    position,
    state: stateOf(input, available.figure, low),
    over: target !== null && available.figure > target ? available.figure - target : 0n,
    due,
    bring: workOut(
      'quantity',
      due && upTo !== null && upTo > position.figure
        ? [
            { label: target === null ? 'minimum' : 'target', amount: upTo },
            { label: 'position', amount: -position.figure },
          ]
        : [],
    ),
    days: input.perDay ? Number(available.figure <= 0n ? 0n : available.figure / input.perDay) : null,
  }
}

function stateOf(input: LevelInput, available: Quantity, low: (x: Quantity) => boolean): LevelState {
  const belongs = input.minimum !== null || input.target !== null
  if (available <= 0n) return belongs ? (input.coming ? 'short_coming' : 'out') : 'none'
  if (low(available)) return input.coming ? 'short_coming' : 'short'
  return input.target !== null && available > input.target ? 'over' : 'in_range'
}

/** Average use a day from what was used over so many days, rounded once. */
export const perDay = (used: Quantity, days: number): Quantity => (days > 0 ? divideHalfEven(used, BigInt(days)) : 0n)

/** A quantity in whole packs, rounded up: how many to bring so that at least `quantity` comes. */
export const wholePacks = (quantity: Quantity, packSize: Quantity): bigint =>
  quantity <= 0n ? 0n : (quantity + packSize - 1n) / packSize
