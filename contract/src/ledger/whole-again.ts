import type { Effect } from './slips.ts'

/**
 * An effect whole again, of an answer that tells only what differs from the one before (`before`), in the order of the slip's
 * lines. Undefined where it tells of another one than is known: then all of it has to be asked.
 */
export function wholeAgain(told: Effect, before: Effect | null, lines: readonly string[]): Effect | undefined {
  if (told.since === null) return told
  if (!before || before.tag !== told.since) return undefined
  const known = new Map([...before.lines, ...told.lines].map(l => [l.line, l]))
  for (const line of told.without) known.delete(line)
  return { ...told, since: null, without: [], lines: lines.flatMap(id => known.get(id) ?? []) }
}
