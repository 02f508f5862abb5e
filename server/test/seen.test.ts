// Two who set the same at once, where that has no revision of its own: what the first one set is said to the second.
import { expect } from 'chai'
import type { Budgets, CostCentre, Item, ItemStock, Job, Named, Place } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

describe('what stands by now', () => {
  let w: World
  let gloves: Item
  let bin: string
  let boats: string
  let hull: string
  let orlin: string
  let spilt: string
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    bin = (await w.c.ok<Place>('POST', '/api/places', { name: 'Shelf 1', kind: 'bin', parent: w.lab.id })).id
    boats = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Boats', code: 'BOAT' })).id
    const make = (list: string, body: object) => w.c.ok<{ id: string }>('POST', `/api/${list}`, body).then(r => r.id)
    hull = await make('jobs', { name: 'Hull', code: 'HUL' })
    spilt = await make('waste-reasons', { name: 'Spilt' })
    await w.c.received(w.lab.id, 'Orlin', w.c.line({ item: gloves.id, typed: '1', price: '1' }))
    orlin = (await named<Named>('suppliers')).find(r => r.name === 'Orlin')!.id
  })
  after(() => w.stop())

  const named = async <T>(list: string) => (await w.c.get<{ rows: T[] }>(`/api/${list}`)).rows
  const levels = async () => {
    const { places } = await w.c.get<ItemStock>(`/api/items/${gloves.id}/stock`)
    const here = places.find(p => p.place === w.lab.id)
    return here && [here.levels.minimum, here.levels.target, here.bin]
  }
  const budget = async () => {
    const [row] = (await w.c.get<Budgets>(`/api/budgets?year=2026&centre=${boats}`)).rows
    return [row!.amount, row!.warn, row!.stop]
  }
  for (const [what, path, none, first, second, stands] of [
    [
      'levels',
      () => '/api/levels',
      () => ({ minimum: null, target: null, bin: null }),
      () => ({ minimum: '2.5', target: '20', bin }),
      () => ({ minimum: '3', target: null, bin: null }),
      levels,
    ],
    [
      'a budget',
      () => `/api/cost-centres/${boats}/budgets/2026`,
      () => ({ amount: null, warn: null, stop: null }),
      () => ({ amount: '1250.5', warn: 80, stop: 100 }),
      () => ({ amount: '70', warn: null, stop: 90 }),
      budget,
    ],
    [
      'a cost centre',
      () => `/api/cost-centres/${boats}`,
      () => ({ name: 'Boats', code: 'BOAT', active: true, usual: null }),
      () => ({ name: 'Boats and oars', code: 'BOA', active: true, usual: w.lab.id }),
      () => ({ name: 'All boats', code: 'BOATS', active: false, usual: null }),
      async () => {
        const row = (await named<CostCentre>('cost-centres')).find(r => r.id === boats)!
        return [row.name, row.code, row.active, row.usual?.id ?? null]
      },
    ],
    [
      'a job',
      () => `/api/jobs/${hull}`,
      () => ({ name: 'Hull', code: 'HUL', active: true, costCentre: null }),
      () => ({ name: 'Hull and keel', code: 'HULL', active: true, costCentre: boats }),
      () => ({ name: 'Keel', code: 'KEEL', active: true, costCentre: null }),
      async () => {
        const row = (await named<Job>('jobs')).find(r => r.id === hull)!
        return [row.name, row.code, row.active, row.costCentre?.id ?? null]
      },
    ],
    [
      'a supplier',
      () => `/api/suppliers/${orlin}`,
      () => ({ name: 'Orlin', code: null, active: true }),
      () => ({ name: 'Orlin and daughters', code: null, active: true }),
      () => ({ name: 'Orlin, east', code: null, active: false }),
      async () => {
        const row = (await named<Named>('suppliers')).find(r => r.id === orlin)!
        return [row.name, row.code, row.active]
      },
    ],
    [
      'a reason',
      () => `/api/waste-reasons/${spilt}`,
      () => ({ name: 'Spilt', code: null, active: true }),
      () => ({ name: 'Spilt or dropped', code: null, active: true }),
      () => ({ name: 'Dropped', code: null, active: false }),
      async () => {
        const row = (await named<Named>('waste-reasons')).find(r => r.id === spilt)!
        return [row.name, row.code, row.active]
      },
    ],
  ] as const)
    it(`${what}: what was set meanwhile is said before it is replaced`, async () => {
      const put = (said: object, seen: object | undefined) =>
        w.c.call<{ stands: object }>('PUT', path(), {
          ...(path() === '/api/levels' ? { item: gloves.id, place: w.lab.id } : {}),
          ...said,
          ...('code' in said && said.code === null ? { code: undefined } : {}),
          seen,
        })
      expect((await put(first(), none())).status, 'nothing stood there').to.be.lessThan(300)
      const late = await put(second(), none())
      expect([late.status, late.body.code, late.body.stands]).to.deep.equal([409, 'changed_meanwhile', first()])
      expect(await stands()).to.deep.equal(Object.values(first()))
      // One field of it that is another is another.
      const is = first() as Record<string, unknown>
      for (const [field, value] of Object.entries(second()).filter(([f, v]) => is[f] !== v))
        expect((await put(second(), { ...first(), [field]: value })).status, field).to.equal(409)
      expect((await put(second(), late.body.stands)).status, 'looked at').to.be.lessThan(300)
      expect(await stands()).to.deep.equal(Object.values(second()))
      expect((await put(first(), undefined)).status, 'whoever does not say what they saw').to.be.lessThan(300)
      expect(await stands()).to.deep.equal(Object.values(first()))
    })
})
