import { namedView } from '../places/index.ts'
import type { Handlers } from '../rights/index.ts'
import type { House } from './house.ts'
import { createWasteReason, updateWasteReason } from './reasons.ts'
import { wasteReason } from './tables.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    wasteReasons: () => ({
      rows: house.db.select().from(wasteReason).orderBy(wasteReason.name).all().map(namedView('reason')),
    }),
    updateWasteReason: ({ params, body }) => ({
      id: house.setUp(() => updateWasteReason(house, params.id, body), 'names'),
    }),
    createWasteReason: ({ body }) => ({ id: house.setUp(() => createWasteReason(house, body.name), 'names') }),
  } satisfies Partial<Handlers>
}
