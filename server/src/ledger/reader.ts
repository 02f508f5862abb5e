import type { Database } from 'better-sqlite3'
import type { FactKind, Movement } from '@shelve/core'
import type { App } from '../app.ts'

type Row = [seq: number, costSeq: number, part: number, ord: number, kind: string, slipId: number, lineId: number, itemId: number, lotId: number, poolId: number, from: number, to: number, quantity: string, value: string, goods: string | null, charges: string,
  effectiveAt: number, bookedAt: number, bookedBy: number, reverses: number | null, revalues: number | null, refCostSeq: number | null, refPart: number | null, tallyId: number | null, weight: string | null, invoice: number]

// Hand-written, since a replay reads thousands of movements and `verify` a million: amounts come as text and become
// `bigint`, all else comes as plain numbers, which is faster than asking for every integer as `bigint`.
const COLUMNS = `seq, cost_seq, part, ord, kind, slip_id, line_id, item_id, lot_id, pool_id, from_id, to_id, cast(quantity as text), cast(value as text), cast(goods as text), cast(charges as text),
  effective_at, booked_at, booked_by, reverses, revalues, ref_cost_seq, ref_part, tally_id, cast(weight as text), invoice`
const ofRow = (r: Row): Movement => ({
  seq: r[0], costSeq: r[1], part: r[2], ord: r[3] as Movement['ord'], kind: r[4] as FactKind, slipId: r[5], lineId: String(r[6]), itemId: r[7], lotId: r[8], poolId: r[9], from: r[10], to: r[11], quantity: BigInt(r[12]), value: BigInt(r[13]), goods: r[14] === null ? null : BigInt(r[14]),
  charges: BigInt(r[15]), effectiveAt: r[16], bookedAt: r[17], bookedBy: r[18], reverses: r[19], revalues: r[20], refCostSeq: r[21], refPart: r[22], tallyId: r[23], weight: r[24] === null ? null : BigInt(r[24]), invoice: r[25] === 1,
} as Movement)

/** Reads the movements that fit a condition of SQL (`pool_id = :id order by seq`), prepared once. */
export function readsMovements<P extends Record<string, number>>(client: Database, condition: string): (parameters: P) => Movement[] {
  const statement = client.prepare(`select ${COLUMNS} from movement where ${condition}`).safeIntegers(false).raw()
  return parameters => (statement.all(parameters) as Row[]).map(ofRow)
}
/** Every movement in the order of writing, for whoever works the whole ledger out anew. */
export function allMovements(app: App): Movement[] {
  const out: Movement[] = []
  for (const r of app.store.client.prepare(`select ${COLUMNS} from movement order by seq`).safeIntegers(false).raw().iterate() as IterableIterator<Row>) out.push(ofRow(r))
  return out
}

const text = (x: bigint | null): string => (x === null ? 'null' : `"${x}"`)
/** The canonical bytes of a movement as it is sealed with its slip: what `canonical` gives, written out for speed. */
export const movementBytes = (m: Movement): string =>
  `{"bookedAt":${m.bookedAt},"bookedBy":${m.bookedBy},"charges":${text(m.charges)},"costSeq":${m.costSeq},"effectiveAt":${m.effectiveAt},"from":${m.from},"goods":${text(m.goods)},"invoice":${m.invoice},"itemId":${m.itemId},"kind":"${m.kind}","lotId":${m.lotId},"ord":${m.ord},"part":${m.part},"poolId":${m.poolId},"quantity":${text(m.quantity)},"refCostSeq":${m.refCostSeq},"refPart":${m.refPart},"revalues":${m.revalues},"reverses":${m.reverses},"seq":${m.seq},"tallyId":${m.tallyId},"to":${m.to},"value":${text(m.value)},"weight":${text(m.weight ?? null)}}`
