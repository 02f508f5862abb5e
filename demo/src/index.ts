import { type House, addPerson, firstRun, hashPassword, NOBODY } from '@shelve/server'
import { Random } from './random.ts'
import { build, open } from './founding.ts'
import { day as livesThrough } from './days.ts'
import { askFor, leaveLying } from './lying.ts'
import { DAY, DAYS, PASSWORD, Station } from './station.ts'
import { writeJobs } from './jobs.ts'
import { makeReagents } from './making.ts'
import { openBottles } from './opened.ts'
import { sendThings, setBudgets, setHabits } from './sending.ts'
import { writeTemplates } from './templates.ts'

export { DAYS, PASSWORD } from './station.ts'
/**
 * Makes the demonstration organisation: Gannet Holm, its four stockrooms and some weeks of slips, from a seed, relative
 * to `now`, every slip through the booking function. `clock.now` is the House's clock; it ends at `now`.
 */
export async function makeDemonstration(
  app: House,
  clock: { now: number },
  now: number,
  { seed = 7, days = DAYS } = {},
): Promise<{ slips: number; refused: number }> {
  const random = new Random(seed)
  const start = Math.floor((now - days * DAY) / DAY) * DAY
  clock.now = start + 6 * 3_600_000
  const tova = await firstRun(
    app,
    {
      organisation: {
        name: 'Gannet Holm Field Station',
        zone: 'Europe/Dublin',
        currency: 'EUR',
        decimalMark: '.',
        dateOrder: 'dmy',
      },
      manager: { name: 'Tova Brand', signIn: 'tova', password: PASSWORD },
      area: 'Wet lab',
    },
    NOBODY,
  )
  const hash = await hashPassword(PASSWORD)
  const people = app.setUp(() => ({
    ines: addPerson(app, { name: 'Ines Corrie', signIn: 'ines', passwordHash: hash, role: 'keeper' }, NOBODY),
    ruben: addPerson(app, { name: 'Ruben Asker', signIn: 'ruben', passwordHash: hash, role: 'keeper' }, NOBODY),
  }))
  const station = new Station(app, clock, random, { ...people, tova })
  app.setUp(() => build(station))
  open(station)
  // People of every role, so that each screen can be seen as they see it.
  const galley = app.places.areas().find(a => a.name === 'Galley')!.uid
  app.setUp(() => {
    addPerson(
      app,
      { name: 'Sorrel Dunne', signIn: 'sorrel', passwordHash: hash, role: 'requester', place: galley },
      NOBODY,
    )
    addPerson(app, { name: 'Oskar Hale', signIn: 'oskar', passwordHash: hash, role: 'buyer' }, NOBODY)
    addPerson(app, { name: 'Linnea Roe', signIn: 'linnea', passwordHash: hash, role: 'observer' }, NOBODY)
  })
  for (let day = 1; day <= days; day++) livesThrough(station, start + day * DAY, now)
  leaveLying(station, now)
  await askFor(station, now)
  writeTemplates(station)
  makeReagents(station, now)
  sendThings(station, now)
  setBudgets(station, now)
  openBottles(station, now)
  setHabits(station)
  clock.now = now
  writeJobs(station, now)
  app.stock.forget()
  return { slips: station.slips, refused: station.refused }
}
