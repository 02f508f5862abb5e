import { wantItem } from '../catalogue/index.ts'
import { demandAt, type Handlers, scopeOf } from '../rights/index.ts'
import type { House } from './house.ts'
import { setLevel } from './levels.ts'
import { lotsOf } from './lots.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    itemLots: ({ params, query, caller }) => ({ rows: lotsOf(house, params.id, scopeOf(house, caller, query.place)) }),
    setLevel: ({ body, caller }) => {
      demandAt(house, caller, 'set_up', house.places.id(body.place) ?? -1)
      house.setUp(
        () => setLevel(house, body),
        () => ({ items: [wantItem(house, body.item).id] }),
        'stock',
      )
      return body
    },
  } satisfies Partial<Handlers>
}
