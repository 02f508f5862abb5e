import { and, desc, eq, isNull, sql } from 'drizzle-orm'
import type { Db } from '../ground/index.ts'
import { slipLine, tally } from '../ledger/index.ts'
import { person } from '../people/index.ts'
import { closedArea, countDone } from './tables.ts'

/** So many counts back are read at once: mostly the first one stands. */
export const BACK = 8

/** Counts of an area or a group, the latest first; of some only those of which nothing was left. */
const countsDone = (db: Db, ofGroup: boolean, whole: boolean) =>
  db
    .select()
    .from(countDone)
    .where(
      and(
        eq(countDone.placeId, sql.placeholder('place')),
        ofGroup ? eq(countDone.groupId, sql.placeholder('group')) : isNull(countDone.groupId),
        whole ? eq(countDone.open, 0) : undefined,
      ),
    )
    .orderBy(desc(countDone.countedAt), desc(countDone.id))
    .limit(BACK)
    .offset(sql.placeholder('offset'))
    .prepare()

/** What is asked with every booking, and by every screen after one, by statements prepared once. */
export function prepareRows(db: Db) {
  return {
    closedAreas: db
      .select({ placeId: closedArea.placeId, since: closedArea.since, by: person.name })
      .from(closedArea)
      .innerJoin(person, eq(person.id, closedArea.closedBy))
      .prepare(),
    countsDone: {
      any: [countsDone(db, false, false), countsDone(db, true, false)],
      whole: [countsDone(db, false, true), countsDone(db, true, true)],
    } as const,
    countDone: db
      .select()
      .from(countDone)
      .where(eq(countDone.slipId, sql.placeholder('slip')))
      .limit(1)
      .prepare(),
    /** How many tallies a count wrote, and of how many something stands: what was put right does, at the place of the first one. */
    standing: db
      .select({
        n: sql<number>`count(*)`.mapWith(Number),
        standing: sql<number>`coalesce(sum(exists (
          select 1 from tally s where s.cost_seq = ${tally.costSeq} and s.part = ${tally.part}
            and not exists (select 1 from tally_reversal r where r.tally_id = s.id)
        )), 0)`.mapWith(Number),
      })
      .from(slipLine)
      .innerJoin(tally, eq(tally.lineId, slipLine.id))
      .where(eq(slipLine.slipId, sql.placeholder('slip')))
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
