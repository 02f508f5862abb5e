// A new item with its levels and what lies there already: all of it, or nothing, and each refusal says which row it is about.
import { expect } from 'chai'
import { verify } from '@shelve/server'
import type { Item, ItemStock, LotView, Place, Problem } from '@shelve/contract'
import { world, type World } from './client.ts'

describe('a new item with where it stands', () => {
  let w: World
  let shed: Place
  let bin: Place
  before(async () => {
    w = await world()
    const site = w.lab.parent
    const area = (name: string, parent: string | null, kind: string) =>
      w.c.ok<Place>('POST', '/api/places', { name, kind, parent })
    shed = await area('Shed', site, 'area')
    bin = await area('Shelf 1', w.lab.id, 'bin')
    await w.c.ok('POST', '/api/categories', { name: 'Glass' })
  })
  after(() => w.stop())

  const item = (code: string, more: object = {}) => ({ code, name: `Thing ${code}`, unit: 'each', ...more })
  const make = (body: object) => w.c.call<Item & Problem>('POST', '/api/items', body)
  /** On hand in a place, its levels there, and what of it there is worth. */
  const stands = async (id: string, place: Place) => {
    const { places } = await w.c.get<ItemStock>(`/api/items/${id}/stock?place=${place.id}`)
    const { levels, value } = places.find(p => p.place === place.id)!
    return [levels.onHand, levels.minimum, levels.target, value]
  }
  const slips = async () =>
    (await w.c.get<{ rows: { number: string; kind: string }[] }>('/api/slips')).rows.map(r => r.number)

  it('stands where it is said to, in its bin and its lots, at its cost; one slip of opening stock for each place', async () => {
    const made = await make(
      item('VIA', {
        identifiedBy: 'lot_expiry',
        packs: [{ name: 'case', size: '12' }],
        stock: [
          {
            place: w.lab.id,
            minimum: '6',
            target: '24',
            bin: bin.id,
            typed: '1 case + 3',
            lot: { code: 'A1', expiry: '2027-03-31' },
            price: '2',
          },
          { place: w.lab.id, typed: '4', lot: { code: 'B2', expiry: '2027-06-30' }, price: '2' },
          { place: shed.id, typed: '5', lot: { code: 'A1', expiry: '2027-03-31' }, price: '2' },
          { place: shed.id, target: '8' },
        ],
      }),
    )
    expect(made.status, made.text).to.equal(201)
    expect(await stands(made.body.id, w.lab)).to.deep.equal(['19', '6', '24', '38'])
    expect(await stands(made.body.id, shed)).to.deep.equal(['5', null, '8', '10'])
    expect(await slips()).to.deep.equal(['OP-0002', 'OP-0001'])
    const { rows } = await w.c.get<{ rows: LotView[] }>(`/api/items/${made.body.id}/lots`)
    expect(
      rows.map(l => [l.code, l.places.map(p => [p.place, p.quantity]).sort((a, b) => Number(b[1]) - Number(a[1]))]),
    ).to.deep.equal([
      [
        'A1',
        [
          [bin.id, '15'],
          [shed.id, '5'],
        ],
      ],
      ['B2', [[bin.id, '4']]],
    ])
  })

  const lab = () => ({ place: w.lab.id })
  const cases: [string, () => object[], string, string][] = [
    ['what nobody can read', () => [{ ...lab(), typed: 'many' }], 'stock.0.typed', 'quantity_not_a_quantity'],
    [
      'half a piece',
      () => [
        { ...lab(), typed: '2' },
        { place: shed.id, typed: '1.5' },
      ],
      'stock.1.typed',
      'too_many_decimals',
    ],
    ['a price in words', () => [{ ...lab(), typed: '2', price: 'dear' }], 'stock.0.price', 'not_a_price'],
    ['a target below the minimum', () => [lab(), { ...lab(), minimum: '5', target: '4' }], 'stock.1.target', 'custom'],
    [
      'levels said twice',
      () => [
        { ...lab(), target: '3' },
        { ...lab(), minimum: '1' },
      ],
      'stock.1.place',
      'levels_twice',
    ],
    ['a bin of another place', () => [{ place: shed.id, bin: bin.id }], 'stock.0.bin', 'bin_elsewhere'],
  ]
  for (const [n, [what, stock, field, code]] of cases.entries())
    it(`${what} is refused, and nothing of it is there`, async () => {
      const before = await slips()
      const r = await make(item(`GONE${n}`, { stock: stock() }))
      expect([r.status, r.body.fields.map(f => [f.field, f.code])], r.text).to.deep.equal([422, [[field, code]]])
      expect(await slips()).to.deep.equal(before)
      expect((await w.c.get<{ rows: Item[] }>(`/api/items?q=GONE${n}`)).rows).to.deep.equal([])
      // It is as if it had never been asked: the same code is free, in the house that wrote it too.
      const again = await make(item(`GONE${n}`, { stock: [{ ...lab(), typed: '3', price: '1' }] }))
      expect(again.status, again.text).to.equal(201)
      expect(await stands(again.body.id, w.lab)).to.deep.equal(['3', null, null, '3'])
    })
  it('a lot that is wanted is asked for; a place that is not there is not found', async () => {
    const lotless = await make(item('LOT', { identifiedBy: 'lot', stock: [{ ...lab(), typed: '3' }] }))
    expect([lotless.status, lotless.body.fields[0]!.field]).to.deep.equal([422, 'stock.0.lot'])
    const nowhere = await make(item('NOW', { stock: [{ place: '01920000-0000-7000-8000-000000000000', typed: '3' }] }))
    expect([nowhere.status, nowhere.body.fields[0]!.field], nowhere.text).to.deep.equal([422, 'stock.place'])
  })
  it('the books are whole after all of it', async () => {
    expect(verify(w.app).faults).to.deep.equal([])
  })
})
