import { z } from 'zod'
import { Cursor, Limit, Uuid } from './common.ts'
import type * as people from './people/people.ts'
import { Named, NamedChange, NamedInput } from './places/places.ts'
import { idOf, type Thing } from './things.ts'

/** What a caller must be allowed to do. `none`: nobody need be signed in; `set_up_here`: set-up of the place it is about, all other set-up asks for everywhere. */
export type Right = 'none' | people.Action | 'set_up_here'
export interface Operation<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  R extends z.ZodType = z.ZodType,
  S extends z.ZodType = z.ZodType,
> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete'
  readonly path: string
  readonly summary: string
  readonly right: Right
  readonly status: number
  readonly params: P
  readonly query: Q
  readonly body: B
  readonly answer: R
  /** What is answered instead to whoever prefers little (`Prefer: return=minimal`, RFC 7240); nothing else where there is none. */
  readonly brief: S | undefined
  /** Also answers `text/csv`. */
  readonly csv: boolean
  /** Answers, or with `csv` also answers, `application/pdf`. */
  readonly pdf: boolean
  /** Answers with something else than JSON. */
  readonly binary: string | undefined
  /** Takes a file of one of these media types as its body. */
  readonly upload: readonly string[]
  /** Wants the revision it was read with in `If-Match`. */
  readonly ifMatch: boolean
  /** Whether it does nothing again where it is asked again under the key it was asked with (`Idempotency-Key`). */
  readonly once: boolean
  /** Whether it may change anything; what does not is answered beside what is being written. */
  readonly writes: boolean
}
export const nothing = z.object({})
type Make = {
  right?: Right
  status?: number
  csv?: boolean
  pdf?: boolean
  binary?: string
  upload?: readonly string[]
  ifMatch?: boolean
  /** What it is asked with, or answers, is a secret, of which nothing is kept: it is done each time it is asked. */
  secret?: boolean
  /** Of another method than GET: it changes nothing all the same. */
  reads?: boolean
}
export const op = <
  P extends z.ZodType = typeof nothing,
  Q extends z.ZodType = typeof nothing,
  B extends z.ZodType = z.ZodUndefined,
  R extends z.ZodType = z.ZodUndefined,
  S extends z.ZodType = z.ZodUndefined,
>(
  method: Operation['method'],
  path: string,
  summary: string,
  o: Make & { params?: P; query?: Q; body?: B; answer?: R; brief?: S },
): Operation<P, Q, B, R, S> => ({
  method,
  path,
  summary,
  right: o.right ?? 'read',
  status: o.status ?? (o.answer || o.pdf || o.binary ? 200 : 204),
  csv: o.csv ?? false,
  pdf: o.pdf ?? o.csv ?? false,
  binary: o.binary,
  upload: o.upload ?? [],
  ifMatch: o.ifMatch ?? false,
  writes: method !== 'get' && !o.reads,
  once: method !== 'get' && !o.reads && !o.secret && o.right !== 'none',
  params: (o.params ?? nothing) as P,
  query: (o.query ?? nothing) as Q,
  body: (o.body ?? z.undefined()) as B,
  answer: (o.answer ?? z.undefined()) as R,
  brief: o.brief,
})

const idFor = (thing: Thing) => z.object({ id: idOf(thing) })
export const id = {
  item: idFor('item'),
  person: idFor('person'),
  session: idFor('session'),
  lot: idFor('lot'),
  job: idFor('job'),
  category: idFor('category'),
  place: idFor('place'),
  restock: idFor('restock'),
  template: idFor('template'),
  mail: idFor('mail'),
  slip: idFor('slip'),
  draft: idFor('draft'),
  sheet: idFor('sheet'),
  countGroup: idFor('count_group'),
}
/** Something by its id, or what has nothing of that kind. */
export const orNone = <T extends z.ZodType>(of: T) => z.union([of, z.literal('none')])
export const list = { cursor: Cursor.optional(), limit: Limit.optional() }
export const found = z.object({ id: Uuid })
export const place = z.object({ place: idOf('place').optional() })
/** A list of names, a new one among them, and one written otherwise or taken out of use. */
export const named = (path: string, what: string, thing: Thing) => ({
  list: op('get', path, `All ${what}`, { answer: z.object({ rows: z.array(Named) }) }),
  create: op('post', path, `A new one among the ${what}`, {
    right: 'set_up',
    status: 201,
    body: NamedInput,
    answer: found,
  }),
  update: op('put', `${path}/:id`, `Renames one of the ${what}, takes it out of use or into use again`, {
    right: 'set_up',
    params: idFor(thing),
    body: NamedChange,
    answer: found,
  }),
})
