import { divideHalfEven, gcd, ONE, type Quantity, type Ratio } from '../quantity/micro.ts'
import { workOut, type Working, type WorkingLine } from '../ledger/working.ts'

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
  /** What jobs are planned to take, beyond what is reserved: how much, in how many days (0: today, or overdue). */
  readonly dated?: readonly { readonly inDays: number; readonly quantity: Quantity }[]
}
/** At or below the minimum is short, or only below it: a setting of the organisation. */
export type ShortRule = 'at_or_below' | 'below'
export type LevelState = 'out' | 'short' | 'short_coming' | 'in_range' | 'over' | 'none'

export interface Levels {
  readonly available: Quantity
  readonly position: Quantity
  readonly state: LevelState
  /** What lies beyond the target. */
  readonly over: Quantity
  /** What brings the position up to the target, where that is called for. */
  readonly due: boolean
  readonly bring: Quantity
  /** Whole days that what is available lasts; null where nothing is used or planned. */
  readonly days: number | null
}
/** Figures of levels that are sums. */
export type LevelSum = 'available' | 'position' | 'bring'

/**
 * The levels of an item in a place: available, position, state, how long it lasts, and what is to be brought. `tell`
 * hears every part of every sum while it is added up; a list, which asks this of every item there is, goes without.
 */
export function levels(
  input: LevelInput,
  rule: ShortRule = 'at_or_below',
  tell?: (of: LevelSum, label: string, amount: Quantity) => void,
): Levels {
  const { minimum, target } = input
  const part = (of: LevelSum, label: string, amount: Quantity): Quantity => {
    tell?.(of, label, amount)
    return amount
  }
  let available = part('available', 'on_hand', input.onHand)
  if (input.reserved) available += part('available', 'reserved', -input.reserved)
  if (input.unusable) available += part('available', 'unusable', -input.unusable)
  let position = part('position', 'available', available)
  if (input.coming) position += part('position', 'coming', input.coming)
  if (input.planned) position += part('position', 'planned', -input.planned)
  const low = (x: Quantity) => minimum !== null && (rule === 'below' ? x < minimum : x <= minimum)
  // Where nothing is kept in stock, what a job will need calls for it all the same.
  const due = low(position) || (!!input.planned && position < 0n)
  const upTo = target ?? minimum ?? 0n
  const bring =
    due && upTo > position
      ? part('bring', target === null ? 'minimum' : 'target', upTo) + part('bring', 'position', -position)
      : 0n
  return {
    available,
    position,
    state: stateOf(input, available, low),
    over: target !== null && available > target ? available - target : 0n,
    due,
    bring,
    days: lasts(available, input.perDay ?? 0n, input.dated ?? []),
  }
}

/**
 * For how many whole days what is available lasts. What jobs are planned to take is a part of the use: on each day the more
 * counts of what is used on the average until then and of what is planned until then (design: a forecast counts beyond what
 * is planned). Null where neither ends it.
 */
function lasts(available: Quantity, each: Quantity, dated: NonNullable<LevelInput['dated']>): number | null {
  if (available <= 0n) return each > 0n || dated.length ? 0 : null
  let days = each > 0n ? Number(available / each) : null
  let planned = 0n
  for (const d of [...dated].sort((a, b) => a.inDays - b.inDays)) {
    planned += d.quantity
    if (planned <= available) continue
    const until = Math.max(d.inDays - 1, 0)
    days = days === null ? until : Math.min(days, until)
    break
  }
  return days
}

/** The working of one of its sums: the parts that `levels` adds up. */
export function levelWorking(input: LevelInput, rule: ShortRule, sum: LevelSum): Working {
  const lines: WorkingLine[] = []
  levels(input, rule, (of, label, amount) => {
    if (of === sum) lines.push({ label, amount })
  })
  return workOut('quantity', lines)
}

function stateOf(input: LevelInput, available: Quantity, low: (x: Quantity) => boolean): LevelState {
  const belongs = input.minimum !== null || input.target !== null
  if (available <= 0n) return belongs ? (input.coming ? 'short_coming' : 'out') : 'none'
  if (low(available)) return input.coming ? 'short_coming' : 'short'
  return input.target !== null && available > input.target ? 'over' : 'in_range'
}

/** Average use a day from what was used over so many days, rounded once. */
export const perDay = (used: Quantity, days: number): Quantity => (days > 0 ? divideHalfEven(used, BigInt(days)) : 0n)

/**
 * How many whole packs of `size` base units to bring so that at least `quantity` comes, and what comes can be kept with so
 * many decimals: of thirds for an item in whole pieces three, six, nine.
 */
export function wholePacks(quantity: Quantity, size: Ratio, decimals: number): bigint {
  if (quantity <= 0n) return 0n
  const whole = ONE * size.n
  const packs = (quantity * size.d + whole - 1n) / whole
  const step = size.d / gcd(size.d, 10n ** BigInt(decimals))
  return ((packs + step - 1n) / step) * step
}
