import type { Fact } from '@shelve/core'

export const SHELF = 1
export const AWAY = 9
/** A fact of one item in one pool, for worlds of small whole figures; what matters to a case is given in `more`. */
export function factOf(kind: Fact['kind'], quantity: bigint, costSeq: number, more: Partial<Fact> = {}): Fact {
  const inward = ['receipt', 'back', 'event_in'].includes(kind)
  return {
    costSeq,
    part: 0,
    ord: 0,
    tallyId: null,
    kind,
    itemId: 1,
    lotId: 1,
    poolId: 1,
    from: inward ? AWAY : SHELF,
    to: inward ? SHELF : AWAY,
    quantity,
    value: 0n,
    gap: 0n,
    goods: null,
    charges: 0n,
    invoicedMore: 0n,
    invoicedAmount: null,
    refCostSeq: null,
    refPart: null,
    weight: null,
    mass: null,
    effectiveAt: 0,
    slipId: 1,
    lineId: '1',
    head: 1,
    ...more,
  }
}
