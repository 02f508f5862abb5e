import { and, eq, isNull, sql } from 'drizzle-orm'
import {
  account,
  costCentre,
  grant,
  item,
  job,
  lot,
  movement,
  pack,
  person,
  place,
  pool,
  session,
  slip,
  slipLine,
  supplier,
  tally,
  wasteReason,
} from './schema.ts'
import type { Db } from './open.ts'

/** From the UUIDs of the wire to the rows of the database, by statements prepared once. */
export function prepareIds(db: Db) {
  const p = sql.placeholder
  return {
    item: db
      .select()
      .from(item)
      .where(eq(item.uid, p('uid')))
      .prepare(),
    itemById: db
      .select()
      .from(item)
      .where(eq(item.id, p('id')))
      .prepare(),
    packs: db
      .select()
      .from(pack)
      .where(and(eq(pack.itemId, p('item')), isNull(pack.retiredAt)))
      .prepare(),
    place: db
      .select()
      .from(place)
      .where(eq(place.uid, p('uid')))
      .prepare(),
    lot: db
      .select()
      .from(lot)
      .where(eq(lot.uid, p('uid')))
      .prepare(),
    lotById: db
      .select()
      .from(lot)
      .where(eq(lot.id, p('id')))
      .prepare(),
    lotByCode: db
      .select()
      .from(lot)
      .where(and(eq(lot.itemId, p('item')), eq(lot.code, p('code')), isNull(lot.parentId)))
      .prepare(),
    /** The last that happened in pools of an item whose place another has taken. */
    lastCostedBefore: db
      .select({
        item: pool.itemId,
        at: sql<number>`max(${movement.effectiveAt})`.mapWith(Number),
        costSeq: sql<number>`max(${movement.costSeq})`.mapWith(Number),
      })
      .from(pool)
      .innerJoin(movement, eq(movement.poolId, pool.id))
      .where(eq(pool.current, false))
      .groupBy(pool.itemId)
      .prepare(),
    plainLot: db
      .select({ id: lot.id })
      .from(lot)
      .where(and(eq(lot.itemId, p('item')), isNull(lot.code)))
      .prepare(),
    itemLots: db
      .select()
      .from(lot)
      .where(eq(lot.itemId, p('item')))
      .prepare(),
    supplierByName: db
      .select()
      .from(supplier)
      .where(sql`lower(${supplier.name}) = lower(${p('name')})`)
      .prepare(),
    wasteReason: db
      .select()
      .from(wasteReason)
      .where(eq(wasteReason.uid, p('uid')))
      .prepare(),
    costCentre: db
      .select()
      .from(costCentre)
      .where(eq(costCentre.uid, p('uid')))
      .prepare(),
    job: db
      .select()
      .from(job)
      .where(eq(job.uid, p('uid')))
      .prepare(),
    usedAccount: db
      .select({ id: account.id })
      .from(account)
      .where(
        and(
          eq(account.kind, 'used'),
          sql`${account.jobId} is ${p('job')}`,
          sql`${account.costCentreId} is ${p('centre')}`,
        ),
      )
      .prepare(),
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
    account: db
      .select()
      .from(account)
      .where(eq(account.id, p('id')))
      .prepare(),
    slip: db
      .select()
      .from(slip)
      .where(eq(slip.uid, p('uid')))
      .prepare(),
    slipById: db
      .select()
      .from(slip)
      .where(eq(slip.id, p('id')))
      .prepare(),
    line: db
      .select()
      .from(slipLine)
      .where(eq(slipLine.uid, p('uid')))
      .prepare(),
    lineById: db
      .select()
      .from(slipLine)
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    tally: db
      .select()
      .from(tally)
      .where(eq(tally.uid, p('uid')))
      .prepare(),
    latestTally: db
      .select({ at: sql<number | null>`max(${tally.countedAt})`.mapWith(Number) })
      .from(tally)
      .prepare(),
    tallyOfLine: db
      .select()
      .from(tally)
      .where(eq(tally.lineId, p('line')))
      .prepare(),
  }
}
export type Ids = ReturnType<typeof prepareIds>
