import { parentPort, workerData } from 'node:worker_threads'
import { type BackupJob, takeInto } from '../ground/index.ts'
import { unshownIn } from '../papers/index.ts'

/** Takes a backup, in a thread of its own; tells which pictures in it no slip shows. */
const job = workerData as BackupJob & { readonly now: number }
parentPort!.postMessage(unshownIn(await takeInto(job), job.now))
