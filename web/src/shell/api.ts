import { shallowRef } from 'vue'
import type { Effect, Problem } from '@shelve/contract'
import { deviceKeeps } from './drawer.ts'

/** A request the server refused, with what it said. */
export class ApiProblem extends Error {
  constructor(readonly problem: Problem & { effect?: Effect }) {
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

type Options = {
  body?: unknown
  revision?: number
  signal?: AbortSignal
  accept?: string
  /** Little is told back (RFC 7240), where the operation knows how. */ briefly?: boolean
  /** It goes out even where the page is being left. */ keepalive?: boolean
}
export async function call<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  options: Options = {},
): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, {
      method,
      signal: options.signal ?? null,
      credentials: 'same-origin',
      keepalive: options.keepalive ?? false,
      headers: {
        ...(options.body === undefined ? {} : { 'content-type': 'application/json' }),
        ...(options.revision === undefined ? {} : { 'if-match': String(options.revision) }),
        ...(options.accept ? { accept: options.accept } : {}),
        ...(options.briefly ? { prefer: 'return=minimal' } : {}),
      },
      ...(options.body === undefined ? {} : { body: JSON.stringify(options.body) }),
    })
  } catch (e) {
    if ((e as Error).name === 'AbortError') throw e
    connection.value = 'away'
    throw new ApiProblem({
      type: '',
      title: 'away',
      status: 0,
      code: 'away',
      detail: away(),
      fields: [],
    })
  }
  connection.value = 'live'
  if (response.status === 204) return undefined as T
  const text = await response.text()
  const body: unknown = text && response.headers.get('content-type')?.includes('json') ? JSON.parse(text) : text
  if (!response.ok) {
    if (response.status === 401 && path !== '/api/session') window.dispatchEvent(new CustomEvent('shelve-signed-out'))
    throw new ApiProblem(
      typeof body === 'object' && body !== null
        ? (body as Problem)
        : {
            type: '',
            title: 'problem',
            status: response.status,
            code: 'problem',
            detail: `The server answered ${response.status}.`,
            fields: [],
          },
    )
  }
  return body as T
}
export const get = <T>(path: string, signal?: AbortSignal): Promise<T> => call<T>('GET', path, signal ? { signal } : {})
/** A query string of what is set. */
export const query = (q: Record<string, string | number | undefined | null>): string => {
  const p = new URLSearchParams()
  for (const [k, v] of Object.entries(q)) if (v !== undefined && v !== null && v !== '') p.set(k, String(v))
  const s = p.toString()
  return s ? `?${s}` : ''
}
/** What went wrong, in words for a strip. */
export const said = (e: unknown): string =>
  e instanceof ApiProblem ? e.message : e instanceof Error ? e.message : String(e)
