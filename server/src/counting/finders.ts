import { eq } from 'drizzle-orm'
import { type Finders, isIn, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { groupOf } from './groups.ts'
import { sheet } from './tables.ts'

/** Differences, sheets and groups of items, for whoever may look into their place. */
export const finders = (house: House): Finders => ({
  difference: (uid, caller) => {
    const tally = house.rows.tally.get({ uid })
    return tally !== undefined && isIn(reach(house, caller), tally.placeId)
  },
  sheet: (uid, caller) => {
    const row = house.db.select({ placeId: sheet.placeId }).from(sheet).where(eq(sheet.uid, uid)).get()
    return row !== undefined && isIn(reach(house, caller), row.placeId)
  },
  count_group: (uid, caller) => {
    const row = groupOf(house, uid)
    return row !== undefined && isIn(reach(house, caller), row.placeId)
  },
})
