import { slipView } from '../papers/index.ts'
import type { Caller, Handlers } from '../rights/index.ts'
import type { House } from './house.ts'
import { take, takeBack } from './taking.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  const shows = (uid: string, caller: Caller) => slipView(house, caller, uid)
  return {
    take: { does: ({ params, body, caller }) => take(house, caller, params.id, body), shows },
    takeBack: { does: ({ params, body, caller }) => takeBack(house, caller, params.id, body.id), shows },
  } satisfies Partial<Handlers>
}
