import { type FactKind, givesUp, groupBy, type Quantity, type Value } from '@shelve/core'
import { once } from '../ground/index.ts'
import { factsAt, SqlBooks } from '../ledger/index.ts'
import { needReader } from './demand.ts'
import type { House } from './house.ts'
import type { NeedLine } from './rows.ts'

/** What was used for a need: by makes, and handed out otherwise, net of what came back; and what all of it is worth now. */
export interface Used {
  readonly made: Quantity
  readonly handedOut: Quantity
  readonly value: Value
}
/** What answers a need, some movements in one: how much, and what it is worth now. */
interface Answer {
  readonly needId: number
  readonly kind: FactKind
  readonly quantity: Quantity
  readonly value: Value
  readonly back: boolean
}

/** What was used for some needs, as the books have it now: with every correction and every late invoice. */
export function usedForNeeds(house: House, needs: readonly Pick<NeedLine, 'id'>[]): Map<number, Used> {
  const list = JSON.stringify([...new Set(needs.map(n => n.id))])
  const answers = [...summed(house, list), ...recharged(house, list)]
  return new Map([...groupBy(answers, a => a.needId)].map(([id, of]) => [id, sumOf(of)]))
}
function sumOf(answers: readonly Answer[]): Used {
  const sum = (of: readonly Answer[], what: 'quantity' | 'value') =>
    of.reduce((s, a) => s + (a.back ? -a[what] : a[what]), 0n)
  const isMade = (a: Answer) => a.kind === 'event_out'
  return {
    made: sum(answers.filter(isMade), 'quantity'),
    handedOut: sum(
      answers.filter(a => !isMade(a)),
      'quantity',
    ),
    value: sum(answers, 'value'),
  }
}

/**
 * What was taken for needs and came back, added up where it lies: of a job that is made again and again these are thousands of
 * movements. What takes a line back runs against it; what values it anew bears no need of its own, and says by which line it
 * does (`revalues`), as `foldFacts` in the core reads both.
 */
function summed(house: House, needs: string): Answer[] {
  const rows = statement(house).all({ needs, gap: house.accounts.priceDifference }) as {
    needId: bigint
    kind: FactKind
    quantity: Quantity
    value: Value
  }[]
  return rows.map(r => ({ ...r, needId: Number(r.needId), back: givesUp(r.kind) }))
}
const statement = once((house: House) =>
  house.store.client.prepare(`
    with own as materialized (
      select seq, cost_seq, need_id, kind, from_id, iif(reverses is null, quantity, -quantity) as quantity,
        iif(reverses is null, value, -value) as value
      from movement
      where need_id is not null and need_id in (select value from json_each(:needs)) and kind not in ('move', 'recharge'))
    select need_id as needId, kind, sum(quantity) as quantity, sum(value) as value from own group by need_id, kind
    union all
    select o.need_id, o.kind, 0, sum(iif(m.from_id = o.from_id, m.value, -m.value))
    from movement m join own o on o.seq = m.revalues
    where m.cost_seq in (select cost_seq from own) and m.revalues is not null and (m.to_id <> :gap or m.kind = 'standard')
    group by o.need_id, o.kind`),
)

/** What was charged on from what was taken for needs, and what came to a need that way: few, each read as the books have it now. */
function recharged(house: House, needs: string): Answer[] {
  const own = new Set(JSON.parse(needs) as number[])
  const rows = needReader(house).charged(needs)
  const key = (of: { readonly costSeq: number; readonly part: number }) => `${of.costSeq}.${of.part}`
  /** What was charged on, by the need that it was taken for. */
  const gave = new Map(rows.flatMap(r => (r.gives ? [[key(r), r.needId] as const] : [])))
  return factsAt(house, new SqlBooks(house), rows).flatMap(fact => {
    if (fact.quantity <= 0n || fact.kind !== 'recharge') return []
    const { kind, quantity, value } = fact
    const from = gave.get(key(fact))
    return [
      ...(fact.needId !== undefined && own.has(fact.needId)
        ? [{ needId: fact.needId, kind, quantity, value, back: false }]
        : []),
      ...(from === undefined ? [] : [{ needId: from, kind, quantity, value, back: true }]),
    ]
  })
}
