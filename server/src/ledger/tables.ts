import { sql } from 'drizzle-orm'
import {
  type AnySQLiteColumn,
  blob,
  check,
  index,
  primaryKey,
  sqliteTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/sqlite-core'
import { FACT_KINDS, INVOICE_SAYS, LEAVING_KINDS, METHODS, SLIP_KINDS } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { item, lot } from '../catalogue/index.ts'
import { costCentre, job } from '../costcentres/index.ts'
import { bigCount, bool, instant, int, one, quantity, rowid, value } from '../ground/index.ts'
import { person } from '../people/index.ts'
import { place } from '../places/index.ts'
import { invoiceLine, need, orderLine } from './purposes.ts'

/** What costs alike: an item, or one lot of it. Kept in the same transaction as the movements, can be rebuilt from them. */
export const pool = sqliteTable(
  'pool',
  {
    id: rowid().primaryKey(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int().references(() => lot.id),
    method: text().notNull(),
    firstStandard: value().notNull(),
    current: bool().notNull(),
    quantity: quantity().notNull(),
    value: value().notNull(),
    standard: value().notNull(),
    lastOutValue: value(),
    lastOutQuantity: quantity(),
    lastReceiptValue: value(),
    lastReceiptQuantity: quantity(),
    tainted: bool().notNull(),
  },
  t => [
    check('pool_method', one(t.method, METHODS)),
    uniqueIndex('pool_current')
      .on(t.itemId, sql`ifnull(${t.lotId}, 0)`)
      .where(sql`${t.current} = 1`),
  ],
)

export const layer = sqliteTable(
  'layer',
  {
    poolId: int()
      .notNull()
      .references(() => pool.id),
    costSeq: int().notNull(),
    part: int().notNull(),
    quantity: quantity().notNull(),
    value: value().notNull(),
  },
  t => [primaryKey({ columns: [t.poolId, t.costSeq, t.part] })],
)

/** What left a pool for an event (a make, a relabel between pools) at a price that is not known: what came of it is as unsure. */
export const unpriced = sqliteTable(
  'unpriced',
  {
    poolId: int()
      .notNull()
      .references(() => pool.id),
    costSeq: int().notNull(),
    part: int().notNull(),
  },
  t => [primaryKey({ columns: [t.poolId, t.costSeq, t.part] })],
)

export const balance = sqliteTable(
  'balance',
  {
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int()
      .notNull()
      .references(() => lot.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    quantity: quantity().notNull(),
    lastEffectiveAt: instant().notNull(),
  },
  t => [primaryKey({ columns: [t.itemId, t.lotId, t.placeId] }), index('balance_place').on(t.placeId, t.itemId)],
)

/** Any paper that moves stock. A draft has no number, only a revision; number and hash arise when it is booked. */
export const slip = sqliteTable(
  'slip',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    kind: text().notNull(),
    state: text().notNull(),
    number: text().unique(),
    /** Of its head: the version of the paper at which the head was last saved. */
    revision: int().notNull(),
    /** Of the paper: one more with every saving of anything on it. */
    version: int().notNull(),
    placeId: int().references(() => place.id),
    effectiveAt: instant(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    savedAt: instant().notNull(),
    /** Whoever saved its head last. */
    savedBy: int()
      .notNull()
      .references(() => person.id),
    bookedAt: instant(),
    bookedBy: int().references(() => person.id),
    /** Who was there, and has shown that it was they. */
    witnessId: int().references(() => person.id),
    taker: text().notNull(),
    title: text().notNull(),
    head: text().notNull(),
    correctsId: int().references((): AnySQLiteColumn => slip.id),
    /** Once booked: the job that it is for; of a correction, the one that the corrected slip was for. */
    jobId: int().references(() => job.id),
    requestHash: text(),
    firstSeq: int(),
    lastSeq: int(),
    chainVersion: int(),
    hash: text(),
  },
  t => [
    check('slip_kind', one(t.kind, SLIP_KINDS)),
    check('slip_state', one(t.state, ['draft', 'booked'])),
    check('slip_booked', sql`(${t.state} = 'booked') = (${t.hash} is not null)`),
    index('slip_booked_at').on(t.bookedAt, t.lastSeq),
    index('slip_at').on(sql`coalesce(${t.bookedAt}, ${t.savedAt})`, t.id),
    index('slip_last_seq')
      .on(t.lastSeq)
      .where(sql`${t.lastSeq} is not null`),
    index('slip_state_by').on(t.state, t.createdBy),
    index('slip_corrects').on(t.correctsId),
    index('slip_job')
      .on(t.jobId)
      .where(sql`${t.jobId} is not null`),
  ],
)

/**
 * The bytes that a booked slip was hashed over, compressed by the version that stands on the slip (`sealed.ts`). Apart
 * from it, since only verifying reads them.
 */
export const sealedBytes = sqliteTable('sealed_bytes', {
  slipId: int()
    .primaryKey()
    .references(() => slip.id),
  bytes: blob({ mode: 'buffer' }).notNull(),
})

/** A line keeps its UUID from the first draft to the ledger; `content` is what was typed. */
export const slipLine = sqliteTable(
  'slip_line',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    slipId: int()
      .notNull()
      .references(() => slip.id),
    position: int().notNull(),
    /** The version of the paper at which the line was last saved, and who did. */
    revision: int().notNull(),
    savedBy: int()
      .notNull()
      .references(() => person.id),
    content: text().notNull(),
  },
  t => [index('slip_line_slip').on(t.slipId, t.position)],
)

/** Freight and fees of a delivery, as the slip `byId` states them: its own, or a later correction. The latest hold. */
export const charge = sqliteTable(
  'charge',
  {
    slipId: int()
      .notNull()
      .references(() => slip.id),
    byId: int()
      .notNull()
      .references(() => slip.id),
    position: int().notNull(),
    label: text().notNull(),
    amount: value().notNull(),
    basis: text().notNull(),
  },
  t => [
    primaryKey({ columns: [t.slipId, t.byId, t.position] }),
    // Asked whenever a draft is thrown away: whether anything refers to it.
    index('charge_by').on(t.byId),
    check('charge_basis', one(t.basis, ['value', 'quantity', 'weight'])),
  ],
)

/** Whether a movement `m` was taken back whole, as a condition of a statement. */
export const TAKEN_BACK = 'exists (select 1 from movement x where x.reverses = m.seq and x.quantity = m.quantity)'

/**
 * True of every movement into a place; false of what is issued, unless it is taken back. As the index says it: whoever
 * looks for what came into a place must ask in these words.
 */
export const MAY_COME_IN = `(kind not in (${LEAVING_KINDS.map(k => `'${k}'`).join(', ')}) or reverses is not null)`

/** The ledger. Rows are added and never changed: triggers refuse UPDATE and DELETE. */
export const movement = sqliteTable(
  'movement',
  {
    seq: rowid().primaryKey(),
    costSeq: int().notNull(),
    part: int().notNull(),
    ord: int().notNull(),
    kind: text().notNull(),
    slipId: int()
      .notNull()
      .references(() => slip.id),
    lineId: int()
      .notNull()
      .references(() => slipLine.id),
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int()
      .notNull()
      .references(() => lot.id),
    poolId: int()
      .notNull()
      .references(() => pool.id),
    fromId: int()
      .notNull()
      .references(() => account.id),
    toId: int()
      .notNull()
      .references(() => account.id),
    quantity: quantity().notNull(),
    value: value().notNull(),
    goods: value(),
    charges: value().notNull(),
    effectiveAt: instant().notNull(),
    bookedAt: instant().notNull(),
    bookedBy: int()
      .notNull()
      .references(() => person.id),
    reverses: int(),
    revalues: int(),
    refCostSeq: int(),
    refPart: int(),
    tallyId: int().references(() => tally.id),
    weight: bigCount(),
    mass: bigCount(),
    invoice: text(),
    /** What it answers: see purposes.ts. They belong to the fact; of these `needId` and `jobId` are written so far. */
    jobId: int().references(() => job.id),
    costCentreId: int().references(() => costCentre.id),
    needId: int().references(() => need.id),
    orderLineId: int().references(() => orderLine.id),
    invoiceLineId: int().references(() => invoiceLine.id),
  },
  t => [
    check('movement_quantity', sql`${t.quantity} >= 0`),
    check('movement_value', sql`${t.value} >= 0 or ${t.quantity} = 0`),
    check('movement_kind', one(t.kind, FACT_KINDS)),
    check('movement_invoice', one(t.invoice, INVOICE_SAYS)),
    check('movement_ord', sql`${t.ord} between -1 and 1`),
    index('movement_from').on(t.fromId, t.itemId, t.lotId, t.effectiveAt, t.seq),
    // What comes into places: a row of its own for each issue would be written somewhere else in the file, line by line.
    index('movement_into').on(t.toId, t.itemId, t.lotId, t.effectiveAt, t.seq).where(sql.raw(MAY_COME_IN)),
    // A pool's movements are found among those of its item.
    index('movement_item').on(t.itemId, t.effectiveAt, t.seq, t.poolId),
    index('movement_cost').on(t.costSeq),
    index('movement_slip').on(t.slipId),
    index('movement_line').on(t.lineId),
    index('movement_ref')
      .on(t.refCostSeq, t.refPart)
      .where(sql`${t.refCostSeq} is not null`),
    index('movement_tally')
      .on(t.tallyId)
      .where(sql`${t.tallyId} is not null`),
    index('movement_need')
      .on(t.needId)
      .where(sql`${t.needId} is not null`),
    index('movement_job')
      .on(t.jobId)
      .where(sql`${t.jobId} is not null`),
    // What lots are made of, and what is made of them.
    index('movement_event')
      .on(t.lotId, t.costSeq)
      .where(sql`${t.kind} in ('event_out', 'event_in')`),
    index('movement_reverses')
      .on(t.reverses)
      .where(sql`${t.reverses} is not null`),
    index('movement_unpriced')
      .on(t.seq)
      .where(
        sql`${t.goods} is null and ${t.quantity} > 0 and ${t.reverses} is null and ${t.kind} in ('receipt', 'direct')`,
      ),
    index('movement_late')
      .on(t.seq, t.effectiveAt)
      .where(sql`${t.bookedAt} - ${t.effectiveAt} > 86400000`),
  ],
)

/**
 * What was counted of one item, lot and place. Its number is that of its difference, whose account (`differenceAccount`)
 * is made when something first stands on it. Taken back where `tallyReversal` says so.
 */
export const tally = sqliteTable(
  'tally',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    slipId: int()
      .notNull()
      .references(() => slip.id),
    lineId: int()
      .notNull()
      .references(() => slipLine.id),
    costSeq: int().notNull(),
    part: int().notNull(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int()
      .notNull()
      .references(() => lot.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    countedAt: instant().notNull(),
    counted: quantity().notNull(),
    expected: quantity().notNull(),
    confirmed: bool().notNull(),
    /** Counted − expected of what was counted first there, and whether that was near enough; null: as it stands here. */
    firstOff: quantity(),
    firstWithin: bool(),
  },
  t => [
    index('tally_cell').on(t.itemId, t.lotId, t.placeId, t.countedAt),
    index('tally_line').on(t.lineId),
    index('tally_slip').on(t.slipId),
    // What was counted in a time, for how right the books were.
    index('tally_counted').on(t.countedAt),
    // What was put right stands at the place of the first one.
    index('tally_cost').on(t.costSeq),
  ],
)
/** A tally that was taken back, and by which slip. */
export const tallyReversal = sqliteTable(
  'tally_reversal',
  {
    tallyId: int()
      .primaryKey()
      .references(() => tally.id),
    slipId: int()
      .notNull()
      .references(() => slip.id),
  },
  t => [index('tally_reversal_slip').on(t.slipId)],
)

/** Closed months: what was written last in them, and their bounds in UTC, so that they outlive a change of zone. */
export const month = sqliteTable('month', {
  name: text().primaryKey(),
  startsAt: instant().notNull(),
  endsAt: instant().notNull(),
  lastSeq: int().notNull(),
  headHash: text().notNull(),
  closedAt: instant().notNull(),
  closedBy: int()
    .notNull()
    .references(() => person.id),
})

export const counter = sqliteTable('counter', { kind: text().primaryKey(), next: int().notNull() })
