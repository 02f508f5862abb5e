import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import type { Fault } from '@shelve/core'
import { threadNamed } from '../ground/index.ts'
import type { ChainSays } from './verify-chain.ts'
import { together, type Verification } from './verify.ts'

/** The parts of a verification, which need nothing of each other: what was sealed, the figures, and the file itself. */
interface Parts {
  readonly chain: ChainSays
  readonly figures: Fault[]
  readonly file: Fault[]
}
export type Part = keyof Parts
const PARTS: readonly Part[] = ['chain', 'figures', 'file']

// The server itself is kept small; a million movements worked out at once are not.
const inThread = (file: string, part: Part): Promise<unknown> =>
  new Promise((ok, no) => {
    const worker = new Worker(threadNamed('verify'), {
      workerData: { file, part },
      resourceLimits: { maxOldGenerationSizeMb: 4096 },
    })
    worker.once('message', ok)
    worker.once('error', no)
  })

/**
 * The whole verification beside the server, which goes on answering: each part in a thread of its own, as many at once as
 * there are processors. `ms`: when the ledger was through, and when all was, the file last.
 */
export async function verifyApart(
  file: string,
): Promise<Verification & { readonly ms: Record<'ledger' | 'all', number> }> {
  const began = Date.now()
  const found: Partial<Record<Part, unknown>> = {}
  const left = [...PARTS]
  let ledger = 0
  const oneByOne = async () => {
    for (let part = left.shift(); part; part = left.shift()) {
      found[part] = await inThread(file, part)
      if (part !== 'file') ledger = Date.now() - began
    }
  }
  await Promise.all(Array.from({ length: Math.min(PARTS.length, availableParallelism()) }, oneByOne))
  const { chain, figures, file: inFile } = found as Parts
  return { ...together(chain, figures, inFile), ms: { ledger, all: Date.now() - began } }
}
