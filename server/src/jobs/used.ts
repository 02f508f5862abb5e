import { type Fact, givesUp, groupBy, type Quantity, type Value } from '@shelve/core'
import { factsAt, SqlBooks } from '../ledger/index.ts'
import { takenStatement } from './demand.ts'
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
  const rows = takenStatement(house).all({ needs: JSON.stringify([...own]) })
  const answering = factsAt(house, new SqlBooks(house), rows).filter(
    f => f.needId !== undefined && own.has(f.needId) && f.quantity > 0n && f.kind !== 'move',
  )
  return new Map([...groupBy(answering, f => f.needId!)].map(([id, of]) => [id, sumOf(of)]))
}

function sumOf(facts: readonly Fact[]): Used {
  const sign = (f: Fact) => (givesUp(f.kind) ? -1n : 1n)
  const sum = (of: readonly Fact[], what: 'quantity' | 'value') => of.reduce((s, f) => s + sign(f) * f[what], 0n)
  const made = facts.filter(f => f.kind === 'event_out')
  return {
    made: sum(made, 'quantity'),
    handedOut: sum(
      facts.filter(f => f.kind !== 'event_out'),
      'quantity',
    ),
    value: sum(facts, 'value'),
  }
}
