import { eq, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { grant, person, session } from './tables.ts'

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows(db: Db) {
  const p = sql.placeholder
  return {
    caller: db
      .select({
        id: person.id,
        uid: person.uid,
        name: person.name,
        signIn: person.signIn,
        active: person.active,
        expiresAt: session.expiresAt,
        seenAt: session.seenAt,
        session: session.uid,
        strong: session.strong,
      })
      .from(session)
      .innerJoin(person, eq(person.id, session.personId))
      .where(eq(session.tokenHash, p('token')))
      .prepare(),
    grants: db
      .select({ role: grant.role, placeId: grant.placeId })
      .from(grant)
      .where(eq(grant.personId, p('person')))
      .prepare(),
    personNamed: db
      .select({ id: person.id, name: person.name })
      .from(person)
      .where(eq(person.uid, p('uid')))
      .prepare(),
    personName: db
      .select({ uid: person.uid, name: person.name })
      .from(person)
      .where(eq(person.id, p('id')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
