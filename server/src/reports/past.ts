import { TZDate } from '@date-fns/tz'
import { sql } from 'drizzle-orm'
import type { PastRow } from '@shelve/contract'
import { formatDecimal, groupBy, split } from '@shelve/core'
import { chunks, eachInPieces, inOrder, Refused } from '../ground/index.ts'
import type { Scope } from '../rights/index.ts'
import type { House } from './house.ts'

const DAY = 86_400_000

/** The first instant of the day after `day` in the organisation's zone. */
export function endOfDay(house: House, day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  return new TZDate(year, month - 1, date + 1, house.organisation!.zone).getTime()
}

/** The first instant of a day there. */
export function startOfDay(house: House, day: string): number {
  const [year, month, date] = day.split('-').map(Number) as [number, number, number]
  return new TZDate(year, month - 1, date, house.organisation!.zone).getTime()
}

/** From which checkpoint to start, and what selects the movements to add to it or (`sign` −1) take out of it. */
interface Cut {
  readonly checkpoint: number
  readonly movements: readonly string[]
}

interface Checkpoint {
  readonly id: number
  readonly seq: number
}

const NONE: Checkpoint = { id: 0, seq: 0 }

/** The checkpoint that fewest movements lie between and a number of the ledger, before or after it. */
function nearest(house: House, seq: number): Checkpoint {
  const one = (r: { id: bigint; seq: bigint } | undefined) => r && { id: Number(r.id), seq: Number(r.seq) }
  const before =
    one(house.db.get(sql`select id, seq from checkpoint where seq <= ${seq} order by seq desc limit 1`)) ?? NONE
  const after = one(house.db.get(sql`select id, seq from checkpoint where seq > ${seq} order by seq limit 1`))
  return after && after.seq - seq < seq - before.seq ? after : before
}

/** What was written by then, in the order of writing. */
function asTheBooksStood(house: House, until: number): Cut {
  const last = lastSeqBefore(house, until)
  const from = nearest(house, last)
  return from.seq > last
    ? { checkpoint: from.id, movements: between(-1, last, from.seq) }
    : { checkpoint: from.id, movements: between(1, from.seq, last) }
}

/**
 * What had happened by then, whenever it was written: what the checkpoint holds, less what in it happened later, and what
 * was written after it and had happened. All that happened later was written after the last checkpoint that holds nothing
 * of the kind. Of what was booked up to a day after `until` every row is looked at; of what was booked later only the late
 * ones (more than a day after they happened), by an index of their own.
 */
function asItWas(house: House, until: number): Cut {
  const clean = Number(
    house.db.get<{ seq: bigint } | undefined>(
      sql`select seq from checkpoint where latest_effective_at < ${until} order by seq desc limit 1`,
    )?.seq ?? 0n,
  )
  const from = nearest(house, lastSeqBefore(house, until))
  const near = lastSeqBefore(house, until + DAY)
  return {
    checkpoint: from.id,
    movements: [
      ...between(-1, clean, from.seq, `and effective_at >= ${until}`),
      ...between(1, from.seq, near, `and effective_at < ${until}`),
      columns(1, `seq > ${Math.max(near, from.seq)} and effective_at < ${until} and booked_at - effective_at > ${DAY}`),
    ],
  }
}

/** So many movements are looked at at once. */
const MOVED = 10_000
/** Those after one number of the ledger up to another, some at a time. */
export const between = (sign: 1 | -1, after: number, until: number, and = ''): string[] =>
  Array.from({ length: Math.ceil((until - after) / MOVED) }, (_, i) => after + i * MOVED).map(from =>
    columns(sign, `seq > ${from} and seq <= ${Math.min(from + MOVED, until)} ${and}`),
  )
const columns = (sign: 1 | -1, where: string): string =>
  `select item_id, lot_id, pool_id, from_id, to_id, quantity * ${sign} as quantity, value * ${sign} as value from movement where ${where}`

const lastSeqBefore = (house: House, until: number): number =>
  Number(
    house.db.get<{ s: bigint | null }>(sql`select max(last_seq) as s from slip where booked_at < ${until}`)!.s ?? 0,
  )

/**
 * What was where on a past day. `was`: what had happened by then (quantity by when it happened). `books`: what was
 * written by then (quantity and value by the order of writing). It is read in pieces, others being let in: neither a
 * checkpoint nor what was written before it ever changes.
 */
export async function pastDay(house: House, day: string, reading: 'was' | 'books', { within }: Scope) {
  if (day > house.today())
    throw new Refused(422, 'in_the_future', 'That day has not come yet.', [
      { field: 'day', code: 'in_the_future', message: 'That day has not come yet.' },
    ])
  const until = endOfDay(house, day)
  const cut = reading === 'was' ? asItWas(house, until) : asTheBooksStood(house, until)
  const valued = reading === 'books'
  const quantities = await added(house, quantitiesSql(cut, within), cut, within)
  const values = !valued
    ? new Map<number, bigint>()
    : within
      ? await shared(house, cut, within, quantities)
      : await added(house, valuesSql(house, cut), cut, undefined)
  const there = [...quantities].filter(([, q]) => q !== 0n)
  const rows: PastRow[] = []
  await eachInPieces(there, ([item, q]) => {
    const it = house.stock.item(item)!
    rows.push({
      item: it.uid,
      code: it.code,
      name: it.name,
      unit: it.unit,
      category: it.category,
      quantity: formatDecimal(q),
      ...(valued ? { value: formatDecimal(values.get(it.id) ?? 0n) } : {}),
    })
  })
  const worth = (of: Iterable<number>) => {
    let sum = 0n
    for (const item of of) sum += values.get(item) ?? 0n
    return valued ? { value: formatDecimal(sum) } : {}
  }
  const items = groupBy(there, ([item]) => house.stock.item(item)!.categoryId)
  return {
    rows: await inOrder(rows, (a, b) => (a.name < b.name ? -1 : 1)),
    categories: [...items]
      .map(([, of]) => ({
        category: house.stock.item(of[0]![0])!.category,
        items: of.length,
        ...worth(of.map(([item]) => item)),
      }))
      .sort((a, b) => (a.category ?? '\uffff').localeCompare(b.category ?? '\uffff')),
    ...worth(values.keys()),
  }
}

type Within = ReadonlySet<number> | undefined

/** Items with numbers from one to below another. */
type Range = readonly [from: number, to: number]
/** So many items are read at once. */
const PIECE = 1000
export const rangesTo = (last: number): Range[] =>
  Array.from({ length: Math.floor(last / PIECE) + 1 }, (_, i) => [i * PIECE, (i + 1) * PIECE])
const ranges = (house: House): Range[] =>
  rangesTo(Number(house.db.get<{ last: bigint | null }>(sql`select max(id) as last from item`).last ?? 0))
/** What the sums of all items are made of: what is `kept` in the checkpoint, read range by range, and what moved `since`. */
interface Summands {
  readonly kept: string
  readonly since: readonly string[]
}

async function added(house: House, of: Summands, cut: Cut, within: Within): Promise<Map<number, bigint>> {
  const out = new Map<number, bigint>()
  const pieces = [
    ...ranges(house).map(range => [of.kept, range] as const),
    ...of.since.map(text => [text, [0, 0]] as const),
  ]
  await eachInPieces(pieces, ([text, range]) => {
    for (const [item, q] of byItem(house, text, cut, within, range)) out.set(item, (out.get(item) ?? 0n) + q)
  })
  return out
}

/** Tens of thousands of rows are summed where they lie; in two halves, so that no sum overflows. */
const summed = (rows: string): string =>
  `select item_id, cast(sum(q >> 20) as text), cast(sum(q & 1048575) as text) from (${rows}) group by item_id`

function byItem(house: House, text: string, cut: Cut, within: Within, [from, to]: Range) {
  const rows = house.store.client
    .prepare(text)
    .safeIntegers(false)
    .raw()
    .all({
      checkpoint: cut.checkpoint,
      within: within ? JSON.stringify([...within]) : null,
      from,
      to,
    }) as [number, string, string][]
  return rows.map(([item, high, low]) => [item, (BigInt(high) << 20n) + BigInt(low)] as const)
}

/** What lay in some places, by item: the checkpoint's rows and the movements since. */
function quantitiesSql(cut: Cut, within: Within): Summands {
  const places = within ? '(select value from json_each(:within))' : '(select id from place where :within is null)'
  return {
    kept: summed(`select item_id, quantity as q from checkpoint_balance
      where checkpoint_id = :checkpoint and item_id >= :from and item_id < :to and place_id in ${places}`),
    since: cut.movements.map(
      moved =>
        `with m as materialized (${moved}) ${summed(`select item_id, -quantity as q from m where from_id in ${places}
        union all select item_id, quantity from m where to_id in ${places}`)}`,
    ),
  }
}

/** What all of an item was worth: its pools at the checkpoint, and what went in and out of stock since. */
function valuesSql(house: House, cut: Cut): Summands {
  const stock = `(select id from place where :within is null union all select ${house.accounts.stock})`
  return {
    kept: summed(`select p.item_id, c.value as q from pool p join checkpoint_pool c on c.pool_id = p.id
      where c.checkpoint_id = :checkpoint and p.item_id >= :from and p.item_id < :to`),
    since: cut.movements.map(
      moved =>
        `with m as materialized (${moved}) ${summed(`
        select item_id, value as q from m where to_id in ${stock} and from_id not in ${stock}
        union all select item_id, -value from m where from_id in ${stock} and to_id not in ${stock}`)}`,
    ),
  }
}

/** What the items that lay in some places were worth there: each pool's value, shared over what lay of it anywhere. */
async function shared(
  house: House,
  cut: Cut,
  within: ReadonlySet<number>,
  quantities: ReadonlyMap<number, bigint>,
): Promise<Map<number, bigint>> {
  const { leaves, pools } = await leavesOf(house, cut, [...quantities.keys()])
  return valuesByItem(within, leaves, pools)
}

interface Leaf {
  readonly item: number
  readonly lot: number
  readonly place: number
  readonly quantity: bigint
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] }

/** A pool's value, and whose it is: an item's, or one lot's. */
interface Worth {
  readonly item: number
  readonly lot: number | null
  readonly value: bigint
}

const PLACES = 2 ** 22

/**
 * Where the lots of some items lay and what their pools were worth: the checkpoint's rows, some items at a time, and the
 * movements since.
 */
async function leavesOf(house: House, cut: Cut, items: readonly number[]): Promise<{ leaves: Leaf[]; pools: Worth[] }> {
  // A lot belongs to one item, so lot and place name the leaf.
  const lies = new Map<number, Mutable<Leaf>>()
  const worth = new Map<number, Mutable<Worth>>()
  const { rows } = house.places
  const { stock } = house.accounts
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
  // Amounts as text, all else as plain numbers (see ledger/reader).
  const read = <R>(text: string, of: readonly number[]) =>
    house.store.client
      .prepare(`${text} in (select value from json_each(?))`)
      .safeIntegers(false)
      .raw()
      .all(JSON.stringify(of)) as R[]
  const kept = (of: readonly number[]) => {
    for (const r of read<[number, number, number, string]>(
      `select item_id, lot_id, place_id, cast(quantity as text) from checkpoint_balance
        where checkpoint_id = ${cut.checkpoint} and item_id`,
      of,
    ))
      lie(r[0], r[1], r[2], BigInt(r[3]))
    for (const r of read<[number, number, number | null, string]>(
      `select c.pool_id, p.item_id, p.lot_id, cast(c.value as text) from checkpoint_pool c join pool p on p.id = c.pool_id
        where c.checkpoint_id = ${cut.checkpoint} and p.item_id`,
      of,
    ))
      add(r[0], r[1], r[2], BigInt(r[3]))
  }
  const since = (moved: string) => {
    for (const r of read<[number, number, number, number, string, number, string, number | null]>(
      `select m.item_id, m.lot_id, m.from_id, m.to_id, cast(m.quantity as text), m.pool_id, cast(m.value as text), p.lot_id
        from (${moved}) m join pool p on p.id = m.pool_id where m.item_id`,
      items,
    )) {
      const [from, to] = [rows.has(r[2]), rows.has(r[3])]
      if (from || to) {
        const quantity = BigInt(r[4])
        if (from) lie(r[0], r[1], r[2], -quantity)
        if (to) lie(r[0], r[1], r[3], quantity)
      }
      const [out, into] = [from || r[2] === stock, to || r[3] === stock]
      if (out !== into) add(r[5], r[0], r[7], into ? BigInt(r[6]) : -BigInt(r[6]))
    }
  }
  await eachInPieces(chunks(items, FEW), kept)
  await eachInPieces(cut.movements, since)
  return {
    leaves: [...lies.values()].filter(l => l.quantity !== 0n),
    pools: [...worth.values()].filter(w => w.value !== 0n),
  }
}
/** Of so many items all that lay anywhere is read at once. */
const FEW = 50

/** Value by item in some places as the books stood: each pool's, shared over what lay of it. */
async function valuesByItem(
  within: ReadonlySet<number>,
  lies: readonly Leaf[],
  pools: readonly Worth[],
): Promise<Map<number, bigint>> {
  const out = new Map<number, bigint>()
  const give = (item: number, v: bigint) => out.set(item, (out.get(item) ?? 0n) + v)
  const leaves = new Map<number, Leaf[]>()
  for (const l of lies) {
    const list = leaves.get(l.item)
    if (list) list.push(l)
    else leaves.set(l.item, [l])
  }
  await eachInPieces(pools, p => {
    const own = (leaves.get(p.item) ?? [])
      .filter(l => l.quantity > 0n && (p.lot === null || l.lot === p.lot))
      .sort((a, b) => a.lot - b.lot || a.place - b.place)
    const parts =
      split(
        p.value,
        own.map(l => l.quantity),
      ) ?? []
    own.forEach((l, i) => {
      if (within.has(l.place)) give(p.item, parts[i]!)
    })
  })
  return out
}
