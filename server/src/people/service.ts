import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { and, asc, count, desc, eq, isNull, lt, sql } from 'drizzle-orm'
import { normaliseCode } from '@shelve/core'
import type { Me, Person, SessionView, Settings } from '@shelve/contract'
import { account, code, grant, organisation, person, preference, session } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { notFound, stale } from '../catalogue/service.ts'
import { createPlace, createWasteReason } from '../places/service.ts'
import { callerFor, MAY, mayEverywhere, ROLE_ORDER, type Caller, type Grant, type Role } from './rights.ts'

/** Argon2id with the parameters OWASP names as a minimum (19 MiB, 2 passes), from memory. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }
export const hashPassword = (password: string): Promise<string> => hash(password, ARGON)
const SESSION = 14 * 86_400_000
const WASTE_REASONS = ['Expired', 'Spoiled', 'Damaged', 'Spilled', 'Contaminated', 'Trimmed', 'Over-made']

/** The first run: organisation, fixed accounts, first manager, first area. Only ever on an empty database. */
export async function firstRun(
  app: App,
  input: {
    organisation: Omit<Settings, 'shortRule' | 'method'>
    manager: { name: string; signIn: string; password: string }
    area: string
  },
): Promise<number> {
  const passwordHash = await hashPassword(input.manager.password)
  return app.setUp(() => {
    if (app.organisation) throw new Refused(409, 'already_set_up', 'There is an organisation already. Sign in instead.')
    app.db
      .insert(organisation)
      .values({
        id: 1,
        ...input.organisation,
        shortRule: 'at_or_below',
        method: 'average',
        tolerancePercent: 5_000_000n,
        createdAt: app.now(),
      })
      .run()
    for (const kind of ['stock', 'price_difference', 'loss', 'gain', 'opening', 'made', 'relabel'])
      app.db.insert(account).values({ kind, name: kind }).run()
    const id = addPerson(app, { ...input.manager, passwordHash, role: 'manager' })
    createPlace(app, { name: input.area, kind: 'area' })
    for (const name of WASTE_REASONS) createWasteReason(app, name)
    app.forgetOrganisation()
    return id
  })
}

export function addPerson(
  app: App,
  p: { name: string; signIn: string; passwordHash: string; role: Role; place?: string | null },
): number {
  if (app.db.select().from(person).where(eq(person.signIn, p.signIn)).get())
    throw new Refused(409, 'sign_in_taken', `Somebody signs in as ${p.signIn} already.`, [
      { field: 'signIn', code: 'sign_in_taken', message: `Somebody signs in as ${p.signIn} already.` },
    ])
  const id = app.db
    .insert(person)
    .values({
      uid: app.uid(),
      name: p.name.trim(),
      signIn: p.signIn,
      passwordHash: p.passwordHash,
      active: true,
      createdAt: app.now(),
    })
    .returning({ id: person.id })
    .get().id
  setGrants(app, id, [{ role: p.role, place: p.place ?? null }])
  return id
}

function setGrants(app: App, personId: number, grants: readonly { role: Role; place: string | null }[]): void {
  const rows = grants.map(g => ({ personId, role: g.role, placeId: g.place === null ? null : app.places.id(g.place) }))
  if (rows.some(r => r.placeId === undefined)) throw notFound('place')
  app.db.delete(grant).where(eq(grant.personId, personId)).run()
  app.db
    .insert(grant)
    .values(rows as { personId: number; role: Role; placeId: number | null }[])
    .run()
}

const wantPerson = (app: App, uid: string) => {
  const row = app.db.select().from(person).where(eq(person.uid, uid)).get()
  if (!row) throw notFound('person')
  return row
}

/** Changes who somebody is and what they may do. Somebody must always be left who may set up everything. */
export function changePerson(
  app: App,
  uid: string,
  input: { name: string; active: boolean; grants: readonly { role: Role; place: string | null }[] },
  passwordHash: string | undefined,
  revision: number | undefined,
): void {
  const row = wantPerson(app, uid)
  if (revision !== undefined && revision !== row.revision) throw stale()
  app.db
    .update(person)
    .set({
      name: input.name.trim(),
      active: input.active,
      revision: row.revision + 1,
      ...(passwordHash ? { passwordHash, pinWrong: 0 } : {}),
    })
    .where(eq(person.id, row.id))
    .run()
  setGrants(app, row.id, input.grants)
  const left = app.db
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
  if (!input.active || passwordHash) endSessionsOf(app, row.id)
}

let decoy: Promise<string> | undefined
/** Signs in; the answer takes as long for a name nobody has. */
export async function signIn(
  app: App,
  name: string,
  password: string,
  device = '',
): Promise<{ token: string; caller: Caller }> {
  const row = app.db.select().from(person).where(eq(person.signIn, name.trim().toLowerCase())).get()
  const right = await verify(row?.passwordHash ?? (await (decoy ??= hashPassword('nobody'))), password)
  if (!row || !row.active || !right)
    throw new Refused(401, 'wrong_sign_in', 'That name and password do not belong together.')
  if (row.pinWrong) app.db.update(person).set({ pinWrong: 0 }).where(eq(person.id, row.id)).run()
  return startSession(app, row.id, device)
}

export function startSession(app: App, personId: number, device = ''): { token: string; caller: Caller } {
  const token = randomBytes(32).toString('base64url')
  const now = app.now()
  app.db.delete(session).where(lt(session.expiresAt, now)).run()
  app.db
    .insert(session)
    .values({
      tokenHash: tokenHash(token),
      uid: app.uid(),
      device: deviceOf(device),
      personId,
      createdAt: now,
      seenAt: now,
      expiresAt: now + SESSION,
    })
    .run()
  return { token, caller: callerOf(app, token)! }
}
const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex')
/** What a browser says of the machine it runs on, in a word or two. */
const deviceOf = (agent: string): string =>
  (/\((?:[^;)]*; )?([^;)]{2,40})/.exec(agent)?.[1] ?? agent).replace(/[^\w .-]/g, '').slice(0, 40)

/** Who a token belongs to; undefined where nobody is signed in with it any more. */
export function callerOf(app: App, token: string | undefined): Caller | undefined {
  if (!token) return undefined
  const row = app.ids.caller.get({ token: tokenHash(token) })
  const now = app.now()
  if (!row || !row.active || row.expiresAt <= now) return undefined
  if (now - row.seenAt > 600_000) app.db.update(session).set({ seenAt: now }).where(eq(session.uid, row.session)).run()
  return callerFor(row, app.ids.grants.all({ person: row.id }) as Grant[])
}
export function endSession(app: App, token: string): void {
  app.db
    .delete(session)
    .where(eq(session.tokenHash, tokenHash(token)))
    .run()
}
/** Ends a session from afar: its streams close at once, its next request finds nobody signed in. */
export function endSessionByUid(app: App, caller: Caller, uid: string): void {
  const row = app.db.select().from(session).where(eq(session.uid, uid)).get()
  if (!row || (row.personId !== caller.id && !mayEverywhere(app, caller, 'set_up'))) throw notFound('session')
  app.db.delete(session).where(eq(session.uid, uid)).run()
  app.events.endSession(uid)
}
function endSessionsOf(app: App, personId: number): void {
  for (const s of app.db.delete(session).where(eq(session.personId, personId)).returning({ uid: session.uid }).all())
    app.events.endSession(s.uid)
}
/** Who is signed in where: everybody for a manager, oneself for others. */
export function sessionList(app: App, caller: Caller): SessionView[] {
  const all = mayEverywhere(app, caller, 'set_up')
  return app.db
    .select({ s: session, name: person.name })
    .from(session)
    .innerJoin(person, eq(person.id, session.personId))
    .where(all ? undefined : eq(session.personId, caller.id))
    .orderBy(desc(session.seenAt))
    .all()
    .map(r => ({
      id: r.s.uid,
      person: r.name,
      device: r.s.device,
      since: iso(r.s.createdAt),
      seenAt: iso(r.s.seenAt),
      current: r.s.uid === caller.session,
    }))
}

/** Wrong PINs in a row after which only the password helps. */
const PIN_TRIES = 5
/** Sets or takes away one's own PIN; the password says that it is oneself. */
export async function setPin(app: App, caller: Caller, password: string, pin: string | null): Promise<void> {
  const row = app.db.select().from(person).where(eq(person.id, caller.id)).get()!
  if (!(await verify(row.passwordHash, password)))
    throw new Refused(403, 'wrong_password', 'That is not your password.', [
      { field: 'password', code: 'wrong_password', message: 'That is not your password.' },
    ])
  const pinHash = pin === null ? null : await hashPassword(pin)
  app.db.update(person).set({ pinHash, pinWrong: 0 }).where(eq(person.id, row.id)).run()
}
/** A badge is a code that nobody can guess, printed once; a new one makes the old one void. */
export function newBadge(app: App, uid: string): string {
  const row = wantPerson(app, uid)
  const badge = `SVB-${randomBytes(8).toString('hex').toUpperCase()}`
  app.db
    .delete(code)
    .where(and(eq(code.kind, 'person'), eq(code.personId, row.id)))
    .run()
  app.db
    .insert(code)
    .values({ normal: normaliseCode(badge), kind: 'person', personId: row.id })
    .run()
  return badge
}
/** Another person takes over a tablet that somebody is signed in on: by badge, or by name and PIN. */
export async function changeHands(
  app: App,
  who: { badge: string } | { signIn: string; pin: string },
  device: string,
): Promise<{ token: string; caller: Caller }> {
  if ('badge' in who) {
    const known = app.db
      .select({ id: code.personId })
      .from(code)
      .where(and(eq(code.normal, normaliseCode(who.badge)), eq(code.kind, 'person')))
      .get()
    const row = known?.id
      ? app.db
          .select()
          .from(person)
          .where(and(eq(person.id, known.id), eq(person.active, true)))
          .get()
      : undefined
    if (!row) throw new Refused(403, 'unknown_badge', 'Nobody has this badge any more. Sign in with your password.')
    return startSession(app, row.id, device)
  }
  const row = app.db
    .select()
    .from(person)
    .where(and(eq(person.signIn, who.signIn.trim().toLowerCase()), eq(person.active, true)))
    .get()
  if (row && row.pinWrong >= PIN_TRIES)
    throw new Refused(
      403,
      'pin_locked',
      'That PIN was wrong too often. Sign in with the password; then it works again.',
    )
  const right = await verify(row?.pinHash ?? (await (decoy ??= hashPassword('nobody'))), who.pin)
  if (!row?.pinHash || !right) {
    if (row)
      app.db
        .update(person)
        .set({ pinWrong: sql`${person.pinWrong} + 1` })
        .where(eq(person.id, row.id))
        .run()
    throw new Refused(
      403,
      'wrong_pin',
      row && row.pinWrong + 1 >= PIN_TRIES
        ? 'That PIN was wrong too often. Sign in with the password.'
        : 'That name and PIN do not belong together.',
    )
  }
  app.db.update(person).set({ pinWrong: 0 }).where(eq(person.id, row.id)).run()
  return startSession(app, row.id, device)
}

export function settingsOf(app: App): Settings {
  const o = app.organisation!
  return {
    name: o.name,
    zone: o.zone,
    currency: o.currency,
    decimalMark: o.decimalMark as '.',
    dateOrder: o.dateOrder as 'dmy',
    shortRule: o.shortRule as 'below',
    method: o.method as Settings['method'],
  }
}
export function changeSettings(app: App, s: Settings): void {
  app.db.update(organisation).set(s).where(eq(organisation.id, 1)).run()
  app.forgetOrganisation()
}
/** What the caller may do, and where: everywhere, or in these places and all that lies in them. */
const mayOf = (app: App, c: Caller): Me['may'] =>
  Object.fromEntries(
    [...c.may].map(a => {
      const grants = c.grants.filter(g => MAY[g.role].includes(a))
      return [
        a,
        grants.some(g => g.placeId === null)
          ? ('everywhere' as const)
          : grants.map(g => app.places.row(g.placeId!)!.uid),
      ]
    }),
  )
export const meOf = (app: App, c: Caller): Me => ({
  person: { id: c.uid, name: c.name, signIn: c.signIn, role: c.role },
  may: mayOf(app, c),
  hasPin: app.db.select({ h: person.pinHash }).from(person).where(eq(person.id, c.id)).get()?.h !== null,
  settings: settingsOf(app),
  now: iso(app.now()),
  expiresAt: iso(c.expiresAt),
  events: app.events.last(),
})
export function peopleList(app: App): Person[] {
  const grants = app.db.select().from(grant).all()
  const badges = new Set(
    app.db
      .select({ id: code.personId })
      .from(code)
      .where(eq(code.kind, 'person'))
      .all()
      .map(r => r.id),
  )
  return app.db
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
        grants: own.map(g => ({ role: g.role, place: g.placeId === null ? null : app.places.row(g.placeId)!.uid })),
        hasPin: p.pinHash !== null,
        hasBadge: badges.has(p.id),
      }
    })
}

/** What somebody arranged to their taste, as it was kept; null where nothing was. */
export const preferenceOf = (app: App, personId: number, name: string): string | null =>
  app.db
    .select({ value: preference.value })
    .from(preference)
    .where(and(eq(preference.personId, personId), eq(preference.name, name)))
    .get()?.value ?? null
export function keepPreference(app: App, personId: number, name: string, value: string | null): void {
  if (value === null)
    app.db
      .delete(preference)
      .where(and(eq(preference.personId, personId), eq(preference.name, name)))
      .run()
  else
    app.db
      .insert(preference)
      .values({ personId, name, value })
      .onConflictDoUpdate({ target: [preference.personId, preference.name], set: { value } })
      .run()
}
