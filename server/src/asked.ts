import { z } from 'zod'
import { hasValue, type Operation, refusedInWords } from '@shelve/contract'
import type { House } from './compose.ts'
import { Refused, type Trouble, troubleOf } from './ground/index.ts'
import { callerOf } from './people/index.ts'
import {
  type Caller,
  demandEverywhere,
  mayNot,
  type Handler,
  type InSteps,
  Listable,
  Sent,
  shownTo,
} from './rights/index.ts'

/** What an operation is asked: a request without HTTP, so that it crosses to another thread as it is. */
export interface Asked {
  readonly params: unknown
  readonly query: unknown
  readonly body: unknown
  /** A file that came as the body. */
  readonly upload: Uint8Array | undefined
  readonly token: string | undefined
  readonly device: string
  /** The network address it came from. */
  readonly address: string
  /** Whether it came over TLS. */
  readonly secure: boolean
  readonly ifMatch: string | undefined
  /** The key under which it is to be done once (`Idempotency-Key`). */
  readonly key: string | undefined
  /** Whether rows are wanted as a file (CSV or PDF) instead of JSON. */
  readonly csv: boolean
  /** Whether little is enough, of an operation that can answer briefly. */
  readonly brief: boolean
}
/** What is answered to it, likewise. */
export type Answered =
  | { readonly status: number; readonly json: string | undefined; readonly cookie: string | undefined }
  /** It is written; what is answered is still to be read. */
  | { readonly made: unknown }
  | { readonly trouble: Trouble }

type Answer<O extends Operation> = z.input<O['answer']>
interface Performed<O extends Operation> {
  readonly caller: Caller | undefined
  readonly out: Answer<O> | Listable<Answer<O>> | Sent
  /** An answer as the caller may have it. */
  readonly shown: (answer: Answer<O>) => Answer<O>
  readonly cookie: string | undefined
}
/** The first step of a use case that has two. */
class Made {
  constructor(readonly of: unknown) {}
}

/**
 * Does what is asked of an operation: who asks and whether they may, then the request by its schemas, then everything it
 * names by the gate, then the handler.
 */
export async function perform<O extends Operation>(
  house: House,
  operation: O,
  handler: Handler<O>,
  asked: Asked,
): Promise<Performed<O>> {
  const { caller, made, cookie } = await begin(house, operation, handler, asked)
  if (made instanceof Made) return { ...(await end(house, operation, handler, made.of, caller!, asked.brief)), cookie }
  return { ...shownFor(house, operation, caller, made), cookie }
}
const shownFor = <O extends Operation>(
  house: House,
  operation: O,
  caller: Caller | undefined,
  out: unknown,
  as: z.ZodType = operation.answer,
) => {
  if (out instanceof Sent && hasValue(operation.answer))
    throw new Error(`${operation.path}: what shows value is not sent past the route`)
  return {
    caller,
    out: out as Performed<O>['out'],
    shown: (answer: Answer<O>): Answer<O> => shownTo(house, caller, as, answer),
  }
}

/** What is written by an operation: its whole answer, also where something goes wrong, or what is still to be read of it. */
export async function answered<O extends Operation>(
  house: House,
  operation: O,
  handler: Handler<O>,
  asked: Asked,
): Promise<Answered> {
  try {
    const { caller, made, cookie } = await begin(house, operation, handler, asked)
    // Little is told where it was written: it is at hand there, and whoever reads would have to look for it.
    if (made instanceof Made && !(asked.brief && operation.brief)) return { made: made.of }
    if (made instanceof Sent || made instanceof Listable)
      throw new Error(`${operation.path}: what changes something answers with JSON`)
    const { out, shown } =
      made instanceof Made
        ? await end(house, operation, handler, made.of, caller!, asked.brief)
        : shownFor(house, operation, caller, made)
    const json = operation.status === 204 ? undefined : JSON.stringify(shown(out as Answer<O>))
    return { status: operation.status, json, cookie }
  } catch (error) {
    return { trouble: troubleOf(error) }
  }
}
/** The rest of it, for whoever asked: what is answered once it is written. */
export async function end<O extends Operation>(
  house: House,
  operation: O,
  handler: Handler<O>,
  made: unknown,
  caller: Caller,
  brief: boolean,
): Promise<Omit<Performed<O>, 'cookie'>> {
  const { shows, briefly } = handler as InSteps<O>
  return brief && briefly
    ? shownFor(house, operation, caller, briefly(made as never, caller), operation.brief)
    : shownFor(house, operation, caller, await shows(made as never, caller))
}

async function begin<O extends Operation>(house: House, operation: O, handler: Handler<O>, asked: Asked) {
  const caller = operation.right === 'none' ? callerOf(house, asked.token) : allowed(house, asked, operation)
  let cookie: string | undefined
  const input = {
    params: parse(operation.params, asked.params, 'path'),
    query: parse(operation.query, asked.query, 'query'),
    body: operation.body instanceof z.ZodUndefined ? undefined : parse(operation.body, asked.body, 'body'),
    caller: caller as Caller,
    revision: revisionOf(asked, operation),
    csv: asked.csv,
    token: asked.token,
    device: asked.device,
    address: asked.address,
    secure: asked.secure,
    upload: asked.upload,
    setCookie: (text: string) => {
      cookie = text
    },
  }
  if (caller)
    house.gate.admit(caller, {
      params: [operation.params, input.params],
      query: [operation.query, input.query],
      body: [operation.body, input.body],
    })
  const made: unknown =
    typeof handler === 'function' ? await handler(input as never) : new Made(await handler.does(input as never))
  return { caller, made, cookie }
}

export function wantCaller(house: House, token: string | undefined): Caller {
  const caller = callerOf(house, token)
  if (!caller) throw new Refused(401, 'not_signed_in', 'Sign in first.')
  return caller
}
/** Whoever asks, where they may ask that at all. */
export function allowed(house: House, asked: Asked, operation: Operation): Caller {
  const caller = wantCaller(house, asked.token)
  const { right } = operation
  if (right === 'set_up' || right === 'close_month') demandEverywhere(house, caller, right)
  else if (right !== 'none' && !caller.may.has(right === 'set_up_here' ? 'set_up' : right)) throw mayNot(caller)
  return caller
}

function revisionOf({ ifMatch }: Asked, operation: Operation): number | undefined {
  if (!operation.ifMatch || ifMatch === undefined) return undefined
  const n = Number(/^"?(\d{1,9})"?$/.exec(ifMatch)?.[1])
  if (!Number.isInteger(n))
    throw new Refused(400, 'bad_if_match', 'If-Match takes the revision it was read with, as a whole number.')
  return n
}

function parse(schema: z.ZodType, data: unknown, where: string): unknown {
  const result = schema.safeParse(data)
  if (result.success) return result.data
  const lines = data as { lines?: { id?: unknown }[]; content?: { lines?: { id?: unknown }[] } } | undefined
  const fields = result.error.issues.slice(0, 20).map(i => {
    const path = i.path.map(String)
    const at = path.indexOf('lines')
    const list = path[0] === 'content' ? lines?.content?.lines : lines?.lines
    const id = at >= 0 && Array.isArray(list) ? list[Number(path[at + 1])]?.id : undefined
    const isUid = typeof id === 'string' && /^[0-9a-f-]{36}$/.test(id)
    return { line: isUid ? id : null, field: path.join('.') || null, code: i.code, message: i.message }
  })
  const { field, message } = fields[0]!
  throw new Refused(
    where === 'path' ? 404 : where === 'query' ? 400 : 422,
    where === 'path' ? 'not_found' : 'invalid',
    where === 'path'
      ? 'There is nothing under that address.'
      : field === null
        ? `The ${where} is not as it should be: ${message}.`
        : refusedInWords(field.replace(/^content\./, ''), message),
    fields,
  )
}
