import { v7 } from 'uuid'
import { formatDecimal } from '@shelve/core'
import { SlipContent, type SlipContentInput } from '@shelve/contract'
import { type House, bookNow, callerFor, NotBooked, schema, type Caller } from '@shelve/server'
import { type AreaName, type DemoItem } from './catalogue.ts'
import { Random } from './random.ts'

export const DAY = 86_400_000
/** Days of history. */
export const DAYS = 790
export const PASSWORD = 'gannet holm'
/** Which of the galley's bins a category lies in: dry store, cold room, ice room, shelf. */
export const GALLEY_BIN: Record<string, number> = { 'Milk and cheese': 1, Vegetables: 1, Frozen: 2, Cleaning: 3 }
/** A quiet winter, a crowded summer: how much is used in each month, beside the year's mean. */
const SEASON = [0.55, 0.55, 0.65, 0.85, 1.15, 1.45, 1.6, 1.55, 1.2, 0.9, 0.65, 0.55]
export const season = (at: number): number => SEASON[new Date(at).getUTCMonth()]!
/** Two satellites, restocked from the others: what belongs there, and how much. */
export const SATELLITES = {
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
export type Satellite = keyof typeof SATELLITES
/** How many days from one count of an area to the next. */
export const COUNT_EVERY: Record<AreaName, number> = { 'Wet lab': 28, 'Sick bay': 56, Galley: 7, 'Boat shed': 28 }
/** Categories that are not costed by moving average. */
export const METHODS: Record<string, 'fifo' | 'lot' | 'standard'> = {
  'Engine spares': 'fifo',
  Filters: 'lot',
  Fixings: 'standard',
}
export type Line = NonNullable<SlipContentInput['lines']>[number]

/** The station while its history is made: who and what there is, and how its people write slips. */
export class Station {
  slips = 0
  refused = 0
  readonly areas = new Map<AreaName, string>()
  readonly bins = new Map<AreaName, string[]>()
  readonly items = new Map<string, string>()
  readonly ids = new Map<string, number>()
  readonly jobs = new Map<AreaName, string[]>()
  reasons = new Map<string, string>()
  lot = 100
  delivered: { slip: string; area: AreaName; line: Line } | undefined
  readonly satellites = new Map<Satellite, string>()
  /** Lines that came without a price, for the invoice to name later. */
  unpriced: { slip: string; line: Line; item: DemoItem; area: AreaName; day: number }[] = []
  day = 0
  issued: { slip: string; line: string; area: AreaName; item: DemoItem; typed: number }[] = []
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
  readonly callers = new Map<string, Caller>()

  caller(name: 'ines' | 'ruben' | 'tova'): Caller {
    const known = this.callers.get(name)
    if (known) return known
    const row = this.app.db
      .select()
      .from(schema.person)
      .all()
      .find(p => p.id === this.people[name])!
    const caller = callerFor({ ...row, expiresAt: Infinity, session: '', strong: true }, [
      { role: name === 'tova' ? 'manager' : 'keeper', placeId: null },
    ])
    this.callers.set(name, caller)
    return caller
  }
  keeper(area: AreaName): 'ines' | 'ruben' {
    return area === 'Galley' || area === 'Boat shed' ? 'ruben' : 'ines'
  }
  book(who: 'ines' | 'ruben' | 'tova', at: number, content: SlipContentInput, id = v7()): string | undefined {
    this.clock.now = at
    try {
      this.app.store.client
        .transaction(() => bookNow(this.app, this.caller(who), id, SlipContent.parse(content)))
        .immediate()
      this.slips++
      return id
    } catch (e) {
      if (!(e instanceof NotBooked)) throw e
      this.refused++
      return undefined
    }
  }
  line(it: DemoItem, typed: number | string, more: Partial<Line> = {}): Line {
    return { id: v7(), item: this.items.get(it.code)!, typed: String(typed), ...more }
  }
  /** What lies of an item within a place, lot by lot; read straight from the balances, for the clock runs through years here. */
  lies(
    it: DemoItem,
    place = this.areas.get(it.area)!,
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
      .cells(this.itemId(it))
      .filter(b => b.quantity > 0n && within.has(b.placeId))
      .map(b => ({ ...b.lot, lotId: b.lotId, placeId: b.placeId, quantity: b.quantity }))
  }
  /** Everything that lies in a place. */
  lying(place: string): { item: string; lot: string; code: string | null; from: string }[] {
    return this.app.store.client
      .prepare(
        `select i.uid as item, l.uid as lot, l.code as code, p.uid as "from" from balance b
        join place_within w on w.place_id = b.place_id and w.ancestor_id = ?
        join item i on i.id = b.item_id join lot l on l.id = b.lot_id join place p on p.id = b.place_id
        where b.quantity > 0 order by b.place_id, b.item_id, b.lot_id`,
      )
      .all(this.app.places.id(place)!) as ReturnType<Station['lying']>
  }
  itemId(it: DemoItem): number {
    const id = this.ids.get(it.code) ?? this.app.rows.item.get({ uid: this.items.get(it.code)! })!.id
    this.ids.set(it.code, id)
    return id
  }
  have(it: DemoItem, place?: string): number {
    const today = this.app.today()
    return Number(
      formatDecimal(
        this.lies(it, place)
          .filter(l => l.held === 'usable' && (l.expiry === null || l.expiry >= today))
          .reduce((sum, l) => sum + l.quantity, 0n),
      ),
    )
  }
  lotOf(it: DemoItem, at: number): Line['lot'] {
    if (it.identifiedBy === 'quantity') return null
    const expiry = it.life
      ? new Date(at + it.life * DAY * (0.75 + this.random.next() * 0.25)).toISOString().slice(0, 10)
      : null
    return {
      code:
        it.identifiedBy === 'serial'
          ? `${it.code}-${++this.lot}`
          : `${this.random.pick(['E', 'F', 'N', 'K'])}${++this.lot}`,
      expiry: it.identifiedBy === 'lot_expiry' ? expiry : null,
    }
  }
  price(it: DemoItem, drift: number): string {
    return (it.price * (it.pack ? it.size : 1) * (1 + drift)).toFixed(2)
  }
  arrival(it: DemoItem, packs: number, at: number, drift = 0, unpriced = false): Line[] {
    const make = (n: number) =>
      this.line(it, n, {
        unit: it.pack,
        price: unpriced && this.random.chance(0.04) ? '' : this.price(it, drift),
        lot: this.lotOf(it, at),
      })
    if (it.identifiedBy === 'serial')
      return Array.from({ length: Math.min(2, packs) }, () =>
        this.line(it, 1, { price: this.price(it, drift), lot: this.lotOf(it, at) }),
      )
    return packs > 3 && it.identifiedBy === 'lot_expiry' && this.random.chance(0.3)
      ? [make(packs - 1), make(1)]
      : [make(packs)]
  }
}
