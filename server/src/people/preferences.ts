import { and, eq } from 'drizzle-orm'
import type { House } from './house.ts'
import { preference } from './tables.ts'

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
  else
    house.db
      .insert(preference)
      .values({ personId, name, value })
      .onConflictDoUpdate({ target: [preference.personId, preference.name], set: { value } })
      .run()
}
