import { TZDate } from '@date-fns/tz'
import { sql, type SQL } from 'drizzle-orm'
import { formatDecimal, split } from '@shelve/core'
import { Refused, type App } from '../app.ts'

const DAY = 86_400_000

/** The first instant of the day after `day` in the organisation's zone. */
export function endOfDay(app: App, day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  return new TZDate(year, month - 1, date + 1, app.organisation!.zone).getTime()
}

/** From which checkpoint to start, and which movements to add to it. */
interface Cut { readonly checkpoint: bigint; readonly movements: SQL }

/** What was written by then, in the order of writing. */
function asTheBooksStood(app: App, until: number): Cut {
  const last = lastSeqBefore(app, until)
  const from = app.db.get<{ id: bigint; seq: bigint } | undefined>(sql`select id, seq from checkpoint where seq <= ${last} order by seq desc limit 1`)
  return { checkpoint: from?.id ?? 0n, movements: columns(sql`seq > ${from?.seq ?? 0n} and seq <= ${last}`) }
}

/**
 * What had happened by then, whenever it was written. Of what was booked up to a day after `until` every row is looked
 * at; of what was booked later only the late ones (more than a day after they happened), by an index of their own.
 */
function asItWas(app: App, until: number): Cut {
  const from = app.db.get<{ id: bigint; seq: bigint } | undefined>(sql`select id, seq from checkpoint where latest_effective_at < ${until} order by seq desc limit 1`)
  const after = from?.seq ?? 0n
  const near = lastSeqBefore(app, until + DAY)
  return {
    checkpoint: from?.id ?? 0n,
    movements: sql`${columns(sql`seq > ${after} and seq <= ${near} and effective_at < ${until}`)}
      union all ${columns(sql`seq > ${BigInt(near) > after ? near : after} and effective_at < ${until} and booked_at - effective_at > ${sql.raw(String(DAY))}`)}`,
  }
}
const columns = (where: SQL): SQL => sql`select item_id, lot_id, pool_id, from_id, to_id, quantity, value from movement where ${where}`
const lastSeqBefore = (app: App, until: number): number => Number(app.db.get<{ s: bigint | null }>(sql`select max(last_seq) as s from slip where booked_at < ${until}`)!.s ?? 0)

/**
 * What was where on a past day. `was`: what had happened by then (quantity by when it happened). `books`: what was
 * written by then (quantity and value by the order of writing).
 */
export function pastDay(app: App, seeValue: boolean, day: string, reading: 'was' | 'books', placeUid: string | undefined) {
  if (day > app.today()) throw new Refused(422, 'in_the_future', 'That day has not come yet.', [{ field: 'day', code: 'in_the_future', message: 'That day has not come yet.' }])
  const until = endOfDay(app, day)
  const cut = reading === 'was' ? asItWas(app, until) : asTheBooksStood(app, until)
  const within = placeUid === undefined ? undefined : app.places.within(app.places.id(placeUid) ?? -1)
  const lies = leaves(app, cut)
  const quantities = new Map<number, bigint>()
  for (const l of lies) if (!within || within.has(l.place)) quantities.set(l.item, (quantities.get(l.item) ?? 0n) + l.quantity)
  const valued = reading === 'books' && seeValue
  const values = valued ? pastValues(app, cut, within, lies) : new Map<number, bigint>()
  const rows = [...quantities].filter(([, q]) => q !== 0n).map(([item, q]) => {
    const it = app.stock.item(item)!
    return { item: it.uid, code: it.code, name: it.name, unit: it.unit, quantity: formatDecimal(q), ...(valued ? { value: formatDecimal(values.get(it.id) ?? 0n) } : {}) }
  }).sort((a, b) => (a.name < b.name ? -1 : 1))
  return { rows, ...(valued ? { value: formatDecimal([...values.values()].reduce((s, v) => s + v, 0n)) } : {}) }
}

interface Leaf { readonly item: number; readonly lot: number; readonly place: number; readonly quantity: bigint }
type Mutable = { -readonly [K in keyof Leaf]: Leaf[K] }
const PLACES = 2 ** 22
/** What lay where: the checkpoint's rows and the movements since. Summed here, for SQLite would sort them first. */
function leaves(app: App, cut: Cut): Leaf[] {
  // A lot belongs to one item, so lot and place name the leaf.
  const sums = new Map<number, Mutable>()
  const { rows } = app.places
  const add = (item: bigint, lot: bigint, place: bigint, quantity: bigint) => {
    const key = Number(lot) * PLACES + Number(place)
    const own = sums.get(key)
    if (own) own.quantity += quantity
    else sums.set(key, { item: Number(item), lot: Number(lot), place: Number(place), quantity })
  }
  for (const r of app.db.values<[bigint, bigint, bigint, bigint]>(sql`select item_id, lot_id, place_id, quantity from checkpoint_balance where checkpoint_id = ${cut.checkpoint}`)) add(r[0], r[1], r[2], r[3])
  for (const r of app.db.values<[bigint, bigint, bigint, bigint, bigint]>(sql`select item_id, lot_id, from_id, to_id, quantity from (${cut.movements}) where quantity > 0`)) {
    if (rows.has(Number(r[2]))) add(r[0], r[1], r[2], -r[4])
    if (rows.has(Number(r[3]))) add(r[0], r[1], r[3], r[4])
  }
  return [...sums.values()].filter(l => l.quantity !== 0n)
}

/** Value by item as the books stood: each pool's, shared over what lay of it. */
function pastValues(app: App, cut: Cut, within: ReadonlySet<number> | undefined, lies: readonly Leaf[]): Map<number, bigint> {
  const pools = new Map<number, bigint>()
  const add = (pool: bigint, v: bigint) => pools.set(Number(pool), (pools.get(Number(pool)) ?? 0n) + v)
  for (const r of app.db.values<[bigint, bigint]>(sql`select pool_id, value from checkpoint_pool where checkpoint_id = ${cut.checkpoint}`)) add(r[0], r[1])
  const stock = (a: bigint) => app.places.row(Number(a)) !== undefined || Number(a) === app.accounts.stock
  for (const r of app.db.values<[bigint, bigint, bigint, bigint]>(sql`select pool_id, from_id, to_id, value from (${cut.movements})`)) {
    if (stock(r[2])) add(r[0], r[3])
    if (stock(r[1])) add(r[0], -r[3])
  }
  const owner = new Map(app.db.values<[bigint, bigint, bigint | null]>(sql`select id, item_id, lot_id from pool`).map(r => [Number(r[0]), { item: Number(r[1]), lot: r[2] === null ? null : Number(r[2]) }]))
  const out = new Map<number, bigint>()
  const give = (item: number, v: bigint) => out.set(item, (out.get(item) ?? 0n) + v)
  if (!within) { for (const [pool, v] of pools) if (v) give(owner.get(pool)!.item, v); return out }
  const byItem = new Map<number, Leaf[]>()
  for (const l of lies) { const list = byItem.get(l.item); if (list) list.push(l); else byItem.set(l.item, [l]) }
  for (const [pool, v] of pools) {
    const { item, lot } = owner.get(pool)!
    const own = (byItem.get(item) ?? []).filter(l => l.quantity > 0n && (lot === null || l.lot === lot)).sort((a, b) => a.lot - b.lot || a.place - b.place)
    const parts = split(v, own.map(l => l.quantity)) ?? []
    own.forEach((l, i) => { if (within.has(l.place)) give(item, parts[i]!) })
  }
  return out
}
