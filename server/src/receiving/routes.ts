import { itemView } from '../catalogue/index.ts'
import type { Touches } from '../ground/index.ts'
import type { Handlers } from '../rights/index.ts'
import { bringItems, Looked } from './brought.ts'
import type { House } from './house.ts'
import { createStocked } from './stocked.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  /** Set-up and what is booked with it: all of it or nothing, also of what is kept in memory. */
  const together = <T>(run: () => T, touches: (made: T) => Touches): T => {
    try {
      return house.change('setup', run, touches)
    } catch (e) {
      // What was read of it meanwhile is not there.
      house.forget()
      throw e
    }
  }
  return {
    createItem: ({ body, caller }) => {
      const id = together(
        () => createStocked(house, caller, body),
        of => ({ setUp: { items: [of] }, items: [of] }),
      )
      return itemView(house, house.rows.itemById.get({ id })!)
    },
    bringItems: ({ body, caller }) => {
      try {
        const { items: _, ...taken } = together(
          () => bringItems(house, caller, body),
          ({ items }) => ({ setUp: 'everything', items }),
        )
        return taken
      } catch (e) {
        if (e instanceof Looked) return e.taken
        throw e
      }
    },
  } satisfies Partial<Handlers>
}
