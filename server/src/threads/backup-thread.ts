import { parentPort, workerData } from 'node:worker_threads'
import { type BackupJob, damageOf, takeInto } from '../ground/index.ts'
import { unshownIn } from '../papers/index.ts'

/** Takes a backup, in a thread of its own, and tells which pictures in it no slip shows; or looks a database over. */
const job = workerData as (BackupJob & { readonly now: number }) | { readonly examined: string }
parentPort!.postMessage('examined' in job ? damageOf(job.examined) : unshownIn(await takeInto(job), job.now))
