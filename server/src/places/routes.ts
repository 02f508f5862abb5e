import { demandAt, demandEverywhere, type Handlers, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { createPlace, placeViews, updatePlace } from './places.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    places: async ({ caller }) => ({ rows: await placeViews(house, reach(house, caller)) }),
    createPlace: ({ body, caller }) => {
      if (body.parent) demandAt(house, caller, 'set_up', house.places.id(body.parent) ?? -1)
      else demandEverywhere(house, caller, 'set_up')
      return { id: house.places.row(house.setUp(() => createPlace(house, body)))!.uid }
    },
    updatePlace: ({ params, body, revision, caller }) => {
      demandAt(house, caller, 'set_up', house.places.id(params.id) ?? -1)
      house.setUp(() => updatePlace(house, params.id, body, revision))
      return { id: params.id }
    },
  } satisfies Partial<Handlers>
}
