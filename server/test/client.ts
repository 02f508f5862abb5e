import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pino } from 'pino'
import { v7 } from 'uuid'
import type { z } from 'zod'
import {
  type DraftChanges,
  type DraftSaved,
  type DraftView,
  type Effect,
  type Item,
  type Me,
  type Place,
  type Problem,
  type Role,
  SlipContent,
  type SlipContentInput,
  type SlipView,
} from '@shelve/contract'
import { alike, changesOf } from '@shelve/core'
import { besideIt, compose, hashWith, type House, DATABASE, serve, type Running } from '@shelve/server'

// Thousands of people are made here: as little work as the method allows. What a server really does is read in safety.test.
hashWith({ memoryCost: 8, timeCost: 1, parallelism: 1 })

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
  draft(id: string, since = 0) {
    return this.get<DraftView>(`/api/slips/${id}/draft?since=${since}`)
  }
  save(id: string, changes: z.input<typeof DraftChanges>, revision?: number) {
    return this.call<DraftSaved>(
      'PATCH',
      `/api/slips/${id}`,
      changes,
      revision === undefined ? {} : { 'if-match': String(revision) },
    )
  }
  /** Saves a draft so that it says a content, as somebody who has just read it. */
  async saveAs(id: string, content: SlipContentInput): Promise<DraftView> {
    const { lines, kind: _, ...head } = SlipContent.parse(content)
    const is = await this.draft(id)
    const base = new Map(is.lines.map(l => [l.id, { ...l, content: { ...l.line!, id: l.id } }]))
    const changes = changesOf({ base, mine: lines }, alike).map(({ content: line, ...c }) => ({ ...c, line }))
    const r = await this.save(id, { head, lines: changes }, is.revision)
    if (r.status !== 200) throw new Error(`not saved: ${r.text.slice(0, 600)}`)
    return this.draft(id)
  }
  /** Books a draft as it was seen. */
  bookSeen(is: DraftView, seen: string | null = null) {
    const lines = is.lines.map(l => ({ id: l.id, revision: l.revision }))
    return this.call<SlipView>('POST', `/api/slips/${is.id}/booking`, {
      draft: { revision: is.revision, lines },
      seen,
    })
  }
  /** Saves a draft so that it says a content, then books what it read. */
  async bookAs(id: string, content: SlipContentInput, seen: string | null = null) {
    return this.bookSeen(await this.saveAs(id, content), seen)
  }
  async must(content: SlipContentInput, id = v7()): Promise<SlipView> {
    const r = await this.book(content, id)
    if (r.status !== 201) throw new Error(`not booked: ${r.text.slice(0, 800)}`)
    return r.body
  }
  /** Books what came from a supplier. */
  received(place: string, supplier: string, ...lines: SlipLineInput[]): Promise<SlipView> {
    return this.must({ kind: 'receipt', place, head: { supplier }, lines })
  }
  effect(content: SlipContentInput) {
    return this.ok<Effect>('POST', `/api/slips/${v7()}/effect`, content)
  }
}

export interface World {
  /** The house that writes. */
  readonly app: House
  /** The one that answers. */
  readonly reading: House
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
  const given = {
    now: () => clock.now,
    ...(options.checkpointEvery ? { checkpointEvery: options.checkpointEvery } : {}),
    ...(options.mail ? { mail: options.mail } : {}),
  }
  const file = options.file ?? join(directory, DATABASE)
  // As it is served: one house writes, another one reads and answers; here on one thread, for the sake of the clock.
  const app = compose(file, given)
  const { writer, reads, hear } = besideIt(app)
  const reading = compose(file, { ...given, reads })
  hear(reading)
  const running = await serve(reading, 0, '127.0.0.1', {
    signInsPerMinute: 1000,
    log: pino({ level: 'error' }),
    writer,
  })
  const c = new Client(`http://127.0.0.1:${running.port}`)
  const me = await c.ok<Me>('POST', '/api/start', {
    organisation: { name: 'Test station', zone: 'Europe/Paris', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
    manager: { name: 'Ines Corrie', signIn: 'ines', password: 'correct horse' },
    area: 'Wet lab',
  })
  const { rows } = await c.get<{ rows: Place[] }>('/api/places')
  return {
    app,
    reading,
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

export const PASSWORD = 'long enough'
/** Somebody with a role over a place (null: everywhere), signed in. */
export async function person(w: World, name: string, role: Role, place: string | null = null): Promise<Client> {
  const signIn = name.toLowerCase()
  await w.c.ok('POST', '/api/people', { name, signIn, password: PASSWORD, role, place })
  const c = new Client(w.c.base)
  await c.ok('POST', '/api/session', { signIn, password: PASSWORD })
  return c
}
