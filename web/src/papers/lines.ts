import { placesOf, type StoredLine, type ToldLine } from '@shelve/core'
import type { Base, Screen, Told } from './wire.ts'

/** The lines of a paper as they stand in it. */
export const inOrder = <H, L>(told: Told<H, L>): L[] =>
  [...told.lines]
    .sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1))
    .flatMap(l => (l.content === null ? [] : [l.content]))

/**
 * A paper of which the server says what it was before: a backup was put in place of what it had. What stands on the screen is
 * newer, whatever was known of the server's, and is saved upon what it says now; only what this device never knew was put on
 * since, and is taken over.
 * @returns what is known of the server's by then, and what stands on the screen
 */
export function newerThan<H, L extends { readonly id: string }>(
  told: Told<H, L>,
  known: ReadonlyMap<string, unknown>,
  mine: Screen<H, L>,
): { readonly base: Base<H, L>; readonly mine: Screen<H, L> } {
  const here = new Set(mine.lines.map(l => l.id))
  const added = inOrder(told).filter(l => !here.has(l.id) && !known.has(l.id))
  const { version, revision, head, savedAt } = told
  const lines = new Map<string, ToldLine<L>>(told.lines.map(l => [l.id, l]))
  return {
    base: { version, revision, head, lines, savedAt },
    mine: added.length ? { head: mine.head, lines: [...mine.lines, ...added] } : mine,
  }
}

/** Lines of a whole paper, as they were known, that stand there no more. */
export function takenOff<H, L>(told: Told<H, L>, known: ReadonlyMap<string, StoredLine<L>>): ToldLine<L>[] {
  const there = new Set(told.lines.map(l => l.id))
  return [...known].flatMap(([line, l]) =>
    l.content === null || there.has(line)
      ? []
      : [{ id: line, revision: told.version, position: l.position, content: null, by: told.by }],
  )
}

/**
 * What was sent under one id is a line of its own on the server: on the screen it has its id too, and what stands under
 * the first one (`stands`) stands there again.
 */
export function renamed<L extends { readonly id: string }>(
  lines: readonly L[],
  { was, now, stands }: { readonly was: string; readonly now: string; readonly stands: L | null },
): L[] {
  return lines
    .filter(l => l.id !== now)
    .flatMap(l => (l.id === was ? [...(stands ? [stands] : []), { ...l, id: now }] : [l]))
}

/** Lines of the screen, with one of them as they have it (or off, as they have it), where that stands. */
export function withTheirs<L extends { readonly id: string }>(
  lines: readonly L[],
  known: ReadonlyMap<string, StoredLine<L>>,
  theirs: ToldLine<L>,
): L[] {
  const others = lines.filter(l => l.id !== theirs.id)
  const places = placesOf(
    lines.map(l => l.id),
    known,
  )
  const place = (l: L) => places.get(l.id) ?? 0
  return [...others, ...(theirs.content === null ? [] : [theirs.content])].sort((a, b) => place(a) - place(b))
}
