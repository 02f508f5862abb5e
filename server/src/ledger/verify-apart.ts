import { fork } from 'node:child_process'
import { availableParallelism } from 'node:os'
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

// In a process of its own: a million movements worked out at once want another heap than the server, which is kept small;
// what they took goes back to the machine; and pools of memory that threads share make all of them wait (measured).
const inProcess = (file: string, part: Part): Promise<unknown> =>
  new Promise((ok, no) => {
    const child = fork(threadNamed('verify'), [file, part], {
      // Most of what is read stays until the end: the less often the young are looked through, the sooner it is done (a fifth of it).
      execArgv: ['--max-old-space-size=4096', '--max-semi-space-size=64'],
      serialization: 'advanced',
    })
    const end = () => void child.kill()
    process.once('exit', end)
    child.once('message', ok)
    child.once('error', no)
    child.once('exit', (code, signal) => {
      process.off('exit', end)
      const failed = () => no(new Error(`the process that works the books out anew ended with ${signal ?? code}`))
      // What it said last may still be on its way.
      if (child.connected) child.once('disconnect', failed)
      else failed()
    })
  })

/**
 * The whole verification beside the server, which goes on answering: each part in a process of its own, as many at once as
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
      found[part] = await inProcess(file, part)
      if (part !== 'file') ledger = Date.now() - began
    }
  }
  await Promise.all(Array.from({ length: Math.min(PARTS.length, availableParallelism()) }, oneByOne))
  const { chain, figures, file: inFile } = found as Parts
  return { ...together(chain, figures, inFile), ms: { ledger, all: Date.now() - began } }
}
