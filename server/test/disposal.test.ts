// What was wasted, by its waste code and with what it weighs: for whoever disposes of it. Figures worked out by hand.
import { expect } from 'chai'
import type { Disposal, Item } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

type Found = { id: string }
const DAY = 86_400_000
describe('what is disposed of', () => {
  let w: World
  let items: Record<string, Item>
  let reason: string
  let shed: string
  const waste = (name: string, typed: string, more: object = {}, place = w.lab.id) =>
    w.c.must({ kind: 'waste', place, head: { reason }, lines: [w.c.line({ item: items[name]!.id, typed })], ...more })
  before(async () => {
    w = await world()
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    reason = (await w.c.get<{ rows: Found[] }>('/api/waste-reasons')).rows[0]!.id
    const of = (name: string, more: object) => newItem(w.c, { name, code: name.toUpperCase().slice(0, 4), ...more })
    items = {
      Acid: await of('Acid', { unit: 'L', decimals: 3, density: '1.2', wasteCode: 'C 2' }),
      Salt: await of('Salt', { unit: 'kg', decimals: 3, wasteCode: 'C 2' }),
      Gloves: await of('Gloves', { mass: '12.5', wasteCode: 'B 1' }),
      Plates: await of('Plates', { wasteCode: 'B 1' }),
      Paper: await of('Paper', {}),
    }
    for (const place of [w.lab.id, shed])
      await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Aster' },
        lines: Object.values(items).map(i => w.c.line({ item: i.id, typed: '10', price: '1' })),
      })
    w.clock.now += DAY
    const acid = await waste('Acid', '2.5')
    await waste('Acid', '0.25')
    await waste('Salt', '0.5')
    await waste('Gloves', '3')
    await waste('Plates', '2', {}, shed)
    await waste('Paper', '1')
    // Taken back, it is not thrown away; of another month it is not of this one.
    await w.c.ok('POST', `/api/slips/${acid.id}/reversal`, { id: crypto.randomUUID() })
    w.clock.now += 10 * DAY
    await waste('Acid', '1')
  })
  after(() => w.stop())
  const list = async (more = '', c = w.c) =>
    (await c.get<Disposal>(`/api/look-back/disposal?from=2026-11&to=2026-11${more}`)).rows.map(r => [
      r.code,
      r.grams,
      r.items.map(i => `${i.quantity} ${i.unit} ${i.name} ${i.grams}`),
    ])

  it('by code, what has none last; what one of them weighs and nobody knows, nobody knows of all', async () => {
    expect(await list()).to.deep.equal([
      ['B 1', null, ['3 each Gloves 37.5', '2 each Plates null']],
      ['C 2', '800', ['0.25 L Acid 300', '0.5 kg Salt 500']],
      ['', null, ['1 each Paper null']],
    ])
    expect(await list(`&place=${shed}`)).to.deep.equal([['B 1', null, ['2 each Plates null']]])
    const both = await w.c.get<Disposal>('/api/look-back/disposal?from=2026-11&to=2026-12')
    expect(both.rows[1]!.grams, '0.25 and 1 L at 1.2, and half a kilo').to.equal('2000')
    const csv = await w.c.call('GET', '/api/look-back/disposal?from=2026-11&to=2026-11', undefined, {
      accept: 'text/csv',
    })
    expect(csv.text.trim().split('\r\n').slice(0, 3)).to.deep.equal([
      'waste code,code,name,quantity,unit,grams',
      'B 1,GLOV,Gloves,3,each,37.5',
      'B 1,PLAT,Plates,2,each,',
    ])
  })
  it('is for whoever may see what things are worth where they look', async () => {
    const keeper = await person(w, 'Mirja', 'keeper', shed)
    expect(await list('', keeper)).to.deep.equal([['B 1', null, ['2 each Plates null']]])
    const requester = await person(w, 'Sorrel', 'requester', shed)
    expect((await requester.call('GET', '/api/look-back/disposal?from=2026-11&to=2026-11')).status).to.equal(403)
  })
})
