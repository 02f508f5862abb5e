import { formatDecimal } from '../quantity/decimal.ts'
import { ONE, split } from '../quantity/micro.ts'
import { readPercent } from '../jobs/needs.ts'

/** What parts in per cent come to: their weights; or which of them is no part (`at`), or what they add up to instead of 100. */
export type Parts =
  | { readonly ok: true; readonly weights: readonly bigint[] }
  | { readonly ok: false; readonly at: number }
  | { readonly ok: false; readonly at: null; readonly sum: string }

/** Reads parts in per cent (`33.3`, `66,7 %`): each above 0, and together exactly 100. */
export function readParts(texts: readonly string[]): Parts {
  const weights = texts.map(t => readPercent(t, 0n))
  const at = weights.findIndex(w => w === undefined || w <= 0n || w > 100n * ONE)
  if (at >= 0) return { ok: false, at }
  const sum = (weights as bigint[]).reduce((a, b) => a + b, 0n)
  return sum === 100n * ONE
    ? { ok: true, weights: weights as bigint[] }
    : { ok: false, at: null, sum: formatDecimal(sum) }
}

/** A hundred per cent in so many equal parts, to hundredths; what is left over goes to the first (largest remainder). */
export const equalParts = (n: number): string[] =>
  (
    split(
      10_000n,
      Array.from({ length: n }, () => 1n),
    ) ?? []
  ).map(x => formatDecimal((x * ONE) / 100n))

/** So much shared out by weights, exactly (rule 2: largest remainder, ties to the earlier). */
export const sharedOut = (total: bigint, weights: readonly bigint[]): bigint[] => split(total, weights) ?? []
