import { eq } from 'drizzle-orm'
import { type Finders, mayEverywhere } from '../rights/index.ts'
import type { House } from './house.ts'
import { person, session } from './tables.ts'

/** People are known to each other by name; a session is its owner's, and that of whoever sets up everything. */
export const finders = (house: House): Finders => ({
  person: uid => house.db.select({ id: person.id }).from(person).where(eq(person.uid, uid)).get() !== undefined,
  session: (uid, caller) => {
    const row = house.db.select({ of: session.personId }).from(session).where(eq(session.uid, uid)).get()
    return row !== undefined && (row.of === caller.id || mayEverywhere(house, caller, 'set_up'))
  },
})
