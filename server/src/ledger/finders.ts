import { type Finders, isIn, reach } from '../rights/index.ts'
import type { House } from './house.ts'

/** A lot is there for whoever may look into a place where it lies or lay; one that never lay anywhere, for everybody. */
export const finders = (house: House): Finders => ({
  lot: (uid, caller) => {
    const row = house.rows.lotNamed.get({ uid })
    if (!row) return false
    const seen = reach(house, caller)
    if (!seen.within) return true
    const lay = placesOfLot(house, row.itemId, row.id)
    return !lay.length || lay.some(b => isIn(seen, b.placeId))
  },
})
/** Where something of a lot lies, or lay. */
export const placesOfLot = (house: House, itemId: number, lotId: number): { placeId: number; quantity: bigint }[] =>
  house.rows.placesOfLot.all({ item: itemId, lot: lotId })
