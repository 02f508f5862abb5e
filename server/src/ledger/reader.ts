import type { Database } from 'better-sqlite3'
import { answers, type CostMethod, type FactKind, type InvoiceSays, type Movement, type PoolState } from '@shelve/core'
import type { Ground } from '../ground/index.ts'

type Row = [
  seq: number,
  costSeq: number,
  part: number,
  ord: number,
  kind: string,
  slipId: number,
  lineId: number,
  itemId: number,
  lotId: number,
  poolId: number,
  from: number,
  to: number,
  quantity: number | string,
  value: number | string,
  goods: number | string | null,
  charges: number | string,
  effectiveAt: number,
  bookedAt: number,
  bookedBy: number,
  reverses: number | null,
  revalues: number | null,
  refCostSeq: number | null,
  refPart: number | null,
  tallyId: number | null,
  weight: number | string | null,
  mass: number | string | null,
  invoice: InvoiceSays | null,
  needId: number | null,
  jobId: number | null,
]

/** An amount that JSON says exactly: what a number of JavaScript cannot hold is said as text. */
export const exactly = (column: string) =>
  `case when ${column} between ${Number.MIN_SAFE_INTEGER} and ${Number.MAX_SAFE_INTEGER} then ${column} else cast(${column} as text) end`

// Hand-written, since a replay reads thousands of movements and `verify` a million: a movement crosses from the database
// as one text instead of 29 values, which takes half as long (measured), also where all of them are plain numbers.
const COLUMNS = `json_array(seq, cost_seq, part, ord, kind, slip_id, line_id, item_id, lot_id, pool_id, from_id, to_id,
  ${['quantity', 'value', 'goods', 'charges'].map(exactly).join(', ')},
  effective_at, booked_at, booked_by, reverses, revalues, ref_cost_seq, ref_part, tally_id,
  ${['weight', 'mass'].map(exactly).join(', ')}, invoice, need_id, job_id)`

function movementSaid(text: string): Movement {
  const r = JSON.parse(text) as Row
  return {
    seq: r[0],
    costSeq: r[1],
    part: r[2],
    ord: r[3] as Movement['ord'],
    kind: r[4] as FactKind,
    slipId: r[5],
    lineId: String(r[6]),
    itemId: r[7],
    lotId: r[8],
    poolId: r[9],
    from: r[10],
    to: r[11],
    quantity: BigInt(r[12]),
    value: BigInt(r[13]),
    goods: r[14] === null ? null : BigInt(r[14]),
    charges: BigInt(r[15]),
    effectiveAt: r[16],
    bookedAt: r[17],
    bookedBy: r[18],
    reverses: r[19],
    revalues: r[20],
    refCostSeq: r[21],
    refPart: r[22],
    tallyId: r[23],
    weight: r[24] === null ? null : BigInt(r[24]),
    mass: r[25] === null ? null : BigInt(r[25]),
    invoice: r[26],
    ...(r[27] === null && r[28] === null ? undefined : answers({ needId: r[27], jobId: r[28] })),
  } as Movement
}

/** Reads the movements that fit a condition of SQL (`pool_id = :id order by seq`), prepared once. */
export function readsMovements<P extends Record<string, number>>(
  client: Database,
  condition: string,
): (parameters: P) => Movement[] {
  const statement = client.prepare<[P], string>(`select ${COLUMNS} from movement where ${condition}`).pluck()
  return parameters => statement.all(parameters).map(movementSaid)
}

/** What lies of an item: each lot in each place, with the lot as it decides which goes first. */
export interface LotCell {
  readonly lotId: number
  readonly placeId: number
  readonly quantity: bigint
  readonly lastEffectiveAt: number
  readonly lot: LotRow
}

export interface LotRow {
  readonly id: number
  readonly itemId: number
  readonly uid: string
  readonly code: string | null
  readonly expiry: string | null
  readonly held: 'usable' | 'held' | 'recalled'
  readonly receivedAt: number
  readonly openedAt: number | null
  /** Of a container: the lot that it was opened of. */
  readonly parentId: number | null
}

type CellRow = [
  lotId: number,
  placeId: number,
  quantity: string,
  lastEffectiveAt: number,
  uid: string,
  code: string | null,
  expiry: string | null,
  held: string,
  receivedAt: number,
  openedAt: number | null,
  parentId: number | null,
]

export function readsCells(client: Database): (item: number) => LotCell[] {
  const statement = client
    .prepare(
      `select b.lot_id, b.place_id, cast(b.quantity as text), b.last_effective_at,
         l.uid, l.code, l.expiry, l.held, l.received_at, l.opened_at, l.parent_id
       from balance b join lot l on l.id = b.lot_id
       where b.item_id = ? and b.quantity <> 0 order by b.lot_id, b.place_id`,
    )
    .safeIntegers(false)
    .raw()
  return item =>
    (statement.all(item) as CellRow[]).map(r => ({
      lotId: r[0],
      placeId: r[1],
      quantity: BigInt(r[2]),
      lastEffectiveAt: r[3],
      lot: {
        id: r[0],
        itemId: item,
        uid: r[4],
        code: r[5],
        expiry: r[6],
        held: r[7] as LotRow['held'],
        receivedAt: r[8],
        openedAt: r[9],
        parentId: r[10],
      },
    }))
}

export interface PoolRow {
  readonly id: number
  readonly method: CostMethod
  readonly firstStandard: bigint
  readonly quantity: bigint
  readonly value: bigint
  readonly standard: bigint
  readonly lastOutValue: bigint | null
  readonly lastOutQuantity: bigint | null
  readonly lastReceiptValue: bigint | null
  readonly lastReceiptQuantity: bigint | null
  readonly tainted: boolean
}

type PoolFields = [
  id: number,
  method: string,
  firstStandard: string,
  quantity: string,
  value: string,
  standard: string,
  lastOutValue: string | null,
  lastOutQuantity: string | null,
  lastReceiptValue: string | null,
  lastReceiptQuantity: string | null,
  tainted: number,
]

const big = (x: string | null): bigint | null => (x === null ? null : BigInt(x))

const POOL = [
  'first_standard',
  'quantity',
  'value',
  'standard',
  'last_out_value',
  'last_out_quantity',
  'last_receipt_value',
  'last_receipt_quantity',
]
  .map(c => `cast(${c} as text)`)
  .join(', ')

/** Reads the cost pool that fits a condition of SQL. */
export function readsPool<P extends Record<string, number>>(
  client: Database,
  condition: string,
): (parameters: P) => PoolRow | undefined {
  const statement = client
    .prepare(`select id, method, ${POOL}, tainted from pool where ${condition}`)
    .safeIntegers(false)
    .raw()
  return parameters => {
    const r = statement.get(parameters) as PoolFields | undefined
    return (
      r && {
        id: r[0],
        method: r[1] as CostMethod,
        firstStandard: BigInt(r[2]),
        quantity: BigInt(r[3]),
        value: BigInt(r[4]),
        standard: BigInt(r[5]),
        lastOutValue: big(r[6]),
        lastOutQuantity: big(r[7]),
        lastReceiptValue: big(r[8]),
        lastReceiptQuantity: big(r[9]),
        tainted: r[10] === 1,
      }
    )
  }
}

/** The layers of a pool, oldest first. */
export function readsLayers(client: Database): (pool: number) => PoolState['layers'] {
  const statement = client
    .prepare(
      'select cost_seq, part, cast(quantity as text), cast(value as text) from layer where pool_id = ? order by cost_seq, part',
    )
    .safeIntegers(false)
    .raw()
  return pool =>
    (statement.all(pool) as [number, number, string, string][]).map(r => ({
      costSeq: r[0],
      part: r[1],
      quantity: BigInt(r[2]),
      value: BigInt(r[3]),
    }))
}

/**
 * A statement that writes, prepared once: its parameters are these parts of what it is run with, in their order. What is not
 * said is null.
 */
export function writes<T extends object>(
  client: Database,
  statement: string,
  parts: readonly (keyof T | ((of: T) => unknown))[],
): { readonly run: (of: T) => void } {
  const prepared = client.prepare(statement)
  // One list for all of them: a movement alone has 29.
  const values: unknown[] = parts.map(() => null)
  return {
    run: of => {
      for (let i = 0; i < parts.length; i++) {
        const part = parts[i]!
        values[i] = (typeof part === 'function' ? part(of) : of[part]) ?? null
      }
      prepared.run(values)
    },
  }
}

/** Every movement in the order of writing, for whoever works the whole ledger out anew. */
export function allMovements({ store }: Pick<Ground, 'store'>): Movement[] {
  const read = readsMovements<{ after: number; size: number }>(store.client, 'seq > :after order by seq limit :size')
  const out: Movement[] = []
  for (let after = 0; ;) {
    const piece = read({ after, size: 8192 })
    if (!piece.length) return out
    for (const m of piece) out.push(m)
    after = piece.at(-1)!.seq
  }
}
