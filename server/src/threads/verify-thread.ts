import { parentPort, workerData } from 'node:worker_threads'
import { compose } from '../compose.ts'
import { LOOKING } from '../ground/index.ts'
import { checkDatabase, verifyLedger } from '../ledger/index.ts'

/** One half of a verification, in a thread of its own: `file` or `ledger`. */
const { file, half } = workerData as { file: string; half: 'file' | 'ledger' }
const house = compose(file, { reads: LOOKING })
parentPort!.postMessage(half === 'file' ? checkDatabase(house) : verifyLedger(house))
house.close()
