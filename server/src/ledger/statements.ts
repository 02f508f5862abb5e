import { and, asc, eq, gte, sql } from 'drizzle-orm'
import { type Charge, GIVING_KINDS, type Movement } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { lot } from '../catalogue/index.ts'
import type { Store } from '../ground/index.ts'
import { makingStatements } from './making-statements.ts'
import { readsCells, readsLayers, readsMovements, readsPool, writes } from './reader.ts'
import { balance, charge, layer, MAY_COME_IN, month, movement, pool, tally, tallyReversal, unpriced } from './tables.ts'

/** Who took what moved, in SQL: whom its line names, else whoever its slip says. */
export const takerText = (line: string, taker: string): string =>
  `coalesce(nullif((select json_extract(n.content, '$.direct.person') from slip_line n where n.id = ${line}), ''), ${taker})`
export const takerOf = sql<string>`${sql.raw(takerText('"movement"."line_id"', '"slip"."taker"'))}`

/** A movement as the core calls its columns. */
export const movementColumns = {
  seq: movement.seq,
  costSeq: movement.costSeq,
  part: movement.part,
  ord: movement.ord,
  kind: movement.kind,
  slipId: movement.slipId,
  lineId: movement.lineId,
  itemId: movement.itemId,
  lotId: movement.lotId,
  poolId: movement.poolId,
  from: movement.fromId,
  to: movement.toId,
  quantity: movement.quantity,
  value: movement.value,
  goods: movement.goods,
  charges: movement.charges,
  effectiveAt: movement.effectiveAt,
  bookedAt: movement.bookedAt,
  bookedBy: movement.bookedBy,
  reverses: movement.reverses,
  revalues: movement.revalues,
  refCostSeq: movement.refCostSeq,
  refPart: movement.refPart,
  tallyId: movement.tallyId,
  weight: movement.weight,
  mass: movement.mass,
  invoice: movement.invoice,
  needId: movement.needId,
  jobId: movement.jobId,
}

const POOL = [
  'quantity',
  'value',
  'standard',
  'lastOutValue',
  'lastOutQuantity',
  'lastReceiptValue',
  'lastReceiptQuantity',
  'tainted',
  'id',
] as const
/** The same by their names in the database. */
const MOVEMENT = Object.entries(movementColumns).map(
  ([part, column]) =>
    [part as keyof typeof movementColumns, column.name.replace(/[A-Z]/g, c => `_${c.toLowerCase()}`)] as const,
)

export const tallyColumns = {
  id: tally.id,
  costSeq: tally.costSeq,
  part: tally.part,
  itemId: tally.itemId,
  lotId: tally.lotId,
  placeId: tally.placeId,
  countedAt: tally.countedAt,
  counted: tally.counted,
  differenceAccount: sql<number>`-${tally.id}`.mapWith(Number),
  reversed: sql<boolean>`exists (select 1 from tally_reversal r where r.tally_id = ${tally.id})`.mapWith(Boolean),
}
/** The account that a tally's difference stands on: numbered by its tally, below zero, so that it is known before it is there; no other account has such a number. */
export const differenceAccount = (tallyId: number): number => -tallyId

/** Every statement on the way of a booking, prepared once: building them each time costs more than running them. */
export function prepareLedger({ db, client }: Pick<Store, 'db' | 'client'>) {
  const p = sql.placeholder
  const cell = and(eq(balance.itemId, p('item')), eq(balance.lotId, p('lot')), eq(balance.placeId, p('place')))
  const talliedCell = and(eq(tally.itemId, p('item')), eq(tally.lotId, p('lot')), eq(tally.placeId, p('place')))
  // As the index is written: a bound `current` or a bare lot_id would make SQLite read every pool.
  const currentPool = (lot: unknown) =>
    sql`${pool.itemId} = ${p('item')} and ifnull(${pool.lotId}, 0) = ${lot} and ${pool.current} = 1`
  return {
    ...makingStatements(db),
    lastSeq: db
      .select({ seq: sql<number>`coalesce(max(${movement.seq}), 0)`.mapWith(Number) })
      .from(movement)
      .prepare(),
    accountKind: db
      .select({ kind: account.kind })
      .from(account)
      .where(eq(account.id, p('id')))
      .prepare(),
    lot: db
      .select({ id: lot.id, itemId: lot.itemId, code: lot.code, expiry: lot.expiry, held: lot.held })
      .from(lot)
      .where(eq(lot.id, p('id')))
      .prepare(),
    itemPool: readsPool<{ item: number }>(client, 'item_id = :item and ifnull(lot_id, 0) = 0 and current = 1'),
    lotPool: db
      .select({ id: pool.id, method: pool.method })
      .from(pool)
      .where(currentPool(p('lot')))
      .prepare(),
    pool: readsPool<{ id: number }>(client, 'id = :id'),
    layers: readsLayers(client),
    poolMovements: readsMovements<{ id: number }>(
      client,
      'item_id = (select item_id from pool where id = :id) and pool_id = :id order by seq',
    ),
    unpriced: db
      .select({ costSeq: unpriced.costSeq, part: unpriced.part })
      .from(unpriced)
      .where(eq(unpriced.poolId, p('pool')))
      .prepare(),
    movementsAt: readsMovements<{ costSeq: number }>(client, 'cost_seq = :costSeq order by seq'),
    cellFrom: readsMovements<{ item: number; lot: number; place: number }>(
      client,
      'from_id = :place and item_id = :item and lot_id = :lot',
    ),
    cellTo: readsMovements<{ item: number; lot: number; place: number }>(
      client,
      `to_id = :place and item_id = :item and lot_id = :lot and ${MAY_COME_IN}`,
    ),
    balance: db
      .select({ quantity: balance.quantity, lastEffectiveAt: balance.lastEffectiveAt })
      .from(balance)
      .where(cell)
      .prepare(),
    cells: readsCells(client),
    tallies: db.select(tallyColumns).from(tally).where(talliedCell).prepare(),
    tallyFrom: db
      .select({ id: tally.id })
      .from(tally)
      .where(
        and(
          talliedCell,
          gte(tally.countedAt, p('at')),
          sql`not exists (select 1 from tally_reversal r where r.tally_id = ${tally.id})`,
        ),
      )
      .limit(1)
      .prepare(),
    tally: db
      .select(tallyColumns)
      .from(tally)
      .where(eq(tally.id, p('id')))
      .prepare(),
    ofTally: readsMovements<{ tally: number }>(client, `tally_id = :tally order by seq`),
    backs: readsMovements<{ costSeq: number; part: number }>(
      client,
      `ref_cost_seq = :costSeq and ref_part = :part and kind in (${GIVING_KINDS.map(k => `'${k}'`).join(', ')}) and revalues is null order by seq`,
    ),
    slipOf: db
      .select({ slipId: movement.slipId })
      .from(movement)
      .where(eq(movement.seq, p('seq')))
      .prepare(),
    charges: db
      .select({ amount: charge.amount, basis: charge.basis, label: charge.label })
      .from(charge)
      .where(
        and(
          eq(charge.slipId, p('slip')),
          sql`${charge.byId} = (select c.by_id from charge c join slip s on s.id = c.by_id where c.slip_id = ${p('slip')} order by s.last_seq desc limit 1)`,
        ),
      )
      .orderBy(asc(charge.position))
      .prepare(),
    costSeqsOf: db
      .select({ seq: movement.seq })
      .from(movement)
      .where(and(eq(movement.slipId, p('slip')), eq(movement.seq, movement.costSeq)))
      .prepare(),
    openFrom: db
      .select({ at: sql<number>`coalesce(max(${month.endsAt}), 0)`.mapWith(Number) })
      .from(month)
      .prepare(),

    // What a booking reads and writes is bound by hand: half of what drizzle's own way of it takes (measured).
    lastHash: client.prepare<[], { hash: string }>(
      'select hash from slip where last_seq > -1 order by last_seq desc limit 1',
    ),
    insertMovement: writes<Movement>(
      client,
      `insert into movement (${MOVEMENT.map(([, name]) => name).join(', ')}) values (${MOVEMENT.map(() => '?').join(', ')})`,
      // Lines are named by text in the core.
      MOVEMENT.map(([part]) => (part === 'lineId' ? m => Number(m.lineId) : part)),
    ),
    upsertBalance: writes<{ item: number; lot: number; place: number; quantity: bigint; at: number }>(
      client,
      `insert into balance (item_id, lot_id, place_id, quantity, last_effective_at) values (?, ?, ?, ?, ?)
       on conflict (item_id, lot_id, place_id) do update set quantity = quantity + excluded.quantity,
         last_effective_at = max(last_effective_at, excluded.last_effective_at)`,
      ['item', 'lot', 'place', 'quantity', 'at'],
    ),
    updatePool: writes<Record<(typeof POOL)[number], bigint | number | null>>(
      client,
      `update pool set quantity = ?, value = ?, standard = ?, last_out_value = ?, last_out_quantity = ?,
         last_receipt_value = ?, last_receipt_quantity = ?, tainted = ? where id = ?`,
      POOL,
    ),
    upsertLayer: db
      .insert(layer)
      .values({ poolId: p('pool'), costSeq: p('costSeq'), part: p('part'), quantity: p('quantity'), value: p('value') })
      .onConflictDoUpdate({
        target: [layer.poolId, layer.costSeq, layer.part],
        set: { quantity: sql`excluded.quantity`, value: sql`excluded.value` },
      })
      .prepare(),
    deleteLayer: db
      .delete(layer)
      .where(and(eq(layer.poolId, p('pool')), eq(layer.costSeq, p('costSeq')), eq(layer.part, p('part'))))
      .prepare(),
    insertUnpriced: db
      .insert(unpriced)
      .values({ poolId: p('poolId'), costSeq: p('costSeq'), part: p('part') })
      .prepare(),
    deleteUnpriced: db
      .delete(unpriced)
      .where(and(eq(unpriced.poolId, p('poolId')), eq(unpriced.costSeq, p('costSeq')), eq(unpriced.part, p('part'))))
      .prepare(),
    reverseTally: db
      .insert(tallyReversal)
      .values({ tallyId: p('tally'), slipId: p('slip') })
      .prepare(),
    /** The account of a difference, when something first stands on it. */
    insertDifference: db
      .insert(account)
      .values({ id: p('id'), kind: 'difference', name: p('name') })
      .onConflictDoNothing()
      .prepare(),
  }
}

export type LedgerStatements = ReturnType<typeof prepareLedger>

/** The freight and fees that hold for a delivery by now; a row of nothing says that there is none any more. */
export const chargesHolding = (st: Pick<LedgerStatements, 'charges'>, slip: number) =>
  st.charges
    .all({ slip })
    .filter(c => c.amount > 0n)
    .map(c => ({ ...c, basis: c.basis as Charge['basis'] }))
