import { parentPort, workerData } from 'node:worker_threads'
import { compose } from '../compose.ts'
import { LogKeeper } from '../ground/index.ts'
import { followStanding } from '../jobs/index.ts'
import { telling, type ToWriter, type WriterData, writing } from '../writer.ts'

/** The house that writes, in a thread of its own: it does what it is asked, one after the other. */
const { plan, log } = workerData as WriterData
const { tell, committed } = telling(m => parentPort!.postMessage(m))
const house = compose(plan.file, {
  now: () => Date.now() + plan.ahead,
  demonstration: plan.demonstration,
  tell: (told, detail) => tell({ told, detail }),
  ...(plan.mail ? { mail: plan.mail } : {}),
})
const keeper = new LogKeeper(house.store.client, log, () => tell({ moved: true }))
house.events.relay = {
  flushed: committed,
  ended: session => tell({ ended: session }),
}
house.post?.start()
followStanding(house)
const does = writing(house)
const stop = async () => house.close()
parentPort!.on('message', (m: ToWriter) => {
  const done = 'name' in m ? does.ask(m.name, m.asked) : 'errand' in m ? does.errand(m.errand, m.args) : stop()
  done
    .then(
      v => tell({ id: m.id, done: v }),
      (e: unknown) => tell({ id: m.id, failed: e instanceof Error ? e.message : String(e) }),
    )
    .then(() => {
      if (house.store.client.open) keeper.look()
      // What was asked last is answered before nobody is heard any more.
      else parentPort!.close()
    })
})
tell({ ready: true })
