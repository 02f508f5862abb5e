import { mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { compose, DATABASE } from '@shelve/server'
import { makeDemonstration } from './index.ts'

/** Makes the demonstration's data directory anew: `make.ts DIRECTORY [NOW]`. It is built beside and then put in place, so that a run cut short leaves nothing half made. */
const directory = process.argv[2]
if (!directory) throw new Error('a directory is wanted')
const now = Number(process.argv[3] ?? Date.now())
const building = `${directory}.building`
rmSync(building, { recursive: true, force: true })
mkdirSync(building, { recursive: true })
const clock = { now }
const app = compose(join(building, DATABASE), { now: () => clock.now })
// Made once and thrown away if the machine dies meanwhile: no need to wait for the disk at each slip.
app.store.client.pragma('synchronous = OFF')
const began = Date.now()
const made = await makeDemonstration(app, clock, now)
app.close()
writeFileSync(join(building, 'made-for.txt'), new Date(now).toISOString().slice(0, 10))
writeFileSync(join(building, 'made.json'), JSON.stringify(made))
rmSync(directory, { recursive: true, force: true })
renameSync(building, directory)
console.log(
  `The demonstration: ${made.slips} slips in ${((Date.now() - began) / 1000).toFixed(1)} s${made.refused ? `, ${made.refused} refused` : ''}.`,
)
