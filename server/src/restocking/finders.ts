import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'
import { maySeeRestock, restockOfMail } from './restock.ts'

/** Restock slips and the letters about them, for whoever may look into a place that something is asked for. */
export const finders = (house: House): Finders => ({
  restock: (uid, caller) => maySeeRestock(house, caller, uid),
  mail: (uid, caller) => {
    const of = restockOfMail(house, uid)
    return of !== undefined && maySeeRestock(house, caller, of)
  },
})
