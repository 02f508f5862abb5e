import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'

/** Items, their packs and categories are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  item: uid => house.known.item(uid) !== undefined,
  pack: uid => house.rows.packId.get({ uid }) !== undefined,
  category: uid => house.rows.categoryId.get({ uid }) !== undefined,
})
