import { z } from 'zod'

/**
 * What an id in a request can name. Every id that comes in says it, so that the server looks each up as the caller does:
 * what they may not see is not found, whichever field it stands in. `draft` is a slip that is written, or none yet;
 * `own` an id that the client makes; `goal` a place that something may be sent to.
 */
export const THINGS = [
  'place',
  'goal',
  'item',
  'pack',
  'category',
  'lot',
  'slip',
  'draft',
  'line',
  'difference',
  'supplier',
  'job',
  'cost_centre',
  'reason',
  'person',
  'picture',
  'sheet',
  'count_group',
  'restock',
  'template',
  'mail',
  'session',
  'own',
] as const
export type Thing = (typeof THINGS)[number]

const things = z.registry<{ readonly thing: Thing }>()
const values = z.registry<{ readonly value: true }>()
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/

/** A UUID in lower case; slips and their lines get theirs from the client (version 7), all else from the server. */
export const uuid = () => z.string().regex(UUID, 'a UUID in lower case is wanted')
/** The id of something, in a request. */
export const idOf = (thing: Thing) => {
  const schema = uuid()
  things.add(schema, { thing })
  return schema
}
/** Marks a schema of a field that shows what something costs or is worth: absent for whoever may not see that. */
export const showsValue = <T extends z.ZodType>(schema: T): T => {
  values.add(schema, { value: true })
  return schema
}

/** A schema's inside, as far as walking through it needs it. */
interface Inside {
  readonly type: string
  readonly shape?: Record<string, z.ZodType>
  readonly element?: z.ZodType
  readonly innerType?: z.ZodType
  readonly valueType?: z.ZodType
  readonly options?: readonly z.ZodType[]
  readonly in?: z.ZodType
}
const inside = (schema: z.ZodType): Inside => (schema as unknown as { _zod: { def: Inside } })._zod.def

/** Where something stands in a value. */
type Path = readonly (string | number)[]
/** An id in a value: what it names, and where it stands. */
export interface NamedId {
  readonly thing: Thing
  readonly id: string
  readonly path: Path
}
/** Every id in a value that was read by a schema, in the order in which the schema has them. */
export function idsIn(schema: z.ZodType, value: unknown): NamedId[] {
  const found: NamedId[] = []
  walkOf(schema)?.(value, [], found)
  return found
}

/** Goes through a value to the ids in it; `path` is where it stands, one list that grows and shrinks on the way. */
type Walk = (value: unknown, path: (string | number)[], found: NamedId[]) => void
const walks = new WeakMap<z.ZodType, Walk | null>()
/** The way through the values of a schema, worked out once; none where they hold no id. */
function walkOf(schema: z.ZodType): Walk | null {
  const known = walks.get(schema)
  if (known !== undefined) return known
  // Set first, for a schema that contains itself.
  walks.set(schema, (value, path, found) => walks.get(schema)?.(value, path, found))
  const walk = wayThrough(schema)
  const made: Walk | null =
    walk &&
    ((value, path, found) => {
      if (value !== null && value !== undefined) walk(value, path, found)
    })
  walks.set(schema, made)
  return made
}
function wayThrough(schema: z.ZodType): Walk | null {
  const named = things.get(schema)
  if (named) return (value, path, found) => void found.push({ thing: named.thing, id: String(value), path: [...path] })
  const def = inside(schema)
  if (def.shape) {
    const fields = Object.entries(def.shape).flatMap(([name, s]) => {
      const walk = walkOf(s)
      return walk ? [[name, walk] as const] : []
    })
    if (!fields.length) return null
    return (value, path, found) => {
      for (const [name, walk] of fields) {
        const field = (value as Record<string, unknown>)[name]
        // Asked of some twenty fields of each line, of which most say nothing.
        if (field === null || field === undefined) continue
        path.push(name)
        walk(field, path, found)
        path.pop()
      }
    }
  }
  if (def.element) {
    const each = walkOf(def.element)
    return (
      each &&
      ((value, path, found) =>
        (value as unknown[]).forEach((v, i) => {
          path.push(i)
          each(v, path, found)
          path.pop()
        }))
    )
  }
  if (def.options) {
    if (!def.options.some(walkOf)) return null
    return (value, path, found) => {
      const one = def.options!.find(o => o.safeParse(value).success)
      if (one) walkOf(one)?.(value, path, found)
    }
  }
  const within = def.innerType ?? def.in
  return within ? walkOf(within) : null
}

/** Every schema within a schema, with where it stands: for tests that look at the contract as a whole. */
export function schemasIn(schema: z.ZodType, path: readonly string[] = []): { schema: z.ZodType; path: string[] }[] {
  const def = inside(schema)
  const below = def.shape
    ? Object.entries(def.shape).flatMap(([k, s]) => schemasIn(s, [...path, k]))
    : [def.element, def.innerType, def.valueType, def.in, ...(def.options ?? [])].flatMap(s =>
        s ? schemasIn(s, path) : [],
      )
  return [{ schema, path: [...path] }, ...below]
}
export const thingOf = (schema: z.ZodType): Thing | undefined => things.get(schema)?.thing

const valued = new WeakMap<z.ZodType, boolean>()
/** Whether anything that a schema describes shows value. */
export function hasValue(schema: z.ZodType): boolean {
  let has = valued.get(schema)
  if (has === undefined) {
    // Set first, for a schema that contains itself.
    valued.set(schema, false)
    const def = inside(schema)
    const below = [...Object.values(def.shape ?? {}), def.element, def.innerType, def.valueType, ...(def.options ?? [])]
    has = values.has(schema) || below.some(s => s !== undefined && hasValue(s))
    valued.set(schema, has)
  }
  return has
}

/**
 * The same value without the fields that show value, wherever `hidden` says so of the object they stand in (and of the
 * one around it, where that object says nothing). What is not touched stays the very same.
 */
export function withoutValues<T>(schema: z.ZodType, value: T, hidden: (object: object, around: boolean) => boolean): T {
  return prune(schema, value, hidden, true) as T
}
const ABSENT = Symbol('absent')
function prune(
  schema: z.ZodType,
  value: unknown,
  hidden: (object: object, around: boolean) => boolean,
  around: boolean,
): unknown {
  if (value === null || value === undefined || !hasValue(schema)) return value
  if (values.has(schema)) return around ? ABSENT : value
  const def = inside(schema)
  if (def.shape) {
    const here = hidden(value, around)
    const out: Record<PropertyKey, unknown> = { ...value }
    for (const [k, s] of Object.entries(def.shape)) {
      if (!hasValue(s)) continue
      const v = prune(s, out[k], hidden, here)
      if (v === ABSENT) delete out[k]
      else out[k] = v
    }
    return out
  }
  if (def.element) return (value as unknown[]).map(v => prune(def.element!, v, hidden, around))
  if (def.innerType) return prune(def.innerType, value, hidden, around)
  if (def.options) {
    const one = def.options.find(o => o.safeParse(value).success)
    return one ? prune(one, value, hidden, around) : value
  }
  return value
}

/**
 * What is sent, with the values of what is stored: for whoever may not see them, and so sends none. `set` names the fields
 * in which something stands all the same.
 */
export function withValuesOf<T>(schema: z.ZodType, sent: T, stored: unknown): { value: T; set: Path[] } {
  const set: Path[] = []
  return { value: keep(schema, sent, stored, [], set) as T, set }
}
function keep(schema: z.ZodType, sent: unknown, stored: unknown, path: Path, set: Path[]): unknown {
  if (sent === null || sent === undefined || !hasValue(schema)) return sent
  const def = inside(schema)
  if (values.has(schema)) {
    if (sent !== '' && sent !== stored) set.push(path)
    return stored ?? sent
  }
  if (def.shape) {
    const out: Record<PropertyKey, unknown> = { ...sent }
    const was = stored as Record<string, unknown> | null | undefined
    for (const [k, s] of Object.entries(def.shape)) if (k in out) out[k] = keep(s, out[k], was?.[k], [...path, k], set)
    return out
  }
  if (def.element)
    return (sent as unknown[]).map((v, i) =>
      keep(def.element!, v, (stored as unknown[] | undefined)?.[i], [...path, i], set),
    )
  return def.innerType ? keep(def.innerType, sent, stored, path, set) : sent
}
