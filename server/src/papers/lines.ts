import { alike, fateOf, type StoredLine } from '@shelve/core'

/** A line of a paper as it stands, or the marker of one that was taken off; `by` saved it last. */
export interface StandingLine<L> extends StoredLine<L> {
  readonly by: number
}
/** A line somebody sends; `seen` is the revision they saw (0: it is new), `line` null takes it off. */
interface SentLine<L> {
  readonly id: string
  readonly seen: number
  readonly position: number
  readonly line: L | null
}
interface Saving<L, C extends SentLine<L>> {
  /** What stands; what is written is put there too. */
  readonly there: Map<string, StandingLine<L>>
  readonly changes: readonly C[]
  /** The version that this saving makes. */
  readonly version: number
  /** Whoever saves. */
  readonly by: number
  readonly nameOf: (person: number) => string
  /** The line on which the same is said already: what is sent as new is that one then. */
  readonly twin: (line: L) => string | undefined
  readonly write: (id: string, change: C, stands: StandingLine<L> | undefined) => void
}

/**
 * Saves what was changed of a paper's lines. What somebody else saved since, otherwise, stays as it is and is told with both
 * versions; everything else is written.
 */
export function saveLines<L, C extends SentLine<L>>(of: Saving<L, C>) {
  const { there, version } = of
  const lines: { id: string; was: string | null; revision: number; position: number }[] = []
  const stale: {
    id: string
    was: string | null
    revision: number
    position: number
    by: string
    yours: L | null
    theirs: L | null
  }[] = []
  let wrote = false
  for (const change of of.changes) {
    const twin = change.line && !there.get(change.id)?.content ? of.twin(change.line) : undefined
    const id = twin ?? change.id
    const was = twin ? change.id : null
    const stands = there.get(id)
    const sent = { ...change, content: change.line, ...(twin ? { position: stands!.position } : {}) }
    const fate = fateOf(stands, sent, alike)
    if (fate === 'stale') {
      const { revision, position, by, content } = stands ?? { revision: 0, position: 0, by: null, content: null }
      const name = by === null ? '' : of.nameOf(by)
      stale.push({ id, was, revision, position, by: name, yours: change.line, theirs: content })
      continue
    }
    if (fate === 'write') {
      wrote = true
      of.write(id, change, stands)
      there.set(id, { revision: version, position: change.position, by: of.by, content: change.line })
    }
    const now = there.get(id)
    lines.push({ id, was, revision: now?.revision ?? 0, position: now?.position ?? 0 })
  }
  return { lines, stale, wrote }
}
