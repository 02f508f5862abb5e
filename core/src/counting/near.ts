import type { Quantity } from '../quantity/micro.ts'
import type { Movement } from '../ledger/types.ts'

/** Whatever moved within so long of a tally (ms) may have been on the shelf, or off it, while it was counted, whatever its minute says. */
export const NEAR = 30 * 60_000
/** So many on each side are told of: where more moves, the next are as near once one of these is turned. */
const NEAREST = 3

/** Something that moved near a tally. Instants in ms, UTC; `delta` in micro-units, positive where it came to the place. */
export interface Near {
  readonly at: number
  /** The slip that did it; of several at one instant the last. */
  readonly slipId: number
  readonly delta: Quantity
  /** Whether it counts as done before the tally: it is part of what is expected. */
  readonly before: boolean
  /** The minute of the tally by which it would be the other way about. */
  readonly turned: number
}

/**
 * What moved in a place within half an hour of a tally at `at`: whoever counted knows whether it was before or after.
 * `movements` of one item and lot, in any order. What was taken back at its own minute moved nothing; what tallies put right is
 * no movement.
 *
 *     10:05     10:28      10:30             10:41
 *      −3        −2       counted             −1
 *     before    before       │              after
 *                ◂───────────┘ turned: 10:28, less a moment
 *                            └──────────────▸ turned: 10:41
 *
 * One minute stands for the tally, so what is turned turns what lies between, too.
 */
export function movedNear(movements: Iterable<Movement>, placeId: number, at: number): Near[] {
  const by = new Map<number, { slipId: number; delta: Quantity }>()
  for (const m of movements) {
    if (m.quantity === 0n || m.kind === 'difference' || Math.abs(m.effectiveAt - at) > NEAR) continue
    const delta = (m.to === placeId ? m.quantity : 0n) - (m.from === placeId ? m.quantity : 0n)
    const known = by.get(m.effectiveAt)
    by.set(m.effectiveAt, { slipId: Math.max(m.slipId, known?.slipId ?? 0), delta: delta + (known?.delta ?? 0n) })
  }
  const all = [...by]
    .filter(([, { delta }]) => delta !== 0n)
    .map(([when, { slipId, delta }]) => {
      const before = when <= at
      return { at: when, slipId, delta, before, turned: before ? when - 1 : when }
    })
    .sort((a, b) => a.at - b.at)
  return [...all.filter(n => n.before).slice(-NEAREST), ...all.filter(n => !n.before).slice(0, NEAREST)]
}
