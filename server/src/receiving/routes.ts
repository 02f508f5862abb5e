import { itemView } from '../catalogue/index.ts'
import type { Handlers } from '../rights/index.ts'
import type { House } from './house.ts'
import { createStocked } from './stocked.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    createItem: ({ body, caller }) => {
      let id: number
      try {
        id = house.change(
          'setup',
          () => createStocked(house, caller, body),
          of => ({ setUp: { items: [of] }, items: [of] }),
        )
      } catch (e) {
        // What was read of it meanwhile is not there.
        house.forget()
        throw e
      }
      return itemView(house, house.rows.itemById.get({ id })!)
    },
  } satisfies Partial<Handlers>
}
