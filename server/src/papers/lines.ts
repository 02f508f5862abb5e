import { alike, fateOf, type StoredLine } from '@shelve/core'
import { iso } from '../ground/index.ts'

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
function saveLines<L, C extends SentLine<L>>(of: Saving<L, C>) {
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

interface Paper<H, L, C extends SentLine<L>> extends Omit<Saving<L, C>, 'version' | 'changes' | 'write'> {
  readonly id: string
  /** Of the head, of the whole, and whoever saved the head last. */
  readonly row: { readonly revision: number; readonly version: number; readonly savedBy: number }
  readonly changes: { readonly head?: H | undefined; readonly lines: readonly C[] }
  /** The revision of the head that was seen. */
  readonly seen: number | undefined
  readonly theirs: H
  readonly now: number
  readonly writeHead: (head: H) => void
  readonly write: (id: string, change: C, stands: StandingLine<L> | undefined, version: number) => void
}
/**
 * Saves what was changed of a paper that is a resource of its own: its head and its lines, each where nobody saved it
 * otherwise since. Gives what is answered, what its row is from now on (`set`), and whether anything was written.
 */
export function savePaper<H extends object, L, C extends SentLine<L>>(of: Paper<H, L, C>) {
  const { row, theirs } = of
  const version = row.version + 1
  const { lines, stale, wrote } = saveLines({
    ...of,
    changes: of.changes.lines,
    version,
    write: (id, change, stands) => of.write(id, change, stands, version),
  })
  const head = of.changes.head && !alike(of.changes.head, theirs) ? of.changes.head : undefined
  const mine = head !== undefined && of.seen === row.revision
  if (mine) of.writeHead(head)
  const now = { revision: mine ? version : row.revision, version: mine || wrote ? version : row.version }
  return {
    wrote: mine || wrote,
    set: { ...now, ...(mine ? { savedBy: of.by } : {}) },
    answer: {
      id: of.id,
      before: row.version,
      ...now,
      savedAt: iso(of.now),
      lines,
      stale: {
        head: head && !mine ? { revision: row.revision, by: of.nameOf(row.savedBy), theirs } : null,
        lines: stale,
      },
    },
  }
}
