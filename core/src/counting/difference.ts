import type { Quantity } from '../quantity/micro.ts'
import { onHand, workOut, type Working } from '../ledger/working.ts'
import type { Movement } from '../ledger/types.ts'

/** What should lie in a place at an instant (ms, UTC): everything that happened up to and including it. `movements` of one item and lot, in any order. */
export const expectedAt = (movements: readonly Movement[], placeId: number, at: number): Working =>
  onHand(
    movements.filter(m => m.effectiveAt <= at).sort((a, b) => a.effectiveAt - b.effectiveAt || a.seq - b.seq),
    placeId,
  )

/** What a tally says: counted − expected at its minute, in micro-units of the base unit; `at` is that minute. */
export const difference = ({
  counted,
  expected,
  at,
}: {
  readonly counted: Quantity
  readonly expected: Quantity
  readonly at: number
}): Working =>
  workOut('quantity', [
    { label: 'counted', amount: counted, at },
    { label: 'expected', amount: -expected, at },
  ])
