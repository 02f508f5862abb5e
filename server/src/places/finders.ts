import { type Caller, type Finders, isIn, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import type { PlaceRow } from './tree.ts'

/** A place is there for whoever may look into it, or into something that lies in it. */
const leads = (house: House, uid: string, caller: Caller): boolean => {
  const id = house.places.id(uid)
  if (id === undefined) return false
  const seen = reach(house, caller)
  return isIn(seen, id) || house.places.leadingTo(seen).has(id)
}

/** Who keeps one stockroom sends to the others: they know them by name, and see nothing of what lies there. */
export const isGoal = (p: PlaceRow): boolean => p.active && p.kind === 'area'

export const finders = (house: House): Finders => ({
  place: (uid, caller) => leads(house, uid, caller),
  goal: (uid, caller) => {
    const row = house.places.row(house.places.id(uid) ?? -1)
    return row !== undefined && ((isGoal(row) && caller.may.has('book')) || leads(house, uid, caller))
  },
})
