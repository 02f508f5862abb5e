/**
 * Two people on one paper. A paper that is being written is a head and lines, each with the revision at which it was last
 * saved. Whoever saves names the revision they saw; what differs and was saved meanwhile is never overwritten, and never
 * lost: both versions are shown, and somebody says which stands. Pure; used by the server, which judges what comes in,
 * and by the interface, which merges what others saved into what is on the screen.
 */

/** A line as it stands on the paper; `content` null is the marker of a line that was taken off. */
export interface StoredLine<L> {
  readonly revision: number
  readonly position: number
  readonly content: L | null
}
/** A line somebody sends: new (`seen` 0), changed since the revision seen, or taken off (`content` null). */
export interface LineChange<L> {
  readonly id: string
  readonly seen: number
  readonly position: number
  readonly content: L | null
}
/**
 * What becomes of a change: it is written; it says what stands there already; or it is stale, since what stands there
 * was saved after the revision that its writer saw, and says something else.
 */
export type ChangeFate = 'write' | 'same' | 'stale'
/** Whether two contents say the same. */
export type Same<L> = (a: L, b: L) => boolean

/** Judges a change against what stands. What is sent once more because its answer got lost says the same, and is. */
export function fateOf<L>(stored: StoredLine<L> | undefined, change: LineChange<L>, same: Same<L>): ChangeFate {
  if (change.content === null) {
    if (!stored || stored.content === null) return 'same'
    return change.seen === stored.revision ? 'write' : 'stale'
  }
  if (!stored) return change.seen === 0 ? 'write' : 'stale'
  if (stored.content !== null && same(stored.content, change.content))
    return stored.position === change.position ? 'same' : 'write'
  return change.seen === stored.revision ? 'write' : 'stale'
}

/** A line as the server told it, with whoever saved it last. */
export interface ToldLine<L> extends StoredLine<L> {
  readonly id: string
  readonly by: string
}
/** What is on a screen and what it knows of the server's. */
export interface Merging<L> {
  /** Each line as the server last told it, taken-off ones included. */
  readonly base: ReadonlyMap<string, StoredLine<L>>
  /** The lines on the screen, in their order. */
  readonly mine: readonly L[]
}
export interface Merged<L> {
  readonly base: Map<string, StoredLine<L>>
  readonly mine: L[]
  /** Lines that were changed here and, otherwise, there: what is on the screen stays until somebody says which stands. */
  readonly differing: Map<string, ToldLine<L>>
}

/**
 * Merges what others saved into what is on the screen: a line that only they changed becomes theirs, one that only was
 * changed here stays, one that both changed otherwise is told as differing. A line taken off here that they changed comes
 * back: their entry is not dropped by somebody who has not seen it. `differing` of before goes on differing until settled.
 */
export function mergeLines<L extends { readonly id: string }>(
  { base, mine }: Merging<L>,
  told: readonly ToldLine<L>[],
  same: Same<L>,
): Merged<L> {
  const out = new Map(base)
  const lines = new Map(mine.map(l => [l.id, l]))
  const differing = new Map<string, ToldLine<L>>()
  for (const t of told) {
    const was = base.get(t.id)
    const here = lines.get(t.id)
    if (was && was.revision >= t.revision) continue
    if (was?.content && t.content && same(was.content, t.content)) {
      // It was saved again but says what it said (its place on the paper changed): whatever was typed here stays.
      out.set(t.id, { revision: t.revision, position: t.position, content: t.content })
      continue
    }
    const typed = here !== undefined && !(was?.content && same(here, was.content))
    const agree = here !== undefined && t.content !== null && same(here, t.content)
    if (typed && !agree) {
      differing.set(t.id, t)
      continue
    }
    out.set(t.id, { revision: t.revision, position: t.position, content: t.content })
    if (t.content === null) lines.delete(t.id)
    else if (!agree) lines.set(t.id, t.content)
  }
  return { base: out, mine: inOrder([...lines.values()], placesOf([...lines.keys()], out)), differing }
}

/** Room between two lines that follow each other, so that one can be put between them without moving others. */
export const LINE_GAP = 1 << 20

/**
 * The place of each line on the paper: a line that has one keeps it, a new one comes between those it stands between. Where
 * no room is left between two it shares the place of the one before, and its id, which is younger, says that it follows.
 */
export function placesOf(
  ids: readonly string[],
  known: ReadonlyMap<string, { readonly position: number }>,
): Map<string, number> {
  const out = new Map<string, number>()
  let before = 0
  for (const [i, id] of ids.entries()) {
    const own = known.get(id)?.position
    if (own === undefined) {
      const next = ids
        .slice(i + 1)
        .map(x => known.get(x)?.position)
        .find(p => p !== undefined && p > before)
      before = next === undefined ? before + LINE_GAP : Math.floor((before + next) / 2)
    } else before = own
    out.set(id, before)
  }
  return out
}
const inOrder = <L extends { readonly id: string }>(lines: L[], places: ReadonlyMap<string, number>): L[] =>
  lines.sort((a, b) => places.get(a.id)! - places.get(b.id)! || (a.id < b.id ? -1 : 1))

/** What is to be saved: lines that are new, changed or taken off since the server told them. `withheld` ones wait. */
export function changesOf<L extends { readonly id: string }>(
  { base, mine }: Merging<L>,
  same: Same<L>,
  withheld: { has(id: string): boolean } = new Set(),
): LineChange<L>[] {
  const places = placesOf(
    mine.map(l => l.id),
    base,
  )
  const here = new Set(mine.map(l => l.id))
  const changed = mine.flatMap((content): LineChange<L>[] => {
    const was = base.get(content.id)
    if (withheld.has(content.id) || (was?.content && same(was.content, content))) return []
    return [{ id: content.id, seen: was?.revision ?? 0, position: places.get(content.id)!, content }]
  })
  const gone = [...base].flatMap(([id, was]): LineChange<L>[] =>
    was.content === null || here.has(id) || withheld.has(id)
      ? []
      : [{ id, seen: was.revision, position: was.position, content: null }],
  )
  return [...changed, ...gone]
}

/** A field of a head that was changed here and, otherwise, there. */
export interface DifferingField {
  readonly field: string
  readonly theirs: unknown
}
/** Merges heads field by field, since each says something of its own; what both changed otherwise stays as it is here. */
export function mergeHead<H extends object>(base: H, mine: H, theirs: H): { head: H; differing: DifferingField[] } {
  const head = { ...mine }
  const differing: DifferingField[] = []
  for (const field of new Set([...Object.keys(base), ...Object.keys(mine), ...Object.keys(theirs)]) as Set<
    keyof H & string
  >) {
    if (alike(mine[field], theirs[field])) continue
    if (alike(mine[field], base[field])) head[field] = theirs[field]
    else if (!alike(theirs[field], base[field])) differing.push({ field, theirs: theirs[field] })
  }
  return { head, differing }
}
/** Whether two plain values are the same, whatever the order of their fields. */
export function alike(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false
  if (Array.isArray(a) !== Array.isArray(b)) return false
  const keys = new Set([...Object.keys(a), ...Object.keys(b)])
  for (const k of keys) if (!alike((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k])) return false
  return true
}
