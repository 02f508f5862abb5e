import { named } from '../operation.ts'

const waste = named('/api/waste-reasons', 'waste reasons', 'reason')

/** What one may ask of this room. */
export const operations = {
  wasteReasons: waste.list,
  createWasteReason: waste.create,
  updateWasteReason: waste.update,
} as const
