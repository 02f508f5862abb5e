// Two who set the same at once, where that has no revision of its own: what the first one set is said to the second.
import { expect } from 'chai'
import type { Budgets, Item, ItemStock, Place } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

describe('what stands by now', () => {
  let w: World
  let gloves: Item
  let bin: string
  let boats: string
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    bin = (await w.c.ok<Place>('POST', '/api/places', { name: 'Shelf 1', kind: 'bin', parent: w.lab.id })).id
    boats = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Boats', code: 'BOAT' })).id
  })
  after(() => w.stop())

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
  ] as const)
    it(`${what}: what was set meanwhile is said before it is replaced`, async () => {
      const put = (said: object, seen: object | undefined) =>
        w.c.call<{ stands: object }>('PUT', path(), {
          ...(path() === '/api/levels' ? { item: gloves.id, place: w.lab.id } : {}),
          ...said,
          seen,
        })
      expect((await put(first(), none())).status, 'nothing stood there').to.be.lessThan(300)
      const late = await put(second(), none())
      expect([late.status, late.body.code, late.body.stands]).to.deep.equal([409, 'changed_meanwhile', first()])
      expect(await stands()).to.deep.equal(Object.values(first()))
      // One field of it that is another is another.
      for (const [field, value] of Object.entries(second()))
        expect((await put(second(), { ...first(), [field]: value })).status, field).to.equal(409)
      expect((await put(second(), late.body.stands)).status, 'looked at').to.be.lessThan(300)
      expect(await stands()).to.deep.equal(Object.values(second()))
      expect((await put(first(), undefined)).status, 'whoever does not say what they saw').to.be.lessThan(300)
      expect(await stands()).to.deep.equal(Object.values(first()))
    })
})
