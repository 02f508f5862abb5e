// Loaded into the server that is measured, before anything of its own: how long its request loop stood still at most
// between being told to watch and being asked. The client's own waiting is not in it.
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { isMainThread } from 'node:worker_threads'

/** So long until the loop has ticked for certain (ms). */
const TICKS = 20
if (isMainThread && process.send) {
  const delay = monitorEventLoopDelay({ resolution: 1 })
  process.on('message', asked => {
    // It is told how long the loop stood from one tick to the next: one before and one after whatever is watched.
    if (asked === 'watch') {
      delay.reset()
      delay.enable()
      setTimeout(() => process.send('watching'), TICKS)
    } else if (asked === 'stood')
      setTimeout(() => {
        delay.disable()
        process.send({ stood: delay.max / 1e6 })
      }, TICKS)
  })
  // It keeps no server up that was told to stop; a process that is nothing else is ended by whoever began it.
  if (process.argv[2] !== 'idle') process.channel.unref()
}
