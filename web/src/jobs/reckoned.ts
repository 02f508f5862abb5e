import { groupBy, type Measure, plainly, readQuantity } from '@shelve/core'
import type { SlipLine } from '@shelve/contract'

/** How much of what a job makes stands on its make, and for how much its lines were reckoned; quantities in the item's own unit. */
export interface Reckoning {
  readonly item: string
  /** What its lines were reckoned for. */ readonly asked: string
  /** Written as it may be typed. */ readonly stands: string
}

/**
 * For how much a make is written now, where that is another number than its lines were reckoned for; undefined where it is
 * the same, where nothing was reckoned, or where it cannot be read. Two lots of it are one number.
 */
export function otherThanReckoned(
  lines: readonly SlipLine[],
  measureOf: (item: string) => Measure | undefined,
): Reckoning | undefined {
  const first = lines.find(l => l.side === 'out' && l.asked && l.item)
  const measure = first && measureOf(first.item!)
  if (!measure) return undefined
  const read = (typed: string, unit: string | null) => {
    const r = readQuantity(typed, measure, unit ?? undefined, true)
    return r.ok && r.quantity > 0n ? r.quantity : undefined
  }
  let stands = 0n
  for (const l of lines) {
    if (l.side !== 'out' || l.item !== first.item) continue
    const quantity = read(l.typed, l.unit)
    if (quantity === undefined) return undefined
    stands += quantity
  }
  return stands === read(first.asked, null)
    ? undefined
    : { item: first.item!, asked: first.asked, stands: plainly(stands) }
}

const named = (l: SlipLine): string => `${l.side} ${l.item}`
const whence = (l: SlipLine): string => `${l.from} ${l.lot?.id} ${l.lot?.code}`

/** What a line says of its amount. */
export type AmountOf = Pick<SlipLine, 'typed' | 'unit' | 'asked'>
export const amountOf = ({ typed, unit, asked }: SlipLine): AmountOf => ({ typed, unit, asked })

/**
 * What changes on a make if its job reckons it for what stands there of `made`: amounts, by the ids of their lines, and lines
 * that come to it. What was wasted, and what the job does not take, stays; so does what stands on more or fewer lines than are
 * reckoned: `left` names those items.
 */
export function reckonedAnew(
  lines: readonly SlipLine[],
  proposed: readonly SlipLine[],
  made: string,
): { readonly amounts: ReadonlyMap<string, AmountOf>; readonly more: SlipLine[]; readonly left: string[] } {
  const stands = groupBy(
    lines.filter(l => l.reason === null && l.item !== null),
    named,
  )
  const amounts = new Map<string, AmountOf>()
  const more: SlipLine[] = []
  const left: string[] = []
  for (const [name, reckoned] of groupBy(proposed, named)) {
    const here = stands.get(name) ?? []
    const [first] = here
    if (!first) more.push(...reckoned)
    else if (first.side === 'out' && first.item === made)
      amounts.set(first.id, { ...amountOf(first), asked: reckoned[0]!.asked })
    else if (here.length !== reckoned.length) left.push(first.item!)
    else {
      const free = [...here]
      for (const r of reckoned) {
        const at = Math.max(
          free.findIndex(l => whence(l) === whence(r)),
          0,
        )
        amounts.set(free.splice(at, 1)[0]!.id, amountOf(r))
      }
    }
  }
  return { amounts, more, left }
}
