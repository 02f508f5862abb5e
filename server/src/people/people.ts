import { randomBytes } from 'node:crypto'
import { and, asc, count, eq, isNull, sql } from 'drizzle-orm'
import type { Person } from '@shelve/contract'
import { code } from '../codes/index.ts'
import { notFound, Refused, stale } from '../ground/index.ts'
import { type Asking, type Caller, type KnownAsking, type Grant, type Role, ROLE_ORDER } from '../rights/index.ts'
import type { House } from './house.ts'
import { note } from './audit.ts'
import { badgeKey, demandPassword, hashPassword, newPassword } from './passwords.ts'
import { endSessionsOf } from './sessions.ts'
import { grant, person } from './tables.ts'

export function addPerson(
  house: House,
  p: { name: string; signIn: string; passwordHash: string; role: Role; place?: string | null },
  asking: Asking,
): number {
  if (house.db.select().from(person).where(eq(person.signIn, p.signIn)).get())
    throw new Refused(409, 'sign_in_taken', `Somebody signs in as ${p.signIn} already.`, [
      { field: 'signIn', code: 'sign_in_taken', message: `Somebody signs in as ${p.signIn} already.` },
    ])
  const id = house.db
    .insert(person)
    .values({
      uid: house.uid(),
      name: p.name.trim(),
      signIn: p.signIn,
      passwordHash: p.passwordHash,
      active: true,
      createdAt: house.now(),
    })
    .returning({ id: person.id })
    .get().id
  setGrants(house, id, [{ role: p.role, place: p.place ?? null }])
  note(house, asking, { what: 'person_added', subject: p.name.trim(), after: rolesOf(house, id) })
  return id
}

function setGrants(house: House, personId: number, grants: readonly { role: Role; place: string | null }[]): void {
  const rows = grants.map(g => ({
    personId,
    role: g.role,
    placeId: g.place === null ? null : house.places.id(g.place),
  }))
  if (rows.some(r => r.placeId === undefined)) throw notFound('place')
  house.db.delete(grant).where(eq(grant.personId, personId)).run()
  house.db
    .insert(grant)
    .values(rows as { personId: number; role: Role; placeId: number | null }[])
    .run()
}

const wantPerson = (house: House, uid: string) => {
  const row = house.db.select().from(person).where(eq(person.uid, uid)).get()
  if (!row) throw notFound('person')
  return row
}

/** Changes who somebody is and what they may do. Somebody must always be left who may set up everything. */
export function changePerson(
  house: House,
  uid: string,
  input: { name: string; active: boolean; grants: readonly { role: Role; place: string | null }[] },
  passwordHash: string | undefined,
  revision: number | undefined,
  asking: KnownAsking,
): void {
  const row = wantPerson(house, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  const roles = rolesOf(house, row.id)
  house.db
    .update(person)
    .set({
      name: input.name.trim(),
      active: input.active,
      revision: row.revision + 1,
      // Who forgot the password may have lost badge and PIN to somebody as well.
      ...(passwordHash ? { passwordHash, pinHash: null, pinWrong: 0 } : {}),
    })
    .where(eq(person.id, row.id))
    .run()
  if (passwordHash) dropBadge(house, row.id)
  setGrants(house, row.id, input.grants)
  const left = house.db
    .select({ n: count() })
    .from(grant)
    .innerJoin(person, eq(person.id, grant.personId))
    .where(and(eq(grant.role, 'manager'), isNull(grant.placeId), eq(person.active, true)))
    .get()!.n
  if (!left)
    throw new Refused(
      409,
      'last_manager',
      'Nobody would be left who may set things up everywhere. Make somebody else a manager first.',
      [{ field: 'grants', code: 'last_manager', message: 'Nobody would be left who may set things up everywhere.' }],
    )
  if (!input.active || passwordHash) endSessionsOf(house, row.id)
  const subject = input.name.trim()
  if (subject !== row.name) note(house, asking, { what: 'person_renamed', subject, before: row.name, after: subject })
  if (input.active !== row.active)
    note(house, asking, { what: input.active ? 'person_in_use' : 'person_out_of_use', subject })
  if (roles !== rolesOf(house, row.id))
    note(house, asking, { what: 'roles', subject, before: roles, after: rolesOf(house, row.id) })
  if (passwordHash) note(house, asking, { what: 'password_reset', subject })
}

/** What somebody may do, in words: `keeper in Galley, requester everywhere`. */
const rolesOf = (house: House, personId: number): string =>
  (house.rows.grants.all({ person: personId }) as Grant[])
    .map(g => `${g.role} ${g.placeId === null ? 'everywhere' : `in ${house.places.name(g.placeId)}`}`)
    .sort()
    .join(', ')

/** Sets or takes away one's own PIN; the password says that it is oneself. */
export async function setPin(house: House, asking: KnownAsking, password: string, pin: string | null): Promise<void> {
  const row = await proved(house, asking.caller, password)
  const pinHash = pin === null ? null : await hashPassword(pin)
  house.change('audit', () => {
    house.db.update(person).set({ pinHash, pinWrong: 0 }).where(eq(person.id, row.id)).run()
    note(house, asking, { what: 'pin', subject: row.name, after: pin === null ? 'none' : 'set' })
  })
}

/** Somebody's row, once the password says that it is they. */
async function proved(house: House, caller: Caller, password: string) {
  const row = house.db.select().from(person).where(eq(person.id, caller.id)).get()!
  await house.attempts.of(`password ${row.signIn}`, () => demandPassword(row.passwordHash, password))
  return row
}

/** One's own password by another; wherever else one is signed in, one is signed out. */
export async function setPassword(house: House, asking: KnownAsking, password: string, fresh: string): Promise<void> {
  const row = await proved(house, asking.caller, password)
  const passwordHash = await newPassword(fresh, row.signIn, 'fresh')
  house.change('audit', () => {
    house.db.update(person).set({ passwordHash, pinWrong: 0 }).where(eq(person.id, row.id)).run()
    note(house, asking, { what: 'password', subject: row.name })
    endSessionsOf(house, row.id, asking.caller.session)
  })
}

function dropBadge(house: House, id: number): void {
  house.db
    .delete(code)
    .where(and(eq(code.kind, 'person'), eq(code.personId, id)))
    .run()
}

/** A badge is a code that nobody can guess, printed once; a new one makes the old one void. */
export function newBadge(house: House, uid: string, asking: KnownAsking): string {
  const row = wantPerson(house, uid)
  note(house, asking, { what: 'badge', subject: row.name })
  const badge = `SVB-${randomBytes(8).toString('hex').toUpperCase()}`
  dropBadge(house, row.id)
  house.db
    .insert(code)
    .values({ normal: badgeKey(badge), scanned: '', kind: 'person', personId: row.id })
    .run()
  return badge
}

export function peopleList(house: House): Person[] {
  const grants = house.db.select().from(grant).all()
  const badges = new Set(
    house.db
      .select({ id: code.personId })
      .from(code)
      .where(eq(code.kind, 'person'))
      .all()
      .map(r => r.id),
  )
  return house.db
    .select()
    .from(person)
    .orderBy(asc(person.name))
    .all()
    .map(p => {
      const own = grants.filter(g => g.personId === p.id) as (Grant & { personId: number })[]
      return {
        id: p.uid,
        revision: p.revision,
        name: p.name,
        signIn: p.signIn,
        active: p.active,
        role: ROLE_ORDER.find(r => own.some(g => g.role === r))!,
        grants: own.map(g => ({ role: g.role, place: g.placeId === null ? null : house.places.row(g.placeId)!.uid })),
        hasPin: p.pinHash !== null,
        hasBadge: badges.has(p.id),
      }
    })
}

/** The name on the wire of somebody by their row. */
export const peopleUid = (house: House, id: number): string =>
  house.db.get<{ uid: string }>(sql`select uid from person where id = ${id}`)!.uid
