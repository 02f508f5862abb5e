import { parentPort, workerData } from 'node:worker_threads'
import { compose } from '../compose.ts'
import { LOOKING } from '../ground/index.ts'
import { checkDatabase, type Part, verifyChain, verifyFigures } from '../ledger/index.ts'

/** One part of a verification, in a thread of its own. */
const { file, part } = workerData as { file: string; part: Part }
const house = compose(file, { reads: LOOKING })
parentPort!.postMessage({ file: checkDatabase, chain: verifyChain, figures: verifyFigures }[part](house))
house.close()
