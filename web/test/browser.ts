/** As much of a browser as stores and listeners need: storage, events, a document, and a server that a test writes. */
export class Storage {
  readonly #kept = new Map<string, string>()
  get length() {
    return this.#kept.size
  }
  key(n: number) {
    return [...this.#kept.keys()][n] ?? null
  }
  getItem(k: string) {
    return this.#kept.get(k) ?? null
  }
  /** Whether it takes no more, as one that is full. */
  full = false
  setItem(k: string, v: string) {
    if (this.full) throw new DOMException('full', 'QuotaExceededError')
    this.#kept.set(k, String(v))
  }
  removeItem(k: string) {
    this.#kept.delete(k)
  }
  clear() {
    this.#kept.clear()
  }
}
export interface Asked {
  readonly method: string
  readonly path: string
  readonly body: unknown
  readonly revision: string | undefined
}
export type Answer = { status?: number; body?: unknown } | 'away'

export interface Browser {
  readonly storage: Storage
  readonly asked: Asked[]
  answer: (a: Asked) => Answer | Promise<Answer>
  /** When a backup was put in place last, as each answer says. */
  putBack?: string
}
export function browser(): Browser {
  const storage = new Storage()
  const asked: Asked[] = []
  const b: Browser = { storage, asked, answer: () => ({ body: {} }) }
  const events = new EventTarget()
  const here = {
    localStorage: storage,
    matchMedia: () => ({ matches: false, addEventListener: () => undefined }),
    window: Object.assign(events, {
      setTimeout: (f: () => void, ms: number) => setTimeout(f, ms),
      clearTimeout: (t: NodeJS.Timeout) => clearTimeout(t),
    }),
    document: {
      documentElement: { dataset: {} },
      activeElement: null,
      execCommand: () => true,
      createElement: () => ({}),
      querySelector: () => null,
    },
    fetch: async (path: string, o: RequestInit) => {
      const a: Asked = {
        method: o.method ?? 'GET',
        path,
        body: o.body ? (JSON.parse(o.body as string) as unknown) : undefined,
        revision: (o.headers as Record<string, string>)['if-match'],
      }
      asked.push(a)
      const r = await b.answer(a)
      if (r === 'away') throw new TypeError('network')
      return new Response(r.status === 204 ? null : JSON.stringify(r.body ?? {}), {
        status: r.status ?? 200,
        headers: { 'content-type': 'application/json', ...(b.putBack ? { 'shelve-put-back': b.putBack } : {}) },
      })
    },
  }
  for (const [name, value] of Object.entries(here))
    Object.defineProperty(globalThis, name, { value, configurable: true, writable: true })
  return b
}
export const ME = {
  person: { id: 'p', name: 'Ines', signIn: 'ines', role: 'keeper', active: true },
  may: ['book', 'see_value'],
  now: new Date(Date.UTC(2026, 10, 25, 10)).toISOString(),
  expiresAt: '2026-12-01T00:00:00Z',
  settings: {
    name: 'X',
    zone: 'Europe/Paris',
    currency: 'EUR',
    decimalMark: '.',
    dateOrder: 'dmy',
    shortRule: 'at_or_below',
    method: 'average',
  },
}
export const pause = (ms: number) => new Promise(done => setTimeout(done, ms))
