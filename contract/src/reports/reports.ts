import { z } from 'zod'
import { Day, Decimal, IdentifiedBy, Instant, Uuid, Value } from '../common.ts'
import { LevelsView } from '../ledger/slips.ts'

export const StockRow = z
  .object({
    item: Uuid,
    code: z.string(),
    name: z.string(),
    category: z.string().nullable(),
    unit: z.string(),
    decimals: z.number().int(),
    place: z.string(),
    levels: LevelsView,
    lots: z.number().int(),
    firstExpiry: Day.nullable(),
    value: Value.optional(),
    cost: Value.nullable().optional(),
  })
  .meta({ id: 'StockRow' })
export type StockRow = z.infer<typeof StockRow>
/** What a stock list can be put in the order of; with `-` the other way round. */
const STOCK_COLUMNS = [
  'name',
  'code',
  'category',
  'onHand',
  'available',
  'state',
  'value',
  'firstExpiry',
  'days',
] as const
export const STOCK_SORT = [...STOCK_COLUMNS, ...STOCK_COLUMNS.map(c => `-${c}` as const)] as const
export const ShortRow = z
  .object({
    item: Uuid,
    code: z.string(),
    name: z.string(),
    unit: z.string(),
    place: z.object({ id: Uuid, name: z.string() }),
    levels: LevelsView,
    elsewhere: z.array(z.object({ id: Uuid, place: z.string(), available: Decimal, spare: Decimal })),
  })
  .meta({ id: 'ShortRow' })
export type ShortRow = z.infer<typeof ShortRow>
/** Who last took some of a lot, and for what. */
export const LastUsed = z.object({
  by: z.string(),
  what: z.string(),
  at: Instant,
  slip: z.object({ id: Uuid, number: z.string() }),
})
/** A lot of which something lies. */
export const LotRow = z
  .object({
    id: Uuid,
    code: z.string(),
    item: z.object({ id: Uuid, code: z.string(), name: z.string(), unit: z.string() }),
    expiry: Day.nullable(),
    state: z.enum(['usable', 'held', 'expired', 'recalled']),
    received: Instant,
    /** Of a container: since when it is open, and who last took some of it. */
    opened: Instant.nullable(),
    lastUsed: LastUsed.nullable(),
    quantity: Decimal,
    value: Value.optional(),
    places: z.array(z.object({ id: Uuid, name: z.string(), quantity: Decimal })),
  })
  .meta({ id: 'LotRow' })
export type LotRow = z.infer<typeof LotRow>

/** Everything about one lot: whence, where, to whom, and how its state changed. */
export const LotPage = z
  .object({
    id: Uuid,
    item: z.object({
      id: Uuid,
      code: z.string(),
      name: z.string(),
      unit: z.string(),
      identifiedBy: IdentifiedBy,
    }),
    code: z.string().nullable(),
    expiry: z.string().nullable(),
    state: z.enum(['usable', 'held', 'recalled', 'expired']),
    received: Instant,
    opened: Instant.nullable(),
    parent: z.object({ id: Uuid, code: z.string().nullable() }).nullable(),
    /** What an opened container weighs empty, in grams. */
    tare: Decimal.nullable(),
    lastUsed: LastUsed.nullable(),
    children: z.array(
      z.object({ id: Uuid, code: z.string().nullable(), expiry: z.string().nullable(), quantity: Decimal }),
    ),
    quantity: Decimal,
    places: z.array(z.object({ place: Uuid, name: z.string(), quantity: Decimal })),
    came: z.array(z.object({ name: z.string(), quantity: Decimal })),
    went: z.array(z.object({ name: z.string(), quantity: Decimal, last: Instant })),
    states: z.array(
      z.object({ held: z.enum(['usable', 'held', 'recalled']), since: Instant, why: z.string(), by: z.string() }),
    ),
    movements: z.array(
      z.object({
        seq: z.number().int(),
        at: Instant,
        kind: z.string(),
        slip: z.object({ id: Uuid, number: z.string() }),
        from: z.string(),
        to: z.string(),
        quantity: Decimal,
        by: z.string(),
        taker: z.string(),
      }),
    ),
    /** How many movements there are before those: a file has them all. */ earlier: z.number().int(),
  })
  .meta({ id: 'LotPage' })
export type LotPage = z.infer<typeof LotPage>
export const MovementRow = z
  .object({
    seq: z.number().int(),
    at: Instant,
    kind: z.string(),
    slip: z.object({ id: Uuid, number: z.string(), kind: z.string() }),
    from: z.string(),
    to: z.string(),
    lot: z.string().nullable(),
    change: Decimal,
    balance: Decimal,
    value: Value.optional(),
    by: z.string(),
    taker: z.string(),
    takenBack: z.boolean(),
  })
  .meta({ id: 'MovementRow' })
export type MovementRow = z.infer<typeof MovementRow>
export const ItemPlace = z.object({
  place: Uuid,
  name: z.string(),
  kind: z.string(),
  levels: LevelsView,
  bin: Uuid.nullable(),
  value: Value.optional(),
})
export const ItemStock = z
  .object({
    onHand: Decimal,
    value: Value.optional(),
    cost: Value.nullable().optional(),
    provisional: z.boolean(),
    places: z.array(ItemPlace),
    usedPerWeek: Decimal,
  })
  .meta({ id: 'ItemStock' })
export type ItemStock = z.infer<typeof ItemStock>
/** The derivation behind a figure: its lines add up to it. */
export const WorkingView = z
  .object({
    title: z.string(),
    of: z.enum(['quantity', 'value', 'unit_cost']),
    unit: z.string(),
    figure: Decimal,
    lines: z.array(
      z.object({
        label: z.string(),
        amount: Decimal,
        at: Instant.nullable(),
        slip: z.object({ id: Uuid, number: z.string() }).nullable(),
        note: z.string(),
      }),
    ),
    note: z.string(),
  })
  .meta({ id: 'Working' })
export type WorkingView = z.infer<typeof WorkingView>
export const PastRow = z
  .object({
    item: Uuid,
    code: z.string(),
    name: z.string(),
    unit: z.string(),
    category: z.string().nullable(),
    quantity: Decimal,
    value: Value.optional(),
  })
  .meta({ id: 'PastRow' })
export type PastRow = z.infer<typeof PastRow>
/** What lay there of a category on a past day: how many items, and what they were worth; null: of no category. */
export const PastCategory = z.object({
  category: z.string().nullable(),
  items: z.number().int(),
  value: Value.optional(),
})
export type PastCategory = z.infer<typeof PastCategory>
export const Verification = z
  .object({
    ok: z.boolean(),
    movements: z.number().int(),
    faults: z.array(z.object({ check: z.string(), where: z.string(), kept: z.string(), right: z.string() })),
    headHash: z.string(),
  })
  .meta({ id: 'Verification' })
/** Backups of the data directory, the latest first; how often one is taken (0: only by hand), and what went wrong the last time. */
export const BackupsView = z
  .object({
    rows: z.array(z.object({ name: z.string(), at: Instant, bytes: z.number().int() })),
    hours: z.number(),
    keep: z.number().int(),
    trouble: z.string().nullable(),
  })
  .meta({ id: 'Backups' })
export type BackupsView = z.infer<typeof BackupsView>

/** Kinds of slip that mostly say the same things, again and again. */
export const OFTEN_KINDS = ['receipt', 'issue', 'bring_back', 'move', 'waste'] as const
/** An item that is often written on a kind of slip, and in which unit it was last (null: its own). */
export const Often = z.object({ item: Uuid, unit: z.string().nullable(), n: z.number().int() }).meta({ id: 'Often' })
export type Often = z.infer<typeof Often>
