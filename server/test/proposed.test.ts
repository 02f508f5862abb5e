// What is proposed where nothing was said: it holds to what stands, not to what was taken back or is of others.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, Proposal, RestockView, SlipView } from '@shelve/contract'
import { type Client, newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('whence an item is asked for', () => {
  let w: World
  let shed: string
  let launch: string
  let gloves: Item
  beforeEach(async () => {
    w = await world()
    const area = async (name: string) => (await w.c.ok<Found>('POST', '/api/places', { name, kind: 'area' })).id
    shed = await area('Shed')
    launch = await area('Launch')
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    await w.c.ok('PUT', '/api/levels', { item: gloves.id, place: launch, minimum: '50', target: '60' })
    await w.c.ok('PUT', '/api/levels', { item: gloves.id, place: shed, minimum: '10', target: '500' })
  })
  afterEach(() => w.stop())
  const later = () => (w.clock.now += 60_000)
  const receive = (place: string, supplier: string, typed: string) => {
    later()
    const lines = [w.c.line({ item: gloves.id, typed, price: '1' })]
    return w.c.must({ kind: 'receipt', place, head: { supplier }, lines })
  }
  const move = (from: string, to: string, typed: string) => {
    later()
    return w.c.must({ kind: 'move', place: from, lines: [w.c.line({ item: gloves.id, typed, to })] })
  }
  const takeBack = (s: SlipView, act: 'take_back' | 'replace' = 'take_back') => {
    later()
    const lines = s.lines.map(l => w.c.line({ ref: l.id, act }))
    return w.c.must({ kind: 'correction', place: s.place!.id, head: { corrects: s.id }, lines })
  }
  /** From where the launch is filled, and how many. */
  const sources = async () => {
    const { proposals } = await w.c.get<{ proposals: Proposal[] }>(`/api/restock?place=${launch}`)
    return proposals.map(p => `${p.name} ${p.lines.map(l => l.typed).join()}`)
  }

  it('where it came from a supplier last; a delivery that was taken back came from nobody', async () => {
    await receive(launch, 'Aster', '5')
    const wrong = await receive(launch, 'Thole', '3')
    expect(await sources()).to.deep.equal(['Thole 52'])
    await takeBack(wrong)
    expect(await sources()).to.deep.equal(['Aster 55'])
  })

  it('the same where it never came here itself', async () => {
    const shelf = await receive(w.lab.id, 'Aster', '5')
    const wrong = await receive(w.lab.id, 'Thole', '3')
    await takeBack(wrong)
    await takeBack(shelf)
    expect(await sources()).to.deep.equal(['Nobody yet 60'])
    await receive(w.lab.id, 'Aster', '5')
    const reason = (await w.c.get<{ rows: Found[] }>('/api/waste-reasons')).rows[0]!.id
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason },
      lines: [w.c.line({ item: gloves.id, typed: '5' })],
    })
    expect(await sources()).to.deep.equal(['Aster 60'])
  })

  it('the shelf that fills it gives all it has: also by what it sent, and however often it was put elsewhere here since', async () => {
    await receive(shed, 'Aster', '100')
    await move(shed, launch, '8')
    expect(await sources()).to.deep.equal(['Shed 52'])
    const bin = (await w.c.ok<Found>('POST', '/api/places', { name: 'Locker', parent: launch })).id
    for (let n = 0; n < 31; n++) {
      await w.c.must({
        kind: 'move',
        place: launch,
        lines: [w.c.line({ item: gloves.id, typed: '8', from: launch, to: bin })],
      })
      await w.c.must({
        kind: 'move',
        place: launch,
        lines: [w.c.line({ item: gloves.id, typed: '8', from: bin, to: launch })],
      })
    }
    expect(await sources()).to.deep.equal(['Shed 52'])
    await receive(launch, 'Thole', '1')
    expect(await sources()).to.deep.equal(['Thole 51'])
    later()
    const sent = await w.c.must({
      kind: 'dispatch',
      place: shed,
      head: { towards: launch, due: '2026-11-27' },
      lines: [w.c.line({ item: gloves.id, typed: '2' })],
    })
    const id = v7()
    await w.c.ok('POST', `/api/transfers/${sent.id}/arrival`, { id })
    const { lines } = await w.c.draft(id)
    await w.c.save(id, { lines: lines.map(l => ({ ...l, seen: l.revision, line: { ...l.line!, typed: '2' } })) })
    const came = await w.c.bookSeen(await w.c.draft(id))
    expect(came.status, came.text).to.equal(201)
    expect(await sources()).to.deep.equal(['Shed 49'])
  })
})

describe('how a source was asked last', () => {
  it('is told of the places of whoever reads it, however often others asked since', async () => {
    const w = await world()
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const gloves = await newItem(w.c, { name: 'Gloves' })
    const lines = [w.c.line({ item: gloves.id, typed: '1', price: '1' })]
    await w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'Aster' }, lines })
    const supplier = (await w.c.get<{ rows: Found[] }>('/api/suppliers')).rows[0]!.id
    const mate = await person(w, 'mate', 'keeper', w.lab.id)
    const begin = async (c: Client, place: string) => {
      const id = v7()
      return c.ok<RestockView>('POST', '/api/restock', {
        id,
        source: { kind: 'supplier', id: supplier },
        lines: [{ id: v7(), item: gloves.id, place, typed: '1' }],
      })
    }
    const ask = async (c: Client, place: string, where: string) => {
      w.clock.now += 60_000
      const { id } = await begin(c, place)
      await c.ok('POST', `/api/restock/${id}/asking`, { where })
    }
    await ask(mate, w.lab.id, 'by telephone')
    for (let n = 0; n < 22; n++) await ask(w.c, shed, 'by letter')
    expect((await begin(mate, w.lab.id)).lastWhere).to.equal('by telephone')
    expect((await begin(w.c, shed)).lastWhere).to.equal('by letter')
    await w.stop()
  })
})
