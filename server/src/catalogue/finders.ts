import { eq } from 'drizzle-orm'
import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'
import { category, pack } from './tables.ts'

/** Items, their packs and categories are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  item: uid => house.known.item(uid) !== undefined,
  pack: uid => house.db.select({ id: pack.id }).from(pack).where(eq(pack.uid, uid)).get() !== undefined,
  category: uid => house.db.select({ id: category.id }).from(category).where(eq(category.uid, uid)).get() !== undefined,
})
