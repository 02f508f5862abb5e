import { groupBy } from '../group-by.ts'
import type { Quantity } from '../quantity/micro.ts'

/** One entry of a count: of one line (an item, or a lot of it, in one place) by one counter. */
export interface CountEntry {
  /** The line it stands on. */
  readonly line: string
  /** Who counted; null where nobody says (a sheet on paper, a script): that is one counter too. */
  readonly counter: string | null
  /** What was counted; null where it was confirmed as expected. */
  readonly counted: Quantity | null
  readonly at: number
  /** The second figure of the same counter, where one was asked. */
  readonly again: Quantity | null
}
/** What one counter found on a line, all heaps together, against what was expected at the minute of the last. */
export interface Tallied {
  readonly lines: readonly string[]
  readonly counter: string | null
  readonly counted: Quantity
  readonly expected: Quantity
  readonly at: number
  readonly confirmed: boolean
  readonly again: Quantity | null
}
/** What is to be booked of a line; or why nothing is yet. `by` tells what each counter found, `first` the earliest of them. */
export type CountJudgement =
  | { readonly stands: Tallied; readonly first: Tallied; readonly by: readonly Tallied[] }
  | {
      readonly asks: 'count_twice' | 'counts_differ' | 'counters_differ' | 'second_counter'
      readonly by: readonly Tallied[]
    }

/**
 * What stands of the entries of one line. Entries of one counter are heaps: they are added up before anything is judged,
 * and their minute is the last one's. One counter beyond tolerance is asked for a second figure, and two equal ones stand;
 * of several counters two whose differences are equal, each against its own expected, stand (the later of them), else a
 * third tally is asked: somebody else's, or a second figure of one of them that agrees with the other's. Where a count is
 * `byTwo`, one counter alone never settles a line, however near. `expectedAt` gives what the books say of a minute;
 * `within` whether a figure is near enough to what was expected.
 * Source: rules 24, 25, 26 and 53 of the rules that settle figures; common practice of blind recounts.
 */
export function judgeEntries(
  entries: readonly CountEntry[],
  expectedAt: (at: number) => Quantity,
  within: (of: { readonly counted: Quantity; readonly expected: Quantity }) => boolean,
  byTwo = false,
): CountJudgement {
  const by = [...groupBy(entries, e => e.counter).values()].map(of => heaps(of, expectedAt))
  const first = by.reduce((a, b) => (b.at < a.at ? b : a))
  if (by.length === 1) {
    const [one] = by as [Tallied]
    if (byTwo) return { asks: 'second_counter', by }
    if (one.confirmed || within(one)) return { stands: one, first, by }
    if (one.again === null) return { asks: 'count_twice', by }
    return one.again === one.counted ? { stands: one, first, by } : { asks: 'counts_differ', by }
  }
  const figures = [...by, ...by.flatMap(t => (t.again === null ? [] : [{ ...t, counted: t.again, confirmed: false }]))]
  // Whoever repeats their own figure adds nothing: two must agree.
  const agreeing = [...groupBy(figures, t => t.counted - t.expected).values()].filter(
    of => new Set(of.map(t => t.counter)).size > 1,
  )
  if (agreeing.length !== 1) return { asks: 'counters_differ', by }
  return { stands: agreeing[0]!.reduce((a, b) => (b.at > a.at ? b : a)), first, by }
}

/** The heaps of one counter together. What is confirmed is what was expected, once, however often it is said. */
function heaps(entries: readonly CountEntry[], expectedAt: (at: number) => Quantity): Tallied {
  const at = Math.max(...entries.map(e => e.at))
  const expected = expectedAt(at)
  const confirmed = entries.some(e => e.counted === null)
  const figures = entries.flatMap(e => (e.counted === null ? [] : [e.counted]))
  const seconds = entries.flatMap(e => (e.again === null ? [] : [e.again]))
  const sum = (of: readonly Quantity[]) => of.reduce((a, b) => a + b, 0n)
  return {
    lines: entries.map(e => e.line),
    counter: entries[0]!.counter,
    counted: sum(figures) + (confirmed ? expected : 0n),
    expected,
    at,
    confirmed: confirmed && !figures.length,
    again: seconds.length ? sum(seconds) : null,
  }
}
