import type { Quantity } from '../quantity/micro.ts'
import type { Movement } from './types.ts'

const MINUTE = 60_000
export const minuteOf = (instant: number): number => Math.floor(instant / MINUTE)

/** A change of what lies in a place, at an instant. */
export interface Step {
  readonly at: number
  readonly delta: Quantity
}

/** What a movement changes in a place: positive where it comes in. */
export const deltaIn = (m: Pick<Movement, 'from' | 'to' | 'quantity'>, placeId: number): Quantity =>
  (m.to === placeId ? m.quantity : 0n) - (m.from === placeId ? m.quantity : 0n)

/** The steps of a place from its movements. */
export const stepsOf = (movements: readonly Movement[], placeId: number): Step[] =>
  movements.filter(m => m.quantity > 0n).map(m => ({ at: m.effectiveAt, delta: deltaIn(m, placeId) }))

/** What lay there at an instant: everything that happened up to and including it. */
export const balanceAt = (steps: readonly Step[], instant: number): Quantity =>
  steps.reduce((sum, s) => (s.at <= instant ? sum + s.delta : sum), 0n)

/**
 * The lowest balance at the end of any minute from the given instant on (movements of one minute are netted), and the
 * minute of it. With `steps` in any order.
 */
export function lowestSince(steps: readonly Step[], instant: number): { quantity: Quantity; minute: number } {
  const from = minuteOf(instant)
  const byMinute = new Map<number, Quantity>()
  let sum = 0n
  for (const s of steps) {
    const m = minuteOf(s.at)
    if (m <= from) sum += s.delta
    else byMinute.set(m, (byMinute.get(m) ?? 0n) + s.delta)
  }
  let lowest = { quantity: sum, minute: from }
  for (const m of [...byMinute.keys()].sort((a, b) => a - b)) {
    sum += byMinute.get(m)!
    if (sum < lowest.quantity) lowest = { quantity: sum, minute: m }
  }
  return lowest
}

/**
 * The earliest instant, not before `instant`, from which on `quantity` is there at every minute; undefined where it is not
 * there even now. One pass from the end: the lowest balance from a minute on is the lower of its own and the next one's.
 */
export function earliestFor(steps: readonly Step[], instant: number, quantity: Quantity): number | undefined {
  const from = minuteOf(instant)
  let balance = 0n
  const byMinute = new Map<number, Quantity>([[from, 0n]])
  for (const s of steps) {
    balance += s.delta
    const m = Math.max(from, minuteOf(s.at))
    byMinute.set(m, (byMinute.get(m) ?? 0n) + s.delta)
  }
  let earliest: number | undefined
  for (const minute of [...byMinute.keys()].sort((a, b) => b - a)) {
    if (balance < quantity) break
    earliest = minute * MINUTE
    balance -= byMinute.get(minute)!
  }
  return earliest
}
