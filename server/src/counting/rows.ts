import { eq } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { closedArea } from './tables.ts'

/** What is asked with every booking, by a statement prepared once. */
export function prepareRows(db: Db) {
  return {
    closedAreas: db
      .select({ placeId: closedArea.placeId, since: closedArea.since, by: person.name })
      .from(closedArea)
      .innerJoin(person, eq(person.id, closedArea.closedBy))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
