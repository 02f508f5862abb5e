import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { asc, eq, lt } from 'drizzle-orm'
import type { Me, Person, Settings } from '@shelve/contract'
import { account, grant, organisation, person, session } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import { createPlace, createWasteReason } from '../places/service.ts'

/** Argon2id with the parameters OWASP names as a minimum (19 MiB, 2 passes), from memory. */
const ARGON = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }
export const hashPassword = (password: string): Promise<string> => hash(password, ARGON)
const SESSION = 14 * 86_400_000
const WASTE_REASONS = ['Expired', 'Spoiled', 'Damaged', 'Spilled', 'Contaminated', 'Trimmed', 'Over-made']

/** Who is asking, and what they may do. */
export interface Caller { readonly id: number; readonly uid: string; readonly name: string; readonly signIn: string; readonly role: Person['role']; readonly may: ReadonlySet<string>; readonly expiresAt: number }
const MAY: Record<Person['role'], readonly ('book' | 'reverse' | 'override' | 'set_up' | 'see_value')[]> = {
  manager: ['book', 'reverse', 'override', 'set_up', 'see_value'], keeper: ['book', 'reverse', 'see_value'], buyer: ['see_value'], requester: [], observer: ['see_value'],
}

/** The first run: organisation, fixed accounts, first manager, first area. Only ever on an empty database. */
export async function firstRun(app: App, input: { organisation: Omit<Settings, 'shortRule' | 'method'>; manager: { name: string; signIn: string; password: string }; area: string }): Promise<number> {
  const passwordHash = await hashPassword(input.manager.password)
  return app.setUp(() => {
    if (app.organisation) throw new Refused(409, 'already_set_up', 'There is an organisation already. Sign in instead.')
    app.db.insert(organisation).values({ id: 1, ...input.organisation, shortRule: 'at_or_below', method: 'average', tolerancePercent: 5_000_000n, createdAt: app.now() }).run()
    for (const kind of ['stock', 'price_difference', 'loss', 'gain', 'opening', 'made', 'relabel']) app.db.insert(account).values({ kind, name: kind }).run()
    const id = addPerson(app, { ...input.manager, passwordHash, role: 'manager' })
    createPlace(app, { name: input.area, kind: 'area' })
    for (const name of WASTE_REASONS) createWasteReason(app, name)
    app.forgetOrganisation()
    return id
  })
}

export function addPerson(app: App, p: { name: string; signIn: string; passwordHash: string; role: Person['role'] }): number {
  if (app.db.select().from(person).where(eq(person.signIn, p.signIn)).get()) throw new Refused(409, 'sign_in_taken', `Somebody signs in as ${p.signIn} already.`, [{ field: 'signIn', code: 'sign_in_taken', message: `Somebody signs in as ${p.signIn} already.` }])
  const id = app.db.insert(person).values({ uid: app.uid(), name: p.name.trim(), signIn: p.signIn, passwordHash: p.passwordHash, active: true, createdAt: app.now() }).returning({ id: person.id }).get().id
  app.db.insert(grant).values({ personId: id, role: p.role, placeId: null }).run()
  return id
}

let decoy: Promise<string> | undefined
/** Signs in; the answer takes as long for a name nobody has. */
export async function signIn(app: App, name: string, password: string): Promise<{ token: string; caller: Caller }> {
  const row = app.db.select().from(person).where(eq(person.signIn, name.trim().toLowerCase())).get()
  const right = await verify(row?.passwordHash ?? await (decoy ??= hashPassword('nobody')), password)
  if (!row || !row.active || !right) throw new Refused(401, 'wrong_sign_in', 'That name and password do not belong together.')
  return startSession(app, row.id)
}

export function startSession(app: App, personId: number): { token: string; caller: Caller } {
  const token = randomBytes(32).toString('base64url')
  const now = app.now()
  app.db.delete(session).where(lt(session.expiresAt, now)).run()
  app.db.insert(session).values({ tokenHash: tokenHash(token), personId, createdAt: now, seenAt: now, expiresAt: now + SESSION }).run()
  return { token, caller: callerOf(app, token)! }
}
const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex')

/** Who a token belongs to; undefined where nobody is signed in with it any more. */
export function callerOf(app: App, token: string | undefined): Caller | undefined {
  if (!token) return undefined
  const row = app.ids.caller.get({ token: tokenHash(token) })
  if (!row || !row.active || row.expiresAt <= app.now()) return undefined
  const role = row.role as Person['role']
  return { ...row, role, may: new Set(MAY[role]) }
}
export function endSession(app: App, token: string): void { app.db.delete(session).where(eq(session.tokenHash, tokenHash(token))).run() }

export function settingsOf(app: App): Settings {
  const o = app.organisation!
  return { name: o.name, zone: o.zone, currency: o.currency, decimalMark: o.decimalMark as '.', dateOrder: o.dateOrder as 'dmy', shortRule: o.shortRule as 'below', method: o.method as Settings['method'] }
}
export function changeSettings(app: App, s: Settings): void {
  app.db.update(organisation).set(s).where(eq(organisation.id, 1)).run()
  app.forgetOrganisation()
}
export const meOf = (app: App, c: Caller): Me => ({
  person: { id: c.uid, name: c.name, signIn: c.signIn, role: c.role, active: true }, may: [...c.may] as Me['may'], settings: settingsOf(app), now: iso(app.now()), expiresAt: iso(c.expiresAt),
})
export const peopleList = (app: App): Person[] =>
  app.db.select({ id: person.uid, name: person.name, signIn: person.signIn, active: person.active, role: grant.role }).from(person).innerJoin(grant, eq(grant.personId, person.id)).orderBy(asc(person.name)).all() as Person[]
