import { expect } from 'chai'
import { ItemInput } from '@shelve/contract'
import { v7 } from 'uuid'
import { createItem } from '../src/index.ts'
import { FactReader } from '../src/position/facts.ts'
import { newItem, world, type World } from './client.ts'

const DAY = 86_400_000

describe('what lies where, in memory', () => {
  let w: World
  beforeEach(async () => {
    w = await world()
  })
  afterEach(() => w.stop())
  const until = async (so: () => boolean) => {
    while (!so()) await new Promise(done => setTimeout(done, 5))
  }

  it('grows old by itself: what was used 28 days ago no longer counts, without anybody having to wait for all of it', async () => {
    const it = await newItem(w.c, { name: 'Gloves' })
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    const lines = [w.c.line({ item: it.id, typed: '5', price: '1' })]
    await w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'S' }, lines })
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: it.id, typed: '2' })],
    })
    const id = w.reading.known.item(it.id)!.id
    w.reading.stock.all()
    const used = () => [...w.reading.stock.item(id)!.used.values()].reduce((s, q) => s + q, 0n)
    w.clock.now += 28 * DAY - 10 * 60_000
    expect(used(), 'read anew on another day').to.equal(2_000_000n)
    w.clock.now += 31 * 60_000
    expect(used(), 'half an hour old, and still told').to.equal(2_000_000n)
    w.reading.stock.follow(5)
    await until(() => used() === 0n)
  })

  it('a change of set-up makes it read what it touches: a new name finds its place, a job makes it read nothing', async () => {
    const names = () => [...w.reading.stock.all().values()].map(i => i.name)
    const b = await newItem(w.c, { name: 'Beaker' })
    await newItem(w.c, { name: 'Acid' })
    expect(names()).to.deep.equal(['Acid', 'Beaker'])
    const before = [...w.reading.stock.all().values()]
    await w.c.ok('POST', '/api/jobs', { code: 'J', name: 'Job' })
    expect(
      [...w.reading.stock.all().values()].every((i, n) => i === before[n]),
      'nothing was read',
    ).to.equal(true)
    const { revision, ...rest } = b
    await w.c.ok(
      'PUT',
      `/api/items/${b.id}`,
      { ...rest, category: null, name: 'A beaker' },
      { 'if-match': String(revision) },
    )
    expect(names()).to.deep.equal(['A beaker', 'Acid'])
    expect(
      [...w.reading.stock.all().values()].map(i => i.rank),
      'in the order of their names',
    ).to.deep.equal([0, 1])
    expect(
      before.find(i => i.name === 'Acid'),
      'what was not touched is as it was',
    ).to.equal([...w.reading.stock.all().values()].find(i => i.name === 'Acid'))
    await w.c.ok('POST', '/api/places', { name: 'Shed', kind: 'area' })
    expect(
      [...w.reading.stock.all().values()].some(i => before.includes(i)),
      'a place is about everything',
    ).to.equal(false)
  })

  it('after something that touches every item lists read them in pieces, others being let in, and one item alone is read alone', async () => {
    const first = await newItem(w.c, { name: 'Flask 1', code: 'F1' })
    w.app.setUp(() => {
      for (let n = 2; n <= 130; n++)
        createItem(w.app, ItemInput.parse({ code: `F${n}`, name: `Flask ${n}`, unit: 'each' }))
    })
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    // Papers about many items, which ask for one after the other.
    const all = (await w.c.get<{ rows: { id: string }[] }>('/api/items?limit=200')).rows.map(i => i.id)
    // What it will use of a budget is worked out of all items, however many are left to be read after the pieces.
    const costCentre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Boats' })).id
    const large = (
      await w.c.ok<{ id: string }>('POST', '/api/jobs', {
        place: w.lab.id,
        costCentre,
        name: 'Large',
        day: '2026-11-27',
        lines: all.map(item => ({ id: v7(), item, typed: '1' })),
      })
    ).id
    const restock = v7()
    await w.c.ok('POST', '/api/restock', {
      id: restock,
      source: { kind: 'nobody' },
      lines: all.map(item => ({ id: v7(), item, place: w.lab.id, typed: '1' })),
    })
    const read = FactReader.prototype.read
    const pieces: number[] = []
    FactReader.prototype.read = function (ids) {
      pieces.push(ids?.length ?? Infinity)
      return read.call(this, ids)
    }
    try {
      const touched = async (path: string) => {
        w.reading.forget('everything')
        pieces.length = 0
        return w.c.get<object>(path)
      }
      w.reading.stock.all()
      const lists = ['stock', 'stock?sort=-value', 'lots', 'today', 'short', 'expiring', 'restock', 'budgets']
      for (const list of [...lists, 'workings/stock-value', 'workings/on-the-way']) {
        const told = await touched(`/api/${list}`)
        expect(Math.max(...pieces), list).to.be.within(10, 100)
        // Where nothing is on its way, nobody asks for the few that are left after the pieces: how many depends on how fast they were.
        const few = list === 'workings/on-the-way' ? 50 : 0
        expect(
          pieces.reduce((n, of) => n + of, 0),
          `${list}: each is read once`,
        ).to.be.within(130 - few, 130)
        expect(await w.c.get(`/api/${list}`), `${list}: the same again`).to.deep.equal(told)
      }
      expect(pieces, 'nothing happened since').to.have.length.greaterThan(1)
      for (const path of [`/api/items/${first.id}/stock`, `/api/items/${first.id}/needs?job=${job}`]) {
        await touched(path)
        expect(pieces, path).to.deep.equal([1])
      }
      for (const path of [`/api/jobs/${large}`, `/api/restock/${restock}`]) {
        const told = await touched(path)
        expect(pieces, path).to.deep.equal([60, 60, 10])
        expect(await w.c.get(path), `${path}: the same again`).to.deep.equal(told)
      }
      // Whoever writes keeps nothing of them: what a paper names is read at once.
      w.app.forget('everything')
      pieces.length = 0
      const issue = all.map(item => w.c.line({ item, typed: '1' }))
      await w.c.call('POST', `/api/jobs/${large}/reservations`, {})
      expect(pieces.filter(n => n === 130).length, `all at once: ${pieces.join(' ')}`).to.be.greaterThan(0)
      const shown = pieces.filter(n => n !== 130)
      expect(shown, 'none by itself; and in pieces by whoever answers').to.deep.equal([60, 60, 10])
      w.reading.forget('everything')
      pieces.length = 0
      await w.c.call('POST', `/api/slips/${v7()}/effect`, {
        kind: 'issue',
        place: w.lab.id,
        head: { job },
        lines: issue,
      })
      expect(pieces).to.deep.equal([60, 60, 10])
    } finally {
      FactReader.prototype.read = read
    }
  })
})
