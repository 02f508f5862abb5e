import { dayNumber } from '../lots/day.ts'
import type { Quantity } from '../quantity/micro.ts'

/**
 * What of several things that were asked for has not come yet. Arrivals fill what was asked for first, first; what came
 * before something was asked for does not count for it (common practice: an open line is filled in the order of asking).
 *
 *     asked   A 10 on the 1st    B 5 on the 8th            arrivals  12 on the 9th
 *             └── 10 of the 12 ──┘ └ 2 of the 12 ┘          → nothing of A, 3 of B outstanding
 *
 * `reaches` says where an arrival came in regard to what was asked for: `here`, `elsewhere` (it was delivered into another place,
 * and settles what nothing that came here has settled), or not at all; by itself everything comes here. Instants in ms; quantities in
 * micro-units. The answer is in the order of `asked`.
 */
export function outstanding<A extends Arrival, L extends Arrival>(
  asked: readonly L[],
  arrivals: readonly A[],
  reaches: (arrival: A, line: L) => 'here' | 'elsewhere' | undefined = () => 'here',
): Quantity[] {
  const left = asked.map(a => a.quantity)
  const order = asked.map((_, i) => i).sort((a, b) => asked[a]!.at - asked[b]!.at || a - b)
  const came = [...arrivals].sort((a, b) => a.at - b.at).map(arrival => ({ arrival, rest: arrival.quantity }))
  for (const where of ['here', 'elsewhere'] as const)
    for (const c of came)
      for (const i of order) {
        if (c.rest <= 0n) break
        if (asked[i]!.at > c.arrival.at || reaches(c.arrival, asked[i]!) !== where) continue
        const x = left[i]! < c.rest ? left[i]! : c.rest
        left[i]! -= x
        c.rest -= x
      }
  return left
}
/** So much at an instant: asked for, or come. */
interface Arrival {
  readonly at: number
  readonly quantity: Quantity
}

/**
 * Whether what was asked for and has not come still counts as coming (rule 12): up to so many days past the day on which it was
 * expected, or asked for where none was said. Later it is owed, but nothing is reckoned with it. Days as `2026-11-27`.
 */
export const stillComing = (expected: string, today: string, patienceDays: number): boolean =>
  dayNumber(today) - dayNumber(expected) <= patienceDays
