import { parentPort, workerData } from 'node:worker_threads'
import { App } from '../app.ts'
import { checkDatabase, verifyLedger } from './verify.ts'

/** One half of a verification, in a thread of its own: `file` or `ledger`. */
const { file, half } = workerData as { file: string; half: 'file' | 'ledger' }
const app = new App(file)
parentPort!.postMessage(half === 'file' ? checkDatabase(app) : verifyLedger(app))
app.close()
