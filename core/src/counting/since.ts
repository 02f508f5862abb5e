import type { Quantity } from '../quantity/micro.ts'
import type { Fact } from '../ledger/facts.ts'

/**
 * What must lie in a place by its last count: what was counted, and whatever happened since, each line by the minute at which
 * it stands (`standsAt`), however it is dated. Source: rules 36, 37 and 48 of the rules that settle figures: a booked tally is the
 * truth at its minute, also where its month is closed and what puts it right is dated later.
 */
export const sinceCounted = (
  tally: { readonly countedAt: number; readonly counted: Quantity },
  facts: Iterable<Fact>,
  placeId: number,
  standsAt: (fact: Fact) => number,
): Quantity => {
  let lies = tally.counted
  for (const f of facts)
    if (f.kind !== 'difference' && f.quantity > 0n && standsAt(f) > tally.countedAt)
      lies += f.to === placeId ? f.quantity : -f.quantity
  return lies
}
