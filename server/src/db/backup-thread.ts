import { parentPort, workerData } from 'node:worker_threads'
import { backup } from './backup.ts'

/** Takes a backup in a thread of its own. */
const { directory, target } = workerData as { directory: string; target: string }
parentPort!.postMessage(await backup(directory, target))
