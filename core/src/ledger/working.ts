import type { Quantity } from '../quantity/micro.ts'
import { deltaIn } from './timeline.ts'
import type { Movement } from './types.ts'

/**
 * The derivation behind a figure. The function that makes the figure returns it, and its lines add up to the figure;
 * `label` is a stable name that the screen words, `ref` the movement, slip or setting the line comes from.
 */
export interface WorkingLine {
  readonly label: string
  readonly amount: bigint
  readonly ref?: {
    readonly kind: 'movement' | 'slip' | 'tally' | 'lot' | 'setting' | 'place'
    readonly id: number | string
  }
  readonly at?: number
  readonly note?: string
}
export interface Working {
  readonly figure: bigint
  readonly of: 'quantity' | 'value'
  readonly lines: readonly WorkingLine[]
}

/** A figure as the sum of its lines: it cannot differ from its working. */
export const workOut = (of: Working['of'], lines: readonly WorkingLine[]): Working => ({
  of,
  lines,
  figure: lines.reduce((sum, l) => sum + l.amount, 0n),
})

/** On hand in a place: what lay there before the last `shown` movements, then each of them. `movements` by effectiveAt. */
export function onHand(movements: readonly Movement[], placeId: number, shown = 12): Working {
  const moved = movements.filter(m => m.quantity > 0n && deltaIn(m, placeId) !== 0n)
  const early = moved.slice(0, Math.max(0, moved.length - shown))
  const before: Quantity = early.reduce((sum, m) => sum + deltaIn(m, placeId), 0n)
  return workOut('quantity', [
    ...(early.length ? [{ label: 'before', amount: before }] : []),
    ...moved.slice(early.length).map(m => ({
      label: m.reverses === null ? m.kind : 'taken_back',
      amount: deltaIn(m, placeId),
      at: m.effectiveAt,
      ref: { kind: 'slip' as const, id: m.slipId },
    })),
  ])
}

/** Value of a pool: what came in and what went out of it, movement by movement, with every revaluation. `inStock` tells places and the stock account. */
export function poolValue(movements: readonly Movement[], inStock: (account: number) => boolean, shown = 12): Working {
  const change = (m: Movement) => (inStock(m.to) ? m.value : 0n) - (inStock(m.from) ? m.value : 0n)
  const moved = movements.filter(m => change(m) !== 0n)
  const early = moved.slice(0, Math.max(0, moved.length - shown))
  return workOut('value', [
    ...(early.length ? [{ label: 'before', amount: early.reduce((sum, m) => sum + change(m), 0n) }] : []),
    ...moved.slice(early.length).map(m => ({
      label: m.revalues !== null ? 'revalued' : m.reverses === null ? m.kind : 'taken_back',
      amount: change(m),
      at: m.effectiveAt,
      ref: { kind: 'slip' as const, id: m.slipId },
    })),
  ])
}
