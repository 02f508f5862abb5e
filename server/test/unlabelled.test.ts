import { expect } from 'chai'
import type { Item, ItemStock, LotPage, LotView, SlipContentInput } from '@shelve/contract'
import { verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

type Line = NonNullable<SlipContentInput['lines']>[number]
/** Rule 27: of what has lots a count asks which; where nobody can read it any more, it is a lot *unknown*, by hand. */
describe('27: what is counted and has no label', () => {
  let w: World
  let serum: Item
  const count = (item: Item, lot: string | null, typed: string, expiry: string | null = null): SlipContentInput => ({
    kind: 'count',
    place: w.lab.id,
    head: { blind: false },
    lines: [
      w.c.line({
        item: item.id,
        from: w.lab.id,
        counted: 'counted',
        typed,
        again: typed,
        lot: lot === null ? null : { id: null, code: lot, expiry },
      }),
    ],
  })
  const said = async (content: SlipContentInput) => {
    const r = await w.c.book(content)
    return r.status === 201 ? 'booked' : r.body.fields.map(f => f.code).join(' ')
  }
  const lots = async (item: Item) =>
    (await w.c.get<{ rows: LotView[] }>(`/api/items/${item.id}/lots`)).rows
      .filter(l => l.code !== null)
      .map(l => [l.code, l.expiry, l.state])
  const stock = async (item: Item) => {
    const { places } = await w.c.get<ItemStock>(`/api/items/${item.id}/stock?place=${w.lab.id}`)
    const { onHand, available } = places.find(p => p.place === w.lab.id)!.levels
    return [onHand, available]
  }
  const receive = (item: Item, typed: string, lot: NonNullable<Line['lot']>) =>
    w.c.book({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Orlin' },
      lines: [w.c.line({ item: item.id, typed, price: '2', lot })],
    })
  before(async () => {
    w = await world()
    serum = await newItem(w.c, { name: 'Serum', unit: 'vial', identifiedBy: 'lot_expiry' })
    await receive(serum, '5', { id: null, code: 'S1', expiry: '2027-03-31' })
  })
  after(() => w.stop())
  afterEach(() => expect(verify(w.app).faults).to.deep.equal([]))

  it('which lot is asked, and its date; nothing is taken for the one that lies there', async () => {
    expect(await said(count(serum, null, '3'))).to.equal('lot_needed')
    expect(await said(count(serum, ' ', '3'))).to.equal('lot_needed')
    expect(await said(count(serum, 'S9', '3'))).to.equal('expiry_needed')
    expect(await lots(serum)).to.deep.equal([['S1', '2027-03-31', 'usable']])
  })
  it('one that nobody knows is held, says why and by whom, and is no part of what is available', async () => {
    expect(await said(count(serum, 'Unknown ', '3'))).to.equal('booked')
    expect(await lots(serum)).to.deep.equal([
      ['S1', '2027-03-31', 'usable'],
      ['unknown', null, 'held'],
    ])
    expect(await stock(serum)).to.deep.equal(['8', '5'])
    const { rows } = await w.c.get<{ rows: LotView[] }>(`/api/items/${serum.id}/lots`)
    const page = await w.c.get<LotPage>(`/api/lots/${rows.find(l => l.code === 'unknown')!.id}`)
    expect(JSON.stringify(page)).to.include('Counted without a label.')
    // The same heap, counted again: one lot.
    w.clock.now += 60_000
    expect(await said(count(serum, 'unknown', '2'))).to.equal('booked')
    expect([await stock(serum), (await lots(serum)).length]).to.deep.equal([['7', '5'], 2])
  })
  it('it is given out only where somebody says that it may be', async () => {
    const { id: job } = await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })
    const issue = (typed: string) =>
      said({ kind: 'issue', place: w.lab.id, head: { job }, lines: [w.c.line({ item: serum.id, typed })] })
    expect(await issue('6')).to.equal('insufficient_stock')
    const { rows } = await w.c.get<{ rows: LotView[] }>(`/api/items/${serum.id}/lots`)
    const unknown = rows.find(l => l.code === 'unknown')!.id
    await w.c.ok('PUT', `/api/lots/${unknown}/state`, { held: 'usable', why: 'Read with a lens: of last spring' })
    w.clock.now += 60_000
    expect(await issue('6')).to.equal('booked')
    // What has a date goes first.
    expect(await stock(serum)).to.deep.equal(['1', '1'])
  })
  it('what is delivered has a label; and a piece has its own number', async () => {
    const r = await receive(serum, '1', { id: null, code: 'unknown', expiry: null })
    const other = await newItem(w.c, { name: 'Salve', identifiedBy: 'lot_expiry' })
    const first = await receive(other, '1', { id: null, code: 'unknown', expiry: null })
    expect([r, first].map(x => x.body.fields.map(f => f.code))).to.deep.equal([['expiry_needed'], ['expiry_needed']])
    const pump = await newItem(w.c, { name: 'Pump', identifiedBy: 'serial' })
    expect(await said(count(pump, 'unknown', '1'))).to.equal('serial_needed')
  })
})
