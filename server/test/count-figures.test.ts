// A count that shows its figures shows them before anybody has counted; a blind one never does.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, SlipContentInput, WorkingView } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

describe('the figures of a count', () => {
  let w: World
  let gloves: Item
  let acid: Item
  let job: string
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACD', identifiedBy: 'lot' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Ostrelith' },
      lines: [
        w.c.line({ item: gloves.id, typed: '20', price: '2' }),
        w.c.line({ item: acid.id, typed: '3', price: '5', lot: { code: 'A' } }),
        w.c.line({ item: acid.id, typed: '4', price: '5', lot: { code: 'B' } }),
      ],
    })
    w.clock.now += 60_000
  })
  after(() => w.stop())

  it('stand before anybody has counted, by their working; what is not counted is no part of what was looked at', async () => {
    const lots = (await w.c.get<{ rows: { id: string; code: string }[] }>(`/api/items/${acid.id}/lots`)).rows
    const lotOf = (code: string) => ({ id: lots.find(l => l.code === code)!.id, code })
    const line = (item: Item, more: object) => w.c.line({ item: item.id, from: w.lab.id, ...more })
    const counted = line(acid, { lot: lotOf('A'), counted: 'counted', typed: '3' })
    const lines = [line(gloves, {}), line(acid, { lot: lotOf('B') }), counted]
    const content = (blind: boolean): SlipContentInput => ({ kind: 'count', place: w.lab.id, head: { blind }, lines })
    const told = async (blind: boolean) => (await w.c.effect(content(blind))).lines.map(l => [l.expected, l.difference])
    expect(await told(false)).to.deep.equal([
      ['20', null],
      ['4', null],
      ['3', '0'],
    ])
    // Blind, only what stands is told.
    expect(await told(true)).to.deep.equal([
      [null, null],
      [null, null],
      ['3', '0'],
    ])
    // An item with lots of which none lies there: nothing is expected, and confirming it says the same.
    const resin = await newItem(w.c, { name: 'Resin', code: 'RSN', identifiedBy: 'lot' })
    const bare = { ...content(false), lines: [line(resin, { lot: null }), line(acid, { lot: null }), counted] }
    const expected = async () => (await w.c.effect(bare)).lines.map(l => l.expected)
    expect(await expected(), 'of acid two lots lie there, and none is named').to.deep.equal(['0', null, '3'])
    Object.assign(bare.lines[0]!, { counted: 'confirmed' })
    expect(await expected()).to.deep.equal(['0', null, '3'])
    // A lot of another item says nothing, as long as nobody counts it.
    const odd = { ...content(false), lines: [line(gloves, { lot: lotOf('A') }), counted] }
    expect((await w.c.effect(odd)).refusals).to.deep.equal([])
    const id = v7()
    const working = (blind: boolean) =>
      w.c.call<WorkingView>('POST', `/api/slips/${id}/effect/working`, {
        content: content(blind),
        line: lines[0]!.id,
        figure: 'expected',
        side: 'after',
      })
    expect((await working(false)).body.figure).to.equal('20')
    expect((await working(true)).status).to.equal(403)

    // Somebody takes a box: the line nobody counted follows, and what was looked at of the others still stands.
    const looked = await w.c.effect(content(false))
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '2' })],
    })
    w.clock.now += 1000
    expect((await told(false))[0]).to.deep.equal(['18', null])
    expect((await w.c.book(content(false), id, looked.fingerprint)).status).to.equal(201)
    // It tallied what was counted, and nothing else.
    expect((await w.c.get<{ onHand: string }>(`/api/items/${gloves.id}/stock`)).onHand).to.equal('18')
  })
  it('of a place one may not see are told to nobody', async () => {
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const keeper = await person(w, 'Ruben', 'keeper', shed)
    const r = await keeper.call<{ lines: unknown[] }>('POST', `/api/slips/${v7()}/effect`, {
      kind: 'count',
      place: shed,
      head: { blind: false },
      lines: [w.c.line({ item: gloves.id, from: w.lab.id })],
    })
    expect(r.text).to.not.include('"18"')
  })
})
