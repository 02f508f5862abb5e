import type { Quantity } from '../quantity/micro.ts'
import type { Fact } from '../ledger/facts.ts'

/**
 * What is open of a difference, from the facts that bear its tally: positive while something is missing, negative while
 * there is too much. What was found, and what later slips do to a tally, count alike; a closing takes the rest.
 */
export const openOf = (
  facts: Iterable<Pick<Fact, 'kind' | 'to' | 'quantity'>>,
  isPlace: (account: number) => boolean,
  lossAccount: number,
): Quantity => {
  let open = 0n
  for (const f of facts) {
    const taken = f.kind === 'close' ? f.to === lossAccount : isPlace(f.to)
    open += taken ? -f.quantity : f.quantity
  }
  return open
}
