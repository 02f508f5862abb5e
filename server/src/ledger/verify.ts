import { eq, sql } from 'drizzle-orm'
import { type Cell, Cells, type Fault, LEAVING_KINDS, type Movement, type PoolState, rebuild } from '@shelve/core'
import { account } from '../accounts/index.ts'
import { damagedPictures, folderOf } from '../ground/index.ts'
import { SqlBooks } from './books.ts'
import type { House } from './house.ts'
import { allMovements, exactly } from './reader.ts'
import { balance, MAY_COME_IN, pool, unpriced } from './tables.ts'
import { type ChainSays, verifyChain } from './verify-chain.ts'
import { checkDifferences, checkReversals, checkSerials, checkSinceCounted } from './verify-counts.ts'
import { checkNeeds, checkSlipJobs, checkTransits } from './verify-papers.ts'

export interface Verification extends ChainSays {
  readonly ok: boolean
}

const text = (x: unknown) => JSON.stringify(x, (_, v: unknown) => (typeof v === 'bigint' ? v.toString() : v))

const shown = (p: PoolState) =>
  text({
    quantity: p.quantity,
    value: p.value,
    layers: p.layers,
    standard: p.standard,
    lastOut: p.lastOut,
    lastReceipt: p.lastReceipt,
    unpriced: p.tainted,
  })

/**
 * Works everything out anew from the movements and says what does not agree: the database itself, references, the chain
 * of hashes, conservation, balances, pools and layers, and the value of every line. Changes nothing, and sees one moment
 * of the books however long it takes.
 */
export function verify(house: House): Verification {
  const ledger = verifyLedger(house)
  return together(ledger, checkDatabase(house))
}

const MOST = 200

/** The file and its references, by the database's own means. */
export function checkDatabase(house: House): Fault[] {
  const faults: Fault[] = []
  const { client } = house.store
  const integrity = client.pragma('integrity_check', { simple: true })
  if (integrity !== 'ok') faults.push({ check: 'database', where: 'file', kept: String(integrity), right: 'ok' })
  for (const r of client.pragma('foreign_key_check') as { table: string; rowid: bigint }[])
    faults.push({
      check: 'references',
      where: `${r.table} row ${r.rowid}`,
      kept: 'refers to nothing',
      right: 'a row that is there',
    })
  for (const p of damagedPictures(house.store.file, folderOf(house)))
    faults.push({
      check: 'pictures',
      where: p.file,
      kept: p.gone ? 'no file' : 'a file that does not fit its name',
      right: 'the picture that was put there',
    })
  return faults
}

/** Everything that the ledger says, without the file itself: what was sealed, and the figures that follow. */
export const verifyLedger = (house: House): Verification =>
  house.store.client.transaction(() => together(verifyChain(house), verifyFigures(house)))()

/** What parts of a verification say, in one. */
export function together(chain: ChainSays, ...more: readonly Fault[][]): Verification {
  const faults = [...chain.faults, ...more.flat()]
  return { ...chain, ok: faults.length === 0, faults: faults.slice(0, MOST) }
}

/** Every figure that follows from the movements, worked out anew beside what is kept of it. */
export function verifyFigures(house: House): Fault[] {
  return house.store.client.transaction(() => {
    const faults: Fault[] = []
    const kinds = new Map(
      house.db
        .select({ id: account.id, kind: account.kind })
        .from(account)
        .all()
        .map(a => [a.id, a.kind]),
    )
    const books = new SqlBooks(house)
    const isPlace = (a: number) => kinds.get(a) === 'place'
    try {
      const movements = allMovements(house)
      const built = rebuild(movements, {
        isPlace,
        isPriceDifference: a => a === house.accounts.priceDifference,
        poolStart: id => books.poolStart(id),
      })
      faults.push(...built.faults)
      checkBalances(house, built.balances, faults)
      checkPools(house, books, built.pools, movements, kinds, faults)
      checkLeftBehind(house, built.pools, faults)
      checkUnpriced(house, built.unpriced, faults)
      checkCheckpoints(house, movements, isPlace, kinds, faults)
      checkTallies(house, faults)
      checkSinceCounted(house, movements, built.balances, faults)
      checkDifferences(house, movements, faults)
      checkReversals(house, faults)
      checkKinds(movements, isPlace, faults)
      checkNeeds(house, faults)
      checkSlipJobs(house, faults)
      checkTransits(house, faults)
      checkSerials(house, movements, isPlace, faults)
    } catch (e) {
      faults.push({
        check: 'costs',
        where: 'rebuilding',
        kept: (e as Error).message,
        right: 'a ledger that can be worked out',
      })
    }
    return faults.slice(0, MOST)
  })()
}

function checkBalances(house: House, right: Cells, faults: Fault[]): void {
  const kept = house.db.select().from(balance).all()
  let found = 0
  for (const b of kept) {
    const r = right.get(b.itemId, b.lotId, b.placeId)
    if (r !== 0n) found++
    if (r !== b.quantity)
      faults.push({
        check: 'balances',
        where: `item ${b.itemId}, lot ${b.lotId}, ${house.places.name(b.placeId)}`,
        kept: String(b.quantity),
        right: String(r),
      })
    if (b.quantity < 0n)
      faults.push({
        check: 'below zero',
        where: `item ${b.itemId}, ${house.places.name(b.placeId)}`,
        kept: String(b.quantity),
        right: 'not below zero',
      })
  }
  if (found === right.filled) return
  const said = (c: Omit<Cell, 'quantity'>) => `item ${c.itemId}, lot ${c.lotId}, place ${c.placeId}`
  const there = new Set(kept.map(said))
  for (const c of right)
    if (c.quantity !== 0n && !there.has(said(c)))
      faults.push({ check: 'balances', where: said(c), kept: 'none', right: String(c.quantity) })
}

/** Pools as kept, as replayed, and as the ledger's value lines add up: all three the same. */
function checkPools(
  house: House,
  books: SqlBooks,
  right: ReadonlyMap<number, PoolState>,
  movements: readonly Movement[],
  kinds: ReadonlyMap<number, string>,
  faults: Fault[],
): void {
  const sums = new Map<number, bigint>()
  const stock = (a: number) => kinds.get(a) === 'place' || kinds.get(a) === 'stock'
  for (const m of movements) {
    const v = (stock(m.to) ? m.value : 0n) - (stock(m.from) ? m.value : 0n)
    if (v) sums.set(m.poolId, (sums.get(m.poolId) ?? 0n) + v)
  }
  for (const [id, p] of right) {
    const kept = books.pool(id)
    if (shown(kept) !== shown(p))
      faults.push({
        check: text(kept.layers) !== text(p.layers) && kept.value === p.value ? 'layers' : 'pools',
        where: `pool ${id}`,
        kept: shown(kept),
        right: shown(p),
      })
    if ((sums.get(id) ?? 0n) !== p.value)
      faults.push({
        check: 'conservation',
        where: `pool ${id}`,
        kept: String(sums.get(id) ?? 0n),
        right: String(p.value),
      })
  }
}

/** What went into an event at a price that is not known: as kept, and as it is worked out anew. */
function checkUnpriced(house: House, right: ReadonlySet<string>, faults: Fault[]): void {
  const kept = new Set(
    house.db
      .select()
      .from(unpriced)
      .all()
      .map(u => `${u.poolId} ${u.costSeq}.${u.part}`),
  )
  for (const where of new Set([...kept, ...right]))
    if (kept.has(where) !== right.has(where))
      faults.push({
        check: 'unpriced',
        where: `pool, line ${where}`,
        kept: kept.has(where) ? 'its price is not known' : 'its price is known',
        right: right.has(where) ? 'its price is not known' : 'its price is known',
      })
}

/** A pool that another took the place of holds nothing any more: what lay in it went over with the change of method. */
function checkLeftBehind(house: House, right: ReadonlyMap<number, PoolState>, faults: Fault[]): void {
  for (const { id } of house.db.select({ id: pool.id }).from(pool).where(eq(pool.current, false)).all()) {
    const p = right.get(id)
    if (p && (p.quantity !== 0n || p.value !== 0n))
      faults.push({
        check: 'left behind',
        where: `pool ${id}`,
        kept: shown(p),
        right: 'nothing, since another took its place',
      })
  }
}

/** What is issued goes to whoever uses it: what comes into a place is looked for among the other kinds. */
function checkKinds(movements: readonly Movement[], isPlace: (account: number) => boolean, faults: Fault[]): void {
  const leaving = new Set<string>(LEAVING_KINDS)
  for (const m of movements)
    if (m.quantity && m.reverses === null && leaving.has(m.kind) && isPlace(m.to))
      faults.push({
        check: 'kinds',
        where: `movement ${m.seq}`,
        kept: `${m.kind} into a place`,
        right: 'to whoever uses it',
      })
}

/** Each tally that stands is the truth at its minute. */
function checkTallies(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `select t.id, t.counted, coalesce((
        select sum(q) from (
          select m.quantity as q from movement m
          where m.to_id = t.place_id and m.item_id = t.item_id and m.lot_id = t.lot_id and m.effective_at <= t.counted_at and ${MAY_COME_IN}
          union all
          select -m.quantity from movement m
          where m.from_id = t.place_id and m.item_id = t.item_id and m.lot_id = t.lot_id and m.effective_at <= t.counted_at
        )), 0) as was
      from tally t
      where t.id not in (select tally_id from tally_reversal)
        and not exists (
          select 1 from tally o
          where o.id not in (select tally_id from tally_reversal) and o.item_id = t.item_id and o.lot_id = t.lot_id and o.place_id = t.place_id
            and o.counted_at = t.counted_at and o.cost_seq > t.cost_seq
        )
        and not exists (select 1 from month where ends_at > t.counted_at)`,
    )
    .all() as { id: bigint; counted: bigint; was: bigint }[]
  for (const r of rows)
    if (r.counted !== r.was)
      faults.push({ check: 'tallies', where: `tally ${r.id}`, kept: String(r.counted), right: String(r.was) })
}

/** Each checkpoint is what the movements up to it add up to. */
function checkCheckpoints(
  house: House,
  movements: readonly Movement[],
  isPlace: (a: number) => boolean,
  kinds: ReadonlyMap<number, string>,
  faults: Fault[],
): void {
  const checkpoints = house.db.all<{ id: bigint; seq: bigint; latest: bigint }>(
    sql`select id, seq, latest_effective_at as latest from checkpoint order by seq`,
  )
  if (!checkpoints.length) return
  const stock = (a: number) => isPlace(a) || kinds.get(a) === 'stock'
  const lies = new Cells()
  const worth = new Map<number, bigint>()
  // As one text: tens of thousands of rows in each.
  const read = <R>(what: string, from: string) => {
    const statement = house.store.client
      .prepare<[bigint], string>(`select json_group_array(json_array(${what})) from ${from} where checkpoint_id = ?`)
      .pluck()
    return (checkpoint: bigint) => JSON.parse(statement.get(checkpoint)!) as R[]
  }
  const leaves = read<[item: number, lot: number, place: number, quantity: number | string]>(
    `item_id, lot_id, place_id, ${exactly('quantity')}`,
    'checkpoint_balance',
  )
  const pools = read<[pool: number, value: number | string]>(`pool_id, ${exactly('value')}`, 'checkpoint_pool')
  const liesWrong = (kept: ReturnType<typeof leaves>) =>
    kept.length !== lies.filled || kept.some(([item, lot, place, q]) => lies.get(item, lot, place) !== BigInt(q))
  const worthWrong = (kept: ReturnType<typeof pools>) =>
    kept.length !== worth.size || kept.some(([id, v]) => worth.get(id) !== BigInt(v))
  const add = (id: number, v: bigint) => {
    const sum = (worth.get(id) ?? 0n) + v
    if (sum) worth.set(id, sum)
    else worth.delete(id)
  }
  let at = 0
  let latest = 0
  for (const c of checkpoints) {
    for (let m = movements[at]; m && BigInt(m.seq) <= c.seq; m = movements[++at]) {
      latest = Math.max(latest, m.effectiveAt)
      lies.move(m, isPlace)
      if (m.value && stock(m.from)) add(m.poolId, -m.value)
      if (m.value && stock(m.to)) add(m.poolId, m.value)
    }
    if (liesWrong(leaves(c.id)) || worthWrong(pools(c.id)) || BigInt(latest) !== c.latest)
      faults.push({
        check: 'checkpoints',
        where: `checkpoint ${c.id}`,
        kept: 'what the movements do not add up to',
        right: `the sum of the movements up to ${c.seq}`,
      })
  }
}
