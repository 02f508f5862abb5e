// Whoever may ask for things takes them from an open shelf themselves: there alone, in their own name, and nothing else.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, Place, SlipView, StockRow } from '@shelve/contract'
import { verify } from '@shelve/server'
import { type Client, newItem, person, world, type World } from './client.ts'

type Found = { id: string }
const DAY = 86_400_000
describe('taken by oneself', () => {
  let w: World
  let shed: string
  let bin: string
  let wipes: Item
  let acid: Item
  let centre: string
  let rut: Client
  const shelf = (place: string, more: object = {}) => ({
    place,
    costCentre: centre,
    lines: [{ id: v7(), item: wipes.id, typed: '2' }],
    ...more,
  })
  const take = (body: object, c = rut, id = v7()) => c.call<SlipView>('POST', `/api/takings/${id}`, body)
  const here = async (item: Item, place = shed) =>
    (await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${place}`)).rows.find(r => r.code === item.code)?.levels
      .onHand
  beforeEach(async () => {
    w = await world()
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area', openShelf: true })).id
    bin = (await w.c.ok<Found>('POST', '/api/places', { name: 'S1', parent: shed })).id
    wipes = await newItem(w.c, { name: 'Wipes', code: 'WIP' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACI', unit: 'L', decimals: 3, identifiedBy: 'lot' })
    centre = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Water', code: 'WAT' })).id
    for (const place of [shed, w.lab.id])
      await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Aster' },
        lines: [
          w.c.line({ item: wipes.id, typed: '10', price: '3', ...(place === shed ? { to: bin } : {}) }),
          w.c.line({ item: acid.id, typed: '1', price: '10', lot: { code: `A-${place === shed ? 1 : 2}` } }),
        ],
      })
    rut = await person(w, 'Rut', 'requester', shed)
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })

  it('is an issue in their name, seen without what it is worth; handed in twice it is one; taken back the same day', async () => {
    const [id, body] = [v7(), shelf(bin)]
    const slip = await take(body, rut, id)
    expect(slip.status, slip.text).to.equal(201)
    expect([slip.body.kind, slip.body.taker, slip.body.bookedBy, slip.body.title]).to.deep.equal([
      'issue',
      'Rut',
      'Rut',
      'to Water',
    ])
    expect(slip.text, 'no value').to.not.match(/"value"|"unitCost"|"price":"\d/)
    expect((await take(body, rut, id)).status).to.equal(201)
    expect(await here(wipes)).to.equal('8')
    const by = v7()
    const back = await rut.call<SlipView>('POST', `/api/takings/${id}/reversal`, { id: by })
    expect([back.status, back.body.kind], back.text).to.deep.equal([201, 'correction'])
    expect((await rut.call('POST', `/api/takings/${id}/reversal`, { id: by })).status, 'the same again').to.equal(201)
    expect(await here(wipes)).to.equal('10')
  })
  it('a label names its lot; what is not there, not usable or kept for a job is refused as from anybody', async () => {
    const line = (more: object) => shelf(shed, { lines: [{ id: v7(), item: acid.id, typed: '0.25', ...more }] })
    expect((await take(line({ lot: { code: 'A-1' } }))).status).to.equal(201)
    expect((await take(line({ lot: { code: 'A-2' } }))).body.code, 'it lies elsewhere').to.equal('insufficient_stock')
    expect((await take(line({ typed: '7' }))).body.code).to.equal('insufficient_stock')
    expect((await take(line({ typed: '-1' }))).body.code).to.equal('quantity_negative')
    const job = (
      await w.c.ok<Found>('POST', '/api/jobs', {
        place: shed,
        name: 'Run',
        lines: [{ id: v7(), item: acid.id, typed: '0.75' }],
      })
    ).id
    await w.c.ok('POST', `/api/jobs/${job}/reservations`, {})
    expect((await take(line({}))).body.code).to.equal('takes_reserved')
    expect((await take(line({ typed: '0.75' }), rut)).body.code).to.equal('takes_reserved')
    expect(
      (await take({ ...line({ typed: '0.75' }), costCentre: null, job })).status,
      'for that job it is there',
    ).to.equal(201)
    expect((await take({ ...shelf(shed), costCentre: null })).body.code).to.equal('for_whom')
  })
  it('only from an open shelf that they may look into, whatever stands in the body', async () => {
    expect((await take(shelf(w.lab.id))).body.code, 'not theirs to see').to.equal('unknown_place')
    const all = await person(w, 'Sorrel', 'requester')
    expect([(await take(shelf(w.lab.id), all)).status, (await take(shelf(w.lab.id), all)).body.code]).to.deep.equal([
      403,
      'no_open_shelf',
    ])
    expect((await take(shelf(shed), all)).status).to.equal(201)
    expect((await take(shelf(shed, { costCentre: v7() }))).body.code).to.equal('unknown_cost_centre')
    // What else an issue may say is not said here: another place, another taker, an override.
    const more = await take({
      ...shelf(shed),
      taker: 'Ines',
      effectiveAt: '2026-11-01T08:00:00.000Z',
      lines: [{ id: v7(), item: wipes.id, typed: '1', from: w.lab.id, override: true, accepts: ['J-0001'] }],
    })
    expect([more.status, more.body.taker]).to.deep.equal([201, 'Rut'])
    expect(await here(wipes, w.lab.id)).to.equal('10')
    expect((await person(w, 'Odd', 'observer').then(c => take(shelf(shed), c))).body.code).to.equal('not_allowed')
    expect(
      (
        await rut.book({
          kind: 'issue',
          place: shed,
          head: { costCentre: centre },
          lines: [rut.line({ item: wipes.id, typed: '1' })],
        })
      ).body.code,
    ).to.equal('not_allowed')
    const [place] = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.filter(p => p.id === shed)
    await w.c.ok(
      'PUT',
      `/api/places/${shed}`,
      { name: place!.name, kind: 'area' },
      { 'if-match': String(place!.revision) },
    )
    expect((await take(shelf(shed))).body.code, 'closed again').to.equal('no_open_shelf')
  })
  it('takes back nothing of others, nothing of another day, nothing else than an issue', async () => {
    const all = await person(w, 'Sorrel', 'requester')
    const theirs = (await take(shelf(shed), all)).body
    const back = (slip: string, c = rut) => c.call('POST', `/api/takings/${slip}/reversal`, { id: v7() })
    expect((await back(theirs.id)).body.code).to.equal('not_found')
    const issued = await w.c.must({
      kind: 'issue',
      place: shed,
      taker: 'Rut',
      head: { costCentre: centre },
      lines: [w.c.line({ item: wipes.id, typed: '1' })],
    })
    expect((await back(issued.id)).body.code).to.equal('not_found')
    w.clock.now += DAY
    expect((await back(theirs.id, all)).body.code).to.equal('of_another_day')
    expect(await here(wipes)).to.equal('7')
  })
  it('while the area is closed for counting nothing is taken', async () => {
    await w.c.ok('PUT', `/api/count-areas/${shed}/closing`)
    expect((await take(shelf(shed))).body.code).to.equal('closed_for_counting')
    await w.c.ok('DELETE', `/api/count-areas/${shed}/closing`)
    expect((await take(shelf(shed))).status).to.equal(201)
  })
})
