import type { z } from 'zod'
import { idsIn, type NamedId, type Thing } from '@shelve/contract'
import { notFound, Refused, type RefusedField } from '../ground/index.ts'
import type { Caller } from './roles.ts'

/** What a request is about besides the id in question. */
export interface Around {
  /** The slip in its path. */
  readonly slip?: string | undefined
}
/** Whether something is there for a caller: what they may not see is not there. */
export type Finder = (uid: string, caller: Caller, around: Around) => boolean
export type Finders = { readonly [T in Thing]?: Finder }

/** How things are called where they are not found. */
const WORDS: Partial<Record<Thing, string>> = {
  cost_centre: 'cost centre',
  draft: 'slip',
  goal: 'place',
  restock: 'restock slip',
  mail: 'letter',
  reason: 'waste reason',
}

const CODES: Partial<Record<Thing, string>> = { draft: 'slip', goal: 'place' }

/**
 * The one gate: every id that comes in, in a path, a query or a body, is looked up as the caller. Rooms bring a finder
 * for each thing of theirs; a thing that nobody finds is a mistake of the house, not of the caller.
 */
export class Gate {
  readonly #finders = new Map<Thing, Finder>([['own', () => true]])

  register(finders: Finders): void {
    for (const [thing, find] of Object.entries(finders)) this.#finders.set(thing as Thing, find)
  }
  finds(thing: Thing, uid: string, caller: Caller, around: Around = {}): boolean {
    const find = this.#finders.get(thing)
    if (!find) throw new Error(`nobody finds a ${thing}`)
    return find(uid, caller, around)
  }

  /** Lets a request in of which everything it names is there for the caller. */
  admit(
    caller: Caller,
    request: {
      readonly params?: readonly [z.ZodType, unknown]
      readonly query?: readonly [z.ZodType, unknown]
      readonly body: readonly [z.ZodType, unknown]
    },
  ): void {
    const inPath = request.params ? idsIn(...request.params) : []
    const around = { slip: inPath.find(n => n.thing === 'slip' || n.thing === 'draft')?.id }
    // A count names the same place a hundred times: it is looked up once.
    const known = new Map<string, boolean>()
    const lost = (n: NamedId) => {
      const name = `${n.thing} ${n.id}`
      const found = known.get(name) ?? this.finds(n.thing, n.id, caller, around)
      known.set(name, found)
      return !found
    }
    const gone = [...inPath, ...(request.query ? idsIn(...request.query) : [])].find(lost)
    if (gone) throw notFound(WORDS[gone.thing] ?? gone.thing)
    const missing = idsIn(...request.body).filter(lost)
    if (missing.length) throw notThere(missing, request.body[1])
  }
}

/** Says of each id in a body that it names nothing, at its line and field. */
function notThere(missing: readonly NamedId[], body: unknown): Refused {
  const fields = missing.slice(0, 20).map((n): RefusedField => {
    const what = WORDS[n.thing] ?? n.thing
    return {
      line: lineAt(n.path, body),
      field: String(n.path.filter(p => typeof p === 'string' && p !== 'content' && p !== 'lines').join('.')) || null,
      code: `unknown_${CODES[n.thing] ?? n.thing}`,
      message: `There is no such ${what}, or you may not see it.`,
    }
  })
  return new Refused(422, fields[0]!.code, fields[0]!.message, fields)
}
/** The id of the line that a path leads into, where it does. */
function lineAt(path: readonly (string | number)[], body: unknown): string | null {
  const i = path.indexOf('lines')
  if (i < 0 || typeof path[i + 1] !== 'number') return null
  let at = body
  for (const p of path.slice(0, i + 2)) at = (at as Record<PropertyKey, unknown>)[p]
  const id = (at as { id?: unknown }).id
  return typeof id === 'string' ? id : null
}
