import { v7 } from 'uuid'
import { checkDigit, formatDecimal } from '@shelve/core'
import { SlipContent, type SlipContentInput } from '@shelve/contract'
import {
  type House,
  addPerson,
  beginRestock,
  bookNow,
  callerFor,
  closeMonth,
  changeAccountCodes,
  createCostCentre,
  createItem,
  createJob,
  createPlace,
  firstRun,
  hashPassword,
  markAsked,
  nextMonth,
  NotBooked,
  openDifferences,
  beginDraft,
  restockOf,
  schema,
  setLevel,
  setLotState,
  updatePlace,
  type Caller,
} from '@shelve/server'
import { AREAS, ITEMS, type AreaName, type DemoItem } from './catalogue.ts'
import { Random } from './random.ts'

const DAY = 86_400_000
/** Days of history. */
export const DAYS = 790
export const PASSWORD = 'gannet holm'
/** Which of the galley's bins a category lies in: dry store, cold room, freezer, shelf. */
const GALLEY_BIN: Record<string, number> = { Dairy: 1, Vegetables: 1, Frozen: 2, Cleaning: 3 }
/** A quiet winter, a crowded summer: how much is used in each month, beside the year's mean. */
const SEASON = [0.55, 0.55, 0.65, 0.85, 1.15, 1.45, 1.6, 1.55, 1.2, 0.9, 0.65, 0.55]
const season = (at: number): number => SEASON[new Date(at).getUTCMonth()]!
/** Two satellites, restocked from the others: what belongs there, and how much. */
const SATELLITES = {
  'Launch Petrel': [
    'OIL-1030 4',
    'OIL-2T 2',
    'FUS-10 6',
    'FUS-20 6',
    'CAB-200 40',
    'ROP-8 40',
    'SHA-D8 4',
    'TAP-I 2',
    'FLA-R 2',
    'DRS-10 8',
    'PLA-A 1',
    'SEA-25 20',
    'BIS-O 6',
    'TEA-B 1',
    'BAT-D 8',
    'GLO-W 2',
    'CLA-H 10',
    'BUL-12 3',
  ],
  'Seal hide': [
    'BIS-O 8',
    'TEA-B 1',
    'SUG-W 1',
    'SAL-10 6',
    'DRS-5 6',
    'NOT-F 3',
    'MRK-P 3',
    'BAT-A 12',
    'SUN-50 2',
    'INS-R 2',
    'BAG-S 30',
    'VIA-20 40',
  ],
} as const
type Satellite = keyof typeof SATELLITES
/** How many days from one count of an area to the next. */
const COUNT_EVERY: Record<AreaName, number> = { 'Wet lab': 28, 'Sick bay': 56, Galley: 7, 'Boat shed': 28 }
/** Categories that are not costed by moving average. */
const METHODS: Record<string, 'fifo' | 'lot' | 'standard'> = {
  'Engine spares': 'fifo',
  Filters: 'lot',
  Fixings: 'standard',
}
type Line = NonNullable<SlipContentInput['lines']>[number]

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
  const tova = await firstRun(app, {
    organisation: {
      name: 'Gannet Holm Field Station',
      zone: 'Europe/Dublin',
      currency: 'EUR',
      decimalMark: '.',
      dateOrder: 'dmy',
    },
    manager: { name: 'Tova Brand', signIn: 'tova', password: PASSWORD },
    area: 'Wet lab',
  })
  const hash = await hashPassword(PASSWORD)
  const people = app.setUp(() => ({
    ines: addPerson(app, { name: 'Ines Corrie', signIn: 'ines', passwordHash: hash, role: 'keeper' }),
    ruben: addPerson(app, { name: 'Ruben Asker', signIn: 'ruben', passwordHash: hash, role: 'keeper' }),
  }))
  const station = new Station(app, clock, random, { ...people, tova })
  app.setUp(() => station.build())
  station.open()
  // People of every role, so that each screen can be seen as they see it.
  const galley = app.places.areas().find(a => a.name === 'Galley')!.uid
  app.setUp(() => {
    addPerson(app, { name: 'Sorrel Dunne', signIn: 'sorrel', passwordHash: hash, role: 'requester', place: galley })
    addPerson(app, { name: 'Oskar Hale', signIn: 'oskar', passwordHash: hash, role: 'buyer' })
    addPerson(app, { name: 'Linnea Roe', signIn: 'linnea', passwordHash: hash, role: 'observer' })
  })
  for (let day = 1; day <= days; day++) station.day(start + day * DAY, now)
  station.leaveLying(now)
  station.askFor(now)
  clock.now = now
  app.stock.forget()
  return { slips: station.slips, refused: station.refused }
}

class Station {
  slips = 0
  refused = 0
  readonly #areas = new Map<AreaName, string>()
  readonly #bins = new Map<AreaName, string[]>()
  readonly #items = new Map<string, string>()
  readonly #ids = new Map<string, number>()
  readonly #jobs = new Map<AreaName, string[]>()
  #reasons = new Map<string, string>()
  #lot = 100
  #delivered: { slip: string; area: AreaName; line: Line } | undefined
  readonly #satellites = new Map<Satellite, string>()
  /** Lines that came without a price, for the invoice to name later. */
  #unpriced: { slip: string; line: Line; item: DemoItem; area: AreaName; day: number }[] = []
  #day = 0
  #issued: { slip: string; line: string; area: AreaName; item: DemoItem; typed: number }[] = []

  constructor(
    readonly app: House,
    readonly clock: { now: number },
    readonly random: Random,
    readonly people: Record<'ines' | 'ruben' | 'tova', number>,
  ) {
    this.begun = clock.now
  }
  /** When the first slip was written. */
  readonly begun: number

  readonly #callers = new Map<string, Caller>()
  #caller(name: 'ines' | 'ruben' | 'tova'): Caller {
    const known = this.#callers.get(name)
    if (known) return known
    const row = this.app.db
      .select()
      .from(schema.person)
      .all()
      .find(p => p.id === this.people[name])!
    const caller = callerFor({ ...row, expiresAt: Infinity, session: '' }, [
      { role: name === 'tova' ? 'manager' : 'keeper', placeId: null },
    ])
    this.#callers.set(name, caller)
    return caller
  }
  keeper(area: AreaName): 'ines' | 'ruben' {
    return area === 'Galley' || area === 'Boat shed' ? 'ruben' : 'ines'
  }

  build(): void {
    const { app } = this
    for (const area of AREAS) {
      const id =
        area === 'Wet lab'
          ? [...app.places.rows.values()][0]!.id
          : createPlace(app, { name: area, kind: 'area', countEveryDays: COUNT_EVERY[area] })
      const uid = app.places.row(id)!.uid
      if (area === 'Wet lab')
        updatePlace(app, uid, { name: area, kind: 'area', countEveryDays: COUNT_EVERY[area] }, undefined)
      this.#areas.set(area, uid)
      const names =
        area === 'Galley' ? ['Dry store', 'Cold room', 'Freezer', 'Galley shelf'] : ['A1', 'A2', 'B1', 'B2', 'B3']
      this.#bins.set(
        area,
        names.map(name => app.places.row(createPlace(app, { name, parent: uid, kind: 'bin' }))!.uid),
      )
      createPlace(app, { name: 'Held goods', parent: uid, kind: 'held' })
    }
    for (const name of Object.keys(SATELLITES) as Satellite[])
      this.#satellites.set(name, app.places.row(createPlace(app, { name, kind: 'area', countEveryDays: 91 }))!.uid)
    const centre = {
      lab: createCostCentre(app, 'Water chemistry', 'CHEM'),
      bio: createCostCentre(app, 'Seabird survey', 'BIRD'),
      med: createCostCentre(app, 'Medical', 'MED'),
      food: createCostCentre(app, 'Catering', 'FOOD'),
      boat: createCostCentre(app, 'Boats', 'BOAT'),
    }
    const jobs = (area: AreaName, list: [string, string, string][]) =>
      this.#jobs.set(
        area,
        list.map(([code, name, costCentre]) => createJob(app, { code, name, costCentre })),
      )
    jobs('Wet lab', [
      ['NIT', 'Nitrate run', centre.lab],
      ['PLK', 'Plankton plates', centre.bio],
      ['GUT', 'Gull pellet survey', centre.bio],
      ['BUF', 'Probe calibration', centre.lab],
    ])
    jobs('Sick bay', [
      ['CLI', 'Morning clinic', centre.med],
      ['KIT', 'First-aid kits', centre.med],
    ])
    jobs('Galley', [
      ['BRK', 'Breakfast', centre.food],
      ['DIN', 'Dinner', centre.food],
      ['BAK', 'Baking', centre.food],
    ])
    jobs('Boat shed', [
      ['PET', 'Launch Petrel, upkeep', centre.boat],
      ['ENG', 'Generator service', centre.boat],
      ['MOR', 'Moorings', centre.boat],
    ])
    this.#reasons = new Map(
      app.db
        .select()
        .from(schema.wasteReason)
        .all()
        .map(r => [r.name, r.uid]),
    )
    const categories = new Map<string, string>()
    for (const it of ITEMS) {
      if (categories.has(it.category)) continue
      const uid = app.uid()
      const kinds = new Set(ITEMS.filter(o => o.category === it.category).map(o => o.identifiedBy))
      app.db
        .insert(schema.category)
        .values({
          uid,
          name: it.category,
          parentId: null,
          identifiedBy: kinds.size === 1 ? it.identifiedBy : null,
          method: METHODS[it.category] ?? null,
          active: true,
          revision: 1,
        })
        .run()
      categories.set(it.category, uid)
    }
    ITEMS.forEach((it, n) => this.#make(it, n, categories.get(it.category)!))
    this.#accounts(categories)
    for (const [name, rows] of Object.entries(SATELLITES))
      for (const row of rows) {
        const [code, target] = row.split(' ') as [string, string]
        setLevel(app, {
          item: this.#items.get(code)!,
          place: this.#satellites.get(name as Satellite)!,
          minimum: String(Math.max(1, Math.floor(Number(target) / 3))),
          target,
          bin: null,
        })
      }
  }

  /** The codes by which the station's office keeps its books: a stock account and one for use for each stockroom. */
  #accounts(categories: ReadonlyMap<string, string>): void {
    const number = (area: string) => Object.keys(COUNT_EVERY).indexOf(area) + 1
    changeAccountCodes(this.app, {
      codes: [
        ...[...categories].map(([name, id]) => ({
          kind: 'category' as const,
          id,
          code: `14${number(ITEMS.find(i => i.category === name)!.area)}0`,
        })),
        ...[...this.#areas].map(([name, id]) => ({ kind: 'place' as const, id, code: `50${number(name)}0` })),
        ...[...this.#satellites.values()].map(id => ({ kind: 'place' as const, id, code: '5090' })),
        { kind: 'reason', id: this.#reasons.get('Expired')!, code: '5110' },
        { kind: 'reason', id: this.#reasons.get('Spoiled')!, code: '5120' },
      ],
    })
  }

  #make(it: DemoItem, n: number, category: string): void {
    const { app } = this
    // The range 952 is kept by GS1 for demonstrations (from memory): no real article has such a number.
    const gtin = (k: number) => {
      const body = `952${String(1000 + n).padStart(8, '0')}${k}`
      return body + checkDigit(body)
    }
    const id = createItem(app, {
      code: it.code,
      name: it.name,
      category,
      unit: it.unit,
      decimals: it.decimals,
      identifiedBy: it.identifiedBy,
      shelfLifeDays: it.life || null,
      codes: [gtin(0)],
      packs: it.pack
        ? [{ name: it.pack, size: String(it.size), codes: [gtin(1)], buying: true, issuing: false, counting: true }]
        : [],
    })
    const uid = app.rows.itemById.get({ id })!.uid
    this.#items.set(it.code, uid)
    const step = it.size > 1 ? it.size : 1
    const up = (x: number) => Math.max(step, Math.ceil(x / step) * step)
    const minimum = it.identifiedBy === 'serial' ? 1 : Math.max(it.decimals ? 0.5 : 1, Math.round(it.perDay * 8))
    setLevel(app, {
      item: uid,
      place: this.#areas.get(it.area)!,
      minimum: String(minimum),
      target: String(it.identifiedBy === 'serial' ? 2 : Math.max(up(it.perDay * 24), minimum + step)),
      bin: this.#bins.get(it.area)![
        it.area === 'Galley' ? (GALLEY_BIN[it.category] ?? 0) : n % this.#bins.get(it.area)!.length
      ]!,
    })
  }

  #book(who: 'ines' | 'ruben' | 'tova', at: number, content: SlipContentInput, id = v7()): string | undefined {
    this.clock.now = at
    try {
      this.app.store.client
        .transaction(() => bookNow(this.app, this.#caller(who), id, SlipContent.parse(content)))
        .immediate()
      this.slips++
      return id
    } catch (e) {
      if (!(e instanceof NotBooked)) throw e
      this.refused++
      return undefined
    }
  }
  #line(it: DemoItem, typed: number | string, more: Partial<Line> = {}): Line {
    return { id: v7(), item: this.#items.get(it.code)!, typed: String(typed), ...more }
  }
  /** What lies of an item within a place, lot by lot; read straight from the balances, for the clock runs through years here. */
  #lies(
    it: DemoItem,
    place = this.#areas.get(it.area)!,
  ): {
    lotId: number
    placeId: number
    quantity: bigint
    uid: string
    code: string | null
    expiry: string | null
    held: string
  }[] {
    const within = this.app.places.within(this.app.places.id(place)!)
    return this.app.ledger
      .cells(this.#itemId(it))
      .filter(b => b.quantity > 0n && within.has(b.placeId))
      .map(b => ({ ...b.lot, lotId: b.lotId, placeId: b.placeId, quantity: b.quantity }))
  }
  #itemId(it: DemoItem): number {
    const id = this.#ids.get(it.code) ?? this.app.rows.item.get({ uid: this.#items.get(it.code)! })!.id
    this.#ids.set(it.code, id)
    return id
  }
  #have(it: DemoItem, place?: string): number {
    const today = this.app.today()
    return Number(
      formatDecimal(
        this.#lies(it, place)
          .filter(l => l.held === 'usable' && (l.expiry === null || l.expiry >= today))
          .reduce((sum, l) => sum + l.quantity, 0n),
      ),
    )
  }
  #lotOf(it: DemoItem, at: number): Line['lot'] {
    if (it.identifiedBy === 'quantity') return null
    const expiry = it.life
      ? new Date(at + it.life * DAY * (0.75 + this.random.next() * 0.25)).toISOString().slice(0, 10)
      : null
    return {
      code:
        it.identifiedBy === 'serial'
          ? `${it.code}-${++this.#lot}`
          : `${this.random.pick(['E', 'F', 'N', 'K'])}${++this.#lot}`,
      expiry: it.identifiedBy === 'lot_expiry' ? expiry : null,
    }
  }
  #price(it: DemoItem, drift: number): string {
    return (it.price * (it.pack ? it.size : 1) * (1 + drift)).toFixed(2)
  }
  #arrival(it: DemoItem, packs: number, at: number, drift = 0, unpriced = false): Line[] {
    const make = (n: number) =>
      this.#line(it, n, {
        unit: it.pack,
        price: unpriced && this.random.chance(0.04) ? '' : this.#price(it, drift),
        lot: this.#lotOf(it, at),
      })
    if (it.identifiedBy === 'serial')
      return Array.from({ length: Math.min(2, packs) }, () =>
        this.#line(it, 1, { price: this.#price(it, drift), lot: this.#lotOf(it, at) }),
      )
    return packs > 3 && it.identifiedBy === 'lot_expiry' && this.random.chance(0.3)
      ? [make(packs - 1), make(1)]
      : [make(packs)]
  }

  /** What lay on the shelves when Shelve was begun. */
  open(): void {
    for (const area of AREAS) {
      const items = ITEMS.filter(i => i.area === area)
      const lines = items.flatMap(it =>
        this.#arrival(
          it,
          Math.max(1, Math.ceil((it.perDay * this.random.int(12, 26)) / it.size)),
          this.clock.now - this.random.int(0, 40) * DAY,
        ),
      )
      this.#book('tova', this.clock.now + 600_000, { kind: 'opening', place: this.#areas.get(area)!, lines })
    }
  }

  /** One day: issues, on boat days deliveries, now and then waste, a count, something brought back. */
  day(at: number, end: number): void {
    const { random } = this
    const n = (this.#day = Math.round((end - at) / DAY))
    // The boat comes on alternate Thursdays; in a winter storm, or once not long ago, it does not.
    const boat = n % 14 === 5 && n !== 19 && (!random.chance(season(at) < 0.7 ? 0.15 : 0.02) || n === 5)
    for (const area of AREAS) {
      const items = ITEMS.filter(i => i.area === area)
      const who = this.keeper(area)
      const time = (h: number) =>
        Math.min(at + h * 3_600_000 + random.int(0, 50) * 60_000, end - random.int(5, 50) * 60_000)
      if (boat || (area === 'Galley' && n % 7 === 5)) this.#deliveries(area, items, time(9), boat)
      for (const h of area === 'Galley' ? [6, 11, 16] : [8, 14]) this.#issue(area, items, time(h), who)
      if (random.chance(0.12)) this.#waste(area, items, time(17), who)
      if (random.chance(0.1)) this.#bringBack(area, time(18), who)
      // What is out of date is cleared away once a week; what came up since the last time waits.
      if (n % 7 === 2 && n > 2) this.#expired(this.#areas.get(area)!, items, time(19), who)
    }
    if (n % 14 === 9)
      for (const place of this.#satellites.values()) this.#expired(place, ITEMS, at + 19 * 3_600_000, 'ruben')
    const of = (area: AreaName) => [this.#areas.get(area)!, ITEMS.filter(i => i.area === area)] as const
    if (n % 28 === 24) this.#count(...of('Boat shed'), at + 15 * 3_600_000, 'ruben', 12)
    if (n % 28 === 2 && n > 2) this.#count(...of('Wet lab'), at + 16 * 3_600_000, 'ines', 14)
    if (n % 56 === 9) this.#count(...of('Sick bay'), at + 16 * 3_600_000, 'ines', 14)
    if (n % 7 === 4) this.#count(...of('Galley'), at + 15 * 3_600_000, 'ruben', 12)
    if (n % 91 === 30 || n % 91 === 60) {
      const name = n % 91 === 30 ? 'Launch Petrel' : 'Seal hide'
      this.#count(
        this.#satellites.get(name)!,
        ITEMS.filter(i => SATELLITES[name].some(r => r.startsWith(`${i.code} `))),
        at + 17 * 3_600_000,
        'ruben',
        20,
      )
    }
    if (n % 7 === 1) this.#settle(at + 11 * 3_600_000)
    if (n === 40) this.#recall(at + 10 * 3_600_000)
    if (n % 30 === 6) this.#mistake(at + 12 * 3_600_000)
    if (n % 7 === 3) this.#move(at + 13 * 3_600_000)
    if (n % 7 === 6) this.#satelliteTrip(at + 12 * 3_600_000)
    if (n % 14 === 8) this.#invoice(at + 10 * 3_600_000)
    // The books of a month are closed on the fifth of the month after the next.
    if (new Date(at).getUTCDate() === 5) {
      this.clock.now = at + 8 * 3_600_000
      const month = nextMonth(this.app.today().slice(0, 7), -2)
      if (month >= this.app.today(this.begun).slice(0, 7)) closeMonth(this.app, this.#caller('tova'), month)
    }
  }

  /** What an item is ordered up to: the use of some weeks, or of as long as it keeps. */
  #upTo(it: DemoItem, at: number): number {
    return it.life && it.life < 40 ? it.perDay * season(at) * it.life * 0.75 : it.perDay * Math.max(1, season(at)) * 27
  }
  #deliveries(area: AreaName, items: readonly DemoItem[], at: number, boat: boolean): void {
    const short = items.filter(
      it =>
        (boat || ['Dairy', 'Vegetables'].includes(it.category)) &&
        this.#have(it) < this.#upTo(it, at) * 0.6 &&
        !(it.code === 'FLT-045' || it.code === 'SAL-10' || it.code === 'IMP-W'),
    )
    for (const supplier of new Set(short.map(i => i.supplier))) {
      const lines = short
        .filter(i => i.supplier === supplier && !this.random.chance(0.05))
        .flatMap(it =>
          this.#arrival(
            it,
            Math.max(1, Math.ceil((this.#upTo(it, at) - this.#have(it)) / it.size)),
            at,
            this.random.pick([0, 0, 0.02, 0.04, -0.015]),
            true,
          ),
        )
      const slip =
        lines.length &&
        this.#book(this.keeper(area), at, {
          kind: 'receipt',
          place: this.#areas.get(area)!,
          taker: 'the boat',
          head: {
            supplier,
            deliveryNote: `DN ${this.random.int(10, 99)}-${this.random.int(1000, 9999)}`,
            charges: boat ? [{ label: 'Freight', amount: String(this.random.int(18, 64)), basis: 'value' }] : [],
          },
          lines,
        })
      if (slip)
        for (const line of lines)
          if (!line.price)
            this.#unpriced.push({
              slip,
              line,
              item: ITEMS.find(i => this.#items.get(i.code) === line.item)!,
              area,
              day: this.#day,
            })
      const priced = lines.find(l => l.price)
      if (slip && priced) this.#delivered = { slip, area, line: priced }
    }
  }

  #issue(area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
    const share = area === 'Galley' ? 1 / 3 : 1 / 2
    const lines: Line[] = []
    const taken: { item: DemoItem; typed: number; line: string }[] = []
    for (const it of this.random.some(items, this.random.int(4, area === 'Galley' ? 13 : 8))) {
      const factor = (items.length / (area === 'Galley' ? 8.5 : 6)) * share * season(at)
      const wanted = it.perDay * factor * (0.5 + this.random.next())
      const q =
        it.identifiedBy === 'serial'
          ? this.random.chance(it.perDay * 4)
            ? 1
            : 0
          : it.decimals
            ? Number(wanted.toFixed(Math.min(2, it.decimals)))
            : Math.floor(wanted + this.random.next())
      if (q <= 0 || this.#have(it) < q) continue
      const line = this.#line(it, q)
      lines.push(line)
      taken.push({ item: it, typed: q, line: line.id })
    }
    if (!lines.length) return
    const slip = this.#book(who, at, {
      kind: 'issue',
      place: this.#areas.get(area)!,
      taker: this.random.pick(['Mirja', 'Sorrel', 'Oskar', 'Wren', 'Bram', 'Linnea']),
      head: { job: this.random.pick(this.#jobs.get(area)!) },
      lines,
    })
    if (slip) this.#issued.push(...taken.map(t => ({ slip, area, ...t })))
  }

  #waste(area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
    const it = this.random.pick(
      area === 'Galley'
        ? items.filter(i => ['Vegetables', 'Dairy'].includes(i.category))
        : items.filter(i => i.identifiedBy !== 'serial'),
    )
    const q = it.decimals ? Number((it.perDay * 0.6 + 0.1).toFixed(2)) : Math.max(1, Math.round(it.perDay))
    if (this.#have(it) < q) return
    this.#book(who, at, {
      kind: 'waste',
      place: this.#areas.get(area)!,
      head: {
        reason: this.#reasons.get(
          area === 'Galley' ? 'Spoiled' : this.random.pick(['Damaged', 'Spilled', 'Contaminated']),
        )!,
      },
      lines: [this.#line(it, q)],
    })
  }

  /** Everything of an area that is out of date goes to waste. */
  #expired(place: string, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
    this.clock.now = at
    const today = this.app.today()
    const lines = items
      .filter(i => i.identifiedBy === 'lot_expiry')
      .flatMap(it =>
        this.#lies(it, place)
          .filter(l => l.expiry !== null && l.expiry < today)
          .map(l =>
            this.#line(it, formatDecimal(l.quantity), {
              lot: { id: l.uid },
              from: this.app.places.row(l.placeId)!.uid,
            }),
          ),
      )
    if (lines.length)
      this.#book(who, at, { kind: 'waste', place, head: { reason: this.#reasons.get('Expired')! }, lines })
  }

  /** What a count found too few is found again after some days, or closed as unexplained; the last ones are still open. */
  #settle(at: number): void {
    this.clock.now = at
    for (const d of openDifferences(this.app, this.app.places.scope(), this.app.places.scope())) {
      if (Date.parse(d.countedAt) > at - 12 * DAY) continue
      const found = d.open.startsWith('-') && this.random.chance(0.4)
      this.#book('tova', at, {
        kind: 'closing',
        place: d.place.id,
        lines: [
          {
            id: v7(),
            difference: d.id,
            act: found ? 'found' : 'close',
            item: d.item.id,
            typed: found ? d.open.slice(1) : '',
            to: found ? d.place.id : null,
          },
        ],
      })
    }
  }

  /** The launch and the hide are filled up from the shelves they belong to, and use some of it. */
  #satelliteTrip(at: number): void {
    this.clock.now = at
    for (const [name, rows] of Object.entries(SATELLITES) as [Satellite, readonly string[]][]) {
      const place = this.#satellites.get(name)!
      const taken: Line[] = []
      const bySource = new Map<AreaName, Line[]>()
      for (const row of rows) {
        const [code, target] = row.split(' ') as [string, string]
        const it = ITEMS.find(i => i.code === code)!
        const there = this.#have(it, place)
        const used = Math.min(there, Math.floor((Number(target) / 4) * season(at) * this.random.next() * 2))
        if (used > 0) taken.push(this.#line(it, used))
        const bring = Math.min(Math.floor(Number(target) - there + used), Math.floor(this.#have(it) / 2))
        if (bring > 0 && there - used < Number(target) / 2)
          bySource.set(it.area, [...(bySource.get(it.area) ?? []), this.#line(it, bring, { to: place })])
      }
      if (taken.length)
        this.#book('ruben', at, {
          kind: 'issue',
          place,
          taker: this.random.pick(['Bram', 'Wren']),
          head: { job: this.#jobs.get('Boat shed')![name === 'Seal hide' ? 2 : 0]! },
          lines: taken,
        })
      for (const [area, lines] of bySource)
        this.#book(this.keeper(area), at + 1_800_000, {
          kind: 'move',
          place: this.#areas.get(area)!,
          taker: 'Bram',
          lines,
        })
    }
  }

  #bringBack(area: AreaName, at: number, who: 'ines' | 'ruben'): void {
    const x = this.#issued.filter(i => i.area === area && i.typed >= 2 && i.item.decimals === 0).at(-1)
    if (x)
      this.#book(who, at, {
        kind: 'bring_back',
        place: this.#areas.get(area)!,
        lines: [{ id: v7(), ref: x.line, item: this.#items.get(x.item.code)!, typed: '1' }],
      })
  }

  /** A count of some lines of an area; most agree, a few do not. */
  #count(place: string, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben', most: number): void {
    const lines: Line[] = []
    this.clock.now = at
    for (const it of this.random.some(
      items.filter(i => i.identifiedBy !== 'serial'),
      most,
    )) {
      for (const leaf of this.#lies(it, place).slice(0, 2)) {
        const lot = leaf
        const q = Number(formatDecimal(leaf.quantity))
        const off = this.random.chance(0.22) && q >= 2 ? -this.random.int(1, Math.min(3, Math.floor(q - 1))) : 0
        const typed = formatDecimal(leaf.quantity + BigInt(off) * 1_000_000n)
        lines.push(
          this.#line(it, typed, {
            from: this.app.places.row(leaf.placeId)!.uid,
            lot: lot.code === null ? null : { id: lot.uid },
            counted: off ? 'counted' : 'confirmed',
            again: off ? typed : '',
          }),
        )
      }
    }
    this.#book(who, at + 1_200_000, { kind: 'count', place, lines })
  }

  /** Something finds its way to another bin of its area. */
  #move(at: number): void {
    this.clock.now = at
    const it = this.random.pick(
      ITEMS.filter(i => i.identifiedBy === 'quantity' && i.decimals === 0 && this.#have(i) >= 4),
    )
    const area = this.#areas.get(it.area)!
    this.#book(this.keeper(it.area), at, {
      kind: 'move',
      place: area,
      lines: [this.#line(it, 2, { to: this.random.pick(this.#bins.get(it.area)!) })],
    })
  }

  /** The invoice of the last delivery names another price for one line. */
  #invoice(at: number): void {
    // What came without a price is priced by the invoice; the last deliveries still wait for theirs.
    const due = this.#unpriced.filter(u => u.day - this.#day >= 8)
    this.#unpriced = this.#unpriced.filter(u => !due.includes(u))
    for (const u of due)
      this.#book('tova', at, {
        kind: 'correction',
        place: this.#areas.get(u.area)!,
        head: { corrects: u.slip, why: 'the price came with the invoice' },
        lines: [
          {
            id: v7(),
            ref: u.line.id,
            item: u.line.item,
            act: 'price',
            unit: u.line.unit,
            price: this.#price(u.item, 0.01),
          },
        ],
      })
    const last = this.#delivered
    if (!last) return
    this.#book('tova', at, {
      kind: 'correction',
      place: this.#areas.get(last.area)!,
      head: { corrects: last.slip, why: 'the invoice names another price' },
      lines: [
        {
          id: v7(),
          ref: last.line.id,
          item: last.line.item,
          act: 'price',
          unit: last.line.unit,
          price: (Number(last.line.price) * 1.03).toFixed(2),
        },
      ],
    })
    this.#delivered = undefined
  }

  #recall(at: number): void {
    this.clock.now = at
    const it = ITEMS.find(i => i.code === 'PHO-25')!
    const leaf = this.#lies(it)[0]
    if (leaf)
      this.app.setUp(
        () => setLotState(this.app, leaf.uid, 'recalled', 'recalled by its maker', this.people.tova),
        'everything',
        'stock',
      )
  }

  /** A line that was typed wrong, and put right the same day. */
  #mistake(at: number): void {
    this.clock.now = at
    const it = ['GLV-M', 'GLV-L', 'VIA-20', 'VIA-50']
      .map(c => ITEMS.find(i => i.code === c))
      .find(i => i && i.decimals === 0 && i.identifiedBy === 'quantity' && this.#have(i) > 5)
    if (!it) return
    const area = this.#areas.get(it.area)!
    const line = this.#line(it, 4)
    const slip =
      this.#have(it) > 5
        ? this.#book('ines', at, {
            kind: 'issue',
            place: area,
            taker: 'Wren',
            head: { job: this.#jobs.get(it.area)![2]! },
            lines: [line],
          })
        : undefined
    if (slip)
      this.#book('ines', at + 900_000, {
        kind: 'correction',
        place: area,
        head: { corrects: slip, job: this.#jobs.get(it.area)![2]!, note: 'four were typed, two were taken' },
        lines: [this.#line(it, 2, { ref: line.id, act: 'replace' })],
      })
  }

  /** What is on its way, and what somebody is just writing down to ask for. */
  askFor(now: number): void {
    const { app } = this
    const ask = (
      source: string,
      who: 'ines' | 'ruben',
      days: number,
      asked?: { where: string; number: string; expected: string },
    ) => {
      this.clock.now = now - days * DAY
      app.stock.forget()
      const p = restockOf(app, this.#caller(who), app.places.scope()).proposals.find(x => x.name === source)
      if (!p) return
      const id = v7()
      app.change('restock', () =>
        beginRestock(app, this.#caller(who), id, {
          source: p.source,
          note: '',
          lines: p.lines
            .slice(0, 9)
            .map(l => ({ id: v7(), item: l.item, place: l.place, typed: l.typed, unit: l.pack, why: l.why })),
        }),
      )
      if (asked) app.change('restock', () => markAsked(app, this.#caller(who), id, { ...asked, at: null }))
    }
    const day = (n: number) => new Date(now + n * DAY).toISOString().slice(0, 10)
    ask('Sandling Medical', 'ines', 2, { where: 'by telephone', number: 'SM 4471', expected: day(8) })
    ask('Bight Marine', 'ruben', 1, { where: 'on their page', number: 'BM-20918', expected: day(8) })
    ask('Aster Reagents', 'ines', 0.1)
  }

  /** A slip that somebody began and left. */
  leaveLying(now: number): void {
    this.clock.now = now - 16 * 3_600_000
    const it = ITEMS.find(i => i.code === 'OIL-1030')!
    const content = SlipContent.parse({
      kind: 'issue',
      place: this.#areas.get('Boat shed')!,
      taker: 'Bram',
      head: { job: this.#jobs.get('Boat shed')![0]! },
      lines: [this.#line(it, 2)],
    })
    this.app.store.client.transaction(() => beginDraft(this.app, this.#caller('ruben'), v7(), content)).immediate()
  }
}
