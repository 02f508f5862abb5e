import { isGoal } from '../places/index.ts'
import { scopeOf, type Handlers } from '../rights/index.ts'
import type { House } from './house.ts'
import { beginArrival, dueOf, lose, transferRows, transferView, usualWay } from './transfers.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    transfers: ({ query, caller }) => ({
      rows: transferRows(house, scopeOf(house, caller, query.place), query.over === 'true'),
    }),
    goals: () => ({
      rows: [...house.places.rows.values()]
        .filter(isGoal)
        .sort((a, b) => house.places.order(a.id) - house.places.order(b.id))
        .map(p => ({ id: p.uid, name: house.places.name(p.id) })),
    }),
    usualWay: ({ query, caller }) => ({ way: usualWay(house, caller, query.from, query.to) }),
    transfer: ({ params, caller }) => transferView(house, caller, params.id),
    beginArrival: ({ params, body, caller }) => {
      house.change('draft', () => beginArrival(house, caller, params.id, body))
      return { id: body.id }
    },
    dueOfTransfer: ({ params, body, caller }) => {
      house.change(
        'transfer',
        () => dueOf(house, caller, params.id, body.due),
        items => ({ items, setUp: 'places' }),
      )
      return transferView(house, caller, params.id)
    },
    loseTransfer: {
      does: async ({ params, body, caller }) => {
        await lose(house, caller, params.id, body)
        return params.id
      },
      shows: (uid: string, caller) => transferView(house, caller, uid),
    },
  } satisfies Partial<Handlers>
}
