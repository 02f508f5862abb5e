import type { DraftLine } from './books.ts'
import type { Fact } from './facts.ts'
import type { FactKind } from './types.ts'

/** Facts of an event that are valued together: what goes into it, and what comes of it. */
const SIDES: ReadonlySet<FactKind> = new Set<FactKind>(['event_in', 'event_out'])
/** Whether facts at one place in the order of costing are an event: a make, a relabel between pools. */
export const isEvent = (facts: readonly Pick<Fact, 'kind'>[]): boolean => facts.some(f => SIDES.has(f.kind))

/**
 * Lines of events in the order of costing (rules 32 and 63): what goes in and what of that spoils, then what comes out, then
 * what of that spoils: it is worth its share before it is wasted. All else stays where it stands.
 */
export function eventOrder<L extends DraftLine>(lines: readonly L[], isPlace: (account: number) => boolean): L[] {
  const rank = (l: L) => (l.event === undefined ? 0 : l.ofOutput ? 2 : isPlace(l.from) ? 0 : 1)
  return [...lines].sort((a, b) => rank(a) - rank(b))
}
