import { brokenLink, rebuild, type Fault, type Movement, type PoolState } from '@shelve/core'
import { asc, eq, gt } from 'drizzle-orm'
import { account, balance, movement, slip } from '../db/schema.ts'
import { sha256, type App } from '../app.ts'
import { SqlBooks, toMovement } from '../ledger/books.ts'
import { movementColumns } from '../ledger/statements.ts'

export interface Verification { readonly ok: boolean; readonly movements: number; readonly faults: Fault[]; readonly headHash: string }
const text = (x: unknown) => JSON.stringify(x, (_, v: unknown) => (typeof v === 'bigint' ? v.toString() : v))
const shown = (p: PoolState) => text({ quantity: p.quantity, value: p.value, layers: p.layers, standard: p.standard })

/**
 * Works everything out anew from the movements and says what does not agree: the database itself, references, the chain
 * of hashes, conservation, balances, pools and layers, and the value of every line. Changes nothing.
 */
export function verify(app: App): Verification {
  const faults: Fault[] = []
  const { client } = app.store
  const integrity = client.pragma('integrity_check', { simple: true })
  if (integrity !== 'ok') faults.push({ check: 'database', where: 'file', kept: String(integrity), right: 'ok' })
  for (const r of client.pragma('foreign_key_check') as { table: string; rowid: bigint }[]) faults.push({ check: 'references', where: `${r.table} row ${r.rowid}`, kept: 'refers to nothing', right: 'a row that is there' })
  const headHash = checkChain(app, faults)

  const kinds = new Map(app.db.select({ id: account.id, kind: account.kind }).from(account).all().map(a => [a.id, a.kind]))
  const movements: Movement[] = []
  for (let after = 0; ;) {
    const rows = app.db.select(movementColumns).from(movement).where(gt(movement.seq, after)).orderBy(asc(movement.seq)).limit(20_000).all()
    if (!rows.length) break
    for (const r of rows) movements.push(toMovement(r))
    after = rows.at(-1)!.seq
  }
  checkSlips(app, movements, faults)
  const books = new SqlBooks(app.ledger)
  const isPlace = (a: number) => kinds.get(a) === 'place'
  let built: ReturnType<typeof rebuild>
  try {
    built = rebuild(movements, { isPlace, isPriceDifference: a => a === app.accounts.priceDifference, poolStart: id => books.poolStart(id) })
  } catch (e) {
    faults.push({ check: 'costs', where: 'rebuilding', kept: (e as Error).message, right: 'a ledger that can be worked out' })
    return { ok: false, movements: movements.length, faults, headHash }
  }
  faults.push(...built.faults)
  checkBalances(app, built.balances, faults)
  checkPools(app, books, built.pools, movements, kinds, faults)
  checkTallies(app, faults)
  return { ok: faults.length === 0, movements: movements.length, faults: faults.slice(0, 200), headHash }
}

function checkChain(app: App, faults: Fault[]): string {
  const rows = app.db.select({ id: slip.id, number: slip.number, previous: slip.previousHash, hash: slip.hash, bytes: slip.canonical }).from(slip).where(eq(slip.state, 'booked')).orderBy(asc(slip.lastSeq)).all()
  const broken = brokenLink(rows.map(r => ({ slip: r.id, previous: r.previous ?? '', hash: r.hash ?? '', bytes: r.bytes ?? '' })), sha256)
  if (broken) faults.push({ check: 'hashes', where: rows.find(r => r.id === broken.slip)!.number ?? String(broken.slip), kept: broken.why === 'hash' ? 'a hash that does not fit its slip' : 'a hash that does not follow the one before', right: 'an unbroken chain' })
  return rows.at(-1)?.hash ?? ''
}

/** Every movement belongs to the slip that was hashed with it: what stands in the table is what was sealed. */
function checkSlips(app: App, movements: readonly Movement[], faults: Fault[]): void {
  const bySlip = new Map<number, Movement[]>()
  for (const m of movements) { const list = bySlip.get(m.slipId); if (list) list.push(m); else bySlip.set(m.slipId, [m]) }
  for (const s of app.db.select({ id: slip.id, number: slip.number, canonical: slip.canonical, state: slip.state }).from(slip).where(eq(slip.state, 'booked')).all()) {
    const sealed = (JSON.parse(s.canonical!) as { movements: Record<string, unknown>[] }).movements
    const kept = (bySlip.get(s.id) ?? [])
    bySlip.delete(s.id)
    const plain = (m: Record<string, unknown>) => text(Object.entries(m).filter(([k]) => k !== 'slipId' && k !== 'lineId').map(([k, v]) => [k, typeof v === 'bigint' ? v.toString() : v]).sort(([a], [b]) => (a! < b! ? -1 : 1)))
    const a = sealed.map(plain).sort().join('\n')
    const b = kept.map(m => plain(m as unknown as Record<string, unknown>)).sort().join('\n')
    if (a !== b) faults.push({ check: 'sealed', where: s.number!, kept: `${kept.length} movements that differ`, right: `the ${sealed.length} that were sealed` })
  }
  for (const id of bySlip.keys()) faults.push({ check: 'sealed', where: `slip ${id}`, kept: 'movements of a slip that is not booked', right: 'none' })
}

function checkBalances(app: App, right: ReadonlyMap<string, bigint>, faults: Fault[]): void {
  const left = new Map(right)
  for (const b of app.db.select().from(balance).all()) {
    const key = `${b.itemId}.${b.lotId}.${b.placeId}`
    const r = left.get(key) ?? 0n
    left.delete(key)
    if (r !== b.quantity) faults.push({ check: 'balances', where: `item ${b.itemId}, lot ${b.lotId}, ${app.places.name(b.placeId)}`, kept: String(b.quantity), right: String(r) })
    if (b.quantity < 0n) faults.push({ check: 'below zero', where: `item ${b.itemId}, ${app.places.name(b.placeId)}`, kept: String(b.quantity), right: 'not below zero' })
  }
  for (const [key, q] of left) if (q !== 0n) faults.push({ check: 'balances', where: key, kept: 'none', right: String(q) })
}

/** Pools as kept, as replayed, and as the ledger's value lines add up: all three the same. */
function checkPools(app: App, books: SqlBooks, right: ReadonlyMap<number, PoolState>, movements: readonly Movement[], kinds: ReadonlyMap<number, string>, faults: Fault[]): void {
  const sums = new Map<number, bigint>()
  const stock = (a: number) => kinds.get(a) === 'place' || kinds.get(a) === 'stock'
  for (const m of movements) {
    const v = (stock(m.to) ? m.value : 0n) - (stock(m.from) ? m.value : 0n)
    if (v) sums.set(m.poolId, (sums.get(m.poolId) ?? 0n) + v)
  }
  for (const [id, p] of right) {
    const kept = books.pool(id)
    if (shown(kept) !== shown(p)) faults.push({ check: kept.quantity === p.quantity && kept.value === p.value ? 'layers' : 'pools', where: `pool ${id}`, kept: shown(kept), right: shown(p) })
    if ((sums.get(id) ?? 0n) !== p.value) faults.push({ check: 'conservation', where: `pool ${id}`, kept: String(sums.get(id) ?? 0n), right: String(p.value) })
  }
}

/** Each tally that stands is the truth at its minute. */
function checkTallies(app: App, faults: Fault[]): void {
  const rows = app.store.client.prepare(`select t.id, t.counted, coalesce((select sum(q) from (
      select m.quantity as q from movement m where m.to_id = t.place_id and m.item_id = t.item_id and m.lot_id = t.lot_id and m.effective_at <= t.counted_at
      union all select -m.quantity from movement m where m.from_id = t.place_id and m.item_id = t.item_id and m.lot_id = t.lot_id and m.effective_at <= t.counted_at)), 0) as was
    from tally t where t.reversed = 0 and not exists (select 1 from tally o where o.reversed = 0 and o.item_id = t.item_id and o.lot_id = t.lot_id and o.place_id = t.place_id and o.counted_at = t.counted_at and o.cost_seq > t.cost_seq)
      and not exists (select 1 from month where ends_at > t.counted_at)`).all() as { id: bigint; counted: bigint; was: bigint }[]
  for (const r of rows) if (r.counted !== r.was) faults.push({ check: 'tallies', where: `tally ${r.id}`, kept: String(r.counted), right: String(r.was) })
}
