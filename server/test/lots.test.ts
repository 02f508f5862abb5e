import { expect } from 'chai'
import type { LotPage, LotView } from '@shelve/contract'
import { Client, newItem, world, type World } from './client.ts'

describe('everything about one lot', () => {
  let w: World
  let shed: string
  let lot: string
  let sal: Client
  before(async () => {
    w = await world()
    const { c, lab } = w
    shed = (await c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const serum = await newItem(c, { name: 'Serum', code: 'SER', identifiedBy: 'lot_expiry', unit: 'ml', decimals: 1 })
    const job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Plates' })).id
    const reason = (await c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
      r => r.name === 'Spilled',
    )!.id
    const tick = () => {
      w.clock.now += 60_000
    }
    await c.must({
      kind: 'receipt',
      place: lab.id,
      head: { supplier: 'Aster' },
      lines: [c.line({ item: serum.id, typed: '10', price: '1', lot: { code: 'A1', expiry: '2027-01-31' } })],
    })
    tick()
    const issue = await c.must({
      kind: 'issue',
      place: lab.id,
      taker: 'Wren',
      head: { job },
      lines: [c.line({ item: serum.id, typed: '4' })],
    })
    tick()
    await c.must({
      kind: 'bring_back',
      place: lab.id,
      head: { job },
      lines: [c.line({ item: serum.id, typed: '1.5', ref: issue.lines[0]!.id })],
    })
    tick()
    await c.must({ kind: 'waste', place: lab.id, head: { reason }, lines: [c.line({ item: serum.id, typed: '0.5' })] })
    tick()
    await c.must({ kind: 'move', place: lab.id, lines: [c.line({ item: serum.id, typed: '2', to: shed })] })
    tick()
    lot = (await c.get<{ rows: LotView[] }>(`/api/items/${serum.id}/lots`)).rows[0]!.id
    await c.ok('PUT', `/api/lots/${lot}/state`, { held: 'recalled', why: 'maker’s letter' })
    await c.ok('POST', '/api/people', {
      name: 'Sal',
      signIn: 'sal',
      password: 'long enough',
      role: 'observer',
      place: shed,
    })
    sal = new Client(c.base)
    await sal.ok('POST', '/api/session', { signIn: 'sal', password: 'long enough' })
  })
  after(() => w.stop())

  it('came from, lies in, went to (net of what came back): it adds up; its states with who and why; each slip', async () => {
    const p = await w.c.get<LotPage>(`/api/lots/${lot}`)
    expect([p.code, p.expiry, p.state, p.quantity]).to.deep.equal(['A1', '2027-01-31', 'recalled', '7'])
    expect([p.came, p.places.map(x => [x.name, x.quantity]), p.went.map(x => [x.name, x.quantity])]).to.deep.equal([
      [{ name: 'Aster', quantity: '10' }],
      [
        ['Wet lab', '5'],
        ['Shed', '2'],
      ],
      [
        ['Spilled', '0.5'],
        ['Plates', '2.5'],
      ],
    ])
    expect(p.states.map(s => [s.held, s.why, s.by])).to.deep.equal([['recalled', 'maker’s letter', 'Ines Corrie']])
    expect(p.movements.map(m => [m.slip.number, m.from, m.to, m.quantity, m.taker])).to.deep.equal([
      ['MV-0001', 'Wet lab', 'Shed', '2', ''],
      ['WA-0001', 'Wet lab', 'Spilled', '0.5', ''],
      ['BB-0001', 'Plates', 'Wet lab', '1.5', ''],
      ['IS-0001', 'Wet lab', 'Plates', '4', 'Wren'],
      ['RC-0001', 'Aster', 'Wet lab', '10', ''],
    ])
    const csv = await w.c.call('GET', `/api/lots/${lot}`, undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n').length).to.equal(7)
  })
  it('who looks into the shed alone sees what passed there; a lot that never was there is not found', async () => {
    const p = await sal.get<LotPage>(`/api/lots/${lot}`)
    expect([p.places.map(x => x.name), p.went, p.movements.map(m => m.slip.number), p.quantity]).to.deep.equal([
      ['Shed'],
      [],
      ['MV-0001'],
      '2',
    ])
    const other = await newItem(w.c, { name: 'Acid', identifiedBy: 'lot' })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: other.id, typed: '1', price: '1', lot: { code: 'Z' } })],
    })
    const [mine] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${other.id}/lots`)).rows
    expect((await sal.call('GET', `/api/lots/${mine!.id}`)).status).to.equal(404)
  })
})
