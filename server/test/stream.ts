import type { Client } from './client.ts'

/** An event as whoever listens is told it. */
export interface Heard {
  readonly seq: number
  readonly kind: string
  readonly detail: object
}

/**
 * Listens to the event stream of a caller until it is stopped or the server ends it. Heard are the messages alone, whole however
 * they were cut on the way: an event with a name of its own (the beat, every ten seconds, whenever that falls) is none.
 * Format: HTML Standard, 9.2.6, Interpreting an event stream.
 */
export class Stream {
  readonly heard: Heard[] = []
  ended = false
  readonly #going: AbortController
  readonly #reading: Promise<void>

  private constructor(body: AsyncIterable<Uint8Array>, going: AbortController) {
    this.#going = going
    this.#reading = this.#read(body)
  }
  static async of(c: Client, path = '/api/events'): Promise<Stream> {
    const going = new AbortController()
    const r = await fetch(c.base + path, { headers: { cookie: c.cookie }, signal: going.signal })
    if (r.status !== 200) throw new Error(`${path} → ${r.status}`)
    return new Stream(r.body as unknown as AsyncIterable<Uint8Array>, going)
  }
  /** Waits until what was heard is as wanted. */
  async until(what: (heard: readonly Heard[]) => boolean): Promise<void> {
    while (!what(this.heard)) {
      if (this.ended) throw new Error(`the stream ended: ${JSON.stringify(this.kinds())}`)
      await new Promise(r => setTimeout(r, 10))
    }
  }
  kinds(): string[] {
    return this.heard.map(e => e.kind)
  }
  /** Stops listening; says what was heard. */
  async stop(): Promise<readonly Heard[]> {
    this.#going.abort()
    await this.#reading
    return this.heard
  }
  /** Waits until the server ends it. */
  end(): Promise<void> {
    return this.#reading
  }
  async #read(body: AsyncIterable<Uint8Array>) {
    const decoder = new TextDecoder()
    let rest = ''
    try {
      for await (const chunk of body) {
        const said = (rest + decoder.decode(chunk, { stream: true })).split('\n\n')
        rest = said.pop()!
        for (const one of said) {
          const lines = one.split('\n')
          const data = lines.find(l => l.startsWith('data: '))
          if (data && !lines.some(l => l.startsWith('event: '))) this.heard.push(JSON.parse(data.slice(6)) as Heard)
        }
      }
    } catch (e) {
      if (!this.#going.signal.aborted) throw e
    } finally {
      this.ended = true
    }
  }
}
