import { v7 } from 'uuid'
import { SlipContent, type SlipContentInput } from '@shelve/contract'
import {
  type House,
  bookNow,
  callerFor,
  createItem,
  createJob,
  createPlace,
  firstRun,
  NOBODY,
  schema,
  setLevel,
  type Caller,
} from '@shelve/server'
import { Random } from '@shelve/demo/random'

const DAY = 86_400_000
const AREAS = 20
const ITEMS = 5000
const LINES = 20
type Line = NonNullable<SlipContentInput['lines']>[number]

export interface Stocked {
  readonly areas: string[]
  readonly items: string[]
  readonly job: string
  readonly hot: string
}
const FOUND = 'The bench stands ready.'

/**
 * A large organisation: 20 areas with ten bins each, 5 000 items of all cost methods, a quarter of them with lots and
 * expiry, and `size` movements over two years, all through the booking function: a delivery of 20 lines, then slips that
 * issue it. Two slips in a hundred are written two days late. One item, `HOT`, is used all the time: at
 * a million movements more than 10 000 of them are its own.
 */
export async function stocked(app: House, clock: { now: number }, now: number, size: number): Promise<Stocked> {
  if (!app.organisation) {
    clock.now = now - 731 * DAY
    await firstRun(
      app,
      {
        organisation: { name: 'Bench', zone: 'Europe/Paris', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
        manager: { name: 'Bench', signIn: 'bench', password: 'bench bench' },
        area: 'Area 1',
      },
      NOBODY,
    )
    fill(app, clock, now, size)
    app.db.update(schema.organisation).set({ name: FOUND }).run()
    app.forget()
  }
  return named(app)
}

export const callerOf = (app: House): Caller => {
  const row = app.db.select().from(schema.person).get()!
  return callerFor({ ...row, expiresAt: Infinity, session: '', strong: true }, [{ role: 'manager', placeId: null }])
}

function named(app: House): Stocked {
  const items = app.db
    .select({ uid: schema.item.uid, code: schema.item.code })
    .from(schema.item)
    .orderBy(schema.item.id)
    .all()
  return {
    areas: app.places.areas().map(a => a.uid),
    items: items.filter(i => i.code !== 'HOT').map(i => i.uid),
    hot: items.find(i => i.code === 'HOT')!.uid,
    job: app.db.select().from(schema.job).get()!.uid,
  }
}

function setUp(app: House): void {
  app.setUp(() => {
    for (let n = 2; n <= AREAS; n++) createPlace(app, { name: `Area ${n}`, kind: 'area' })
    for (const a of app.places.areas())
      for (let n = 1; n <= 10; n++) createPlace(app, { name: `B${n}`, parent: a.uid, kind: 'bin' })
    createJob(app, { code: 'JOB', name: 'Work' })
  })
  const areas = app.places.areas()
  const bins = areas.map(a => [...app.places.within(a.id)].filter(id => id !== a.id).map(id => app.places.row(id)!.uid))
  app.setUp(() => {
    for (let n = 0; n <= ITEMS; n++) {
      const kind = n % 20
      const id = createItem(app, {
        code: n === ITEMS ? 'HOT' : `C-${String(n).padStart(4, '0')}`,
        name: n === ITEMS ? 'Most used' : `Thing ${n} of sort ${n % 37}`,
        unit: 'each',
        identifiedBy: kind < 5 && n < ITEMS ? 'lot_expiry' : 'quantity',
        method: n === ITEMS ? 'average' : kind === 0 ? 'lot' : kind < 8 ? 'fifo' : kind < 10 ? 'standard' : 'average',
        standardCost: kind >= 8 && kind < 10 && n < ITEMS ? '2' : '',
        packs: [{ name: 'case', size: '10' }],
      })
      const uid = app.rows.itemById.get({ id })!.uid
      setLevel(app, {
        item: uid,
        place: areas[n % AREAS]!.uid,
        minimum: '40',
        target: '200',
        bin: bins[n % AREAS]![n % 10]!,
      })
    }
  })
}

function fill(app: House, clock: { now: number }, now: number, size: number): void {
  setUp(app)
  const { areas, items, job, hot } = named(app)
  const random = new Random(11)
  const caller = callerOf(app)
  const start = now - 730 * DAY
  const slips: { at: number; late: boolean; content: SlipContentInput }[] = []
  let written = 0
  // It takes the last line of every so many slips: of whole areas, so that nobody else's deliveries go missing.
  const hotEvery = [20, 10, 5, 4, 2].find(n => size / LINES / n >= 12_000) ?? 1
  const total = Math.ceil(size / LINES)
  const line = (more: Partial<Line>): Line => ({ id: v7(), ...more })
  const inStock = new Map<string, number>()
  const flush = app.store.client.transaction(() => {
    for (const s of slips) {
      clock.now = s.at
      bookNow(
        app,
        caller,
        v7(),
        SlipContent.parse({ ...s.content, ...(s.late ? { effectiveAt: new Date(s.at - 2 * DAY).toISOString() } : {}) }),
      )
    }
  })
  for (let n = 0; n < total; n++) {
    const at = Math.floor(start + (n / total) * 729 * DAY)
    const area = n % AREAS
    // The items of an area come round in blocks; each delivery is followed by issues of the same block.
    const block = Array.from(
      { length: LINES },
      (_, k) => ((Math.floor(n / AREAS / 4) * LINES + k) % (ITEMS / AREAS)) * AREAS + area,
    )
    const first = Math.floor(n / AREAS) % 4 === 0
    const late = first && n > AREAS * 8 && random.next() < 0.08
    const lines = block.map(i => {
      const uid = items[i]!
      const have = inStock.get(uid) ?? 0
      const q = first ? 30 + Math.floor(random.next() * 30) : Math.min(have, 1 + Math.floor(random.next() * 9))
      inStock.set(uid, have + (first ? q : -q))
      return first
        ? line({
            item: uid,
            typed: String(q),
            price: (1 + (i % 50) / 7 + random.next() / 5).toFixed(4),
            lot:
              i % 20 < 5
                ? { code: `L${n}`, expiry: new Date(at + (400 + (i % 300)) * DAY).toISOString().slice(0, 10) }
                : null,
          })
        : line({ item: uid, typed: String(Math.max(1, q)) })
    })
    if (n % hotEvery === 0)
      lines[LINES - 1] = first
        ? line({ item: hot, typed: '30', price: '2.50', to: areas[0]! })
        : line({ item: hot, typed: '7', from: areas[0]! })
    const content: SlipContentInput = first
      ? { kind: 'receipt', place: areas[area]!, head: { supplier: `Supplier ${n % 40}` }, lines }
      : { kind: 'issue', place: areas[area]!, head: { job }, lines }
    slips.push({ at, late: late && n % hotEvery !== 0, content })
    written += lines.length
    if (slips.length === 200 || n === total - 1) {
      flush.immediate()
      slips.length = 0
      if (n % 10_000 < 200) process.stderr.write(`  ${written} lines written\n`)
    }
  }
}
