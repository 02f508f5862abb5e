import { named } from '../operation.ts'

const { list, update } = named('/api/suppliers', 'suppliers', 'supplier')

/** What one may ask of this room. A new supplier is made by the first delivery that names it. */
export const operations = {
  suppliers: list,
  updateSupplier: update,
} as const
