import type { House } from './house.ts'

export function wantSupplier(house: House, name: string): number {
  const known = house.rows.supplierByName.get({ name: name.trim() })
  if (known) return known.id
  const { id } = house.rows.insertAccount.get({ kind: 'supplier', name: name.trim(), jobId: null, costCentreId: null })!
  house.rows.insertSupplier.run({ id, uid: house.uid(), name: name.trim() })
  return id
}
