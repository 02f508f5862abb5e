import { and, asc, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm'
import {
  account,
  balance,
  charge,
  counter,
  event,
  level,
  lot,
  movement,
  person,
  place,
  pool,
  slip,
  slipLine,
  supplier,
  tally,
} from '../db/schema.ts'
import { alias } from 'drizzle-orm/sqlite-core'
import type { Db } from '../db/open.ts'
import { movementColumns } from './statements.ts'

/** The statements that write a slip's paper (head, lines, tallies, charges, new lots, number, event), prepared once like those of the ledger. */
export function preparePaper(db: Db) {
  const p = sql.placeholder
  const own = alias(movement, 'own')
  const head = {
    kind: p('kind'),
    placeId: p('placeId'),
    effectiveAt: p('effectiveAt'),
    savedAt: p('savedAt'),
    taker: p('taker'),
    title: p('title'),
    head: p('head'),
  }
  // An update takes no bare placeholder for a typed column: the expression hands the value through as it is.
  const set = <K extends string>(...names: K[]) =>
    Object.fromEntries(names.map(n => [n, sql`${p(n)}`])) as Record<K, ReturnType<typeof sql>>
  return {
    insertSlip: db
      .insert(slip)
      .values({ uid: p('uid'), state: 'draft', revision: 1, createdAt: p('savedAt'), createdBy: p('by'), ...head })
      .returning()
      .prepare(),
    updateSlip: db
      .update(slip)
      .set({
        ...set('kind', 'placeId', 'effectiveAt', 'savedAt', 'taker', 'title', 'head'),
        revision: sql`${slip.revision} + 1`,
      })
      .where(eq(slip.id, p('id')))
      .returning()
      .prepare(),
    sealSlip: db
      .update(slip)
      .set({
        state: 'booked',
        ...set(
          'number',
          'effectiveAt',
          'bookedAt',
          'bookedBy',
          'title',
          'correctsId',
          'requestHash',
          'firstSeq',
          'lastSeq',
          'chainVersion',
          'canonical',
          'previousHash',
          'hash',
        ),
      })
      .where(eq(slip.id, p('id')))
      .prepare(),
    lines: db
      .select()
      .from(slipLine)
      .where(eq(slipLine.slipId, p('slip')))
      .orderBy(asc(slipLine.position))
      .prepare(),
    insertLine: db
      .insert(slipLine)
      .values({ uid: p('uid'), slipId: p('slip'), position: p('position'), revision: 1, content: p('content') })
      .prepare(),
    updateLine: db
      .update(slipLine)
      .set({ ...set('content', 'position'), revision: sql`${slipLine.revision} + 1` })
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    deleteLine: db
      .delete(slipLine)
      .where(eq(slipLine.id, p('id')))
      .prepare(),
    nextNumber: db
      .insert(counter)
      .values({ kind: p('kind'), next: 2 })
      .onConflictDoUpdate({ target: counter.kind, set: { next: sql`${counter.next} + 1` } })
      .returning({ next: counter.next })
      .prepare(),
    addEvent: db
      .insert(event)
      .values({ at: p('at'), kind: p('kind'), detail: p('detail') })
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
        differenceAccount: p('differenceAccount'),
        reversed: false,
      })
      .prepare(),
    nextTally: db
      .select({ id: sql<number>`coalesce(max(${tally.id}), 0) + 1`.mapWith(Number) })
      .from(tally)
      .prepare(),
    insertAccount: db
      .insert(account)
      .values({ kind: p('kind'), name: p('name'), jobId: p('jobId'), costCentreId: p('costCentreId') })
      .returning({ id: account.id })
      .prepare(),
    firstAccount: db
      .select({ id: account.id })
      .from(account)
      .where(eq(account.kind, p('kind')))
      .orderBy(asc(account.id))
      .limit(1)
      .prepare(),
    insertSupplier: db
      .insert(supplier)
      .values({ id: p('id'), uid: p('uid'), name: p('name'), active: true })
      .prepare(),
    deleteCharges: db
      .delete(charge)
      .where(eq(charge.slipId, p('slip')))
      .prepare(),
    insertCharge: db
      .insert(charge)
      .values({ slipId: p('slip'), position: p('position'), label: p('label'), amount: p('amount'), basis: p('basis') })
      .prepare(),

    insertLot: db
      .insert(lot)
      .values({
        uid: p('uid'),
        itemId: p('item'),
        code: p('code'),
        expiry: p('expiry'),
        parentId: p('parent'),
        receivedAt: p('now'),
        openedAt: p('opened'),
        held: 'usable',
      })
      .returning({ id: lot.id })
      .prepare(),
    supplierUid: db
      .select({ uid: supplier.uid })
      .from(supplier)
      .where(eq(supplier.id, p('id')))
      .prepare(),
    supplierId: db
      .select({ id: supplier.id })
      .from(supplier)
      .where(eq(supplier.uid, p('uid')))
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
    bin: db
      .select({ binId: level.binId })
      .from(level)
      .where(and(eq(level.itemId, p('item')), eq(level.placeId, p('area'))))
      .prepare(),
    lies: db
      .select({ placeId: balance.placeId, quantity: balance.quantity })
      .from(balance)
      .innerJoin(place, eq(place.id, balance.placeId))
      .where(and(eq(balance.itemId, p('item')), sql`${balance.quantity} > 0`, sql`${place.kind} <> 'held'`))
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
    takenBy: db
      .select(movementColumns)
      .from(movement)
      .where(
        and(
          eq(movement.toId, p('account')),
          eq(movement.itemId, p('item')),
          inArray(movement.kind, ['out', 'direct']),
          isNull(movement.reverses),
          isNull(movement.revalues),
        ),
      )
      .prepare(),

    personName: db
      .select({ name: person.name })
      .from(person)
      .where(eq(person.id, p('id')))
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
    putInstead: db
      .select({ seq: movement.seq })
      .from(movement)
      .where(
        and(
          eq(movement.costSeq, p('costSeq')),
          eq(movement.slipId, p('slip')),
          eq(movement.part, p('part')),
          isNull(movement.reverses),
          isNull(movement.revalues),
          sql`${movement.quantity} > 0`,
        ),
      )
      .limit(1)
      .prepare(),
  }
}
export type Paper = ReturnType<typeof preparePaper>
