import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'

/** Suppliers are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  supplier: uid => house.rows.supplierId.get({ uid }) !== undefined,
})
