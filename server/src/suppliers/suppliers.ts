import type { NamedChange } from '@shelve/contract'
import { eq } from 'drizzle-orm'
import { demandSeen } from '../ground/index.ts'
import { demandFree, renameAccount, want } from '../places/index.ts'
import type { House } from './house.ts'
import { supplier } from './tables.ts'

/** A supplier is renamed, or not offered any more: what was received from it stays, under the name it has now. */
export function updateSupplier(house: House, uid: string, input: NamedChange): string {
  const { id } = want(house.rows.supplierId.get({ uid }), 'supplier')
  const is = house.db.select().from(supplier).where(eq(supplier.id, id)).get()!
  demandSeen(input.seen, { name: is.name, code: null, active: is.active })
  const name = input.name.trim()
  demandFree(house.rows.supplierByName.get({ name }), id, 'name', name, 'supplier')
  house.db
    .update(supplier)
    .set({ name, active: input.active ?? true })
    .where(eq(supplier.id, id))
    .run()
  renameAccount(house, id, name)
  return uid
}
