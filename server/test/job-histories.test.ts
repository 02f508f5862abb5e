// Random weeks of jobs over HTTP, beside a second book that is kept by hand here: what each job used of what it needs, what is
// kept for it, what lies on the shelf. Whatever is handed out, shared, brought back, spoiled, charged on, put right or taken back.
import { expect } from 'chai'
import { v7 } from 'uuid'
import { decimal, formatDecimal, min } from '@shelve/core'
import type { Item, JobView, SlipContentInput, SlipView, StockRow } from '@shelve/contract'
import { verify } from '@shelve/server'
import { Random } from '../../demo/src/random.ts'
import { newItem, world, type World } from './client.ts'

type Found = { id: string }
/** A line that handed something out, as this book has it: who has how much of it by now. */
interface Given {
  readonly slip: string
  readonly line: string
  readonly item: string
  readonly has: Map<string, bigint>
  /** What was charged on, brought back or taken back of it: then it is no line as it was any more. */
  touched: boolean
}
/** What a slip did to this book, and how it is undone. */
interface Done {
  readonly slip: string
  readonly undo: () => void
  gone: boolean
}

class Weeks {
  readonly #r: Random
  readonly #given: Given[] = []
  readonly #done: Done[] = []
  readonly #shelf = new Map<string, bigint>()
  /** What jobs have by lines of others: charged to them. */
  readonly #used = new Map<string, bigint>()
  readonly kinds = new Map<string, number>()
  #items: Item[] = []
  #jobs: string[] = []
  #reason = ''

  constructor(
    readonly w: World,
    seed: number,
  ) {
    this.#r = new Random(seed)
  }
  async begin(): Promise<void> {
    const { c, lab } = this.w
    this.#items = [
      await newItem(c, { name: 'Acid', code: 'ACI', unit: 'L', decimals: 3, method: 'fifo' }),
      await newItem(c, { name: 'Wipes', code: 'WIP' }),
    ]
    this.#reason = (await c.get<{ rows: Found[] }>('/api/waste-reasons')).rows[0]!.id
    for (const [name, typed] of [
      ['Run', '6'],
      ['Survey', '9'],
      ['Trial', '2'],
    ])
      this.#jobs.push(
        (
          await c.ok<Found>('POST', '/api/jobs', {
            place: lab.id,
            name,
            lines: this.#items.map(i => ({ id: v7(), item: i.id, typed })),
          })
        ).id,
      )
  }
  #key = (job: string, item: string) => `${job} ${item}`
  #use(job: string, item: string, by: bigint): void {
    const key = this.#key(job, item)
    this.#used.set(key, (this.#used.get(key) ?? 0n) + by)
  }
  #lie(item: string, by: bigint): void {
    this.#shelf.set(item, (this.#shelf.get(item) ?? 0n) + by)
  }
  #some(item: Item, most: number): bigint {
    const whole = BigInt(this.#r.int(1, most)) * 1_000_000n
    return item.decimals === 0 ? whole : whole - BigInt(this.#r.int(0, 999)) * 1_000n
  }
  /** Books a slip where the books take it; what they refuse changes nothing, which the next look shows. */
  async #book(kind: string, content: SlipContentInput): Promise<SlipView | undefined> {
    const id = v7()
    let r = await this.w.c.book(content, id)
    // Whoever takes what is kept for another job says that they know it.
    if (r.status === 422 && r.body.fields.every(f => f.code === 'takes_reserved')) {
      const codes = r.body.fields.map(f => (f as unknown as { detail: { job: string } }).detail.job)
      r = await this.w.c.book({ ...content, lines: content.lines!.map(l => ({ ...l, accepts: codes })) }, id)
    }
    expect(r.status, `${kind}: ${r.text.slice(0, 400)}`).to.be.oneOf([201, 422])
    if (r.status !== 201) return undefined
    this.kinds.set(kind, (this.kinds.get(kind) ?? 0) + 1)
    return r.body
  }
  #did(slip: string, undo: () => void): void {
    this.#done.push({ slip, undo, gone: false })
  }

  async step(): Promise<void> {
    const { w } = this
    const r = this.#r
    const item = r.pick(this.#items)
    const [job, other] = [r.pick(this.#jobs), r.pick(this.#jobs)]
    const q = this.#some(item, 5)
    const much = q * 4n
    const typed = formatDecimal(q)
    const place = w.lab.id
    const line = (more: object) => w.c.line({ item: item.id, typed, ...more })
    const given = r.pick(this.#given.filter(g => [...g.has.values()].some(x => x > 0n)).concat(this.#given.slice(0, 1)))
    const kind = r.pick([
      'receive',
      'issue',
      'issue',
      'own',
      'among',
      'back',
      'back',
      'spoil',
      'charge',
      'replace',
      'undo',
      'undo',
      'keep',
      'waste',
    ])
    w.clock.now += r.int(1, 300) * 60_000
    if (kind === 'receive') {
      const came = { typed: formatDecimal(much), price: String(r.int(1, 9)) }
      const s = await this.#book(kind, { kind: 'receipt', place, head: { supplier: 'Aster' }, lines: [line(came)] })
      if (s) this.#lie(item.id, much)
      if (s) this.#did(s.id, () => this.#lie(item.id, -much))
    } else if (kind === 'issue' || kind === 'own' || kind === 'among') {
      const halves = kind === 'among' && job !== other
      const head = halves
        ? { among: [job, other].map(j => ({ job: j, percent: '50' })) }
        : kind === 'own'
          ? {}
          : { job }
      const s = await this.#book(kind, {
        kind: 'issue',
        place,
        head,
        lines: [line(kind === 'own' ? { direct: { job } } : kind === 'among' && !halves ? { direct: { job } } : {})],
      })
      if (!s) return
      // Two equal parts: of an odd millionth the first has one more.
      const has = new Map(halves ? [[job, (q + 1n) / 2n] as const, [other, q / 2n] as const] : [[job, q] as const])
      this.#hand({ slip: s.id, line: s.lines[0]!.id, item: item.id, has, touched: false })
    } else if (kind === 'waste') {
      const s = await this.#book(kind, { kind: 'waste', place, head: { reason: this.#reason }, lines: [line({})] })
      if (s) this.#lie(item.id, -q)
      if (s) this.#did(s.id, () => this.#lie(item.id, q))
    } else if (kind === 'keep') {
      await w.c.call('POST', `/api/jobs/${job}/reservations`, {
        need: null,
        place: null,
        lot: null,
        typed: '',
        unit: null,
      })
    } else if (kind === 'undo') await this.#undo()
    else if (given) await this.#of(kind, given, other)
  }
  #hand(g: Given): void {
    const sum = [...g.has.values()].reduce((a, b) => a + b, 0n)
    this.#given.push(g)
    this.#lie(g.item, -sum)
    for (const [job, x] of g.has) this.#use(job, g.item, x)
    this.#did(g.slip, () => {
      this.#lie(g.item, sum)
      for (const [job, x] of g.has) this.#use(job, g.item, -x)
      g.has.clear()
    })
  }
  /** Something becomes of a line that handed out: brought back, spoiled, charged to another, or it was otherwise. */
  async #of(kind: string, g: Given, other: string): Promise<void> {
    const { w } = this
    const place = w.lab.id
    const left = [...g.has.values()].reduce((a, b) => a + b, 0n)
    const item = this.#items.find(i => i.id === g.item)!
    // Of what several have all of it; of one, some.
    const x = g.has.size > 1 ? left : min(this.#some(item, 4), left)
    if (x <= 0n) return
    const typed = formatDecimal(x)
    const ref = { ref: g.line, item: g.item, typed }
    const was = new Map(g.has)
    const takes = () => {
      let rest = x
      for (const [job, has] of was) {
        const part = min(has, rest)
        rest -= part
        g.has.set(job, has - part)
        this.#use(job, g.item, -part)
      }
      g.touched = true
    }
    const back = () => {
      let rest = x
      for (const [job, has] of was) {
        const part = min(has, rest)
        rest -= part
        g.has.set(job, (g.has.get(job) ?? 0n) + part)
        this.#use(job, g.item, part)
      }
    }
    if (kind === 'back' || kind === 'spoil') {
      const spoiled = kind === 'spoil'
      const s = await this.#book(kind, {
        kind: 'bring_back',
        place,
        lines: [w.c.line({ ...ref, ...(spoiled ? { reason: this.#reason } : {}) })],
      })
      if (!s) return
      takes()
      if (!spoiled) this.#lie(g.item, x)
      this.#did(s.id, () => {
        back()
        if (!spoiled) this.#lie(g.item, -x)
      })
    } else if (kind === 'charge') {
      if (g.has.has(other)) return
      const s = await this.#book(kind, { kind: 'recharge', place, head: { job: other }, lines: [w.c.line(ref)] })
      if (!s) return
      takes()
      this.#use(other, g.item, x)
      // Whoever has it now may bring it back, or it goes on to a third.
      const on = { slip: s.id, line: s.lines[0]!.id, item: g.item, has: new Map([[other, x]]), touched: true }
      this.#given.push(on)
      this.#did(s.id, () => {
        back()
        this.#use(other, g.item, -x)
        on.has.clear()
      })
    } else if (kind === 'replace' && g.has.size === 1 && !g.touched) {
      const slip = await w.c.get<SlipView>(`/api/slips/${g.slip}`)
      const l = slip.content!.lines[0]!
      const s = await this.#book(kind, {
        kind: 'correction',
        place,
        head: { ...slip.content!.head, corrects: g.slip },
        lines: [{ ...l, id: v7(), typed, ref: g.line, act: 'replace' }],
      })
      if (!s) return
      const [job] = [...g.has.keys()]
      this.#use(job!, g.item, x - left)
      this.#lie(g.item, left - x)
      // What stands in its place is a line of another slip: nothing more is done with either here.
      g.has.clear()
      this.#done.find(d => d.slip === g.slip)!.gone = true
    }
  }
  /** Taken back whole, latest first more often: what later slips stand on is refused. */
  async #undo(): Promise<void> {
    const open = this.#done.filter(d => !d.gone)
    const d = this.#r.int(0, 3) ? open.at(-1) : this.#r.pick(open.concat(open.slice(-1)))
    if (!d) return
    const r = await this.w.c.call<SlipView>('POST', `/api/slips/${d.slip}/reversal`, { id: v7() })
    expect(r.status, r.text.slice(0, 300)).to.be.oneOf([201, 422])
    if (r.status !== 201) return
    this.kinds.set('undo', (this.kinds.get('undo') ?? 0) + 1)
    d.gone = true
    d.undo()
  }

  /** What Shelve says beside what this book says. */
  async look(at: string): Promise<void> {
    const { c, lab } = this.w
    const { rows } = await c.get<{ rows: StockRow[] }>(`/api/stock?place=${lab.id}`)
    for (const i of this.#items) {
      const l = rows.find(x => x.item === i.id)?.levels
      expect(l?.onHand ?? '0', `${at}: ${i.name} on the shelf`).to.equal(formatDecimal(this.#shelf.get(i.id) ?? 0n))
      if (!l) continue
      expect(decimal(l.reserved) <= decimal(l.onHand), `${at}: kept beyond what is there`).to.equal(true)
      expect(l.available, `${at}: available`).to.equal(formatDecimal(decimal(l.onHand) - decimal(l.reserved)))
    }
    const kept = new Map<string, bigint>()
    for (const job of this.#jobs) {
      const view = await c.get<JobView>(`/api/jobs/${job}`)
      for (const l of view.lines) {
        const used = this.#used.get(this.#key(job, l.item)) ?? 0n
        expect(l.used, `${at}: ${view.head.name} used of ${l.named.name}`).to.equal(formatDecimal(used))
        kept.set(l.item, (kept.get(l.item) ?? 0n) + decimal(l.held))
        const lacks = decimal(l.need) - used
        expect(decimal(l.held) <= (lacks > 0n ? lacks : 0n), `${at}: never more is kept than is lacking`).to.equal(true)
      }
    }
    for (const i of this.#items)
      expect(rows.find(x => x.item === i.id)?.levels.reserved ?? '0', `${at}: what is kept for all`).to.equal(
        formatDecimal(kept.get(i.id) ?? 0n),
      )
  }
}

describe('random weeks of jobs beside a book that is kept by hand', () => {
  const booked = new Map<string, number>()
  const seeds = Array.from({ length: Number(process.env.WEEKS ?? 3) }, (_, i) => 11 + i)
  for (const seed of seeds)
    it(`weeks ${seed}: what was used, kept and lies there is so after every slip`, async () => {
      const w = await world()
      try {
        const weeks = new Weeks(w, seed)
        await weeks.begin()
        for (let i = 0; i < 90; i++) {
          if (i % 20 === 0) await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
          await weeks.step()
          await weeks.look(`step ${i}`)
        }
        expect(verify(w.app).faults).to.deep.equal([])
        for (const [kind, n] of weeks.kinds) booked.set(kind, (booked.get(kind) ?? 0) + n)
      } finally {
        await w.stop()
      }
    }).timeout(120_000)
  it('each of what may happen did, more than once', () => {
    for (const kind of ['receive', 'issue', 'own', 'among', 'back', 'spoil', 'charge', 'replace', 'undo', 'waste'])
      expect(booked.get(kind) ?? 0, `${kind} of ${JSON.stringify([...booked])}`).to.be.greaterThan(1)
  })
})
