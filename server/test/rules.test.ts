import { expect } from 'chai'
import { lt, gt, eq } from 'drizzle-orm'
import { v7 } from 'uuid'
import type { Item, ItemStock, Person, Place, Proposal, ShortRow, SlipContentInput, Today } from '@shelve/contract'
import { writtenDay } from '@shelve/core'
import { ledgerJsonLines, schema } from '@shelve/server'
import type { Role } from '../src/rights/roles.ts'
import { Client, newItem, world, type World } from './client.ts'
import { Stream } from './stream.ts'

const MINUTE = 60_000
const DAY = 86_400_000
/** Rules that stand upstairs: one case for each sentence, and one for each boundary: equal, one below, one above. */
describe('rules', () => {
  let w: World
  let shed: string
  beforeEach(async () => {
    w = await world()
    shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
  })
  afterEach(() => w.stop())
  const receive = (item: Item, typed: string, more: object = {}, place = w.lab.id) => {
    w.clock.now += MINUTE
    return w.c.must({
      kind: 'receipt',
      place,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: item.id, typed, price: '1', ...more })],
    })
  }
  const codes = async (content: SlipContentInput) => {
    const r = await w.c.book(content)
    return r.status === 201 ? ['booked'] : r.body.fields.map(f => f.code)
  }
  const signIn = () => w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })

  for (const [counted, said] of [
    ['95', 'booked'],
    ['94', 'count_twice'],
    ['105', 'booked'],
    ['106', 'count_twice'],
    ['100', 'booked'],
  ] as const)
    it(`tolerance (26): 100 expected, 5 %, ${counted} counted once: ${said}`, async () => {
      const flour = await newItem(w.c, { name: 'Flour' })
      await receive(flour, '100')
      w.clock.now += MINUTE
      const line = w.c.line({ item: flour.id, from: w.lab.id, counted: 'counted', typed: counted })
      expect(await codes({ kind: 'count', place: w.lab.id, lines: [line] })).to.deep.equal([said])
    })
  it('tolerance (26): where nothing is expected, the per cent is passed by whatever is found', async () => {
    const flour = await newItem(w.c, { name: 'Flour' })
    const line = w.c.line({ item: flour.id, from: w.lab.id, counted: 'counted', typed: '1', unitCost: '1' })
    expect(await codes({ kind: 'count', place: w.lab.id, lines: [line] })).to.deep.equal(['count_twice'])
  })

  it('values (of several places): shown for all of them together only where each may be seen', async () => {
    const flour = await newItem(w.c, { name: 'Flour' })
    await receive(flour, '10')
    await receive(flour, '3', {}, shed)
    const as = async (name: string, grants: { role: Role; place: string }[]) => {
      await w.c.ok('POST', '/api/people', { name, signIn: name, password: 'long enough', ...grants[0] })
      const row = (await w.c.get<{ rows: Person[] }>('/api/people')).rows.find(p => p.name === name)!
      await w.c.ok('PUT', `/api/people/${row.id}`, { ...row, password: null, grants })
      const c = new Client(w.c.base)
      await c.ok('POST', '/api/session', { signIn: name, password: 'long enough' })
      return c
    }
    const value = async (c: Client, place?: string) =>
      (await c.get<{ value?: string }>(`/api/stock${place ? `?place=${place}` : ''}`)).value
    const some = await as('some', [
      { role: 'observer', place: w.lab.id },
      { role: 'requester', place: shed },
    ])
    const both = await as('both', [
      { role: 'observer', place: w.lab.id },
      { role: 'observer', place: shed },
    ])
    expect([await value(some), await value(some, w.lab.id), await value(some, shed)]).to.deep.equal([
      undefined,
      '10',
      undefined,
    ])
    expect(await value(both)).to.equal('13')
    const stock = await some.get<ItemStock>(`/api/items/${flour.id}/stock`)
    expect([stock.value, ...stock.places.map(p => p.value)], 'place by place too').to.deep.equal([
      undefined,
      '10',
      undefined,
    ])
  })

  for (const [target, spare] of [
    ['100', undefined],
    ['90', '10'],
    ['70', '30'],
    ['60', '30'],
  ] as const)
    it(`surplus (23): of 100 in the shed whose own target is ${target}, the lab is offered ${spare ?? 'none'} of the 30 it wants`, async () => {
      const rope = await newItem(w.c, { name: 'Rope', code: 'ROP' })
      await receive(rope, '100', {}, shed)
      const level = (place: string, minimum: string, to: string) =>
        w.c.ok('PUT', '/api/levels', { item: rope.id, place, minimum, target: to })
      await level(shed, '5', target)
      await level(w.lab.id, '10', '30')
      const { proposals } = await w.c.get<{ proposals: Proposal[] }>('/api/restock')
      expect(proposals.find(p => p.source.kind === 'shelves')?.lines[0]?.typed).to.equal(spare)
    })

  for (const [days, expected, coming, owed] of [
    [28, null, '7', 0],
    [29, null, '0', 1],
    [38, 10, '7', 0],
    [39, 10, '0', 1],
    [399, null, '0', 1],
    [400, null, '0', 0],
  ] as const)
    it(`coming (12): asked for ${days} days ago, expected ${expected === null ? 'on no day' : `after ${expected}`}: counts as ${coming}, waits on Today ${owed} times`, async () => {
      const rope = await newItem(w.c, { name: 'Rope', code: 'ROP' })
      await w.c.ok('PUT', '/api/levels', { item: rope.id, place: w.lab.id, minimum: '1', target: '5' })
      const id = v7()
      const lines = [{ id: v7(), item: rope.id, place: w.lab.id, typed: '7' }]
      await w.c.ok('POST', '/api/restock', { id, source: { kind: 'nobody', id: null }, lines })
      const day = (n: number) => new Date(w.clock.now + n * DAY).toISOString().slice(0, 10)
      const asked = day(expected ?? 0)
      await w.c.ok('POST', `/api/restock/${id}/asking`, {
        where: 'by telephone',
        expected: expected === null ? null : day(expected),
      })
      w.clock.now += days * DAY
      await signIn()
      const { places } = await w.c.get<ItemStock>(`/api/items/${rope.id}/stock`)
      expect([places[0]!.levels.coming, places[0]!.levels.state]).to.deep.equal([
        coming,
        coming === '7' ? 'short_coming' : 'out',
      ])
      const { waiting, coming: asks } = await w.c.get<Today>('/api/today')
      expect(waiting.filter(x => x.kind === 'owed').map(x => [x.n, x.day, x.named[0]!.quantity])).to.deep.equal(
        owed ? [[1, asked, '7']] : [],
      )
      // The list of what was asked for hides nothing that somebody waits for; a proposal names it.
      expect(asks.map(r => [r.owed, r.late])).to.deep.equal(days < 400 ? [[1, owed]] : [])
      const { proposals } = await w.c.get<{ proposals: Proposal[] }>('/api/restock')
      const proposed = proposals.flatMap(p => p.lines.map(l => [l.typed, l.why]))
      expect(proposed).to.deep.equal(
        coming === '7'
          ? []
          : [['5', `nothing left${owed ? `; 7 each owed since ${writtenDay(asked, { dateOrder: 'dmy' })}` : ''}`]],
      )
    })
  it('coming (12): whoever waits longer says so in the settings', async () => {
    const rope = await newItem(w.c, { name: 'Rope', code: 'ROP' })
    const id = v7()
    const lines = [{ id: v7(), item: rope.id, place: w.lab.id, typed: '7' }]
    await w.c.ok('POST', '/api/restock', { id, source: { kind: 'nobody', id: null }, lines })
    await w.c.ok('POST', `/api/restock/${id}/asking`, { where: 'by telephone' })
    w.clock.now += 100 * DAY
    await signIn()
    const late = async () => (await w.c.get<Today>('/api/today')).coming[0]!.late
    expect(await late()).to.equal(1)
    await w.c.ok('PUT', '/api/settings', { ...w.me.settings, patienceDays: 100 })
    expect(await late()).to.equal(0)
    expect((await w.c.call('PUT', '/api/settings', { ...w.me.settings, patienceDays: 366 })).status).to.equal(422)
  })

  it('levels (59): an area without its own has those of its bins together, in every list; with its own those alone', async () => {
    const rope = await newItem(w.c, { name: 'Rope', code: 'ROP' })
    const bin = (name: string) =>
      w.c.ok<Place>('POST', '/api/places', { name, kind: 'bin', parent: w.lab.id }).then(p => p.id)
    const [one, two] = [await bin('B1'), await bin('B2')]
    const level = (place: string, minimum: string, target: string) =>
      w.c.ok('PUT', '/api/levels', { item: rope.id, place, minimum, target })
    await level(one, '4', '10')
    await level(two, '2', '6')
    await receive(rope, '7', { to: one })
    const told = async () => {
      const { rows } = await w.c.get<{ rows: ShortRow[] }>('/api/short')
      const { proposals } = await w.c.get<{ proposals: Proposal[] }>('/api/restock')
      const { waiting, shelves } = await w.c.get<Today>('/api/today')
      const at = (x: { place: { id: string } }) => (x.place.id === w.lab.id ? 'lab' : 'bin')
      return {
        short: rows.map(r => [at(r), r.levels.minimum, r.levels.state]),
        proposed: proposals.flatMap(p => p.lines.map(l => [l.place === w.lab.id ? 'lab' : 'bin', l.typed])),
        today: waiting.filter(x => x.kind === 'short').map(x => x.n),
        shelf: shelves.filter(x => x.place === w.lab.id).map(x => [x.short, x.inRange]),
      }
    }
    // 7 lie in one bin and nothing in the other: together that is more than the 6 that should be there at least.
    expect(await told()).to.deep.equal({ short: [], proposed: [], today: [], shelf: [[0, 1]] })
    w.clock.now += MINUTE
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await w.c.must({ kind: 'issue', place: w.lab.id, head: { job }, lines: [w.c.line({ item: rope.id, typed: '1' })] })
    expect(await told()).to.deep.equal({
      short: [['lab', '6', 'short']],
      proposed: [['lab', '10']],
      today: [1],
      shelf: [[1, 0]],
    })
    await level(w.lab.id, '3', '8')
    expect(await told()).to.deep.equal({ short: [], proposed: [], today: [], shelf: [[0, 1]] })
  })
  it('packs (59): 1 in packs of a third are three of them, not four', async () => {
    const tape = await newItem(w.c, {
      name: 'Tape',
      code: 'TAP',
      unit: 'm',
      decimals: 6,
      packs: [{ name: 'strip', size: '1/3' }],
    })
    await w.c.ok('PUT', '/api/levels', { item: tape.id, place: w.lab.id, minimum: '0.5', target: '1' })
    const { proposals } = await w.c.get<{ proposals: Proposal[] }>('/api/restock')
    expect(proposals[0]!.lines.map(l => [l.typed, l.pack])).to.deep.equal([['3', 'strip']])
  })

  it('two heaps (24): 4 at 9:00, 2 issued at 9:05, 4 at 9:10 are 8 at 9:10, and nothing is missing', async () => {
    const flour = await newItem(w.c, { name: 'Flour' })
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await receive(flour, '10')
    const at = (minutes: number) => new Date(w.clock.now + minutes * MINUTE).toISOString()
    const [first, between, second] = [at(10), at(15), at(20)]
    w.clock.now += 16 * MINUTE
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      effectiveAt: between,
      head: { job },
      lines: [w.c.line({ item: flour.id, typed: '2' })],
    })
    w.clock.now += 15 * MINUTE
    const heap = (countedAt: string) =>
      w.c.line({ item: flour.id, from: w.lab.id, counted: 'counted', typed: '4', again: '4', countedAt })
    const slip = await w.c.must({ kind: 'count', place: w.lab.id, lines: [heap(first), heap(second)] })
    const facts = [...ledgerJsonLines(w.app)].map(l => JSON.parse(l) as { slip: string; quantity: string })
    expect(facts.filter(f => f.slip === slip.number).map(f => f.quantity)).to.deep.equal(['0'])
  })

  it('splitting (2): what a supplier credits for a line over three lots adds up exactly, when it is booked and when it is put right', async () => {
    const acid = await newItem(w.c, { name: 'Acid', identifiedBy: 'lot' })
    for (const code of ['A', 'B', 'C']) await receive(acid, '1', { lot: { code } })
    const credits = () =>
      [...ledgerJsonLines(w.app)]
        .map(l => JSON.parse(l) as { slip: string; to: string; from: string; value: string; quantity: string })
        .filter(f => /^supplier/.test(f.to) || (/^supplier/.test(f.from) && f.quantity === '0'))
    w.clock.now += MINUTE
    const slip = await w.c.must({
      kind: 'supplier_return',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: acid.id, typed: '3', price: '3.333333' })],
    })
    const { movement } = schema
    const goods = () =>
      w.app.db
        .select({ goods: movement.goods })
        .from(movement)
        .where(eq(movement.kind, 'return'))
        .all()
        .reduce((s, m) => s + (m.goods ?? 0n), 0n)
    expect(goods(), 'the parts of what was credited').to.equal(9_999_999n)
    expect(credits().length).to.be.greaterThan(2)
    w.clock.now += MINUTE
    await w.c.must({
      kind: 'correction',
      head: { corrects: slip.id },
      lines: [w.c.line({ ref: slip.lines[0]!.id, item: acid.id, act: 'price', price: '3.333334' })],
    })
    expect(goods()).to.equal(10_000_002n)
  })

  it('an item that stands on one draft is not retired', async () => {
    const flour = await newItem(w.c, { name: 'Flour' })
    const id = v7()
    const draft = { kind: 'receipt', place: w.lab.id, lines: [w.c.line({ item: flour.id, typed: '1' })] }
    await w.c.ok('PUT', `/api/slips/${id}`, draft)
    const r = await w.c.call('DELETE', `/api/items/${flour.id}`)
    expect([r.status, r.body.code]).to.deep.equal([409, 'on_a_draft'])
    await w.c.ok('DELETE', `/api/slips/${id}`)
    expect((await w.c.call('DELETE', `/api/items/${flour.id}`)).status).to.equal(204)
  })

  for (const [ms, code] of [
    [-1, 'nothing_to_close'],
    [0, 'closed'],
  ] as const)
    it(`a month is closed once it has ended where the organisation is, ${ms} ms from that: ${code}`, async () => {
      const flour = await newItem(w.c, { name: 'Flour' })
      await receive(flour, '1')
      // November ends in Paris at 23:00 UTC.
      w.clock.now = Date.UTC(2026, 10, 30, 23) + ms
      await signIn()
      const r = await w.c.call('POST', '/api/months', { month: '2026-11' })
      expect(r.status === 201 ? 'closed' : r.body.code).to.equal(code)
    })

  it('a stream that missed an event, whichever, is told to reload; one that missed none is not', async () => {
    const flour = await newItem(w.c, { name: 'Flour' })
    for (let i = 0; i < 6; i++) await receive(flour, '1')
    const { event } = schema
    const last = w.app.events.last()
    const kinds = async (after: number) => {
      const stream = await Stream.of(w.c, `/api/events?after=${after}`)
      await stream.until(heard => heard.some(e => e.kind === 'hello'))
      await stream.stop()
      return stream.kinds()
    }
    expect(await kinds(last - 4)).to.deep.equal(['booked', 'booked', 'booked', 'booked', 'hello'])
    w.app.db
      .delete(event)
      .where(eq(event.seq, last - 2))
      .run()
    expect(await kinds(last - 4), 'one in the middle').to.deep.equal(['reload', 'hello'])
    expect(await kinds(last - 2), 'what came after it is whole').to.deep.equal(['booked', 'booked', 'hello'])
    w.app.db
      .delete(event)
      .where(gt(event.seq, last - 1))
      .run()
    w.app.db
      .delete(event)
      .where(lt(event.seq, last - 3))
      .run()
    expect(await kinds(last - 5), 'the first').to.deep.equal(['reload', 'hello'])
  })
})
