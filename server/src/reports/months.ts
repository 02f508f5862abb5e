import { desc, eq, sql } from 'drizzle-orm'
import type { MonthToClose, MonthView } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { iso, letIn, Refused } from '../ground/index.ts'
import { month, slip } from '../ledger/index.ts'
import { note, person } from '../people/index.ts'
import type { KnownAsking } from '../rights/index.ts'
import { monthNow, nextMonth, startOfMonth } from './calendar.ts'
import type { House } from './house.ts'

export function closedMonths(house: House): MonthView[] {
  return house.db
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
function nextToClose(house: House): string | undefined {
  const last = house.db.select().from(month).orderBy(desc(month.startsAt)).limit(1).get()
  const first = house.db.get<{ at: bigint | null }>(
    sql`select min(effective_at) as at from slip where state = 'booked'`,
  )!.at
  const name = last ? nextMonth(last.name) : first === null ? undefined : house.today(Number(first)).slice(0, 7)
  return name === undefined || name >= monthNow(house) ? undefined : name
}

/** The same with what still hangs on it; null where there is none. Others are let in between its questions. */
export async function monthToClose(house: House): Promise<MonthToClose | null> {
  await letIn()
  const name = nextToClose(house)
  if (name === undefined) return null
  await letIn()
  const [from, to] = [startOfMonth(house, name), startOfMonth(house, nextMonth(name))]
  const drafts = house.db
    .select({ n: sql<number>`count(*)`.mapWith(Number) })
    .from(slip)
    .where(sql`${slip.state} = 'draft' and coalesce(${slip.effectiveAt}, ${slip.savedAt}) < ${to}`)
    .get()!.n
  const slips = house.db.get<{ n: bigint }>(
    // Nothing is booked before it happens.
    sql`select count(*) as n from slip where booked_at >= ${from} and effective_at >= ${from} and effective_at < ${to}`,
  )!.n
  return { month: name, drafts, slips: Number(slips), value: formatDecimal(house.flows.valueBefore(nextMonth(name))) }
}

/**
 * Closes a month: from now on nothing that is written changes what happened in it; what is written later falls, in value,
 * into the open one. Months are closed in their order, each after it has ended. Its bounds are kept in UTC, with the last
 * line that was written and the head of the chain.
 */
export function closeMonth(house: House, asking: KnownAsking, name: string): void {
  const next = nextToClose(house)
  if (next === undefined)
    throw new Refused(409, 'nothing_to_close', 'There is no month that has ended and is still open.')
  if (next !== name)
    throw new Refused(
      409,
      'close_in_order',
      name >= monthNow(house) ? `${name} has not ended yet.` : `Close ${next} first: months are closed in their order.`,
      [{ field: 'month', code: 'close_in_order', message: `The next one is ${next}.` }],
    )
  house.setUp(
    () => {
      house.db
        .insert(month)
        .values({
          name,
          startsAt: startOfMonth(house, name),
          endsAt: startOfMonth(house, nextMonth(name)),
          lastSeq: house.ledger.lastSeq.get()!.seq,
          headHash: house.ledger.lastHash.get()?.hash ?? '',
          closedAt: house.now(),
          closedBy: asking.caller.id,
        })
        .run()
      note(house, asking, { what: 'month_closed', subject: name })
      // How many were ever closed: without it, a month that is gone from the end of the table would be missed by nobody.
      house.db.run(
        sql`insert into counter (kind, next) values ('month', (select count(*) + 1 from month)) on conflict (kind) do update set next = next + 1`,
      )
    },
    'names',
    'month',
  )
}
