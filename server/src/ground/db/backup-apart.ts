import { Worker } from 'node:worker_threads'
import { threadNamed } from '../thread.ts'

/** `takeInto` (and which pictures in it no slip shows), in a thread beside the server, which goes on answering and booking: reading, hashing and writing a whole database takes seconds. */
export const backupApart = (what: {
  readonly directory: string
  readonly name: string
  readonly keep: number
  readonly now: number
}): Promise<string[]> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('backup'), { workerData: what })
    worker.once('message', ok)
    worker.once('error', no)
  })

/** `damageOf`, likewise. */
export const damageApart = (file: string): Promise<string | null> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('backup'), { workerData: { examined: file } })
    worker.once('message', ok)
    worker.once('error', no)
    worker.unref()
  })
