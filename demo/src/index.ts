import { v7 } from 'uuid'
import { checkDigit, formatDecimal } from '@shelve/core'
import { SlipContent, type SlipContentInput } from '@shelve/contract'
import { App, addPerson, bookNow, createCostCentre, createItem, createJob, createPlace, firstRun, hashPassword, NotBooked, putDraft, schema, setLevel, setLotState, type Caller } from '@shelve/server'
import { AREAS, ITEMS, type AreaName, type DemoItem } from './catalogue.ts'
import { Random } from './random.ts'

const DAY = 86_400_000
/** Days of history. */
export const DAYS = 42
export const PASSWORD = 'gannet holm'
/** Which of the galley's bins a category lies in: dry store, cold room, freezer, shelf. */
const GALLEY_BIN: Record<string, number> = { Dairy: 1, Vegetables: 1, Frozen: 2, Cleaning: 3 }
/** Categories that are not costed by moving average. */
const METHODS: Record<string, 'fifo' | 'lot' | 'standard'> = { 'Engine spares': 'fifo', Filters: 'lot', Fixings: 'standard' }
type Line = NonNullable<SlipContentInput['lines']>[number]

/**
 * Makes the demonstration organisation: Gannet Holm, its four stockrooms and some weeks of slips, from a seed, relative
 * to `now`, every slip through the booking function. `clock.now` is the App's clock; it ends at `now`.
 */
export async function makeDemonstration(app: App, clock: { now: number }, now: number, seed = 7): Promise<{ slips: number; refused: number }> {
  const random = new Random(seed)
  const start = Math.floor((now - DAYS * DAY) / DAY) * DAY
  clock.now = start + 6 * 3_600_000
  const tova = await firstRun(app, { organisation: { name: 'Gannet Holm Field Station', zone: 'Europe/Dublin', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' }, manager: { name: 'Tova Brand', signIn: 'tova', password: PASSWORD }, area: 'Wet lab' })
  const hash = await hashPassword(PASSWORD)
  const people = app.setUp(() => ({ ines: addPerson(app, { name: 'Ines Corrie', signIn: 'ines', passwordHash: hash, role: 'keeper' }), ruben: addPerson(app, { name: 'Ruben Asker', signIn: 'ruben', passwordHash: hash, role: 'keeper' }) }))
  const station = new Station(app, clock, random, { ...people, tova })
  app.setUp(() => station.build())
  station.open()
  for (let day = 1; day <= DAYS; day++) station.day(start + day * DAY, now)
  station.leaveLying(now)
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
  readonly #jobs = new Map<AreaName, string[]>()
  #reasons = new Map<string, string>()
  #lot = 100
  #delivered: { slip: string; area: AreaName; line: Line } | undefined
  #issued: { slip: string; line: string; area: AreaName; item: DemoItem; typed: number }[] = []

  constructor(readonly app: App, readonly clock: { now: number }, readonly random: Random, readonly people: Record<'ines' | 'ruben' | 'tova', number>) {}

  #caller(name: 'ines' | 'ruben' | 'tova'): Caller {
    const may = new Set(['book', 'reverse', 'see_value', ...(name === 'tova' ? ['override', 'set_up'] : [])])
    const row = this.app.db.select().from(schema.person).all().find(p => p.id === this.people[name])!
    return { id: row.id, uid: row.uid, name: row.name, signIn: row.signIn, role: name === 'tova' ? 'manager' : 'keeper', may, expiresAt: Infinity }
  }
  keeper(area: AreaName): 'ines' | 'ruben' { return area === 'Galley' || area === 'Boat shed' ? 'ruben' : 'ines' }

  build(): void {
    const { app } = this
    for (const area of AREAS) {
      const id = area === 'Wet lab' ? [...app.places.rows.values()][0]!.id : createPlace(app, { name: area, kind: 'area' })
      const uid = app.places.row(id)!.uid
      this.#areas.set(area, uid)
      const names = area === 'Galley' ? ['Dry store', 'Cold room', 'Freezer', 'Galley shelf'] : ['A1', 'A2', 'B1', 'B2', 'B3']
      this.#bins.set(area, names.map(name => app.places.row(createPlace(app, { name, parent: uid, kind: 'bin' }))!.uid))
      createPlace(app, { name: 'Held goods', parent: uid, kind: 'held' })
    }
    const centre = { lab: createCostCentre(app, 'Water chemistry', 'CHEM'), bio: createCostCentre(app, 'Seabird survey', 'BIRD'), med: createCostCentre(app, 'Medical', 'MED'), food: createCostCentre(app, 'Catering', 'FOOD'), boat: createCostCentre(app, 'Boats', 'BOAT') }
    const jobs = (area: AreaName, list: [string, string, string][]) => this.#jobs.set(area, list.map(([code, name, costCentre]) => createJob(app, { code, name, costCentre })))
    jobs('Wet lab', [['NIT', 'Nitrate run', centre.lab], ['PLK', 'Plankton plates', centre.bio], ['GUT', 'Gull pellet survey', centre.bio], ['BUF', 'Probe calibration', centre.lab]])
    jobs('Sick bay', [['CLI', 'Morning clinic', centre.med], ['KIT', 'First-aid kits', centre.med]])
    jobs('Galley', [['BRK', 'Breakfast', centre.food], ['DIN', 'Dinner', centre.food], ['BAK', 'Baking', centre.food]])
    jobs('Boat shed', [['PET', 'Launch Petrel, upkeep', centre.boat], ['ENG', 'Generator service', centre.boat], ['MOR', 'Moorings', centre.boat]])
    this.#reasons = new Map(app.db.select().from(schema.wasteReason).all().map(r => [r.name, r.uid]))
    const categories = new Map<string, string>()
    for (const it of ITEMS) {
      if (categories.has(it.category)) continue
      const uid = app.uid()
      const kinds = new Set(ITEMS.filter(o => o.category === it.category).map(o => o.identifiedBy))
      app.db.insert(schema.category).values({ uid, name: it.category, parentId: null, identifiedBy: kinds.size === 1 ? it.identifiedBy : null, method: METHODS[it.category] ?? null, active: true, revision: 1 }).run()
      categories.set(it.category, uid)
    }
    ITEMS.forEach((it, n) => this.#make(it, n, categories.get(it.category)!))
  }

  #make(it: DemoItem, n: number, category: string): void {
    const { app } = this
    // The range 952 is kept by GS1 for demonstrations (from memory): no real article has such a number.
    const gtin = (k: number) => { const body = `952${String(1000 + n).padStart(8, '0')}${k}`; return body + checkDigit(body) }
    const id = createItem(app, {
      code: it.code, name: it.name, category, unit: it.unit, decimals: it.decimals, identifiedBy: it.identifiedBy, shelfLifeDays: it.life || null, codes: [gtin(0)],
      packs: it.pack ? [{ name: it.pack, size: String(it.size), codes: [gtin(1)], buying: true, issuing: false, counting: true }] : [],
    })
    const uid = app.ids.itemById.get({ id })!.uid
    this.#items.set(it.code, uid)
    const step = it.size > 1 ? it.size : 1
    const up = (x: number) => Math.max(step, Math.ceil(x / step) * step)
    const minimum = it.identifiedBy === 'serial' ? 1 : Math.max(it.decimals ? 0.5 : 1, Math.round(it.perDay * 8))
    setLevel(app, { item: uid, place: this.#areas.get(it.area)!, minimum: String(minimum), target: String(it.identifiedBy === 'serial' ? 2 : Math.max(up(it.perDay * 24), minimum + step)), bin: this.#bins.get(it.area)![it.area === 'Galley' ? GALLEY_BIN[it.category] ?? 0 : n % this.#bins.get(it.area)!.length]! })
  }

  #book(who: 'ines' | 'ruben' | 'tova', at: number, content: SlipContentInput, id = v7()): string | undefined {
    this.clock.now = at
    try {
      const items = this.app.store.client.transaction(() => bookNow(this.app, this.#caller(who), id, SlipContent.parse(content))).immediate()
      for (const i of items) this.app.stock.touch(i)
      this.slips++
      return id
    } catch (e) {
      if (!(e instanceof NotBooked)) throw e
      this.refused++
      return undefined
    }
  }
  #line(it: DemoItem, typed: number | string, more: Partial<Line> = {}): Line { return { id: v7(), item: this.#items.get(it.code)!, typed: String(typed), ...more } }
  #have(it: DemoItem): number {
    const row = this.app.ids.item.get({ uid: this.#items.get(it.code)! })!
    return Number(formatDecimal(this.app.stock.here(this.app.stock.item(row.id)!, this.app.places.id(this.#areas.get(it.area)!)!, this.app.today()).levels.available.figure))
  }
  #lotOf(it: DemoItem, at: number): Line['lot'] {
    if (it.identifiedBy === 'quantity') return null
    const expiry = it.life ? new Date(at + it.life * DAY * (0.75 + this.random.next() * 0.25)).toISOString().slice(0, 10) : null
    return { code: it.identifiedBy === 'serial' ? `${it.code}-${++this.#lot}` : `${this.random.pick(['E', 'F', 'N', 'K'])}${++this.#lot}`, expiry: it.identifiedBy === 'lot_expiry' ? expiry : null }
  }
  #price(it: DemoItem, drift: number): string { return (it.price * (it.pack ? it.size : 1) * (1 + drift)).toFixed(2) }
  #arrival(it: DemoItem, packs: number, at: number, drift = 0, unpriced = false): Line[] {
    const make = (n: number) => this.#line(it, n, { unit: it.pack, price: unpriced && this.random.chance(0.04) ? '' : this.#price(it, drift), lot: this.#lotOf(it, at) })
    if (it.identifiedBy === 'serial') return Array.from({ length: Math.min(2, packs) }, () => this.#line(it, 1, { price: this.#price(it, drift), lot: this.#lotOf(it, at) }))
    return packs > 3 && it.identifiedBy === 'lot_expiry' && this.random.chance(0.3) ? [make(packs - 1), make(1)] : [make(packs)]
  }

  /** What lay on the shelves when Shelve was begun. */
  open(): void {
    for (const area of AREAS) {
      const items = ITEMS.filter(i => i.area === area)
      const lines = items.flatMap(it => this.#arrival(it, Math.max(1, Math.ceil((it.perDay * this.random.int(12, 26)) / it.size)), this.clock.now - this.random.int(0, 40) * DAY))
      this.#book('tova', this.clock.now + 600_000, { kind: 'opening', place: this.#areas.get(area)!, lines })
    }
  }

  /** One day: issues, on boat days deliveries, now and then waste, a count, something brought back. */
  day(at: number, end: number): void {
    const { random } = this
    const n = Math.round((end - at) / DAY)
    const boat = n % 14 === 5 && n !== 19
    for (const area of AREAS) {
      const items = ITEMS.filter(i => i.area === area)
      const who = this.keeper(area)
      const time = (h: number) => Math.min(at + h * 3_600_000 + random.int(0, 50) * 60_000, end - random.int(5, 50) * 60_000)
      if (boat || (area === 'Galley' && n % 7 === 5)) this.#deliveries(area, items, time(9), boat)
      for (const h of area === 'Galley' ? [6, 11, 16] : [8, 14]) this.#issue(area, items, time(h), who)
      if (random.chance(0.12)) this.#waste(area, items, time(17), who)
      if (random.chance(0.1)) this.#bringBack(area, time(18), who)
    }
    if (n === 24) this.#count('Boat shed', at + 15 * 3_600_000, 'ruben', 8)
    if (n === 9) this.#count('Sick bay', at + 16 * 3_600_000, 'ines', 10)
    if (n === 4) this.#count('Galley', at + 15 * 3_600_000, 'ruben', 12)
    if (n === 12) this.#recall(at + 10 * 3_600_000)
    if (n === 6) this.#mistake(at + 12 * 3_600_000)
    if (n % 7 === 3) this.#move(at + 13 * 3_600_000)
    if (n % 14 === 8) this.#invoice(at + 10 * 3_600_000)
  }

  #deliveries(area: AreaName, items: readonly DemoItem[], at: number, boat: boolean): void {
    const short = items.filter(it => (boat || ['Dairy', 'Vegetables'].includes(it.category)) && this.#have(it) < it.perDay * 13 && !(it.code === 'FLT-045' || it.code === 'SAL-10' || it.code === 'IMP-W'))
    for (const supplier of new Set(short.map(i => i.supplier))) {
      const lines = short.filter(i => i.supplier === supplier && !this.random.chance(0.08)).flatMap(it => this.#arrival(it, Math.max(1, Math.ceil((it.perDay * 24 - this.#have(it)) / it.size)), at, this.random.pick([0, 0, 0.02, 0.04, -0.015]), true))
      const slip = lines.length && this.#book(this.keeper(area), at, { kind: 'receipt', place: this.#areas.get(area)!, taker: 'the boat', head: { supplier, deliveryNote: `DN ${this.random.int(10, 99)}-${this.random.int(1000, 9999)}`, charges: boat ? [{ label: 'Freight', amount: String(this.random.int(18, 64)), basis: 'value' }] : [] }, lines })
      const priced = lines.find(l => l.price)
      if (slip && priced) this.#delivered = { slip, area, line: priced }
    }
  }

  #issue(area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
    const share = area === 'Galley' ? 1 / 3 : 1 / 2
    const lines: Line[] = []
    const taken: { item: DemoItem; typed: number; line: string }[] = []
    for (const it of this.random.some(items, this.random.int(3, area === 'Galley' ? 11 : 6))) {
      const factor = (items.length / (area === 'Galley' ? 7 : 4.5)) * share
      const wanted = it.perDay * factor * (0.5 + this.random.next())
      const q = it.identifiedBy === 'serial' ? (this.random.chance(it.perDay * 4) ? 1 : 0) : it.decimals ? Number(wanted.toFixed(Math.min(2, it.decimals))) : Math.floor(wanted + this.random.next())
      if (q <= 0 || this.#have(it) < q) continue
      const line = this.#line(it, q)
      lines.push(line)
      taken.push({ item: it, typed: q, line: line.id })
    }
    if (!lines.length) return
    const slip = this.#book(who, at, { kind: 'issue', place: this.#areas.get(area)!, taker: this.random.pick(['Mirja', 'Sorrel', 'Oskar', 'Wren', 'Bram', 'Linnea']), head: { job: this.random.pick(this.#jobs.get(area)!) }, lines })
    if (slip) this.#issued.push(...taken.map(t => ({ slip, area, ...t })))
  }

  #waste(area: AreaName, items: readonly DemoItem[], at: number, who: 'ines' | 'ruben'): void {
    const it = this.random.pick(area === 'Galley' ? items.filter(i => ['Vegetables', 'Dairy'].includes(i.category)) : items.filter(i => i.identifiedBy !== 'serial'))
    const q = it.decimals ? Number((it.perDay * 0.6 + 0.1).toFixed(2)) : Math.max(1, Math.round(it.perDay))
    if (this.#have(it) < q) return
    this.#book(who, at, { kind: 'waste', place: this.#areas.get(area)!, head: { reason: this.#reasons.get(area === 'Galley' ? 'Spoiled' : this.random.pick(['Damaged', 'Spilled', 'Contaminated']))! }, lines: [this.#line(it, q)] })
  }

  #bringBack(area: AreaName, at: number, who: 'ines' | 'ruben'): void {
    const x = this.#issued.filter(i => i.area === area && i.typed >= 2 && i.item.decimals === 0).at(-1)
    if (x) this.#book(who, at, { kind: 'bring_back', place: this.#areas.get(area)!, lines: [{ id: v7(), ref: x.line, item: this.#items.get(x.item.code)!, typed: '1' }] })
  }

  /** A count of some lines of an area; most agree, a few do not. */
  #count(area: AreaName, at: number, who: 'ines' | 'ruben', most: number): void {
    const lines: Line[] = []
    this.clock.now = at
    for (const it of this.random.some(ITEMS.filter(i => i.area === area && i.identifiedBy !== 'serial'), most)) {
      const item = this.app.stock.item(this.app.ids.item.get({ uid: this.#items.get(it.code)! })!.id)!
      for (const leaf of item.leaves.slice(0, 2)) {
        const lot = this.app.ids.lotById.get({ id: leaf.lotId })!
        const q = Number(formatDecimal(leaf.quantity))
        const off = this.random.chance(0.22) && q >= 2 ? -this.random.int(1, Math.min(3, Math.floor(q - 1))) : 0
        const typed = formatDecimal(leaf.quantity + BigInt(off) * 1_000_000n)
        lines.push(this.#line(it, typed, { from: this.app.places.row(leaf.placeId)!.uid, lot: lot.code === null ? null : { id: lot.uid }, counted: off ? 'counted' : 'confirmed', again: off ? typed : '' }))
      }
    }
    this.#book(who, at + 1_200_000, { kind: 'count', place: this.#areas.get(area)!, lines })
  }

  /** Something finds its way to another bin of its area. */
  #move(at: number): void {
    this.clock.now = at
    const it = this.random.pick(ITEMS.filter(i => i.identifiedBy === 'quantity' && i.decimals === 0 && this.#have(i) >= 4))
    const area = this.#areas.get(it.area)!
    this.#book(this.keeper(it.area), at, { kind: 'move', place: area, lines: [this.#line(it, 2, { to: this.random.pick(this.#bins.get(it.area)!) })] })
  }

  /** The invoice of the last delivery names another price for one line. */
  #invoice(at: number): void {
    const last = this.#delivered
    if (!last) return
    this.#book('tova', at, { kind: 'correction', place: this.#areas.get(last.area)!, head: { corrects: last.slip, why: 'the invoice names another price' }, lines: [{ id: v7(), ref: last.line.id, item: last.line.item, act: 'price', unit: last.line.unit, price: (Number(last.line.price) * 1.03).toFixed(2) }] })
    this.#delivered = undefined
  }

  #recall(at: number): void {
    this.clock.now = at
    const it = ITEMS.find(i => i.code === 'PHO-25')!
    const leaf = this.app.stock.item(this.app.ids.item.get({ uid: this.#items.get(it.code)! })!.id)!.leaves[0]
    if (leaf) this.app.setUp(() => setLotState(this.app, this.app.ids.lotById.get({ id: leaf.lotId })!.uid, 'recalled', 'recalled by its maker', this.people.tova), 'stock')
  }

  /** A line that was typed wrong, and put right the same day. */
  #mistake(at: number): void {
    this.clock.now = at
    const it = ['GLV-M', 'GLV-L', 'VIA-20', 'VIA-50'].map(c => ITEMS.find(i => i.code === c)).find(i => i && i.decimals === 0 && i.identifiedBy === 'quantity' && this.#have(i) > 5)
    if (!it) return
    const area = this.#areas.get(it.area)!
    const line = this.#line(it, 4)
    const slip = this.#have(it) > 5 ? this.#book('ines', at, { kind: 'issue', place: area, taker: 'Wren', head: { job: this.#jobs.get(it.area)![2]! }, lines: [line] }) : undefined
    if (slip) this.#book('ines', at + 900_000, { kind: 'correction', place: area, head: { corrects: slip, job: this.#jobs.get(it.area)![2]!, note: 'four were typed, two were taken' }, lines: [this.#line(it, 2, { ref: line.id, act: 'replace' })] })
  }

  /** A slip that somebody began and left. */
  leaveLying(now: number): void {
    this.clock.now = now - 16 * 3_600_000
    const it = ITEMS.find(i => i.code === 'OIL-1030')!
    const content = SlipContent.parse({ kind: 'issue', place: this.#areas.get('Boat shed')!, taker: 'Bram', head: { job: this.#jobs.get('Boat shed')![0]! }, lines: [this.#line(it, 2)] })
    this.app.store.client.transaction(() => putDraft(this.app, this.#caller('ruben'), v7(), content)).immediate()
  }
}
