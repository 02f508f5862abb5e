import { and, eq } from 'drizzle-orm'
import type { House } from './house.ts'
import { renameAccount } from './renamed.ts'
import { place } from './tables.ts'

/** How the place is called where what was picked for a job lies until it is used. */
export const crateName = (code: string): string => `With ${code}`

/** A job is called otherwise by its code: so is where its things lie. Gives whether anything did. */
export function renameCrates(house: House, from: string, to: string): boolean {
  if (from === to) return false
  const crates = house.db
    .update(place)
    .set({ name: crateName(to) })
    .where(and(eq(place.kind, 'with_job'), eq(place.name, crateName(from))))
    .returning({ id: place.id })
    .all()
  for (const { id } of crates) renameAccount(house, id, crateName(to))
  if (crates.length) house.places.forget()
  return crates.length > 0
}
