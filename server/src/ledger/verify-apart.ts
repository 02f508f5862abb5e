import { Worker } from 'node:worker_threads'
import type { Fault } from '@shelve/core'
import { threadNamed } from '../ground/index.ts'
import type { Verification } from './verify.ts'

const half = <T>(file: string, which: 'file' | 'ledger'): Promise<T> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('verify'), {
      workerData: { file, half: which },
      resourceLimits: { maxOldGenerationSizeMb: 4096 },
    })
    worker.once('message', ok)
    worker.once('error', no)
  })

// The server itself is kept small; a million movements worked out at once are not.
/** The whole verification beside the server, which goes on answering: the file and the ledger, each in a thread of its own. */
export async function verifyApart(file: string): Promise<Verification> {
  const [inFile, ledger] = await Promise.all([half<Fault[]>(file, 'file'), half<Verification>(file, 'ledger')])
  const faults = [...inFile, ...ledger.faults]
  return { ...ledger, ok: faults.length === 0, faults }
}
