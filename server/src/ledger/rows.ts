import { and, asc, eq, getTableColumns, inArray, isNotNull, isNull, or, sql } from 'drizzle-orm'
import { alias } from 'drizzle-orm/sqlite-core'
import { lot } from '../catalogue/index.ts'
import type { Store } from '../ground/index.ts'
import { writes } from './reader.ts'
import { need, reservation } from './purposes.ts'
import { movementColumns, tallyColumns } from './statements.ts'
import { balance, charge, counter, movement, pool, sealedBytes, slip, slipLine, tally } from './tables.ts'

type SlipRow = typeof slip.$inferSelect
/** What a slip is given when it is sealed, and by what it is found. */
const SEALED = [
  ...(['number', 'effectiveAt', 'bookedAt', 'bookedBy', 'witnessId', 'title', 'correctsId', 'jobId'] as const),
  ...(['requestHash', 'firstSeq', 'lastSeq', 'chainVersion', 'hash', 'id'] as const),
]

/** The rows of this room that others ask for by the thousand, by statements prepared once. */
export function prepareRows({ db, client }: Pick<Store, 'db' | 'client'>) {
  const p = sql.placeholder
  // An update takes no bare placeholder for a typed column: the expression hands the value through as it is.
  const set = <K extends string>(...names: K[]) =>
    Object.fromEntries(names.map(n => [n, sql`${p(n)}`])) as Record<K, ReturnType<typeof sql>>
  const own = alias(movement, 'own')
  const talliedColumns = { ...getTableColumns(tally), reversed: tallyColumns.reversed }
  return {
    /** The last that happened in pools of an item whose place another has taken. */
    lastCostedBefore: db
      .select({
        item: pool.itemId,
        at: sql<number>`max(${movement.effectiveAt})`.mapWith(Number),
        costSeq: sql<number>`max(${movement.costSeq})`.mapWith(Number),
      })
      .from(pool)
      .innerJoin(movement, and(eq(movement.itemId, pool.itemId), eq(movement.poolId, pool.id)))
      .where(eq(pool.current, false))
      .groupBy(pool.itemId)
      .prepare(),
    placesOfLot: db
      .select({ placeId: balance.placeId, quantity: balance.quantity })
      .from(balance)
      .where(and(eq(balance.itemId, p('item')), eq(balance.lotId, p('lot'))))
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
    /** The first of some lines that is there. */
    lineAmong: db
      .select({ uid: slipLine.uid })
      .from(slipLine)
      .where(sql`${slipLine.uid} in (select value from json_each(${p('uids')}))`)
      .limit(1)
      .prepare(),
    lineById: db
      .select()
      .from(slipLine)
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    tally: db
      .select(talliedColumns)
      .from(tally)
      .where(eq(tally.uid, p('uid')))
      .prepare(),
    latestTally: db
      .select({ at: sql<number | null>`max(${tally.countedAt})`.mapWith(Number) })
      .from(tally)
      .prepare(),
    tallyOfLine: db
      .select(talliedColumns)
      .from(tally)
      .where(eq(tally.lineId, p('line')))
      .prepare(),
    talliesOf: db
      .select(talliedColumns)
      .from(tally)
      .where(eq(tally.slipId, p('slip')))
      .prepare(),
    lines: db
      .select()
      .from(slipLine)
      .where(eq(slipLine.slipId, p('slip')))
      .orderBy(asc(slipLine.position), asc(slipLine.uid))
      .prepare(),
    lineCount: db
      .select({ n: sql<number>`count(*)`.mapWith(Number) })
      .from(slipLine)
      .where(eq(slipLine.slipId, p('slip')))
      .prepare(),
    nextSlip: db
      .select({ id: sql<number>`coalesce(max(${slip.id}), 0) + 1`.mapWith(Number) })
      .from(slip)
      .prepare(),
    nextLine: db
      .select({ id: sql<number>`coalesce(max(${slipLine.id}), 0) + 1`.mapWith(Number) })
      .from(slipLine)
      .prepare(),
    insertSlip: writes<SlipRow>(
      client,
      `insert into slip (id, uid, kind, state, revision, version, place_id, effective_at, created_at, created_by, saved_at,
         saved_by, taker, title, head) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        ...(['id', 'uid', 'kind', 'state', 'revision', 'version', 'placeId', 'effectiveAt', 'createdAt'] as const),
        ...(['createdBy', 'savedAt', 'savedBy', 'taker', 'title', 'head'] as const),
      ],
    ),
    /** Saves a draft's head at a version of the paper. */
    saveHead: db
      .update(slip)
      .set({
        ...set('placeId', 'effectiveAt', 'savedAt', 'savedBy', 'taker', 'title', 'head', 'version'),
        revision: sql`${p('version')}`,
      })
      .where(eq(slip.id, p('id')))
      .returning()
      .prepare(),
    /** Lines of a draft were saved at a version of the paper. */
    saveVersion: db
      .update(slip)
      .set(set('version', 'savedAt', 'title'))
      .where(eq(slip.id, p('id')))
      .returning()
      .prepare(),
    sealSlip: writes<Pick<SlipRow, (typeof SEALED)[number]>>(
      client,
      `update slip set state = 'booked', number = ?, effective_at = ?, booked_at = ?, booked_by = ?, witness_id = ?, title = ?,
         corrects_id = ?, job_id = ?, request_hash = ?, first_seq = ?, last_seq = ?, chain_version = ?, hash = ? where id = ?`,
      SEALED,
    ),
    insertSealed: db
      .insert(sealedBytes)
      .values({ slipId: p('slip'), bytes: sql`${p('bytes')}` })
      .prepare(),
    insertLine: writes<{
      id: number
      uid: string
      slip: number
      position: number
      revision: number
      by: number
      content: string
    }>(
      client,
      'insert into slip_line (id, uid, slip_id, position, revision, saved_by, content) values (?, ?, ?, ?, ?, ?, ?)',
      ['id', 'uid', 'slip', 'position', 'revision', 'by', 'content'],
    ),
    updateLine: db
      .update(slipLine)
      .set(set('content', 'position', 'revision', 'savedBy'))
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    deleteLine: db
      .delete(slipLine)
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    deleteLines: db
      .delete(slipLine)
      .where(eq(slipLine.slipId, p('slip')))
      .prepare(),
    deleteSlip: db
      .delete(slip)
      .where(eq(slip.id, p('id')))
      .prepare(),
    nextNumber: db
      .insert(counter)
      .values({ kind: p('kind'), next: 2 })
      .onConflictDoUpdate({ target: counter.kind, set: { next: sql`${counter.next} + 1` } })
      .returning({ next: counter.next })
      .prepare(),
    insertTally: db
      .insert(tally)
      .values({
        id: p('id'),
        uid: p('uid'),
        slipId: p('slipId'),
        lineId: p('lineId'),
        costSeq: p('costSeq'),
        part: p('part'),
        itemId: p('itemId'),
        lotId: p('lotId'),
        placeId: p('placeId'),
        countedAt: p('countedAt'),
        counted: p('counted'),
        expected: p('expected'),
        confirmed: p('confirmed'),
        firstOff: p('firstOff'),
        firstWithin: p('firstWithin'),
      })
      .prepare(),
    nextTally: db
      .select({ id: sql<number>`coalesce(max(${tally.id}), 0) + 1`.mapWith(Number) })
      .from(tally)
      .prepare(),
    insertCharge: db
      .insert(charge)
      .values({
        slipId: p('slip'),
        byId: p('by'),
        position: p('position'),
        label: p('label'),
        amount: p('amount'),
        basis: p('basis'),
      })
      .prepare(),
    wholePool: db
      .select({ method: pool.method })
      .from(pool)
      .where(sql`${pool.itemId} = ${p('item')} and ifnull(${pool.lotId}, 0) = 0 and ${pool.current} = 1`)
      .prepare(),
    insertLotPool: db
      .insert(pool)
      .values({
        itemId: p('item'),
        lotId: p('lot'),
        method: 'lot',
        firstStandard: 0n,
        current: true,
        quantity: 0n,
        value: 0n,
        standard: 0n,
        tainted: false,
      })
      .prepare(),
    writtenByLine: db
      .select(movementColumns)
      .from(movement)
      .where(
        and(
          sql`${movement.slipId} = (select slip_id from slip_line where id = ${p('line')})`,
          eq(movement.lineId, p('line')),
          isNull(movement.reverses),
          isNull(movement.revalues),
        ),
      )
      .prepare(),
    /** Of some items (a JSON list), those of which something is set aside. */
    reservedItems: db
      .selectDistinct({ item: need.itemId })
      .from(reservation)
      .innerJoin(need, eq(need.id, reservation.needId))
      .where(sql`${need.itemId} in (select value from json_each(${p('ids')}))`)
      .prepare(),
    takenBy: db
      .select(movementColumns)
      .from(movement)
      .where(
        and(
          eq(movement.toId, p('account')),
          eq(movement.itemId, p('item')),
          inArray(movement.kind, ['out', 'direct', 'recharge']),
          isNull(movement.reverses),
          isNull(movement.revalues),
        ),
      )
      .prepare(),
    correctedBy: db
      .select({ id: slip.uid, number: slip.number, bookedAt: slip.bookedAt })
      .from(slip)
      .where(and(eq(slip.correctsId, p('id')), eq(slip.state, 'booked')))
      .orderBy(asc(slip.bookedAt))
      .prepare(),
    movementsOf: db
      .select({
        seq: movement.seq,
        kind: movement.kind,
        lineId: movement.lineId,
        from: movement.fromId,
        to: movement.toId,
        quantity: movement.quantity,
        value: movement.value,
        lot: lot.code,
        expiry: lot.expiry,
        itemId: movement.itemId,
        costSeq: movement.costSeq,
        part: movement.part,
        reverses: movement.reverses,
        revalues: movement.revalues,
      })
      .from(movement)
      .innerJoin(lot, eq(lot.id, movement.lotId))
      .where(eq(movement.slipId, p('slip')))
      .orderBy(asc(movement.seq))
      .prepare(),
    takenBackBy: db
      .select({
        of: own.seq,
        quantity: movement.quantity,
        uid: slip.uid,
        number: slip.number,
        slipId: slip.id,
        costSeq: movement.costSeq,
        part: movement.part,
      })
      .from(own)
      .innerJoin(movement, and(isNotNull(movement.reverses), eq(movement.reverses, own.seq)))
      .innerJoin(slip, eq(slip.id, movement.slipId))
      .where(eq(own.slipId, p('slip')))
      .orderBy(asc(movement.seq))
      .prepare(),
    /** What later slips wrote at the places in the order of costing where a slip wrote first. */
    laterAt: db
      .select({
        costSeq: movement.costSeq,
        part: movement.part,
        from: movement.fromId,
        to: movement.toId,
        quantity: movement.quantity,
        value: movement.value,
        slipId: slip.id,
        uid: slip.uid,
        number: slip.number,
        placeId: slip.placeId,
        createdBy: slip.createdBy,
      })
      .from(movement)
      .innerJoin(slip, eq(slip.id, movement.slipId))
      .where(
        and(
          sql`${movement.costSeq} in (select own.cost_seq from movement own where own.slip_id = ${p('slip')} and own.seq = own.cost_seq)`,
          sql`${movement.slipId} <> ${p('slip')}`,
        ),
      )
      .orderBy(asc(movement.seq))
      .prepare(),
    putInstead: db
      .select({ seq: movement.seq })
      .from(movement)
      .where(
        and(
          eq(movement.costSeq, p('costSeq')),
          eq(movement.slipId, p('slip')),
          // A make is replaced whole, by lines of its own.
          or(eq(movement.part, p('part')), inArray(movement.kind, ['event_out', 'event_in'])),
          isNull(movement.reverses),
          isNull(movement.revalues),
          // A count that is put right says so also where it finds just what was expected.
          sql`(${movement.quantity} > 0 or ${movement.kind} = 'difference')`,
        ),
      )
      .limit(1)
      .prepare(),
  }
}
export type Rows = ReturnType<typeof prepareRows>
