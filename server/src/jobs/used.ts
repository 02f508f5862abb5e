import { type Quantity, type Value } from '@shelve/core'
import { atOnce, chunks, once } from '../ground/index.ts'
import { factsAt, SqlBooks } from '../ledger/index.ts'
import { needReader } from './of-needs.ts'
import type { House } from './house.ts'
import type { NeedLine } from './rows.ts'
import { GIVEN_BACK_TEXT, net } from './so-far.ts'

/** What was used for a need: by makes, and handed out otherwise, net of what came back; and what all of it is worth now. */
export interface Used {
  readonly made: Quantity
  readonly handedOut: Quantity
  readonly value: Value
}
/** How much of it, made and handed out. */
export const quantityOf = (u: Used): Quantity => u.made + u.handedOut

/** What answers needs, as it comes to be known; what is charged on, by where it stands in the order of costing. */
interface Sums {
  readonly needs: string
  readonly sums: Map<number, Used>
  /** Where in the order of costing what answers them stands. */
  readonly places: Set<number>
  readonly charged: { readonly needId: number; readonly costSeq: number; readonly part: number }[]
}
/** Nothing was used. */
export const UNUSED: Used = { made: 0n, handedOut: 0n, value: 0n }
function add({ sums }: Sums, needId: number, more: Partial<Used>): void {
  const { made, handedOut, value } = sums.get(needId) ?? UNUSED
  sums.set(needId, {
    made: made + (more.made ?? 0n),
    handedOut: handedOut + (more.handedOut ?? 0n),
    value: value + (more.value ?? 0n),
  })
}

/** What was used for some needs, as the books have it now: with every correction and every late invoice. */
export const usedForNeeds = (house: House, needs: readonly Pick<NeedLine, 'id'>[]): Map<number, Used> =>
  atOnce(summed(house, needs))

/**
 * The same a piece at a time: of a job that is made again and again these are thousands of movements, added up where they lie.
 * What takes a line back runs against it.
 */
export function* summed(house: House, needs: readonly Pick<NeedLine, 'id'>[]): Generator<undefined, Map<number, Used>> {
  const ids = [...new Set(needs.map(n => n.id))]
  const of: Sums = { needs: JSON.stringify(ids), sums: new Map(), places: new Set(), charged: [] }
  for (const need of ids)
    for (let after: number | undefined = 0; after !== undefined;) {
      after = addOwn(house, of, need, after)
      yield
    }
  for (const places of chunks([...of.places], PLACES)) {
    addRevalued(house, of, places)
    yield
  }
  addCharged(house, of)
  return of.sums
}

/** So many movements of a need, and so many places in the order of costing, are gone through at once. */
const PIECE = 2000
const PLACES = 200
interface Own {
  readonly n: bigint
  readonly last: bigint
  readonly made: Quantity
  readonly handedOut: Quantity
  readonly value: Value
  readonly places: string
  readonly charged: string
}
/** Adds what was taken for a need and came back, a piece of it; gives where the next begins. */
function addOwn(house: House, of: Sums, need: number, after: number): number | undefined {
  const { n, last, places, charged, ...own } = statements(house).own.get({ need, after }) as Own
  if (n === 0n) return undefined
  add(of, need, own)
  for (const place of JSON.parse(places) as number[]) of.places.add(place)
  for (const [costSeq, part] of JSON.parse(charged) as [number, number][])
    of.charged.push({ needId: need, costSeq, part })
  return n < PIECE ? undefined : Number(last)
}
/** Adds what values anew what stands at some places in the order of costing. */
function addRevalued(house: House, { needs, ...of }: Sums, places: readonly number[]): void {
  const gap = house.accounts.priceDifference
  const rows = statements(house).revalued.all({ needs, gap, places: JSON.stringify(places) })
  for (const { needId, value } of rows as { readonly needId: bigint; readonly value: Value }[])
    add({ needs, ...of }, Number(needId), { value })
}
/** Adds what came to a need by being charged on, less what was charged on from it: few, each as the books have it now. */
function addCharged(house: House, of: Sums): void {
  const own = new Set(JSON.parse(of.needs) as number[])
  const gave = needReader(house).chargedOn(of.needs)
  const key = (at: { readonly costSeq: number; readonly part: number }) => `${at.costSeq}.${at.part}`
  /** What was charged on, by the need that it was taken for. */
  const from = new Map(gave.map(r => [key(r), r.needId]))
  for (const fact of factsAt(house, new SqlBooks(house), [...of.charged, ...gave])) {
    if (fact.quantity <= 0n || fact.kind !== 'recharge') continue
    const { quantity, value } = fact
    if (fact.needId !== undefined && own.has(fact.needId)) add(of, fact.needId, { handedOut: quantity, value })
    const source = from.get(key(fact))
    if (source !== undefined) add(of, source, { handedOut: -quantity, value: -value })
  }
}

const statements = once((house: House) => ({
  own: house.store.client.prepare(`
    select count(*) as n, max(seq) as last, coalesce(sum(quantity) filter (where kind = 'event_out'), 0) as made,
      coalesce(sum(quantity) filter (where kind not in ('event_out', 'move', 'recharge')), 0) as handedOut,
      coalesce(sum(value) filter (where kind not in ('move', 'recharge')), 0) as value,
      json_group_array(distinct cost_seq) filter (where kind not in ('move', 'recharge')) as places,
      json_group_array(json_array(cost_seq, part)) filter (where kind = 'recharge') as charged
    from (
      select o.seq, o.cost_seq, o.part, o.kind, ${net('o', 'quantity')} as quantity, ${net('o', 'value')} as value from movement o
      where o.need_id = :need and o.seq > :after order by o.seq limit ${PIECE})`),
  // What values a line anew bears no need of its own, and says by which line it does (`revalues`), as `foldFacts` in the core reads both.
  revalued: house.store.client.prepare(`
    select o.need_id as needId, sum(iif((m.from_id = o.from_id) = (o.kind not in (${GIVEN_BACK_TEXT})), m.value, -m.value)) as value
    from movement m join movement o on o.seq = m.revalues
    where m.cost_seq in (select value from json_each(:places)) and m.revalues is not null
      and (m.to_id <> :gap or m.kind = 'standard') and o.kind not in ('move', 'recharge')
      and o.need_id in (select value from json_each(:needs))
    group by o.need_id`),
}))
