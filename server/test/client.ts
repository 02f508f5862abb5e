import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pino } from 'pino'
import { v7 } from 'uuid'
import type { Effect, Item, Me, Place, Problem, SlipContentInput, SlipView } from '@shelve/contract'
import { compose, type House, DATABASE, serve, type Running } from '@shelve/server'

type SlipLineInput = NonNullable<SlipContentInput['lines']>[number]
/** A server of its own on a fresh data directory, and a caller who speaks to it over HTTP. */
export class Client {
  cookie = ''
  constructor(readonly base: string) {}
  async call<T = unknown>(
    method: string,
    path: string,
    body?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ status: number; body: T & Problem; text: string; headers: Headers }> {
    const r = await fetch(this.base + path, {
      method,
      headers: {
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
        cookie: this.cookie,
        ...headers,
      },
      ...(body === undefined ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    })
    const set = r.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]!
    const text = await r.text()
    let parsed: unknown
    try {
      parsed = text ? JSON.parse(text) : undefined
    } catch {
      parsed = undefined
    }
    return { status: r.status, body: parsed as T & Problem, text, headers: r.headers }
  }
  async ok<T>(method: string, path: string, body?: unknown, headers?: Record<string, string>): Promise<T> {
    const r = await this.call<T>(method, path, body, headers)
    if (r.status >= 300) throw new Error(`${method} ${path} → ${r.status} ${r.text.slice(0, 600)}`)
    return r.body
  }
  get<T>(path: string) {
    return this.ok<T>('GET', path)
  }
  line(more: Partial<SlipLineInput>): SlipLineInput {
    return { id: v7(), ...more }
  }
  book(content: SlipContentInput, id = v7(), seen: string | null = null) {
    return this.call<SlipView>('POST', `/api/slips/${id}/booking`, { content, seen })
  }
  async must(content: SlipContentInput, id = v7()): Promise<SlipView> {
    const r = await this.book(content, id)
    if (r.status !== 201) throw new Error(`not booked: ${r.text.slice(0, 800)}`)
    return r.body
  }
  effect(content: SlipContentInput) {
    return this.ok<Effect>('POST', `/api/slips/${v7()}/effect`, content)
  }
}

export interface World {
  readonly app: House
  readonly running: Running
  readonly c: Client
  readonly directory: string
  readonly me: Me
  readonly lab: Place
  clock: { now: number }
  stop: () => Promise<void>
}

/** An organisation with a wet lab, on a clock that the test moves. */
export async function world(
  options: { file?: string; checkpointEvery?: number; mail?: { url: string; from: string } } = {},
): Promise<World> {
  const directory = mkdtempSync(join(tmpdir(), 'shelve-test-'))
  const clock = { now: Date.UTC(2026, 10, 25, 9) }
  const app = compose(options.file ?? join(directory, DATABASE), {
    now: () => clock.now,
    ...(options.checkpointEvery ? { checkpointEvery: options.checkpointEvery } : {}),
    ...(options.mail ? { mail: options.mail } : {}),
  })
  const running = await serve(app, 0, '127.0.0.1', { signInsPerMinute: 1000, log: pino({ level: 'error' }) })
  const c = new Client(`http://127.0.0.1:${running.port}`)
  const me = await c.ok<Me>('POST', '/api/start', {
    organisation: { name: 'Test station', zone: 'Europe/Paris', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
    manager: { name: 'Ines Corrie', signIn: 'ines', password: 'correct horse' },
    area: 'Wet lab',
  })
  const { rows } = await c.get<{ rows: Place[] }>('/api/places')
  return {
    app,
    running,
    c,
    directory,
    me,
    lab: rows[0]!,
    clock,
    stop: async () => {
      await running.stop()
      rmSync(directory, { recursive: true, force: true })
    },
  }
}
/** The smallest whole PNG: one pixel. */
export const PNG = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
)
export const sendPicture = (c: Client, bytes: Uint8Array = PNG, type = 'image/png') =>
  fetch(`${c.base}/api/pictures`, {
    method: 'POST',
    headers: { 'content-type': type, cookie: c.cookie },
    body: Buffer.from(bytes),
  })
export const newItem = (c: Client, more: Record<string, unknown>) =>
  c.ok<Item>('POST', '/api/items', { code: `X-${v7().slice(-6)}`, name: 'Something', unit: 'each', ...more })
