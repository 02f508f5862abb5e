import { and, count, eq } from 'drizzle-orm'
import { Refused } from '../ground/index.ts'
import type { House } from './house.ts'
import { preference } from './tables.ts'

/** Screens keep a dozen; more is none of theirs. */
const PREFERENCES = 100

/** What somebody arranged to their taste, as it was kept; null where nothing was. */
export const preferenceOf = (house: House, personId: number, name: string): string | null =>
  house.db
    .select({ value: preference.value })
    .from(preference)
    .where(and(eq(preference.personId, personId), eq(preference.name, name)))
    .get()?.value ?? null

export function keepPreference(house: House, personId: number, name: string, value: string | null): void {
  if (value === null)
    house.db
      .delete(preference)
      .where(and(eq(preference.personId, personId), eq(preference.name, name)))
      .run()
  else {
    const kept = house.db.select({ n: count() }).from(preference).where(eq(preference.personId, personId)).get()!.n
    if (kept >= PREFERENCES && preferenceOf(house, personId, name) === null)
      throw new Refused(
        409,
        'too_many_preferences',
        `More than ${PREFERENCES} arrangements are not kept for one person.`,
      )
    house.db
      .insert(preference)
      .values({ personId, name, value })
      .onConflictDoUpdate({ target: [preference.personId, preference.name], set: { value } })
      .run()
  }
}
