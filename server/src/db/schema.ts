import { sql } from 'drizzle-orm'
import { check, index, primaryKey, sqliteTable, text, uniqueIndex, type AnySQLiteColumn } from 'drizzle-orm/sqlite-core'
import { ACCOUNT_KINDS, FACT_KINDS, IDENTIFIED_BY, METHODS, SLIP_KINDS } from '@shelve/core'
import { bigCount, bool, instant, int, quantity, rowid, value } from './columns.ts'

/**
 * The database. Rows are joined by small integers; whatever crosses the wire is named by `uid` (a UUID). All tables are
 * STRICT (in the migrations). Places, suppliers and waste reasons *are* accounts and share their number.
 */
const one = (column: AnySQLiteColumn, of: readonly string[]) =>
  sql`${column} in (${sql.raw(of.map(k => `'${k}'`).join(', '))})`

export const organisation = sqliteTable(
  'organisation',
  {
    id: rowid().primaryKey(),
    name: text().notNull(),
    zone: text().notNull(),
    currency: text().notNull(),
    decimalMark: text().notNull(),
    dateOrder: text().notNull(),
    shortRule: text().notNull(),
    method: text().notNull(),
    tolerancePercent: quantity().notNull(),
    createdAt: instant().notNull(),
  },
  t => [
    check('organisation_one', sql`${t.id} = 1`),
    check('organisation_method', one(t.method, METHODS)),
    check('organisation_short', one(t.shortRule, ['at_or_below', 'below'])),
    check('organisation_mark', one(t.decimalMark, ['.', ','])),
    check('organisation_dates', one(t.dateOrder, ['dmy', 'mdy', 'ymd'])),
  ],
)

export const ROLES = ['manager', 'keeper', 'buyer', 'requester', 'observer'] as const
export const person = sqliteTable('person', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  name: text().notNull(),
  signIn: text().notNull().unique(),
  passwordHash: text().notNull(),
  active: bool().notNull(),
  createdAt: instant().notNull(),
  /** For changing hands on a shared tablet; too many wrong ones in a row and only the password helps. */
  pinHash: text(),
  pinWrong: int()
    .notNull()
    .default(sql`0`),
  revision: int()
    .notNull()
    .default(sql`1`),
})
/** What a person may do: a role over a subtree of places (null: everywhere). */
export const grant = sqliteTable(
  'grant',
  {
    personId: int()
      .notNull()
      .references(() => person.id),
    role: text().notNull(),
    placeId: int().references(() => account.id),
  },
  t => [index('grant_person').on(t.personId), check('grant_role', one(t.role, ROLES))],
)
/** What a person arranged to their taste: blocks of a screen, columns, saved filters; as JSON, by name. */
export const preference = sqliteTable(
  'preference',
  {
    personId: int()
      .notNull()
      .references(() => person.id),
    name: text().notNull(),
    value: text().notNull(),
  },
  t => [primaryKey({ columns: [t.personId, t.name] })],
)
export const session = sqliteTable('session', {
  tokenHash: text().primaryKey(),
  uid: text().notNull().default(''),
  device: text().notNull().default(''),
  personId: int()
    .notNull()
    .references(() => person.id),
  createdAt: instant().notNull(),
  seenAt: instant().notNull(),
  expiresAt: instant().notNull(),
})

export const account = sqliteTable(
  'account',
  {
    id: rowid().primaryKey(),
    kind: text().notNull(),
    name: text().notNull(),
    code: text(),
    jobId: int().references((): AnySQLiteColumn => job.id),
    costCentreId: int().references((): AnySQLiteColumn => costCentre.id),
  },
  t => [
    check('account_kind', one(t.kind, ACCOUNT_KINDS)),
    uniqueIndex('account_used')
      .on(t.jobId, t.costCentreId)
      .where(sql`${t.kind} = 'used'`),
    index('account_by_kind').on(t.kind),
  ],
)

export const PLACE_KINDS = ['site', 'area', 'bin', 'held', 'transit'] as const
export const place = sqliteTable(
  'place',
  {
    id: int()
      .primaryKey()
      .references(() => account.id),
    uid: text().notNull().unique(),
    parentId: int().references((): AnySQLiteColumn => place.id),
    kind: text().notNull(),
    name: text().notNull(),
    walk: int().notNull(),
    active: bool().notNull(),
    revision: int().notNull(),
    countEveryDays: int(),
  },
  t => [check('place_kind', one(t.kind, PLACE_KINDS)), uniqueIndex('place_name').on(t.parentId, t.name)],
)
/** Every place with everything it lies in, itself included. */
export const placeWithin = sqliteTable(
  'place_within',
  {
    ancestorId: int()
      .notNull()
      .references(() => place.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
  },
  t => [primaryKey({ columns: [t.ancestorId, t.placeId] }), index('place_within_place').on(t.placeId)],
)

export const supplier = sqliteTable('supplier', {
  id: int()
    .primaryKey()
    .references(() => account.id),
  uid: text().notNull().unique(),
  name: text().notNull().unique(),
  active: bool().notNull(),
})
export const wasteReason = sqliteTable('waste_reason', {
  id: int()
    .primaryKey()
    .references(() => account.id),
  uid: text().notNull().unique(),
  name: text().notNull().unique(),
  active: bool().notNull(),
})
export const costCentre = sqliteTable('cost_centre', {
  id: rowid().primaryKey(),
  uid: text().notNull().unique(),
  code: text().notNull().unique(),
  name: text().notNull(),
  active: bool().notNull(),
})
export const JOB_STATES = ['planned', 'picking', 'in_work', 'done', 'dropped', 'standing'] as const
export const job = sqliteTable(
  'job',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    costCentreId: int().references(() => costCentre.id),
    state: text().notNull(),
  },
  t => [check('job_state', one(t.state, JOB_STATES))],
)

/** A category hands its defaults down; null: from the one above, and at last from the organisation. */
export const category = sqliteTable(
  'category',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    name: text().notNull(),
    parentId: int().references((): AnySQLiteColumn => category.id),
    unit: text(),
    decimals: int(),
    identifiedBy: text(),
    method: text(),
    shelfLifeDays: int(),
    active: bool().notNull(),
    revision: int().notNull(),
  },
  t => [
    uniqueIndex('category_name').on(t.parentId, t.name),
    check('category_identified', sql`${t.identifiedBy} is null or ${one(t.identifiedBy, IDENTIFIED_BY)}`),
    check('category_method', sql`${t.method} is null or ${one(t.method, METHODS)}`),
  ],
)
export const KEPT = ['stock', 'bought_for', 'charge'] as const
export const item = sqliteTable(
  'item',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    code: text().notNull().unique(),
    name: text().notNull(),
    categoryId: int().references(() => category.id),
    unit: text().notNull(),
    decimals: int().notNull(),
    identifiedBy: text().notNull(),
    kept: text().notNull(),
    method: text(),
    shelfLifeDays: int(),
    densityN: bigCount(),
    densityD: bigCount(),
    mass: quantity(),
    note: text().notNull(),
    active: bool().notNull(),
    revision: int().notNull(),
    successorOf: int().references((): AnySQLiteColumn => item.id),
    createdAt: instant().notNull(),
  },
  t => [
    check('item_decimals', sql`${t.decimals} between 0 and 6`),
    check('item_identified', one(t.identifiedBy, IDENTIFIED_BY)),
    check('item_kept', one(t.kept, KEPT)),
    check('item_method', sql`${t.method} is null or ${one(t.method, METHODS)}`),
    index('item_category').on(t.categoryId),
  ],
)
/** A pack as it is at a time: a changed pack is a new row, so that old slips keep what they were typed in. */
export const pack = sqliteTable(
  'pack',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    name: text().notNull(),
    sizeN: bigCount().notNull(),
    sizeD: bigCount().notNull(),
    buying: bool().notNull(),
    issuing: bool().notNull(),
    counting: bool().notNull(),
    retiredAt: instant(),
  },
  t => [index('pack_item').on(t.itemId), check('pack_size', sql`${t.sizeN} > 0 and ${t.sizeD} > 0`)],
)
/** The one registry of codes: what a scan means. */
export const CODE_KINDS = ['item', 'pack', 'lot', 'place', 'person', 'job'] as const
export const code = sqliteTable(
  'code',
  {
    normal: text().primaryKey(),
    kind: text().notNull(),
    itemId: int().references(() => item.id),
    packId: int().references(() => pack.id),
    lotId: int().references((): AnySQLiteColumn => lot.id),
    placeId: int().references(() => place.id),
    personId: int().references(() => person.id),
    jobId: int().references(() => job.id),
  },
  t => [check('code_kind', one(t.kind, CODE_KINDS)), index('code_item').on(t.itemId)],
)
/** Minimum and target of an item in a place, and its usual bin there. */
export const level = sqliteTable(
  'level',
  {
    itemId: int()
      .notNull()
      .references(() => item.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    minimum: quantity(),
    target: quantity(),
    binId: int().references(() => place.id),
  },
  t => [primaryKey({ columns: [t.itemId, t.placeId] }), index('level_place').on(t.placeId)],
)

export const lot = sqliteTable(
  'lot',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    code: text(),
    expiry: text(),
    parentId: int().references((): AnySQLiteColumn => lot.id),
    receivedAt: instant().notNull(),
    openedAt: instant(),
    held: text().notNull(),
  },
  t => [
    uniqueIndex('lot_code').on(t.itemId, sql`ifnull(${t.code}, '')`, sql`ifnull(${t.parentId}, 0)`),
    check('lot_held', one(t.held, ['usable', 'held', 'recalled'])),
  ],
)
export const lotState = sqliteTable(
  'lot_state',
  {
    lotId: int()
      .notNull()
      .references(() => lot.id),
    held: text().notNull(),
    since: instant().notNull(),
    byId: int()
      .notNull()
      .references(() => person.id),
    why: text().notNull(),
  },
  t => [index('lot_state_lot').on(t.lotId)],
)

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
    revision: int().notNull(),
    placeId: int().references(() => place.id),
    effectiveAt: instant(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    savedAt: instant().notNull(),
    bookedAt: instant(),
    bookedBy: int().references(() => person.id),
    taker: text().notNull(),
    title: text().notNull(),
    head: text().notNull(),
    correctsId: int().references((): AnySQLiteColumn => slip.id),
    requestHash: text(),
    firstSeq: int(),
    lastSeq: int(),
    chainVersion: int(),
    canonical: text(),
    previousHash: text(),
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
    index('slip_counts')
      .on(t.placeId, t.effectiveAt)
      .where(sql`${t.kind} = 'count' and ${t.state} = 'booked'`),
  ],
)
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
    revision: int().notNull(),
    content: text().notNull(),
  },
  t => [index('slip_line_slip').on(t.slipId, t.position)],
)
export const charge = sqliteTable(
  'charge',
  {
    slipId: int()
      .notNull()
      .references(() => slip.id),
    position: int().notNull(),
    label: text().notNull(),
    amount: value().notNull(),
    basis: text().notNull(),
  },
  t => [
    primaryKey({ columns: [t.slipId, t.position] }),
    check('charge_basis', one(t.basis, ['value', 'quantity', 'weight'])),
  ],
)

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
    invoice: bool().notNull(),
  },
  t => [
    check('movement_quantity', sql`${t.quantity} >= 0`),
    check('movement_value', sql`${t.value} >= 0 or ${t.quantity} = 0`),
    check('movement_kind', one(t.kind, FACT_KINDS)),
    check('movement_ord', sql`${t.ord} between -1 and 1`),
    index('movement_from').on(t.fromId, t.itemId, t.lotId, t.effectiveAt, t.seq),
    index('movement_to').on(t.toId, t.itemId, t.lotId, t.effectiveAt, t.seq),
    index('movement_pool').on(t.poolId, t.costSeq),
    index('movement_item').on(t.itemId, t.effectiveAt, t.seq),
    index('movement_cost').on(t.costSeq),
    index('movement_slip').on(t.slipId),
    index('movement_line').on(t.lineId),
    index('movement_ref')
      .on(t.refCostSeq, t.refPart)
      .where(sql`${t.refCostSeq} is not null`),
    index('movement_tally')
      .on(t.tallyId)
      .where(sql`${t.tallyId} is not null`),
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
    differenceAccount: int()
      .notNull()
      .references(() => account.id),
    reversed: bool().notNull(),
  },
  t => [index('tally_cell').on(t.itemId, t.lotId, t.placeId, t.countedAt), index('tally_line').on(t.lineId)],
)
/**
 * A sheet on paper for counting an area, as it was printed. `slipId` is the count it was entered on; a sheet that another
 * one of the same area took the place of, or that was thrown away, is void.
 */
export const sheet = sqliteTable(
  'sheet',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    placeId: int()
      .notNull()
      .references(() => place.id),
    blind: bool().notNull(),
    extra: int().notNull(),
    pages: int().notNull(),
    printedAt: instant().notNull(),
    printedBy: int()
      .notNull()
      .references(() => person.id),
    slipId: int().references(() => slip.id),
    voidAt: instant(),
    newerId: int().references((): AnySQLiteColumn => sheet.id),
  },
  t => [index('sheet_place').on(t.placeId), index('sheet_slip').on(t.slipId)],
)
/** Its `uid` becomes that of the line of the count. What was expected stands as it was printed. */
export const sheetLine = sqliteTable(
  'sheet_line',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    sheetId: int()
      .notNull()
      .references(() => sheet.id),
    position: int().notNull(),
    page: int().notNull(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    lotId: int().references(() => lot.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    expected: quantity().notNull(),
  },
  t => [index('sheet_line_sheet').on(t.sheetId, t.position)],
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
/**
 * Sparse checkpoints: what lay where and what the pools were worth when `seq` had been written. A past day is worked out
 * from the one before it, so that asking costs the same however long the ledger is. Can be made anew from the movements.
 */
export const checkpoint = sqliteTable('checkpoint', {
  id: rowid().primaryKey(),
  seq: int().notNull().unique(),
  latestEffectiveAt: instant().notNull(),
  madeAt: instant().notNull(),
})
export const checkpointBalance = sqliteTable(
  'checkpoint_balance',
  {
    checkpointId: int()
      .notNull()
      .references(() => checkpoint.id),
    itemId: int().notNull(),
    lotId: int().notNull(),
    placeId: int().notNull(),
    quantity: quantity().notNull(),
  },
  t => [index('checkpoint_balance_of').on(t.checkpointId)],
)
export const checkpointPool = sqliteTable(
  'checkpoint_pool',
  {
    checkpointId: int()
      .notNull()
      .references(() => checkpoint.id),
    poolId: int().notNull(),
    value: value().notNull(),
  },
  t => [index('checkpoint_pool_of').on(t.checkpointId)],
)
export const counter = sqliteTable('counter', { kind: text().primaryKey(), next: int().notNull() })
/** Letters that go out by mail: queued until a mail server took them. */
export const mail = sqliteTable(
  'mail',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    recipient: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    attachments: text().notNull(),
    restockId: int().references(() => restockSlip.id),
    state: text().notNull(),
    attempts: int().notNull(),
    nextAt: instant().notNull(),
    trouble: text().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    sentAt: instant(),
  },
  t => [
    index('mail_due').on(t.state, t.nextAt),
    index('mail_restock').on(t.restockId),
    check('mail_state', one(t.state, ['queued', 'sent', 'failed'])),
  ],
)
/** A photograph; its file is named by the hash of its content and lies beside the database. */
export const picture = sqliteTable(
  'picture',
  {
    uid: text().primaryKey(),
    hash: text().notNull(),
    type: text().notNull(),
    bytes: int().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
  },
  t => [index('picture_hash').on(t.hash)],
)
/** Account codes of the bookkeeping: of a sort of flow (`refId` 0), or of a category, a place or a waste reason in particular. */
export const accountCode = sqliteTable(
  'account_code',
  { kind: text().notNull(), refId: int().notNull(), code: text().notNull() },
  t => [primaryKey({ columns: [t.kind, t.refId] })],
)
/** Lists that were taken out of Shelve: what, by whom, when; the number stands on the paper and in the name of the file. */
export const exported = sqliteTable('exported', {
  id: rowid().primaryKey(),
  at: instant().notNull(),
  personId: int()
    .notNull()
    .references(() => person.id),
  what: text().notNull(),
})
/** What happened, for open screens to follow; resumed by number. */
export const event = sqliteTable('event', {
  seq: rowid().primaryKey(),
  at: instant().notNull(),
  kind: text().notNull(),
  detail: text().notNull(),
})

/**
 * What is asked for from one source: a supplier, our own shelves (`sourceId` is then the area it comes from), or nobody
 * yet. Being written by one person (`open`), asked for, or dropped; what has come of it is derived, never stored.
 */
export const restockSlip = sqliteTable(
  'restock_slip',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    source: text().notNull(),
    sourceId: int().references(() => account.id),
    state: text().notNull(),
    revision: int().notNull(),
    createdAt: instant().notNull(),
    createdBy: int()
      .notNull()
      .references(() => person.id),
    askedAt: instant(),
    askedBy: int().references(() => person.id),
    askedWhere: text().notNull(),
    theirNumber: text().notNull(),
    expected: text(),
    note: text().notNull(),
    moveId: int().references(() => slip.id),
  },
  t => [
    check('restock_source', one(t.source, ['shelves', 'supplier', 'nobody'])),
    check('restock_state', one(t.state, ['open', 'asked', 'dropped'])),
    index('restock_by_state').on(t.state),
  ],
)
export const restockLine = sqliteTable(
  'restock_line',
  {
    id: rowid().primaryKey(),
    uid: text().notNull().unique(),
    slipId: int()
      .notNull()
      .references(() => restockSlip.id),
    position: int().notNull(),
    itemId: int()
      .notNull()
      .references(() => item.id),
    placeId: int()
      .notNull()
      .references(() => place.id),
    typed: text().notNull(),
    unit: text(),
    quantity: quantity().notNull(),
    why: text().notNull(),
  },
  t => [
    index('restock_line_slip').on(t.slipId),
    index('restock_line_item').on(t.itemId),
    check('restock_line_quantity', sql`${t.quantity} >= 0`),
  ],
)
