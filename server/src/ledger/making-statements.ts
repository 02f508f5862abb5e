import { and, eq, sql } from 'drizzle-orm'
import { account } from '../accounts/index.ts'
import { item, lot, lotState } from '../catalogue/index.ts'
import type { Db } from '../ground/index.ts'
import { pool } from './tables.ts'

/** The statements of what a slip makes beside its movements; see making.ts. */
export function makingStatements(db: Db) {
  const p = sql.placeholder
  const next = (of: typeof account | typeof lot | typeof pool) =>
    db
      .select({ id: sql<number>`coalesce(max(${of.id}), 0) + 1`.mapWith(Number) })
      .from(of)
      .prepare()
  return {
    nextIds: { account: next(account), lot: next(lot), pool: next(pool) },
    userAccount: db
      .select({ id: account.id })
      .from(account)
      .where(
        and(
          // As its index says it: a bound kind would look through every account.
          sql`${account.kind} = 'used'`,
          sql`${account.jobId} is ${p('jobId')}`,
          sql`${account.costCentreId} is ${p('centreId')}`,
        ),
      )
      .prepare(),
    jobOfAccount: db
      .select({ jobId: account.jobId })
      .from(account)
      .where(eq(account.id, p('id')))
      .prepare(),
    insertAccount: db
      .insert(account)
      .values({ id: p('id'), kind: p('kind'), name: p('name'), jobId: p('jobId'), costCentreId: p('centreId') })
      .prepare(),
    insertLot: db
      .insert(lot)
      .values({
        id: p('id'),
        uid: p('uid'),
        itemId: p('itemId'),
        code: p('code'),
        expiry: p('expiry'),
        receivedAt: p('receivedAt'),
        parentId: p('parentId'),
        openedAt: p('openedAt'),
        tare: p('tare'),
        held: sql`${p('held')}`,
      })
      .prepare(),
    holdLot: db
      .insert(lotState)
      .values({ lotId: p('lotId'), held: 'held', since: p('since'), byId: p('byId'), why: p('why') })
      .prepare(),
    insertPool: db
      .insert(pool)
      .values({
        id: p('id'),
        itemId: p('item'),
        lotId: p('lot'),
        method: p('method'),
        firstStandard: p('standard'),
        current: true,
        quantity: 0n,
        value: 0n,
        standard: p('standard'),
        tainted: false,
      })
      .prepare(),
    retirePools: db
      .update(pool)
      .set({ current: false })
      .where(and(eq(pool.itemId, p('item')), eq(pool.current, true)))
      .prepare(),
    stampMethod: db
      .update(item)
      .set({ method: sql`${p('method')}` })
      .where(eq(item.id, p('item')))
      .prepare(),
  }
}
