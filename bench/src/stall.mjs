// Loaded into the server that is measured, before anything of its own: how long its request loop stood still at most
// between being told to watch and being asked. The client's own waiting is not in it.
import { monitorEventLoopDelay } from 'node:perf_hooks'
import { isMainThread } from 'node:worker_threads'

if (isMainThread && process.send) {
  const delay = monitorEventLoopDelay({ resolution: 1 })
  process.on('message', asked => {
    if (asked === 'watch') {
      delay.reset()
      delay.enable()
    } else if (asked === 'stood') {
      delay.disable()
      process.send({ stood: delay.max / 1e6 })
    }
  })
  // It keeps no server up that was told to stop.
  process.channel.unref()
}
