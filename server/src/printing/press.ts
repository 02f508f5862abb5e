import { Worker } from 'node:worker_threads'
import type { Paper } from './paper.ts'

interface Waiting {
  readonly ok: (pdf: Uint8Array) => void
  readonly no: (e: Error) => void
}

/** The thread that draws is started with the first paper and ended when nothing was printed for a while. */
const IDLE = 30_000

let worker: Worker | undefined

let ending: NodeJS.Timeout | undefined

let next = 1

const waiting = new Map<number, Waiting>()

function fail(error: Error): void {
  worker = undefined
  for (const w of waiting.values()) w.no(error)
  waiting.clear()
}

function start(): Worker {
  const made = new Worker(new URL('./press-worker.mjs', import.meta.url))
  made.on('message', (m: { id: number; pdf?: Uint8Array; trouble?: string }) => {
    const w = waiting.get(m.id)
    waiting.delete(m.id)
    if (m.pdf) w?.ok(m.pdf)
    else w?.no(new Error(`a paper could not be drawn: ${m.trouble}`))
    if (waiting.size) return
    made.unref()
    clearTimeout(ending)
    ending = setTimeout(() => {
      if (!waiting.size) {
        worker = undefined
        void made.terminate()
      }
    }, IDLE)
    ending.unref()
  })
  made.on('error', fail)
  return made
}

/** Draws a paper as PDF, beside the server, which goes on answering. */
export function press(paper: Paper): Promise<Uint8Array> {
  worker ??= start()
  worker.ref()
  const id = next++
  return new Promise((ok, no) => {
    waiting.set(id, { ok, no })
    worker!.postMessage({ id, paper })
  })
}
