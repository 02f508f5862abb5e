import { App } from '@shelve/server'
import { stocked } from './stock.ts'
const clock = { now: Date.now() }
const app = new App(process.argv[2]!, { now: () => clock.now })
const t = Date.now()
await stocked(app, clock, Date.now(), Number(process.argv[3]))
console.log((Date.now() - t) / 1000, 's')
app.close()
