import { createHash, randomBytes } from 'node:crypto'
import type { IncomingHttpHeaders } from 'node:http'
import { verify } from '@node-rs/argon2'
import { and, desc, eq, lt, ne, sql } from 'drizzle-orm'
import type { Me, SessionView } from '@shelve/contract'
import { code } from '../codes/index.ts'
import { iso, notFound, Refused } from '../ground/index.ts'
import { type Asking, type Caller, callerFor, type KnownAsking, type Grant, mayEverywhere } from '../rights/index.ts'
import type { House } from './house.ts'
import { deviceOf, note } from './audit.ts'
import { badgeKey, hashPassword } from './passwords.ts'
import { meOf } from './settings.ts'
import { person, session } from './tables.ts'

export const COOKIE = 'shelve'

/** Over TLS the cookie bears the prefix that keeps every other site, also one of the same name, from setting it (RFC 6265bis, 4.1.3.2). */
const cookieName = (secure: boolean): string => (secure ? `__Host-${COOKIE}` : COOKIE)

/** The session's token: from the cookie, or for scripts as a bearer. */
export function tokenOf({
  headers,
  secure,
}: {
  readonly headers: IncomingHttpHeaders
  readonly secure: boolean
}): string | undefined {
  const bearer = /^Bearer (\S+)$/.exec(headers.authorization ?? '')?.[1]
  return bearer ?? new RegExp(`(?:^|;\\s*)${cookieName(secure)}=([^;]+)`).exec(headers.cookie ?? '')?.[1]
}

const SESSION = 14 * 86_400_000

let decoy: Promise<string> | undefined

/** One try of somebody to show who they are: no more of them than are allowed by name, and a wrong one is noted. */
async function tried<T>(
  house: House,
  asking: Asking,
  what: 'sign_in_refused' | 'hands_refused',
  name: string,
  attempt: () => Promise<T>,
): Promise<T> {
  try {
    return await house.attempts.of(`${what} ${name || asking.address}`, attempt)
  } catch (e) {
    // What was refused before it was looked at is not noted: a flood of it fills no disk.
    if (e instanceof Refused) house.tell('not let in', { code: e.code, name, address: asking.address })
    if (e instanceof Refused && e.status !== 429)
      house.change('audit', () => note(house, asking, { what, subject: name || 'a badge', after: e.code }))
    throw e
  }
}

/** Signs in; the answer takes as long for a name nobody has. */
export async function signIn(
  house: House,
  name: string,
  password: string,
  asking: Asking,
): Promise<{ token: string; caller: Caller }> {
  const known = name.trim().toLowerCase()
  const row = await tried(house, asking, 'sign_in_refused', known, async () => {
    const row = house.db.select().from(person).where(eq(person.signIn, known)).get()
    const right = await verify(row?.passwordHash ?? (await (decoy ??= hashPassword('nobody'))), password)
    if (!row || !row.active || !right)
      throw new Refused(401, 'wrong_sign_in', 'That name and password do not belong together.')
    return row
  })
  if (row.pinWrong) house.db.update(person).set({ pinWrong: 0 }).where(eq(person.id, row.id)).run()
  return startSession(house, row.id, asking.device)
}

export function startSession(
  house: House,
  personId: number,
  device = '',
  strong = true,
): { token: string; caller: Caller } {
  const token = randomBytes(32).toString('base64url')
  const now = house.now()
  house.db.delete(session).where(lt(session.expiresAt, now)).run()
  house.db
    .insert(session)
    .values({
      tokenHash: tokenHash(token),
      uid: house.uid(),
      device: deviceOf(device),
      personId,
      createdAt: now,
      seenAt: now,
      expiresAt: now + SESSION,
      strong,
    })
    .run()
  return { token, caller: callerOf(house, token)! }
}

const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex')

/** Who a token belongs to; undefined where nobody is signed in with it any more. */
export function callerOf(house: House, token: string | undefined): Caller | undefined {
  if (!token) return undefined
  const row = house.rows.caller.get({ token: tokenHash(token) })
  const now = house.now()
  if (!row || !row.active || row.expiresAt <= now) return undefined
  if (now - row.seenAt > 600_000) void house.errand('seen', row.session, now).catch(() => undefined)
  return callerFor(row, house.rows.grants.all({ person: row.id }) as Grant[])
}

/** What is written beside what somebody asked for: that they were there. */
export const errands = (house: House) => ({
  seen: (uid: string, at: number): void => {
    house.db.update(session).set({ seenAt: at }).where(eq(session.uid, uid)).run()
  },
})

/** Ends a session here: its streams close at once, so that its other windows hear of it too. */
export function endSession(house: House, token: string): void {
  const ended = house.db
    .delete(session)
    .where(eq(session.tokenHash, tokenHash(token)))
    .returning({ uid: session.uid })
    .get()
  if (ended) house.events.endSession(ended.uid)
}

/** Ends a session from afar: its streams close at once, its next request finds nobody signed in. */
export function endSessionByUid(house: House, asking: KnownAsking, uid: string): void {
  const { caller } = asking
  const row = house.db.select().from(session).where(eq(session.uid, uid)).get()
  if (!row || (row.personId !== caller.id && !mayEverywhere(house, caller, 'set_up'))) throw notFound('session')
  house.change('audit', () => {
    house.db.delete(session).where(eq(session.uid, uid)).run()
    if (row.personId !== caller.id)
      note(house, asking, { what: 'signed_out', subject: house.rows.personName.get({ id: row.personId })!.name })
  })
  house.events.endSession(uid)
}

export function endSessionsOf(house: House, personId: number, but = ''): void {
  const theirs = and(eq(session.personId, personId), ne(session.uid, but))
  for (const s of house.db.delete(session).where(theirs).returning({ uid: session.uid }).all())
    house.events.endSession(s.uid)
}

/** Who is signed in where: everybody for a manager, oneself for others. */
export function sessionList(house: House, caller: Caller): SessionView[] {
  const all = mayEverywhere(house, caller, 'set_up')
  return house.db
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

/** Another person takes over a tablet that somebody is signed in on: by badge, or by name and PIN. */
export async function changeHands(
  house: House,
  who: Shown,
  asking: Asking,
): Promise<{ token: string; caller: Caller }> {
  const { id } = await shownToBe(house, who, asking)
  return startSession(house, id, asking.device, false)
}
/** By what somebody shows who they are on a device of somebody else. */
type Shown = { badge: string } | { signIn: string; pin: string }

/** The one whose badge it is. */
function holderOf(house: House, badge: string) {
  const row = house.db
    .select({ id: person.id, name: person.name })
    .from(code)
    .innerJoin(person, eq(person.id, code.personId))
    .where(and(eq(code.normal, badgeKey(badge)), eq(code.kind, 'person'), eq(person.active, true)))
    .get()
  if (!row) throw new Refused(403, 'unknown_badge', 'Nobody has this badge any more. Sign in with your password.')
  return row
}
/** Whose badge it is, for whoever hands something out to them; tried too often it is refused as any other. */
export const badgeHolder = (house: House, badge: string, asking: Asking): Promise<{ name: string }> =>
  tried(house, asking, 'hands_refused', '', () => Promise.resolve({ name: holderOf(house, badge).name }))

/** Somebody who is not signed in here shows who they are, by badge or by name and PIN. */
export const shownToBe = (house: House, who: Shown, asking: Asking): Promise<{ id: number; name: string }> =>
  tried(house, asking, 'hands_refused', 'badge' in who ? '' : who.signIn.trim().toLowerCase(), () => shown(house, who))

async function shown(house: House, who: Shown): Promise<{ id: number; name: string }> {
  if ('badge' in who) return holderOf(house, who.badge)
  const row = house.db
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
      house.db
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
  house.db.update(person).set({ pinWrong: 0 }).where(eq(person.id, row.id)).run()
  return { id: row.id, name: row.name }
}

/** The session's cookie as it is set, for so many seconds. */
export const cookieOf = (token: string, age: number, secure: boolean): string =>
  `${cookieName(secure)}=${token}; Path=/; HttpOnly; SameSite=Strict; Max-Age=${age}${secure ? '; Secure' : ''}`
/** Signs a browser in, and says to it who it is. */
export function begun(
  house: House,
  { token, caller }: { token: string; caller: Caller },
  { setCookie, secure }: { readonly setCookie: (cookie: string) => void; readonly secure: boolean },
): Me {
  setCookie(cookieOf(token, 14 * 86_400, secure))
  return meOf(house, caller)
}
