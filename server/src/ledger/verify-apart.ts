import { Worker } from 'node:worker_threads'
import type { Fault } from '@shelve/core'
import { threadNamed } from '../ground/index.ts'
import type { ChainSays } from './verify-chain.ts'
import { together, type Verification } from './verify.ts'

/** The parts of a verification that need nothing of each other: the file itself, what was sealed, and the figures. */
export type Part = 'file' | 'chain' | 'figures'

// The server itself is kept small; a million movements worked out at once are not.
const part = <T>(file: string, which: Part): Promise<T> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('verify'), {
      workerData: { file, part: which },
      resourceLimits: { maxOldGenerationSizeMb: 4096 },
    })
    worker.once('message', ok)
    worker.once('error', no)
  })

/** The whole verification beside the server, which goes on answering: each part in a thread of its own. */
export async function verifyApart(file: string): Promise<Verification> {
  const [chain, figures, inFile] = await Promise.all([
    part<ChainSays>(file, 'chain'),
    part<Fault[]>(file, 'figures'),
    part<Fault[]>(file, 'file'),
  ])
  return together(chain, figures, inFile)
}
