import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import {
  type Effect,
  type Item,
  type Person,
  type Place,
  SlipContent,
  type SlipContentInput,
  wholeAgain,
} from '@shelve/contract'
import { wholeEffect } from '../src/papers/book.ts'
import type { Kind, Reading } from '../src/papers/index.ts'
import { callerOf } from '../src/people/index.ts'
import { newItem, person, world, type World } from './client.ts'

type Line = NonNullable<SlipContentInput['lines']>[number]

/**
 * While a count is written, only what changed is judged anew, and only what differs is told. Whatever is typed, and whatever
 * happens beside it: what its writer then knows is what a judgement of the whole says, and it is booked by what was seen.
 */
describe('a count that is judged item by item', () => {
  let w: World
  let bin: Place
  const items: Item[] = []
  let lots: { id: string; code: string }[]
  let job: string
  before(async () => {
    w = await world()
    const { c, lab } = w
    bin = await c.ok<Place>('POST', '/api/places', { name: 'Bin 1', code: 'B1', kind: 'bin', parent: lab.id })
    for (const name of ['Gloves', 'Wipes', 'Tips', 'Paste']) items.push(await newItem(c, { name }))
    items.push(await newItem(c, { name: 'Acid', identifiedBy: 'lot', method: 'fifo' }))
    items.push(await newItem(c, { name: 'Vials', method: 'average' }))
    job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    for (const price of ['2', '3'])
      await delivery(
        items.map(i =>
          c.line({ item: i.id, typed: '20', price, lot: i.name === 'Acid' ? { code: `A${price}` } : null }),
        ),
      )
    lots = (await c.get<{ rows: typeof lots }>(`/api/items/${items[4]!.id}/lots`)).rows
  })
  after(() => w.stop())
  async function delivery(lines: Line[]) {
    w.clock.now += 60_000
    await w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'Quillfern' }, lines })
    w.clock.now += 60_000
  }

  /** What the writer's screen knows of it, look after look, beside a judgement of the whole. */
  class Screen {
    readonly content: SlipContentInput & { lines: Line[] }
    constructor(
      readonly c = w.c,
      said: Partial<SlipContentInput> = { kind: 'count', head: { blind: false } },
    ) {
      this.content = { kind: 'count', place: w.lab.id, ...said, lines: [] }
    }
    readonly id = v7()
    known: Effect | null = null
    told = 0
    sent = 0
    /** What the lines said at the look before. */
    said = new Map<string, string>()
    /** What is asked: of lines that only grew at their end those alone that say something else by now. */
    asked(since: string | null | undefined) {
      const said = new Map(this.content.lines.map(l => [l.id!, JSON.stringify(l)]))
      const part = since && [...this.said.keys()].every((id, i) => this.content.lines[i]?.id === id)
      const lines = part ? this.content.lines.filter(l => this.said.get(l.id!) !== said.get(l.id!)) : this.content.lines
      const query = since ? `?since=${since}${part ? '&lines=changed' : ''}` : ''
      return { path: `/api/slips/${this.id}/effect${query}`, body: { ...this.content, lines }, said }
    }
    async looks(): Promise<Effect> {
      const { id, known, content } = this
      const { path, body, said: saying } = this.asked(known?.tag)
      const told = await this.c.ok<Effect>('POST', path, body)
      this.sent = body.lines.length
      this.said = saying
      this.told = told.lines.length
      const ids = content.lines.map(l => l.id!)
      const now = wholeAgain(told, known, ids)
      expect(now, 'what is told is of the look before').to.not.equal(undefined)
      const caller = callerOf(w.reading, this.c.cookie.split('=')[1])!
      const whole = JSON.parse(JSON.stringify(wholeEffect(w.reading, caller, id, SlipContent.parse(content)))) as Effect
      const said = (e: Effect) => ({
        ...e,
        tag: null,
        refusals: e.refusals.map(r => JSON.stringify(r)).sort(),
        // Of what is refused nothing is booked by what was seen.
        fingerprint: e.ok ? e.fingerprint : '',
      })
      expect(said(now!)).to.deep.equal(said(whole))
      return (this.known = now!)
    }
  }
  const line = (n: number, typed: string, more: object = {}): Line => {
    const item = items[n % items.length]!
    const lot = item.name === 'Acid' ? lots[n % lots.length]! : null
    return w.c.line({
      item: item.id,
      from: w.lab.id,
      lot: lot && { id: lot.id, code: lot.code },
      ...(typed ? { counted: 'counted', typed, again: typed } : {}),
      ...more,
    })
  }

  it('tells one line of six when one is changed, all again when anything was booked, and none of a line that is gone', async () => {
    const s = new Screen()
    s.content.lines.push(...items.map((_, n) => line(n, '19')))
    await s.looks()
    expect([s.sent, s.told]).to.deep.equal([6, 6])
    await s.looks()
    expect([s.sent, s.told]).to.deep.equal([0, 0])
    Object.assign(s.content.lines[1]!, { typed: '18', again: '18' })
    await s.looks()
    expect([s.sent, s.told]).to.deep.equal([1, 1])
    const [gone] = s.content.lines.splice(0, 1)
    const without = await s.looks()
    expect([s.told, without.lines.map(l => l.line).includes(gone!.id!)]).to.deep.equal([0, false])
    s.content.lines.push(gone!)
    await s.looks()
    expect(s.told).to.equal(1)
    await delivery([w.c.line({ item: items[0]!.id, typed: '1', price: '2' })])
    await s.looks()
    expect([s.sent, s.told], 'what it says is kept also where what it would do is not').to.deep.equal([0, 6])
    // Somebody else knows nothing of it yet, and a name that nobody was told says nothing.
    const other = await w.c.ok<Effect>('POST', `/api/slips/${s.id}/effect?since=${v7()}`, s.content)
    expect([other.since, other.lines.length]).to.deep.equal([null, 6])
    const seen = await s.looks()
    expect((await w.c.book(s.content, s.id, seen.fingerprint)).status).to.equal(201)
  })

  it('a look that was given up is none that the next one is told from; of one that nobody keeps all is asked for', async () => {
    const s = new Screen()
    s.content.lines.push(...items.map((_, n) => line(n, '19')))
    await s.looks()
    for (const typed of ['1', '12', '120']) {
      // Whoever types on waits for no answer.
      Object.assign(s.content.lines[typed.length]!, { typed, again: typed })
      const { path, body } = s.asked(s.known!.tag)
      await w.c.ok('POST', path, body)
    }
    Object.assign(s.content.lines[1]!, { typed: '19', again: '19' })
    await s.looks()
    expect([s.sent, s.told], 'what was judged anew meanwhile is told again').to.deep.equal([2, 3])
    const { path, body } = s.asked(v7())
    const { status, body: no } = await w.c.call<{ code: string }>('POST', path, body)
    expect([status, no.code]).to.deep.equal([409, 'look_forgotten'])
    const other = await w.c.call<{ code: string }>('POST', s.asked(s.known!.tag).path.replace(s.id, v7()), body)
    expect([other.status, other.body.code], 'a look at another slip').to.deep.equal([409, 'look_forgotten'])
    const issue = { kind: 'issue', place: w.lab.id, lines: [] }
    const kind = await w.c.call<{ code: string }>('POST', s.asked(s.known!.tag).path, issue)
    expect([kind.status, kind.body.code], 'lines of another kind say other things').to.deep.equal([
      409,
      'look_forgotten',
    ])
    const much = Array.from({ length: 495 }, (_, i) => line(i, '1'))
    const longer = await w.c.call<{ code: string }>('POST', s.asked(s.known!.tag).path, { ...s.content, lines: much })
    expect([longer.status, longer.body.code], 'no slip grows past what it may have').to.deep.equal([
      409,
      'look_forgotten',
    ])
  })

  it('what was sent before is looked up anew once anything happened: what its writer may no longer see is not there', async () => {
    const galley = await w.c.ok<Place>('POST', '/api/places', { name: 'Galley', kind: 'area' })
    const mate = await person(w, 'mate', 'keeper', null)
    const s = new Screen(mate)
    s.content.lines.push(line(0, '19'), line(1, '19', { from: galley.id }))
    await s.looks()
    const { rows } = await w.c.get<{ rows: Person[] }>('/api/people')
    const row = rows.find(p => p.name === 'mate')!
    const grants = [{ role: 'keeper', place: w.lab.id }]
    await w.c.ok('PUT', `/api/people/${row.id}`, { ...row, password: null, grants })
    const { path, body } = s.asked(s.known!.tag)
    const no = await mate.call<{ code: string; fields: { line: string }[] }>('POST', path, body)
    expect([body.lines, no.status, no.body.code]).to.deep.equal([[], 422, 'unknown_place'])
    expect(no.body.fields.map(f => f.line)).to.deep.equal([s.content.lines[1]!.id])
  })

  it('a late count changes what an earlier one found, beside what was made since', async () => {
    const resin = (await newItem(w.c, { name: 'Resin', method: 'fifo' })).id
    for (const price of ['2', '3']) await delivery([w.c.line({ item: resin, typed: '20', price })])
    const late = new Date(w.clock.now).toISOString()
    const counts = (typed: string, more: object) =>
      w.c.line({ item: resin, from: w.lab.id, counted: 'counted', typed, again: typed, ...more })
    w.clock.now += 60_000
    await w.c.must({ kind: 'count', place: w.lab.id, lines: [counts('38', {})] })
    w.clock.now += 60_000
    const made = w.c.line({ item: items[3]!.id, side: 'out', typed: '4' })
    const used = w.c.line({ item: resin, side: 'in', typed: '19', from: w.lab.id })
    await w.c.must({ kind: 'make', place: w.lab.id, head: { job }, lines: [made, used] })
    w.clock.now += 60_000
    // One was lost before the first count: that found one less.
    const s = new Screen()
    s.content.lines.push(counts('39', { countedAt: late }), line(3, '40'))
    expect((await s.looks()).ok).to.equal(true)
    Object.assign(s.content.lines[1]!, { typed: '41', again: '41' })
    await s.looks()
  })

  it('where the books refuse a line nothing of the others is kept either; put right, all of it is shown', async () => {
    const early = new Date(w.clock.now).toISOString()
    w.clock.now += 60_000
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: items[2]!.id, typed: '9' })],
    })
    w.clock.now += 60_000
    const s = new Screen()
    s.content.lines.push(line(0, '17'), line(2, '3', { countedAt: early }))
    const refused = await s.looks()
    expect([refused.ok, refused.tag]).to.deep.equal([false, null])
    Object.assign(s.content.lines[1]!, { typed: '30', again: '30' })
    const right = await s.looks()
    expect([right.ok, right.lines.map(l => l.after.onHand)]).to.deep.equal([true, ['17', '21']])
  })

  it('a line that is no longer about anything is told of no more; what is asked for meanwhile is coming', async () => {
    const s = new Screen()
    s.content.lines.push(line(1, '17'), line(2, '30'))
    await s.looks()
    const { item } = s.content.lines[0]!
    s.content.lines[0]!.item = null
    expect((await s.looks()).lines).to.have.lengthOf(1)
    s.content.lines[0]!.item = item!
    expect((await s.looks()).lines.map(l => l.before.coming)).to.deep.equal(['0', '0'])
    const id = v7()
    const asked = { id: v7(), item: items[2]!.id, place: w.lab.id, typed: '5', unit: null, why: '' }
    await w.c.ok('POST', '/api/restock', { id, source: { kind: 'nobody', id: null }, lines: [asked] })
    await w.c.ok('POST', `/api/restock/${id}/asking`, { where: 'by telephone' })
    expect((await s.looks()).lines.map(l => l.before.coming)).to.deep.equal(['0', '5'])
    expect(s.told).to.equal(1)
  })

  it('a printed sheet that is void meanwhile is said to be, whatever was looked at before', async () => {
    const print = async () =>
      (await w.c.ok<{ rows: { id: string }[] }>('POST', '/api/sheets', { areas: [w.lab.id], blind: false })).rows[0]!
    const s = new Screen()
    s.content.lines.push(line(1, '17'))
    s.content.head = { blind: false, sheet: (await print()).id }
    expect((await s.looks()).refusals).to.deep.equal([])
    await print()
    expect((await s.looks()).refusals.map(r => r.code)).to.deep.equal(['sheet_older'])
  })

  it('whatever is typed, and whatever happens beside it', async () => {
    const step = fc.oneof(
      fc.record({
        do: fc.constant('add' as const),
        n: fc.nat(11),
        typed: fc.constantFrom('', '0', '7', '20', '40', 'x'),
      }),
      fc.record({
        do: fc.constant('type' as const),
        n: fc.nat(20),
        typed: fc.constantFrom('', '0', '5', '39', '40', '41', '1.5', '99999999999'),
        again: fc.constantFrom('', '5', '41'),
      }),
      fc.record({ do: fc.constant('confirm' as const), n: fc.nat(20) }),
      fc.record({ do: fc.constant('drop' as const), n: fc.nat(20) }),
      fc.record({ do: fc.constant('turn' as const), n: fc.nat(20) }),
      fc.record({ do: fc.constantFrom('blind' as const, 'byTwo' as const, 'deliver' as const, 'issue' as const) }),
      fc.record({ do: fc.constant('plan' as const), n: fc.nat(5) }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 14 }), async steps => {
        const s = new Screen()
        const { lines, head } = s.content
        const at = (n: number) => lines[n % (lines.length || 1)]
        for (const t of steps) {
          if (t.do === 'add') lines.push(line(t.n, t.typed, { from: t.n % 3 ? w.lab.id : bin.id }))
          else if (t.do === 'type')
            Object.assign(at(t.n) ?? {}, { counted: t.typed ? 'counted' : 'not', typed: t.typed, again: t.again })
          else if (t.do === 'confirm') Object.assign(at(t.n) ?? {}, { counted: 'confirmed', typed: '', again: '' })
          else if (t.do === 'drop') lines.splice(t.n % (lines.length || 1), 1)
          else if (t.do === 'turn') lines.reverse()
          else if (t.do === 'blind' || t.do === 'byTwo') Object.assign(head!, { [t.do]: !head![t.do] })
          else if (t.do === 'deliver') await delivery([w.c.line({ item: items[1]!.id, typed: '3', price: '4' })])
          else if (t.do === 'issue') {
            w.clock.now += 60_000
            const issued = [w.c.line({ item: items[0]!.id, typed: '1' })]
            await w.c.book({ kind: 'issue', place: w.lab.id, head: { job }, lines: issued })
            w.clock.now += 60_000
          } else if (t.do === 'plan')
            await w.c.ok('POST', '/api/jobs', {
              code: v7().slice(-12),
              name: 'Planned',
              place: w.lab.id,
              lines: [{ id: v7(), item: items[t.n]!.id, typed: '2' }],
            })
          if (lines.length) await s.looks()
        }
      }),
      { numRuns: 40 },
    )
  })

  describe('and so is what comes in, goes out, is moved or wasted', () => {
    let reason: string
    let centre: string
    before(async () => {
      reason = (await w.c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows[0]!.id
      centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { code: 'ASH', name: 'Ashfold' })).id
      await budget('50', 1, 1000)
    })
    const budget = (amount: string, warn: number, stop: number) =>
      w.c.ok('PUT', `/api/cost-centres/${centre}/budgets/2026`, { amount, warn, stop })
    const began = (): Record<string, Partial<SlipContentInput>> => ({
      issue: { kind: 'issue', head: { job } },
      among: {
        kind: 'issue',
        head: {
          among: [
            { job, percent: '60' },
            { costCentre: centre, percent: '40' },
          ],
        },
      },
      nobody: { kind: 'issue' },
      move: { kind: 'move' },
      list: { kind: 'move', head: { pick: 'Friday' } },
      waste: { kind: 'waste', head: { reason } },
      receipt: { kind: 'receipt', head: { supplier: 'Quillfern' } },
      freight: {
        kind: 'receipt',
        head: { supplier: 'Quillfern', charges: [{ label: 'Boat', amount: '3', basis: 'value' }] },
      },
      late: { kind: 'issue', head: { job }, effectiveAt: new Date(w.clock.now - 90_000).toISOString() },
    })
    const written = (kind: string, n: number, typed: string): Line => {
      const { item, lot } = line(n, '')
      const of = { item: item!, typed }
      if (kind === 'receipt' || kind === 'freight')
        return w.c.line({ ...of, price: n % 2 ? '2.5' : '', lot: lot && { code: `N${n % 5}` } })
      const to = kind === 'move' || kind === 'list' ? { to: bin.id } : {}
      const direct = kind === 'issue' && n % 3 === 1 ? { direct: { costCentre: centre } } : {}
      return w.c.line({
        ...of,
        ...to,
        ...direct,
        ...(n % 4 === 3 ? { lot } : {}),
        ...(n % 5 === 4 ? { from: bin.id } : {}),
      })
    }

    it('a budget is asked of all its lines together, however few are judged anew', async () => {
      await budget('100', 10, 20)
      const s = new Screen(w.c, { kind: 'issue', head: { costCentre: centre } })
      const found: string[] = []
      const cords: Item[] = []
      for (let n = 0; n < 7; n++) cords.push(await newItem(w.c, { name: `Cord ${n}`, code: `CORD${n}` }))
      // Nothing is booked while it is written: what was judged of the lines before is kept.
      await delivery(cords.map(i => w.c.line({ item: i.id, typed: '9', price: '1' })))
      for (const cord of cords) {
        s.content.lines.push(w.c.line({ item: cord.id, typed: '4' }))
        const e = await s.looks()
        found.push(e.ok ? (e.notes.length ? 'told' : '') : e.refusals.map(r => r.code).join(' '))
      }
      // Beyond 10 of 100 with the third line, beyond 20 with the sixth.
      expect(found).to.deep.equal(['', '', 'told', 'told', 'told', 'over_budget', 'over_budget'])
      // Each line says for whom it is: what one of them says hangs on what the others charge, though they are not judged anew.
      const each = new Screen(w.c, { kind: 'issue', head: { job } })
      const past: (string | undefined)[][] = []
      const looks = async () => {
        const { refusals, lines } = await each.looks()
        const at = (line: string | null) => `${lines.findIndex(l => l.line === line)}`
        past.push(refusals.flatMap(r => [at(r.line), r.detail?.percent as string]))
      }
      const direct = { costCentre: centre }
      for (const cord of cords.slice(0, 6)) each.content.lines.push(w.c.line({ item: cord.id, typed: '4', direct }))
      await looks()
      Object.assign(each.content.lines[0]!, { typed: '6' })
      await looks()
      each.content.lines.splice(1, 1)
      await looks()
      Object.assign(each.content.lines[0]!, { typed: '4' })
      await looks()
      expect(past).to.deep.equal([['5', '24'], ['4', '22', '5', '26'], ['4', '22'], []])
      expect((await w.c.book(each.content, each.id, each.known!.fingerprint)).status).to.equal(201)
      await budget('50', 1, 1000)
    })

    it('whatever is typed, and whatever happens beside it: as the whole says, and it is booked by that', async () => {
      const typed = fc.constantFrom('', '0', '1', '2', '3 ', '900', 'x')
      const step = fc.oneof(
        { weight: 4, arbitrary: fc.record({ do: fc.constant('add' as const), n: fc.nat(23), typed }) },
        { weight: 3, arbitrary: fc.record({ do: fc.constant('type' as const), n: fc.nat(20), typed }) },
        fc.record({ do: fc.constantFrom('drop' as const, 'turn' as const, 'deliver' as const), n: fc.nat(20) }),
        fc.record({ do: fc.constant('keep' as const), n: fc.nat(5) }),
      )
      // Of each kind there is one that can be booked, whatever the others happen to hold.
      const sure = Object.keys(began()).map((kind): [string, { do: 'add'; n: number; typed: '1' }[]] => [
        kind,
        [{ do: 'add', n: 1, typed: '1' }],
      ])
      let booked = 0
      await fc.assert(
        fc.asyncProperty(
          fc.constantFrom(...Object.keys(began())),
          fc.array(step, { minLength: 4, maxLength: 12 }),
          async (kind, steps) => {
            const s = new Screen(w.c, began()[kind])
            const { lines } = s.content
            for (const t of steps) {
              const at = lines[t.n % (lines.length || 1)]
              if (t.do === 'add') lines.push(written(kind, t.n, t.typed))
              else if (t.do === 'type') Object.assign(at ?? {}, { typed: t.typed })
              else if (t.do === 'drop') lines.splice(t.n % (lines.length || 1), 1)
              else if (t.do === 'turn') lines.reverse()
              else if (t.do === 'deliver')
                await delivery([w.c.line({ item: items[t.n % 4]!.id, typed: '3', price: '4' })])
              else {
                const need = { id: v7(), item: items[t.n]!.id, typed: '2' }
                const planned = { code: v7().slice(-12), name: 'Planned', place: w.lab.id, lines: [need] }
                const { id } = await w.c.ok<{ id: string }>('POST', '/api/jobs', planned)
                await w.c.call('POST', `/api/jobs/${id}/reservations`, {})
              }
              if (lines.length) await s.looks()
            }
            if (!lines.length || !s.known?.ok) return
            const r = await w.c.book(s.content, s.id, s.known.fingerprint)
            expect(r.status, r.text).to.equal(201)
            booked++
            w.clock.now += 60_000
          },
        ),
        { numRuns: 60, examples: sure },
      )
      expect(booked, 'some of them are booked').to.be.greaterThan(3)
    })

    it('of many lines each is judged once, some at a time, others being let in', async () => {
      const s = new Screen(w.c, { kind: 'issue', head: { job } })
      for (let n = 0; n < 130; n++) {
        const item = await newItem(w.c, { name: `Part ${n}`, code: `P${n}` })
        s.content.lines.push(w.c.line({ item: item.id, typed: '1' }))
      }
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Quillfern' },
        lines: s.content.lines.map(l => w.c.line({ item: l.item!, typed: '9', price: '1' })),
      })
      w.clock.now += 60_000
      const judged: number[] = []
      const kinds = w.reading.kinds as Map<string, Kind>
      const issue = kinds.get('issue')!
      const begin = (r: Reading) => (judged.push(r.content.lines.length), issue.begin?.(r))
      kinds.set('issue', { ...issue, begin })
      try {
        const first = await s.looks()
        expect([first.ok, judged.filter(n => n < 130)]).to.deep.equal([true, [40, 40, 40, 10]])
        judged.length = 0
        Object.assign(s.content.lines[77]!, { typed: '2' })
        await s.looks()
        expect(judged.filter(n => n < 130)).to.deep.equal([1])
      } finally {
        kinds.set('issue', issue)
      }
    })
  })
})
