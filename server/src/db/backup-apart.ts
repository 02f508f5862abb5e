import { Worker } from 'node:worker_threads'

/** `backup`, beside the server, which goes on answering and booking: reading, hashing and writing a whole database takes seconds. */
export const backupApart = (directory: string, target: string): Promise<string> => new Promise((ok, no) => {
  const worker = new Worker(new URL('./backup-worker.mjs', import.meta.url), { workerData: { directory, target } })
  worker.once('message', ok)
  worker.once('error', no)
})
