import { parentPort, workerData } from 'node:worker_threads'
import { takeInto } from './schedule.ts'

parentPort!.postMessage(await takeInto(workerData as Parameters<typeof takeInto>[0]))
