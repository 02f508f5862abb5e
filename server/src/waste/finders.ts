import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'

/** Reasons are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  reason: uid => house.rows.wasteReason.get({ uid }) !== undefined,
})
