import type { AccountKind } from '../ledger/types.ts'
import { divideHalfEven } from '../quantity/micro.ts'

/**
 * What a value that enters or leaves stock is in a period's reckoning. Opening + received + made − used − wasted + found
 * + put right = closing, each signed as stock feels it (the identity that IAS 2 calls cost of inventories recognised, in
 * plain words; common practice).
 */
export const FLOWS = ['opening', 'received', 'used', 'wasted', 'differences', 'price', 'made'] as const
export type Flow = (typeof FLOWS)[number]

const FLOW_OF: Partial<Record<AccountKind, Flow>> = {
  opening: 'opening',
  supplier: 'received',
  used: 'used',
  waste: 'wasted',
  difference: 'differences',
  loss: 'differences',
  gain: 'differences',
  price_difference: 'price',
  made: 'made',
  relabel: 'made',
}
/** Which flow a movement between stock and such an account is; undefined for what stays within stock. */
export const flowOf = (other: AccountKind): Flow | undefined => FLOW_OF[other]

/** A month's value: what was there, what each flow changed (positive: into stock), what remained. */
export interface MonthOfValue {
  readonly month: string
  readonly opening: bigint
  readonly changes: Readonly<Record<Flow, bigint>>
  readonly closing: bigint
}

/** Runs months one after the other: each begins with what the one before left. `before` is what lay there when the first began. */
export function runMonths(
  before: bigint,
  months: readonly { readonly month: string; readonly changes: Readonly<Record<Flow, bigint>> }[],
): MonthOfValue[] {
  let at = before
  return months.map(({ month, changes }) => {
    const opening = at
    at = FLOWS.reduce((sum, f) => sum + changes[f], opening)
    return { month, opening, changes, closing: at }
  })
}
/** A part in per cent of a whole, to a tenth, half to even (in micro-units: 12.3 is 12 300 000); null where there is no whole. */
export const percentOf = (part: bigint, whole: bigint): bigint | null =>
  whole <= 0n ? null : divideHalfEven(part * 1000n, whole) * 100_000n
export const noChanges = (): Record<Flow, bigint> => ({
  opening: 0n,
  received: 0n,
  used: 0n,
  wasted: 0n,
  differences: 0n,
  price: 0n,
  made: 0n,
})
