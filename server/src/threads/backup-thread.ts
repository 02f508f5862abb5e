import { parentPort, workerData } from 'node:worker_threads'
import { type BackupJob, damageOf, takeInto } from '../ground/index.ts'

/** Takes a backup, in a thread of its own, and tells which pictures in it no slip shows; or looks a database over. */
const job = workerData as (BackupJob & { readonly now: number }) | { readonly examined: string }
if ('examined' in job) parentPort!.postMessage(damageOf(job.examined))
else {
  // Read only where it is wanted: each start looks its database over, and needs nothing of what papers are made of.
  const { unshownIn } = await import('../papers/index.ts')
  parentPort!.postMessage(unshownIn(await takeInto(job), job.now))
}
