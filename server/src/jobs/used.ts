import { type Fact, givesUp, groupBy, type Quantity, type Value } from '@shelve/core'
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
/** What was used for some needs, as the books have it now: with every correction and every late invoice. */
export function usedForNeeds(house: House, needs: readonly Pick<NeedLine, 'id'>[]): Map<number, Used> {
  const own = new Set(needs.map(n => n.id))
  const rows = needReader(house).written(JSON.stringify([...own]))
  const key = (of: { readonly costSeq: number; readonly part: number }) => `${of.costSeq}.${of.part}`
  /** What was charged on, by the need that it was taken for. */
  const chargedOn = new Map(rows.flatMap(r => (r.gives ? [[key(r), r.needId] as const] : [])))
  const answering = factsAt(house, new SqlBooks(house), rows).flatMap(fact => {
    if (fact.quantity <= 0n || fact.kind === 'move') return []
    const gave = fact.kind === 'recharge' ? chargedOn.get(key(fact)) : undefined
    const back = fact.kind !== 'recharge' && givesUp(fact.kind)
    return [
      ...(fact.needId !== undefined && own.has(fact.needId) ? [{ need: fact.needId, fact, back }] : []),
      ...(gave === undefined ? [] : [{ need: gave, fact, back: true }]),
    ]
  })
  return new Map([...groupBy(answering, a => a.need)].map(([id, of]) => [id, sumOf(of)]))
}

interface Answer {
  readonly fact: Fact
  readonly back: boolean
}
function sumOf(facts: readonly Answer[]): Used {
  const sum = (of: readonly Answer[], what: 'quantity' | 'value') =>
    of.reduce((s, { fact, back }) => s + (back ? -fact[what] : fact[what]), 0n)
  const made = facts.filter(({ fact }) => fact.kind === 'event_out')
  return {
    made: sum(made, 'quantity'),
    handedOut: sum(
      facts.filter(({ fact }) => fact.kind !== 'event_out'),
      'quantity',
    ),
    value: sum(facts, 'value'),
  }
}
