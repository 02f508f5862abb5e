import { namedView } from '../places/index.ts'
import type { Handlers } from '../rights/index.ts'
import type { House } from './house.ts'
import { updateSupplier } from './suppliers.ts'
import { supplier } from './tables.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    suppliers: () => ({
      rows: house.db.select().from(supplier).orderBy(supplier.name).all().map(namedView('supplier')),
    }),
    updateSupplier: ({ params, body }) => ({ id: house.setUp(() => updateSupplier(house, params.id, body), 'names') }),
  } satisfies Partial<Handlers>
}
