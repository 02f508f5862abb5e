import { TZDate } from '@date-fns/tz'
import { sql } from 'drizzle-orm'
import { formatDecimal, split } from '@shelve/core'
import { Refused, type App } from '../app.ts'
import type { Scope } from '../places/tree.ts'

const DAY = 86_400_000

/** The first instant of the day after `day` in the organisation's zone. */
export function endOfDay(app: App, day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  return new TZDate(year, month - 1, date + 1, app.organisation!.zone).getTime()
}

/** The first instant of a day there. */
export function startOfDay(app: App, day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  return new TZDate(year, month - 1, date, app.organisation!.zone).getTime()
}

/** From which checkpoint to start, and which movements to add to it. */
interface Cut { readonly checkpoint: number; readonly movements: string; readonly parameters: readonly number[] }

/** What was written by then, in the order of writing. */
function asTheBooksStood(app: App, until: number): Cut {
  const last = lastSeqBefore(app, until)
  const from = app.db.get<{ id: bigint; seq: bigint } | undefined>(sql`select id, seq from checkpoint where seq <= ${last} order by seq desc limit 1`)
  return { checkpoint: Number(from?.id ?? 0n), movements: columns('seq > ? and seq <= ?'), parameters: [Number(from?.seq ?? 0n), last] }
}

/**
 * What had happened by then, whenever it was written. Of what was booked up to a day after `until` every row is looked
 * at; of what was booked later only the late ones (more than a day after they happened), by an index of their own.
 */
function asItWas(app: App, until: number): Cut {
  const from = app.db.get<{ id: bigint; seq: bigint } | undefined>(sql`select id, seq from checkpoint where latest_effective_at < ${until} order by seq desc limit 1`)
  const after = Number(from?.seq ?? 0n)
  const near = lastSeqBefore(app, until + DAY)
  return {
    checkpoint: Number(from?.id ?? 0n), parameters: [after, near, until, Math.max(near, after), until],
    movements: `${columns('seq > ? and seq <= ? and effective_at < ?')} union all ${columns(`seq > ? and effective_at < ? and booked_at - effective_at > ${DAY}`)}`,
  }
}
const columns = (where: string): string => `select item_id, lot_id, pool_id, from_id, to_id, quantity, value from movement where ${where}`
const lastSeqBefore = (app: App, until: number): number => Number(app.db.get<{ s: bigint | null }>(sql`select max(last_seq) as s from slip where booked_at < ${until}`)!.s ?? 0)

/**
 * What was where on a past day. `was`: what had happened by then (quantity by when it happened). `books`: what was
 * written by then (quantity and value by the order of writing).
 */
export function pastDay(app: App, seeValue: boolean, day: string, reading: 'was' | 'books', { within }: Scope) {
  if (day > app.today()) throw new Refused(422, 'in_the_future', 'That day has not come yet.', [{ field: 'day', code: 'in_the_future', message: 'That day has not come yet.' }])
  const until = endOfDay(app, day)
  const cut = reading === 'was' ? asItWas(app, until) : asTheBooksStood(app, until)
  const valued = reading === 'books' && seeValue
  const { leaves, pools } = sums(app, cut, valued)
  const quantities = new Map<number, bigint>()
  for (const l of leaves) if (!within || within.has(l.place)) quantities.set(l.item, (quantities.get(l.item) ?? 0n) + l.quantity)
  const values = valued ? valuesByItem(within, leaves, pools) : new Map<number, bigint>()
  const rows = [...quantities].filter(([, q]) => q !== 0n).map(([item, q]) => {
    const it = app.stock.item(item)!
    return { item: it.uid, code: it.code, name: it.name, unit: it.unit, quantity: formatDecimal(q), ...(valued ? { value: formatDecimal(values.get(it.id) ?? 0n) } : {}) }
  }).sort((a, b) => (a.name < b.name ? -1 : 1))
  return { rows, ...(valued ? { value: formatDecimal([...values.values()].reduce((s, v) => s + v, 0n)) } : {}) }
}

interface Leaf { readonly item: number; readonly lot: number; readonly place: number; readonly quantity: bigint }
type Mutable<T> = { -readonly [K in keyof T]: T[K] }
/** A pool's value, and whose it is: an item's, or one lot's. */
interface Worth { readonly item: number; readonly lot: number | null; readonly value: bigint }
const PLACES = 2 ** 22
/** What lay where and what the pools were worth: the checkpoint's rows and the movements since, in one pass. Summed here, for SQLite would sort them first. */
function sums(app: App, cut: Cut, valued: boolean): { leaves: Leaf[]; pools: Worth[] } {
  // A lot belongs to one item, so lot and place name the leaf.
  const lies = new Map<number, Mutable<Leaf>>()
  const worth = new Map<number, Mutable<Worth>>()
  const { rows } = app.places
  const { stock } = app.accounts
  const lie = (item: number, lot: number, place: number, quantity: bigint) => {
    const key = lot * PLACES + place
    const own = lies.get(key)
    if (own) own.quantity += quantity
    else lies.set(key, { item, lot, place, quantity })
  }
  const add = (pool: number, item: number, lot: number | null, value: bigint) => {
    const own = worth.get(pool)
    if (own) own.value += value
    else worth.set(pool, { item, lot, value })
  }
  // Tens of thousands of rows: amounts as text, all else as plain numbers (see ledger/reader).
  const read = <R>(text: string, ...parameters: number[]) => app.store.client.prepare(text).safeIntegers(false).raw().iterate(...parameters) as IterableIterator<R>
  for (const r of read<[number, number, number, string]>('select item_id, lot_id, place_id, cast(quantity as text) from checkpoint_balance where checkpoint_id = ?', cut.checkpoint)) lie(r[0], r[1], r[2], BigInt(r[3]))
  if (valued) for (const r of read<[number, number, number | null, string]>('select c.pool_id, p.item_id, p.lot_id, cast(c.value as text) from checkpoint_pool c join pool p on p.id = c.pool_id where c.checkpoint_id = ?', cut.checkpoint)) add(r[0], r[1], r[2], BigInt(r[3]))
  for (const r of read<[number, number, number, number, string, number, string, number | null]>(`select m.item_id, m.lot_id, m.from_id, m.to_id, cast(m.quantity as text), m.pool_id, cast(m.value as text), p.lot_id from (${cut.movements}) m join pool p on p.id = m.pool_id`, ...cut.parameters)) {
    const [from, to] = [rows.has(r[2]), rows.has(r[3])]
    if (from || to) {
      const quantity = BigInt(r[4])
      if (from) lie(r[0], r[1], r[2], -quantity)
      if (to) lie(r[0], r[1], r[3], quantity)
    }
    if (!valued) continue
    const [out, into] = [from || r[2] === stock, to || r[3] === stock]
    if (out !== into) add(r[5], r[0], r[7], into ? BigInt(r[6]) : -BigInt(r[6]))
  }
  return { leaves: [...lies.values()].filter(l => l.quantity !== 0n), pools: [...worth.values()].filter(w => w.value !== 0n) }
}

/** Value by item as the books stood: each pool's, shared over what lay of it. */
function valuesByItem(within: ReadonlySet<number> | undefined, lies: readonly Leaf[], pools: readonly Worth[]): Map<number, bigint> {
  const out = new Map<number, bigint>()
  const give = (item: number, v: bigint) => out.set(item, (out.get(item) ?? 0n) + v)
  if (!within) { for (const p of pools) give(p.item, p.value); return out }
  const byItem = new Map<number, Leaf[]>()
  for (const l of lies) { const list = byItem.get(l.item); if (list) list.push(l); else byItem.set(l.item, [l]) }
  for (const p of pools) {
    const own = (byItem.get(p.item) ?? []).filter(l => l.quantity > 0n && (p.lot === null || l.lot === p.lot)).sort((a, b) => a.lot - b.lot || a.place - b.place)
    const parts = split(p.value, own.map(l => l.quantity)) ?? []
    own.forEach((l, i) => { if (within.has(l.place)) give(p.item, parts[i]!) })
  }
  return out
}
