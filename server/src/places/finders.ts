import { type Finders, reach } from '../rights/index.ts'
import type { House } from './house.ts'

/** A place is there for whoever may look into it, or into something that lies in it. */
export const finders = (house: House): Finders => ({
  place: (uid, caller) => {
    const id = house.places.id(uid)
    if (id === undefined) return false
    const { within } = reach(house, caller)
    return !within || [...house.places.within(id)].some(p => within.has(p))
  },
})
