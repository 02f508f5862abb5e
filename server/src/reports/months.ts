import { TZDate } from '@date-fns/tz'
import { desc, eq, sql } from 'drizzle-orm'
import { formatDecimal } from '@shelve/core'
import type { MonthToClose, MonthView } from '@shelve/contract'
import { month, person, slip } from '../db/schema.ts'
import { iso, Refused, type App } from '../app.ts'
import type { Caller } from '../people/rights.ts'

/** First instant of a month (`2026-11`) in the organisation's zone. */
export function startOfMonth(app: App, name: string): number {
  const [y, m] = name.split('-').map(Number) as [number, number]
  return new TZDate(y, m - 1, 1, app.organisation!.zone).getTime()
}
export const nextMonth = (name: string, by = 1): string => {
  const [y, m] = name.split('-').map(Number) as [number, number]
  const n = y * 12 + m - 1 + by
  return `${Math.floor(n / 12)}-${String((n % 12) + 1).padStart(2, '0')}`
}
export const monthNow = (app: App): string => app.today().slice(0, 7)

export function closedMonths(app: App): MonthView[] {
  return app.db
    .select({ m: month, by: person.name })
    .from(month)
    .innerJoin(person, eq(person.id, month.closedBy))
    .orderBy(desc(month.startsAt))
    .all()
    .map(r => ({
      month: r.m.name,
      closedAt: iso(r.m.closedAt),
      by: r.by,
      lastSeq: r.m.lastSeq,
      headHash: r.m.headHash,
    }))
}

/** The month that is to be closed next; undefined where none has ended yet. */
function nextToClose(app: App): string | undefined {
  const last = app.db.select().from(month).orderBy(desc(month.startsAt)).limit(1).get()
  const first = app.db.get<{ at: bigint | null }>(
    sql`select min(effective_at) as at from slip where state = 'booked'`,
  )!.at
  const name = last ? nextMonth(last.name) : first === null ? undefined : app.today(Number(first)).slice(0, 7)
  return name === undefined || name >= monthNow(app) ? undefined : name
}
/** The same with what still hangs on it; null where there is none. */
export function monthToClose(app: App): MonthToClose | null {
  const name = nextToClose(app)
  if (name === undefined) return null
  const [from, to] = [startOfMonth(app, name), startOfMonth(app, nextMonth(name))]
  const drafts = app.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(slip)
    .where(sql`${slip.state} = 'draft' and coalesce(${slip.effectiveAt}, ${slip.savedAt}) < ${to}`)
    .get()!.n
  const slips = app.db.get<{ n: bigint }>(
    sql`select count(*) as n from slip where state = 'booked' and effective_at >= ${from} and effective_at < ${to}`,
  )!.n
  return { month: name, drafts, slips: Number(slips), value: formatDecimal(app.flows.valueBefore(nextMonth(name))) }
}

/**
 * Closes a month: from now on nothing that is written changes what happened in it; what is written later falls, in value,
 * into the open one. Months are closed in their order, each after it has ended. Its bounds are kept in UTC, with the last
 * line that was written and the head of the chain.
 */
export function closeMonth(app: App, caller: Caller, name: string): void {
  const next = nextToClose(app)
  if (next === undefined)
    throw new Refused(409, 'nothing_to_close', 'There is no month that has ended and is still open.')
  if (next !== name)
    throw new Refused(
      409,
      'close_in_order',
      name >= monthNow(app) ? `${name} has not ended yet.` : `Close ${next} first: months are closed in their order.`,
      [{ field: 'month', code: 'close_in_order', message: `The next one is ${next}.` }],
    )
  app.setUp(() => {
    app.db
      .insert(month)
      .values({
        name,
        startsAt: startOfMonth(app, name),
        endsAt: startOfMonth(app, nextMonth(name)),
        lastSeq: app.ledger.lastSeq.get()!.seq,
        headHash: app.ledger.lastHash.get()?.hash ?? '',
        closedAt: app.now(),
        closedBy: caller.id,
      })
      .run()
  }, 'month')
}
