import { beginJob, reserve, schema, setState } from '@shelve/server'
import { NewJob, type NewJobInput } from '@shelve/contract'
import { type AreaName } from './catalogue.ts'
import { DAY, type Station } from './station.ts'

interface Planned extends Omit<NewJobInput, 'place' | 'template' | 'day' | 'costCentre' | 'lines'> {
  readonly in: AreaName
  readonly by?: string
  /** In how many days. */
  readonly day: number
  readonly centre: string
  readonly takes?: readonly (readonly [code: string, typed: string, note?: string])[]
  /** What was handed out for it. */
  readonly used?: readonly (readonly [code: string, typed: string])[]
  /** What is here is kept for it. */
  readonly kept?: boolean
  readonly ended?: boolean
}
const JOBS: readonly Planned[] = [
  { in: 'Galley', by: 'DINNER', typed: '26', name: 'Fish dinner', day: 0, time: '18:30', centre: 'FOOD' },
  { in: 'Galley', by: 'STOCK', typed: '4', name: 'Stock for the freezer', day: 2, centre: 'FOOD' },
  {
    in: 'Wet lab',
    by: 'RINSE',
    typed: '2.5',
    name: 'Rinsing ethanol for the run',
    day: 1,
    time: '15:00',
    centre: 'CHEM',
  },
  {
    in: 'Wet lab',
    by: 'NITRATE',
    typed: '4',
    name: 'Water sampling, four stations',
    day: 2,
    time: '08:00',
    centre: 'CHEM',
    kept: true,
  },
  {
    in: 'Boat shed',
    name: 'Petrel, engine service at 400 hours',
    reference: 'WO-114',
    day: 5,
    centre: 'BOAT',
    note: 'She comes in on the evening tide the day before.',
    takes: [
      ['OIL-1030', '6.5'],
      ['FLT-OIL', '2'],
      ['FLT-FUE', '2'],
      ['FLT-GEN', '4', 'comes by boat'],
      ['IMP-W', '1'],
      ['ANO-Z', '4'],
      ['COO-L', '3'],
    ],
    kept: true,
  },
  {
    in: 'Wet lab',
    name: 'Probe check, both boats',
    day: 1,
    time: '09:00',
    centre: 'CHEM',
    repeats: 'FREQ=WEEKLY;INTERVAL=2;BYDAY=TH',
    takes: [
      ['BUF-4', '50'],
      ['BUF-7', '50'],
      ['WIP-D', '1'],
    ],
  },
  {
    in: 'Wet lab',
    by: 'NITRATE',
    typed: '1',
    name: 'Nitrate run, pier station',
    day: -1,
    centre: 'CHEM',
    used: [
      ['NIT-25', '6'],
      ['WAS-P', '0.067'],
    ],
    ended: true,
  },
  {
    in: 'Boat shed',
    name: 'Moorings, autumn round',
    day: -6,
    centre: 'BOAT',
    takes: [
      ['ROP-12', '20'],
      ['SHA-D8', '6'],
    ],
    ended: true,
  },
]

/** What is planned on Gannet Holm today, and a job that is done. */
export function writeJobs(s: Station, now: number): void {
  const { app } = s
  const uidOf = (table: typeof schema.template | typeof schema.costCentre, code: string) =>
    app.db
      .select()
      .from(table)
      .all()
      .find(t => t.code === code)!.uid
  const people = app.db.select().from(schema.person).all()
  for (const { in: area, by, day, centre, takes = [], used, kept, ended, ...more } of JOBS) {
    const caller = s.caller(s.keeper(area))
    const { id } = app.change('job', () => {
      const begun = beginJob(
        app,
        caller,
        NewJob.parse({
          ...more,
          place: s.areas.get(area)!,
          template: by ? uidOf(schema.template, by) : null,
          costCentre: uidOf(schema.costCentre, centre),
          person: people.find(p => p.id === caller.id)!.uid,
          day: app.today(now + day * DAY),
          lines: takes.map(([code, typed, note = '']) => ({ id: app.uid(), item: s.items.get(code)!, typed, note })),
        }),
      )
      if (kept) reserve(app, caller, begun.id, { need: null, place: null, lot: null, typed: '', unit: null })
      return begun
    })

    if (used)
      s.book(s.keeper(area), now, {
        kind: 'issue',
        place: s.areas.get(area)!,
        head: { job: id },
        lines: used.map(([code, typed]) => ({ id: app.uid(), item: s.items.get(code)!, typed })),
      })
    if (ended) void app.change('job', () => setState(app, caller, id, 'done'))
  }
}
