import { asWasSaid, MOST_LINES, type RefusalView, type SlipContent } from '@shelve/contract'
import { groupBy } from '@shelve/core'
import { chunks } from '../ground/index.ts'
import { bookNow, NotBooked } from '../papers/index.ts'
import type { Caller } from '../rights/index.ts'
import type { House } from './house.ts'

/** What of an item lies somewhere already, in one lot, as it is typed on a slip. */
export interface Lies {
  readonly item: string
  readonly place: string
  readonly typed: string
  /** What one of the base unit cost. */
  readonly price: string
  readonly lot: { readonly code: string; readonly expiry: string | null } | null
}
export interface Opening {
  readonly id: string
  readonly place: string
  readonly lines: number
}

/**
 * Books what lies there already: of each place by a slip of opening stock, of many lines by several. `refused` hears of each
 * line that is not booked; whoever goes on after that undoes the transaction.
 */
export function bookOpenings<L extends Lies>(
  house: House,
  caller: Caller,
  all: readonly L[],
  refused: (of: L, why: RefusalView) => void,
): Opening[] {
  const made: Opening[] = []
  for (const [place, here] of groupBy(all, l => l.place))
    for (const some of chunks(here, MOST_LINES)) {
      const lines = some.map(of => ({ of, id: house.uid() }))
      const content: SlipContent = asWasSaid({
        kind: 'opening',
        place,
        lines: lines.map(({ of, id }) => ({
          id,
          item: of.item,
          typed: of.typed,
          price: of.price,
          ...(of.lot && { lot: { id: null, ...of.lot } }),
        })),
      })
      const id = house.uid()
      try {
        bookNow(house, caller, id, content)
        made.push({ id, place, lines: lines.length })
      } catch (e) {
        if (!(e instanceof NotBooked)) throw e
        for (const why of e.refusals) refused((lines.find(l => l.id === why.line) ?? lines[0]!).of, why)
      }
    }
  return made
}
