import { decimal, leftByWeight, type Measure, readWeight, weightSaid } from '@shelve/core'

/** What is left in a container by what it weighs now, less what it weighs empty (grams); and in words why that cannot be. */
export function leftOnScale(
  typed: string,
  tare: string,
  measure: Measure,
): { left: bigint | undefined; wrong: string } {
  if (!typed.trim()) return { left: undefined, wrong: '' }
  const gross = readWeight(typed)
  const left = gross.ok ? leftByWeight(gross.quantity, decimal(tare), measure) : undefined
  if (left === undefined) return { left, wrong: 'Type a weight, like 812 g.' }
  return { left, wrong: left < 0n ? `That is lighter than it is empty (${weightSaid(decimal(tare))}).` : '' }
}
