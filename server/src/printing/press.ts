import { Worker } from 'node:worker_threads'
import type { Paper } from './paper.ts'

interface Waiting {
  readonly paper: Paper
  readonly ok: (pdf: Uint8Array) => void
  readonly no: (e: Error) => void
}

/** The thread that draws is started with the first paper and ended when nothing was printed for a while. */
const IDLE = 30_000
let worker: Worker | undefined
let ending: NodeJS.Timeout | undefined
let next = 1
/** What is to be drawn, in the order in which it was asked for; the thread draws the first. */
const waiting = new Map<number, Waiting>()

/** The thread broke down over the paper it was drawing (too large, say): that one fails, the others are drawn by a new thread. */
function fail(error: Error): void {
  worker = undefined
  const [first] = waiting
  if (!first) return
  waiting.delete(first[0])
  first[1].no(error)
  if (!waiting.size) return
  worker = start()
  for (const [id, { paper }] of waiting) worker.postMessage({ id, paper })
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
    waiting.set(id, { paper, ok, no })
    worker!.postMessage({ id, paper })
  })
}
