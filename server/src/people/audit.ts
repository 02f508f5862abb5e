import { and, desc, eq, lt, or, sql } from 'drizzle-orm'
import type { AuditEntry, AuditKind, AuditQuery } from '@shelve/contract'
import { holds, iso, readCursor, writeCursor } from '../ground/index.ts'
import type { Asking } from '../rights/index.ts'
import type { House } from './house.ts'
import { audit, person } from './tables.ts'

/** What was changed: of whom or what, from what to what, in words or names; never a password, PIN or badge. */
export interface Noted {
  readonly what: AuditKind
  readonly subject: string
  readonly before?: string
  readonly after?: string
}

/** Notes a change of what people may do or how the organisation works, within the running transaction: it is kept with it or not at all. */
export function note(house: House, asking: Asking, of: Noted): void {
  house.db
    .insert(audit)
    .values({
      at: house.now(),
      byId: asking.caller?.id ?? null,
      what: of.what,
      subject: of.subject,
      before: of.before ?? '',
      after: of.after ?? '',
      address: asking.address,
      device: deviceOf(asking.device),
    })
    .run()
}

/** The same for everything that is another than it was, by its name. */
export function noteChanges(
  house: House,
  asking: Asking,
  what: AuditKind,
  before: Readonly<Record<string, unknown>>,
  after: Readonly<Record<string, unknown>>,
): void {
  const said = (v: unknown) => (v === null ? 'none' : String(v))
  for (const [name, now] of Object.entries(after))
    if (said(before[name]) !== said(now))
      note(house, asking, { what, subject: name, before: said(before[name]), after: said(now) })
}

/** What a browser says of the machine it runs on, in a word or two. */
export const deviceOf = (agent: string): string =>
  (/\((?:[^;)]*; )?([^;)]{2,40})/.exec(agent)?.[1] ?? agent).replace(/[^\w .-]/g, '').slice(0, 40)

/** A page of what was noted, the latest first. */
export function auditPage(
  house: House,
  q: AuditQuery,
): { rows: AuditEntry[]; next: string | null; total: number | null } {
  const limit = q.limit ?? 100
  const at = readCursor(q.cursor, ['number'])
  const words = (q.q ?? '').trim()
  const wanted = and(
    q.what ? eq(audit.what, q.what) : undefined,
    words ? or(holds(audit.subject, words), holds(person.name, words)) : undefined,
  )
  const rows = house.db
    .select({ a: audit, by: person.name })
    .from(audit)
    .leftJoin(person, eq(person.id, audit.byId))
    .where(and(wanted, at ? lt(audit.id, at[0]) : undefined))
    .orderBy(desc(audit.id))
    .limit(limit + 1)
    .all()
  const shown = rows.slice(0, limit)
  return {
    rows: shown.map(({ a, by }) => ({
      at: iso(a.at),
      by,
      what: a.what as AuditKind,
      subject: a.subject,
      before: a.before,
      after: a.after,
      address: a.address,
      device: a.device,
    })),
    next: rows.length > limit ? writeCursor([shown.at(-1)!.a.id]) : null,
    total: at
      ? null
      : (house.db
          .select({ n: sql<number>`count(*)`.mapWith(Number) })
          .from(audit)
          .leftJoin(person, eq(person.id, audit.byId))
          .where(wanted)
          .get()?.n ?? 0),
  }
}
