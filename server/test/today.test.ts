import { expect } from 'chai'
import { v7 } from 'uuid'
import type { ExpiringRow, Item, Today } from '@shelve/contract'
import { Client, newItem, person, world, type World } from './client.ts'

describe('Today: what is waiting', () => {
  let w: World
  let gloves: Item
  let milk: Item
  let shed: string
  const DAY = 86_400_000
  const today = (c: Client = w.c, place?: string) => c.get<Today>(`/api/today${place ? `?place=${place}` : ''}`)
  const kinds = async (c?: Client) => (await today(c)).waiting.map(x => x.kind)
  before(async () => {
    w = await world()
    shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area', countEveryDays: 7 })).id
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    milk = await newItem(w.c, { name: 'Milk', code: 'MIL', unit: 'L', identifiedBy: 'lot_expiry' })
  })
  after(() => w.stop())

  it('nothing waits where nothing is', async () => {
    expect((await today()).waiting).to.deep.equal([])
  })

  it('each thing appears by itself and goes when it is dealt with; what has a day comes first, by its day', async () => {
    await w.c.ok('PUT', '/api/levels', { item: gloves.id, place: w.lab.id, minimum: '5', target: '10' })
    expect(await kinds()).to.deep.equal(['short'])
    const unpriced = await w.c.received(w.lab.id, 'Aster', w.c.line({ item: gloves.id, typed: '9' }))
    expect(await kinds(), 'in range, but without a price').to.deep.equal(['unpriced'])
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Skerrow' },
      lines: [
        w.c.line({ item: milk.id, typed: '4', price: '1', lot: { code: 'A', expiry: '2026-12-01' } }),
        w.c.line({ item: milk.id, typed: '6', price: '1', lot: { code: 'B', expiry: '2027-12-01' } }),
      ],
    })
    w.clock.now += 60_000
    const reason = (await w.c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows[0]!.id
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason },
      lines: [w.c.line({ item: gloves.id, typed: '6' })],
    })
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      lines: [w.c.line({ item: gloves.id, from: w.lab.id, counted: 'counted', typed: '2', again: '2' })],
    })
    const id = v7()
    await w.c.ok('PUT', `/api/slips/${id}`, {
      kind: 'issue',
      place: w.lab.id,
      lines: [w.c.line({ item: gloves.id, typed: '1' })],
    })
    const t = await today()
    expect(t.waiting.map(x => [x.kind, x.day, x.n, x.value])).to.deep.equal([
      ['expiring', '2026-12-01', 1, '4'],
      ['short', null, 1, undefined],
      ['difference', null, 1, '0'],
      ['unpriced', null, 1, undefined],
      ['draft', null, 1, undefined],
    ])
    expect(t.shelves.find(s => s.name === 'Wet lab')).to.deep.include({ out: 0, short: 1, inRange: 0 })
    expect(t.lately[0]!.kind).to.equal('count')

    // Several deliveries without a price are one thing that waits, and one list.
    const second = await w.c.received(w.lab.id, 'Aster', w.c.line({ item: gloves.id, typed: '1' }))
    const both = (await today()).waiting.filter(x => x.kind === 'unpriced')
    expect(both.map(x => [x.n, x.out, x.slip, x.slips.map(s => s.number)])).to.deep.equal([
      [2, 2, null, [unpriced.number, second.number]],
    ])
    expect(
      (await w.c.get<{ rows: { number: string }[] }>('/api/slips?state=unpriced')).rows.map(r => r.number),
    ).to.deep.equal([second.number, unpriced.number])
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: second.id },
      lines: [w.c.line({ ref: second.lines[0]!.id, act: 'take_back', item: gloves.id })],
    })

    await w.c.ok('DELETE', `/api/slips/${id}`)
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: unpriced.id },
      lines: [w.c.line({ ref: unpriced.lines[0]!.id, act: 'price', item: gloves.id, price: '3' })],
    })
    expect(await kinds(), 'what is priced is priced; what was thrown away is gone').to.deep.equal([
      'expiring',
      'short',
      'difference',
    ])
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    w.clock.now += 60_000
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '1' })],
    })
    expect((await today()).waiting[0], 'one left, one used in 28 days').to.deep.include({ kind: 'expiring' })
    w.clock.now += 8 * DAY
    const later = await today()
    expect(later.waiting.map(x => [x.kind, x.day, x.out])).to.deep.equal([
      ['expiring', '2026-12-01', 1],
      ['count', '2026-12-02', 0],
      ['short', '2026-12-31', 0],
      ['difference', null, 0],
    ])
    w.clock.now -= 8 * DAY
  })

  it('an area is due by its cycle, from its last count on', async () => {
    w.clock.now += 8 * DAY
    const due = async () => (await today()).waiting.filter(x => x.kind === 'count').map(x => [x.place!.name, x.day])
    expect(await due()).to.deep.equal([['Shed', '2026-12-02']])
    await w.c.received(shed, 'Aster', w.c.line({ item: gloves.id, typed: '3', price: '3' }))
    w.clock.now += 60_000
    await w.c.must({
      kind: 'count',
      place: shed,
      lines: [w.c.line({ item: gloves.id, from: shed, counted: 'confirmed' })],
    })
    expect(await due()).to.deep.equal([])
    w.clock.now += 6 * DAY
    await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    expect(await due(), 'said a day ahead').to.deep.equal([['Shed', '2026-12-10']])
    w.clock.now -= 14 * DAY
  })

  it('who keeps one place sees what waits there; who books nothing is told of nothing to book; what one arranged is one’s own', async () => {
    const keeper = await person(w, 'ruben', 'keeper', shed)
    const observer = await person(w, 'linnea', 'observer', null)
    expect((await today(keeper)).shelves.map(s => s.name)).to.deep.equal(['Shed'])
    expect(await kinds(keeper)).to.deep.equal([])
    expect(await kinds(observer)).to.deep.equal(['expiring', 'short'])
    await keeper.ok('PUT', '/api/preferences/today', { value: '["short"]' })
    const kept = async (c: Client) => (await c.get<{ value: string | null }>('/api/preferences/today')).value
    expect([await kept(keeper), await kept(observer)]).to.deep.equal(['["short"]', null])
    expect((await keeper.call('PUT', '/api/preferences/today', { value: 'x'.repeat(9000) })).status).to.equal(422)
  })

  it('lots that run out of date are listed with what they are worth and whether they are used up in time', async () => {
    const rows = async (days: number) =>
      (await w.c.get<{ rows: ExpiringRow[] }>(`/api/expiring?days=${days}`)).rows.map(r => [
        r.lot.code,
        r.lot.state,
        r.quantity,
        r.value,
        r.place.name,
      ])
    expect(await rows(30)).to.deep.equal([['A', 'usable', '4', '4', 'Wet lab']])
    expect(await rows(3650)).to.deep.equal([
      ['A', 'usable', '4', '4', 'Wet lab'],
      ['B', 'usable', '6', '6', 'Wet lab'],
    ])
    w.clock.now += 10 * DAY
    expect((await rows(0))[0]).to.deep.equal(['A', 'expired', '4', '4', 'Wet lab'])
    const csv = await w.c.call('GET', '/api/expiring?days=0', undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n')[1]).to.equal('MIL,Milk,A,2026-12-01,expired,Wet lab,4,L,4')
  })
})
