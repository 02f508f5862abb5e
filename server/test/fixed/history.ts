import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Effect, Item, ItemStock, Proposal, SlipContentInput, SlipView, StockRow } from '@shelve/contract'
import { Random } from '../../../demo/src/random.ts'
import { newItem, type Client, type World } from '../client.ts'

type Line = NonNullable<SlipContentInput['lines']>[number]
interface Written {
  readonly id: string
  readonly kind: SlipContentInput['kind']
  readonly head: SlipContentInput['head']
  readonly lines: readonly { readonly id: string; readonly item: string | null }[]
}
const DAY = 86_400_000
/** Wherever the script asks for a cost method, a weight or a price, it takes from what an item of its sort can have. */
const SORTS = [
  { code: 'GLV', name: 'Gloves', unit: 'box', packs: [{ name: 'case', size: '10' }], mass: '250' },
  { code: 'OIL', name: 'Oil', unit: 'L', decimals: 3, method: 'fifo', density: '0.9', mass: '900' },
  {
    code: 'ACD',
    name: 'Acid',
    unit: 'L',
    decimals: 3,
    identifiedBy: 'lot_expiry',
    method: 'lot',
    mass: '1200',
    packs: [{ name: 'bottle', size: '0.75' }],
  },
  { code: 'FLR', name: 'Flour', unit: 'kg', decimals: 2, identifiedBy: 'lot', mass: '1000' },
  { code: 'TIL', name: 'Tiles', unit: 'each', packs: [{ name: 'third', size: '1/3' }], mass: '40' },
] as const

/**
 * A stockroom's half year from a seed, booked over HTTP like anybody's: every kind of slip there is, late ones, wrong
 * ones, corrections of every sort, counts with and without differences, closed months, a change of cost method. What
 * cannot be booked is refused, and its refusal belongs to what is told.
 */
export class History {
  readonly told: string[] = []
  readonly #random: Random
  readonly #booked: Written[] = []
  #items: Item[] = []
  #areas: string[] = []
  #bins: string[] = []
  #jobs: string[] = []
  #reasons: string[] = []
  readonly #paper = v7()

  constructor(
    readonly w: World,
    seed: number,
  ) {
    this.#random = new Random(seed)
  }
  get #c(): Client {
    return this.w.c
  }

  async begin(): Promise<void> {
    const c = this.#c
    this.w.clock.now = Date.UTC(2026, 5, 1, 8)
    const made = async (path: string, body: object) => (await c.ok<{ id: string }>('POST', path, body)).id
    this.#areas = [this.w.lab.id, await made('/api/places', { name: 'Shed', kind: 'area' })]
    this.#bins = [
      await made('/api/places', { name: 'A1', parent: this.w.lab.id }),
      await made('/api/places', { name: 'Held', parent: this.w.lab.id, kind: 'held' }),
    ]
    for (const s of SORTS) this.#items.push(await newItem(c, s))
    const centre = await made('/api/cost-centres', { name: 'Survey', code: 'SV' })
    this.#jobs = [
      await made('/api/jobs', { code: 'NIT', name: 'Nitrate run', costCentre: centre }),
      await made('/api/jobs', { code: 'ENG', name: 'Engine' }),
    ]
    this.#reasons = (await c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows.slice(0, 3).map(r => r.id)
    const standard = await newItem(c, { code: 'STD', name: 'Standard bolts', unit: 'each', mass: '10' })
    this.#items.push(standard)
    await this.#book('opening', {
      lines: [this.#line({ item: standard.id, typed: '10', price: '3' })],
    })
    await this.#book('method_change', {
      head: { method: 'standard' },
      lines: [this.#line({ item: standard.id, unitCost: '2.5' })],
    })
  }

  /** What a shelf should hold, and what is on its way to it: none of it is told, all of it must come true. */
  async #wanted(): Promise<void> {
    for (const i of this.#items)
      for (const place of this.#areas)
        await this.#c.ok('PUT', '/api/levels', { item: i.id, place, minimum: '4', target: '15' })
    const { proposals } = await this.#c.get<{ proposals: Proposal[] }>('/api/restock')
    expect(proposals.length).to.be.greaterThan(0)
    for (const p of proposals) {
      const id = v7()
      await this.#c.ok('POST', '/api/restock', {
        id,
        source: p.source,
        lines: p.lines.map(l => ({ id: v7(), item: l.item, place: l.place, typed: l.typed, unit: l.pack, why: l.why })),
      })
      await this.#c.ok('POST', `/api/restock/${id}/asking`, { where: 'by telephone' })
    }
  }

  /** Plays so many steps; every step may be refused. */
  async play(steps: number): Promise<void> {
    for (let i = 0; i < steps; i++) {
      this.w.clock.now += this.#random.int(1, 40) * 3_600_000
      // Half a year is longer than anybody stays signed in.
      if (i % 10 === 0) await this.#c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
      await this.#step()
      if (i % 60 === 59) await this.#closeMonths()
      if (i === 30) await this.#wanted()
    }
  }

  async #step(): Promise<void> {
    const r = this.#random
    const item = r.pick(this.#items)
    const place = r.pick(this.#areas)
    const kind = r.pick([
      'receipt',
      'receipt',
      'receipt',
      'issue',
      'issue',
      'issue',
      'waste',
      'move',
      'bring_back',
      'count',
      'count',
      'closing',
      'supplier_return',
      'correction',
      'correction',
      'correction',
      'direct',
    ] as const)
    if (kind === 'receipt') return this.#receipt(place)
    if (kind === 'direct')
      return this.#book('receipt', {
        place,
        head: { supplier: 'Thole' },
        lines: [
          this.#line({ ...this.#in(item), direct: { job: r.pick(this.#jobs), costCentre: null, person: 'Mirja' } }),
        ],
      })
    if (kind === 'issue')
      return this.#book('issue', {
        place,
        effectiveAt: this.#when(),
        head: { job: r.pick(this.#jobs) },
        lines: r.some(this.#items, r.int(1, 3)).map(i => this.#line({ item: i.id, typed: this.#amount(i) })),
      })
    if (kind === 'waste')
      return this.#book('waste', {
        place,
        effectiveAt: this.#when(),
        head: { reason: r.pick(this.#reasons) },
        lines: [this.#line({ item: item.id, typed: this.#amount(item) })],
      })
    if (kind === 'move')
      return this.#book('move', {
        place,
        lines: [this.#line({ item: item.id, typed: this.#amount(item), to: r.pick([...this.#areas, ...this.#bins]) })],
      })
    if (kind === 'bring_back') {
      const issues = this.#booked.filter(b => b.kind === 'issue')
      if (!issues.length) return
      const of = r.pick(issues.slice(-8))
      const named = r.chance(0.5)
      return this.#book('bring_back', {
        place,
        head: { job: r.pick(this.#jobs) },
        lines: [
          this.#line({ item: of.lines[0]!.item, typed: String(r.int(1, 3)), ref: named ? of.lines[0]!.id : null }),
        ],
      })
    }
    if (kind === 'count') return this.#count(place, item)
    if (kind === 'closing') return this.#closing(place)
    if (kind === 'supplier_return')
      return this.#book('supplier_return', {
        place,
        head: { supplier: 'Aster' },
        lines: [this.#line({ item: item.id, typed: this.#amount(item), price: r.pick(['0', '3.10', '7']) })],
      })
    return this.#correct()
  }

  #receipt(place: string): Promise<void> {
    const r = this.#random
    const charges = r.chance(0.4)
      ? [{ label: 'Freight', amount: r.pick(['14', '3.33']), basis: r.pick(['value', 'weight'] as const) }]
      : []
    return this.#book('receipt', {
      place,
      effectiveAt: this.#when(),
      head: { supplier: r.pick(['Aster', 'Thole']), charges },
      lines: r.some(this.#items, r.int(1, 4)).map(i => this.#line(this.#in(i))),
    })
  }
  /** What comes in of an item: in some pack, at some price, of some lot. */
  #in(item: Item): Partial<Line> {
    const r = this.#random
    const pack = r.chance(0.4) ? (item.packs[0]?.name ?? null) : null
    const lot = item.identifiedBy === 'quantity' ? null : `L${r.int(1, 4)}`
    return {
      item: item.id,
      typed: String(r.int(1, pack ? 3 : 12)),
      unit: pack,
      price: r.chance(0.15) ? '' : `${r.int(0, 30)}.${r.int(10, 99)}`,
      discount: r.chance(0.2) ? '0.05' : '',
      lot:
        lot === null ? null : { code: lot, expiry: item.identifiedBy === 'lot_expiry' ? `2027-0${lot[1]}-15` : null },
    }
  }

  #count(place: string, item: Item): Promise<void> {
    const r = this.#random
    const counted = r.int(0, 15)
    const confirmed = r.chance(0.3)
    return this.#book('count', {
      place,
      effectiveAt: this.#when(),
      head: { blind: r.chance(0.5) },
      lines: [
        this.#line({
          item: item.id,
          from: place,
          lot: item.identifiedBy === 'quantity' ? null : { code: `L${r.int(1, 4)}`, expiry: null },
          counted: confirmed ? 'confirmed' : 'counted',
          typed: confirmed ? '' : String(counted),
          again: confirmed ? '' : String(counted),
          unitCost: r.chance(0.5) ? '4.20' : '',
        }),
      ],
    })
  }

  async #closing(place: string): Promise<void> {
    const open = (await this.#c.get<{ rows: { id: string; open: string }[] }>('/api/differences')).rows
    if (!open.length) return
    const d = this.#random.pick(open)
    const found = this.#random.chance(0.5)
    return this.#book('closing', {
      place,
      lines: [
        this.#line({
          difference: d.id,
          act: found ? 'found' : 'close',
          typed: found ? d.open.replace('-', '') : '',
          to: found ? place : null,
        }),
      ],
    })
  }

  #correct(): Promise<void> {
    const r = this.#random
    const from = this.#booked.filter(b => b.kind !== 'correction')
    const of = r.pick(from.slice(-25))
    const line = r.pick(of.lines)
    const item = this.#items.find(i => i.id === line.item)
    const receipt = of.kind === 'receipt'
    const act = r.pick(
      receipt
        ? (['take_back', 'replace', 'price', 'invoice'] as const)
        : (['take_back', 'take_back', 'replace'] as const),
    )
    const what: Partial<Line> =
      act === 'replace' && item
        ? { ...(receipt ? this.#in(item) : { item: item.id, typed: this.#amount(item) }), unit: null }
        : act === 'price'
          ? { item: line.item, price: `${r.int(1, 20)}.5` }
          : act === 'invoice'
            ? { price: r.pick(['2.50', '-0.75']) }
            : {}
    // A counted line is taken back; that it cannot be replaced is held by a rule of its own.
    return this.#book('correction', {
      head: { ...of.head, corrects: of.id, why: 'it was not so' },
      lines: [this.#line({ ref: line.id, act: of.kind === 'count' ? 'take_back' : act, ...what })],
    })
  }

  async #closeMonths(): Promise<void> {
    const { next } = await this.#c.get<{ next: { month: string } | null }>('/api/months')
    if (next === null) return
    const r = await this.#c.call('POST', '/api/months', { month: next.month })
    this.told.push(`close ${next.month} ${r.status}`)
  }

  #line(more: Partial<Line>): Line {
    return this.#c.line(more)
  }
  #amount(item: Item): string {
    const r = this.#random
    const whole = r.int(1, 6)
    return item.decimals > 0 && r.chance(0.4) ? `${whole}.${r.int(1, 9)}` : String(whole)
  }
  /** Nearly always now; some slips are written days late. */
  #when(): string | null {
    const late = this.#random.chance(0.3) ? this.#random.int(1, 5) * DAY : 0
    return late ? new Date(this.w.clock.now - late).toISOString() : null
  }

  async #book(kind: SlipContentInput['kind'], content: Partial<SlipContentInput>): Promise<void> {
    const whole = { kind, place: this.w.lab.id, ...content }
    const effect = await this.#foretold(whole)
    const r = await this.#c.book(whole)
    expect(effect.ok, `${kind}: ${r.text}`).to.equal(r.status === 201)
    if (!effect.ok)
      expect(effect.refusals.map(f => [f.code, f.field])).to.deep.equal(r.body.fields.map(f => [f.code, f.field]))
    if (r.status === 201) {
      await this.#cameTrue(effect)
      const slip = r.body as SlipView
      this.#booked.push({
        id: slip.id,
        kind,
        head: content.head,
        lines: slip.lines.map(l => ({ id: l.id, item: l.item?.id ?? null })),
      })
      this.told.push(`${kind} ${slip.number}`)
    } else
      this.told.push(
        `${kind} ${r.status} ${r.body.code}: ${r.body.fields.map(f => `${f.code} at ${f.field}`).join(', ')}`,
      )
  }

  /** What the slip would do: told without writing anything. */
  async #foretold(content: SlipContentInput): Promise<Effect> {
    const tables = ['slip', 'slip_line', 'lot', 'account', 'supplier', 'pool', 'movement', 'tally', 'event']
    const rows = this.w.app.store.client
      .prepare(`select ${tables.map(t => `(select count(*) from ${t})`).join(', ')}, (select sum(revision) from slip)`)
      .raw()
    const before = rows.get()
    const asked = () => this.#c.ok<Effect>('POST', `/api/slips/${this.#paper}/effect`, content)
    const effect = await asked()
    // Each look has a name of its own.
    const said = { ...(await asked()), tag: effect.tag }
    expect(said, 'asked again, with all of it known').to.deep.equal(effect)
    expect(rows.get(), 'nothing is written').to.deep.equal(before)
    return effect
  }
  /** Once it is booked, every shelf stands as it was told before. */
  async #cameTrue(effect: Effect): Promise<void> {
    for (const l of effect.lines) {
      const { code } = this.#items.find(i => i.id === l.item)!
      const at = l.place === null ? '' : `&place=${l.place}`
      const { rows } = await this.#c.get<{ rows: StockRow[] }>(`/api/stock?limit=500&q=${code}${at}`)
      const row = rows.find(x => x.item === l.item)
      expect(row?.levels ?? { ...l.after, onHand: '0' }, `${code} in ${l.placeName}`).to.deep.equal(l.after)
      if (row) expect(row.cost, `cost of ${code} in ${l.placeName}`).to.equal(l.cost!.after)
    }
  }

  /** What lies of each item, by place, with its worth, and what the organisation has of it. */
  async stands(): Promise<string[]> {
    const out: string[] = []
    for (const i of this.#items) {
      const s = await this.#c.get<ItemStock>(`/api/items/${i.id}/stock`)
      out.push(`${i.code}\teverywhere\t${s.onHand}\t${s.value}`)
      for (const p of s.places) out.push(`${i.code}\t${p.name}\t${p.levels.onHand}\t${p.value}`)
    }
    return out
  }
}
