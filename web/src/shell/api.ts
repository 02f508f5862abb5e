import { shallowRef } from 'vue'
import { type Effect, type Problem, PUT_BACK_HEADER } from '@shelve/contract'
import { deviceKeeps } from './drawer.ts'
import { recordsAre } from './put-back.ts'
import { v7 } from './uuid.ts'

/** A request the server refused, with what it said. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem & { effect?: Effect; /** What stands there by now. */ stands?: unknown }) {
    super(problem.detail)
  }
  get code() {
    return this.problem.code
  }
  /** What is wrong with one field, in words. */
  field(name: string): string | undefined {
    return this.problem.fields.find(f => f.field === name || f.field?.startsWith(`${name}.`))?.message
  }
}

/** Whether the server answers: `live`, or `away` while it cannot be reached. */
export const connection = shallowRef<'live' | 'away'>('live')

/** What is said while the server cannot be reached: where what was typed is meanwhile. */
export const away = (): string =>
  deviceKeeps.value
    ? 'The server cannot be reached. What you typed is kept on this device.'
    : 'The server cannot be reached, and this device keeps nothing: what you typed is in this window alone. Leave it open.'

/** What a window hears when the session is over, wherever that was noticed. */
export const SIGNED_OUT = 'shelve-signed-out'

/** When the server was heard last (ms since 1970). */
let heard = Date.now()
export const lastHeard = (): number => heard
/** Something came from the server: now, whatever the device's clock said before, or at the time that another window tells. */
export function isThere(at?: number): void {
  if (at !== undefined && at < heard) return
  heard = at ?? Date.now()
  connection.value = 'live'
}
/** When it was known last that the server is away (ms since 1970). */
let lost = 0
export const lastLost = (): number => lost
/** The server is away, as is known now. */
export function isAway(): void {
  lost = Date.now()
  connection.value = 'away'
}
/** What was asked and is not answered whole yet, and since when. */
const waiting = new Map<AbortController, number>()
/**
 * Nothing is heard of the server any more, though nothing says that it is gone. What has waited for it longer than `patience`
 * (ms) is given up: whatever changes something may be asked again under its key.
 */
export function fellSilent(patience: number): void {
  isAway()
  const before = Date.now() - patience
  for (const [asked, at] of waiting) if (at <= before) asked.abort(SILENT)
}
const SILENT = new Error('nothing is heard of the server')
/** When the page was last about to be left (ms since 1970). */
let leaving = -Infinity
if ('window' in globalThis)
  for (const sign of ['beforeunload', 'pagehide']) window.addEventListener(sign, () => (leaving = Date.now()))
/** So long after that it is not known whether the page is left, or a file was fetched (ms). */
const LEFT = 1_000
/** Some browsers break off what a page has asked while it is being left, and let it hear of that: whoever is still there is told. */
const stillThere = async (): Promise<void> => {
  if (Date.now() - leaving < LEFT) await new Promise(done => setTimeout(done, LEFT))
}

/** The server does not answer; `detail` says what that means here. */
function gone(detail: string): ApiProblem {
  isAway()
  return new ApiProblem({ type: '', title: 'away', status: 0, code: 'away', detail, fields: [] })
}
/** What the server refused, as it said it; of an answer that says nothing to be read, its number. */
function refusal(status: number, text: string): ApiProblem {
  let problem: unknown
  try {
    problem = JSON.parse(text)
  } catch {
    problem = undefined
  }
  return new ApiProblem(
    typeof problem === 'object' && problem !== null && 'detail' in problem
      ? (problem as Problem)
      : { type: '', title: 'problem', status, code: 'problem', detail: `The server answered ${status}.`, fields: [] },
  )
}
/** What a proxy answers where the server behind it does not (RFC 9110, 15.6). */
const BEHIND = new Set([502, 503, 504])

/**
 * Asks the server and reads what it answers. It is away, too, where the answer breaks off, or where something that stands
 * before it answers in its place; `lacks` says what that means for what was asked.
 */
export async function ask<T>(
  path: string,
  init: RequestInit,
  read: (answer: Response) => Promise<T>,
  lacks: () => string = away,
): Promise<T> {
  let refused: ApiProblem
  const asked = new AbortController()
  const letGo = () => asked.abort()
  if (init.signal?.aborted) letGo()
  init.signal?.addEventListener('abort', letGo)
  waiting.set(asked, Date.now())
  try {
    const response = await fetch(path, { ...init, signal: asked.signal })
    // Where it does not say so, it may be somebody else's who stands between.
    const putBack = response.headers.get(PUT_BACK_HEADER)
    if (putBack) recordsAre(putBack)
    const own = response.headers.get('content-type')?.includes('json') === true
    if (BEHIND.has(response.status) && !own) throw gone(lacks())
    if (response.ok) {
      const it = await read(response)
      isThere()
      return it
    }
    refused = refusal(response.status, await response.text())
    if (refused.code === 'stopping') throw gone(lacks())
    isThere()
    if (response.status === 401 && path !== '/api/session') window.dispatchEvent(new CustomEvent(SIGNED_OUT))
  } catch (e) {
    if (e instanceof ApiProblem || (e as Error).name === 'AbortError') throw e
    await stillThere()
    throw gone(lacks())
  } finally {
    waiting.delete(asked)
    init.signal?.removeEventListener('abort', letGo)
  }
  throw refused
}
/** An answer in JSON, or none. */
async function json(answer: Response): Promise<unknown> {
  const text = await answer.text()
  if (!text) return undefined
  if (answer.headers.get('content-type')?.includes('json')) return JSON.parse(text)
  throw gone(`Something else than Shelve answers at this address: is this device let into its network? ${away()}`)
}

type Options = {
  body?: unknown
  revision?: number
  signal?: AbortSignal
  /** Little is told back (RFC 7240), where the operation knows how. */ briefly?: boolean
  /** It goes out even where the page is being left. */ keepalive?: boolean
  /** Asked again under the same key it is not done again. */ key?: string
}
export const call = <T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  options: Options = {},
): Promise<T> =>
  ask(
    path,
    {
      method,
      signal: options.signal ?? null,
      credentials: 'same-origin',
      keepalive: options.keepalive ?? false,
      headers: {
        ...(options.body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(options.revision === undefined ? {} : { 'if-match': String(options.revision) }),
        ...(options.briefly ? { prefer: 'return=minimal' } : {}),
        ...(options.key ? { 'idempotency-key': `"${options.key}"` } : {}),
      },
      ...(options.body === undefined ? {} : { body: JSON.stringify(options.body) }),
    },
    json,
  ) as Promise<T>

/** What was asked for once and not answered yet, by what it is: when, and with which key and ids it went out. */
const unanswered = new Map<string, { readonly at: number; readonly asked: Options }>()
/** So long the same, asked again, means what was not answered (ms). */
const SAME = 15 * 60_000
/** Something else was done since: the same, asked again, means that it be done again. */
export const goneOn = (): void => unanswered.clear()
/**
 * Asks for something to be done once. Where no answer came, nobody knows whether it was: the same, asked again next, goes out
 * under the same key and with the same new `id`, so that it is not done twice, and what was answered comes after all.
 */
async function once<T>(method: 'POST' | 'PUT' | 'DELETE', path: string, body?: object, more: Options = {}): Promise<T> {
  const { id: _, ...rest } = { id: undefined, ...body }
  // Not with the revision: what was done may be heard of meanwhile, and is another one then.
  const what = JSON.stringify([method, path, rest])
  const before = unanswered.get(what)
  const at = Date.now()
  const { asked } = before && at - before.at < SAME ? before : { asked: { ...more, body, key: v7() } }
  unanswered.set(what, { at, asked })
  try {
    const it = await call<T>(method, path, asked)
    goneOn()
    return it
  } catch (e) {
    // Also where something else was answered while this was on its way.
    if (e instanceof ApiProblem && ['away', 'not_told'].includes(e.code)) unanswered.set(what, { at, asked })
    else unanswered.delete(what)
    throw e
  }
}
export const post = <T>(path: string, body?: object, more?: Options): Promise<T> => once<T>('POST', path, body, more)
export const put = <T>(path: string, body?: object, more?: Options): Promise<T> => once<T>('PUT', path, body, more)
export const remove = (path: string, more?: Options): Promise<void> => once('DELETE', path, undefined, more)
export const get = <T>(path: string, signal?: AbortSignal): Promise<T> => call<T>('GET', path, signal ? { signal } : {})
/** A query string of what is set. */
export const query = (q: Record<string, string | number | undefined | null>): string => {
  const p = new URLSearchParams()
  for (const [k, v] of Object.entries(q)) if (v !== undefined && v !== null && v !== '') p.set(k, String(v))
  const s = p.toString()
  return s ? `?${s}` : ''
}
/** Whether the server did not answer: what was asked may be asked again later. */
export const noAnswer = (e: unknown): boolean => e instanceof ApiProblem && e.code === 'away'
/** What is refused is nothing here; where nothing is answered, whoever reads it says so and reads it again. */
export const nothingIfRefused = (e: unknown): null => {
  if (noAnswer(e)) throw e
  return null
}
/** What went wrong, in words for a strip. */
export const said = (e: unknown): string =>
  e instanceof ApiProblem ? e.message : e instanceof Error ? e.message : String(e)
/** Each thing that is wrong, in words; of what names none, what is said of all of it. */
export const saidEach = (e: unknown): string[] =>
  e instanceof ApiProblem && e.problem.fields.length ? e.problem.fields.map(x => x.message) : [said(e)]
