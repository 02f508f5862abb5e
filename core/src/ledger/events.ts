import type { DraftLine } from './books.ts'
import type { Fact } from './facts.ts'
import type { AccountKind, FactKind } from './types.ts'

/** Facts of an event that are valued together: what goes into it, and what comes of it. */
const SIDES: ReadonlySet<FactKind> = new Set<FactKind>(['event_in', 'event_out'])
/** Whether facts at one place in the order of costing are an event: a make, a relabel between pools. */
export const isEvent = (facts: readonly Pick<Fact, 'kind'>[]): boolean => facts.some(f => SIDES.has(f.kind))

/**
 * Lines of events in the order of costing (rules 32 and 63): what goes in, what of that spoils, what comes out, what of that
 * spoils: it is worth its share before it is wasted. All else stays where it stands.
 */
export function eventOrder<L extends DraftLine>(
  lines: readonly L[],
  kindOf: (account: number) => AccountKind | undefined,
): L[] {
  const rank = (l: L) => {
    if (l.event === undefined) return 0
    if (kindOf(l.from) !== 'place') return 2
    return l.ofOutput ? 3 : kindOf(l.to) === 'waste' ? 1 : 0
  }
  return [...lines].sort((a, b) => rank(a) - rank(b))
}
