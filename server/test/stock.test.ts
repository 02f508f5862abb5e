import { expect } from 'chai'
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
})
