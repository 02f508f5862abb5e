import { ONE, share, split, type Quantity, type Value } from '../quantity/micro.ts'

/** By what a charge is spread over the lines it was paid for. */
export type Basis = 'value' | 'quantity' | 'weight'
/** Freight, duty or a fee of a delivery. */
export interface Charge {
  readonly amount: Value
  readonly basis: Basis
}
/** What spreading needs to know of a line. `unit` names the base unit: quantities of different units cannot be a basis together. */
export interface LandedLine {
  readonly goods: Value | null
  readonly quantity: Quantity
  readonly unit: string
  readonly weight?: Quantity | null
}
export type Landed =
  | { readonly ok: true; readonly shares: Value[] }
  | {
      readonly ok: false
      readonly code: 'basis_zero' | 'basis_mixed' | 'basis_unknown'
      readonly basis: Basis
      readonly charge: number
    }

/** What a quantity weighs, in micro-grams, at so much a base unit; rounded once, half to even. Null where that is not known. */
export const weightOf = (quantity: Quantity, mass: bigint | null | undefined): Quantity | null =>
  mass === null || mass === undefined ? null : share(quantity, mass, ONE)

/**
 * Spreads every charge over the lines by its basis, so that the shares add up to the charges exactly. A line without a
 * price has no part in a charge spread by value. Refused: a basis that adds up to zero, quantities in different units,
 * a weight that is not known.
 */
export function spreadCharges(lines: readonly LandedLine[], charges: readonly Charge[]): Landed {
  const shares: Value[] = lines.map(() => 0n)
  for (const [charge, { amount, basis }] of charges.entries()) {
    if (amount === 0n) continue
    if (basis === 'quantity' && new Set(lines.map(l => l.unit)).size > 1)
      return { ok: false, code: 'basis_mixed', basis, charge }
    if (basis === 'weight' && lines.some(l => l.weight === undefined || l.weight === null))
      return { ok: false, code: 'basis_unknown', basis, charge }
    const weights = lines.map(l =>
      basis === 'value' ? (l.goods ?? 0n) : basis === 'quantity' ? l.quantity : l.weight!,
    )
    const parts = split(amount, weights)
    if (!parts) return { ok: false, code: 'basis_zero', basis, charge }
    parts.forEach((p, i) => {
      shares[i] = shares[i]! + p
    })
  }
  return { ok: true, shares }
}
