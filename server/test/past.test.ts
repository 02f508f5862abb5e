import { expect } from 'chai'
import fc from 'fast-check'
import { decimal, formatDecimal } from '@shelve/core'
import { between, rangesTo } from '../src/reports/past.ts'
import { newItem, world } from './client.ts'

const DAY = 86_400_000
interface Past {
  rows: { item: string; quantity: string; value?: string }[]
  categories: { category: string | null; items: number; value?: string }[]
  value?: string
}

describe('a past day, both readings', () => {
  /** The plain definition: what lay at the end of each day, written down by a second book as things happened. */
  it('is what a second book says that was kept by hand, however many checkpoints lie between', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            item: fc.nat(1),
            in: fc.boolean(),
            amount: fc.integer({ min: 1, max: 9 }),
            late: fc.integer({ min: 0, max: 3 }),
            price: fc.integer({ min: 1, max: 9 }),
          }),
          { minLength: 6, maxLength: 12 },
        ),
        async steps => {
          const w = await world({ checkpointEvery: 3 })
          try {
            const { id: wet } = await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Wet', parent: null })
            const items = [
              await newItem(w.c, { name: 'Gloves', category: wet }),
              await newItem(w.c, { name: 'Oil', method: 'fifo' }),
            ]
            const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
            const began = w.clock.now
            const happened: { item: number; at: number; booked: number; q: number }[] = []
            const valueAt: string[] = []
            for (const s of steps) {
              w.clock.now += DAY
              const at = Math.max(began + 1, w.clock.now - s.late * DAY)
              const r = await w.c.book(
                s.in
                  ? {
                      kind: 'receipt',
                      place: w.lab.id,
                      effectiveAt: new Date(at).toISOString(),
                      head: { supplier: 'S' },
                      lines: [w.c.line({ item: items[s.item]!.id, typed: String(s.amount), price: String(s.price) })],
                    }
                  : {
                      kind: 'issue',
                      place: w.lab.id,
                      effectiveAt: new Date(at).toISOString(),
                      head: { job },
                      lines: [w.c.line({ item: items[s.item]!.id, typed: String(s.amount) })],
                    },
              )
              if (r.status === 201)
                happened.push({ item: s.item, at, booked: w.clock.now, q: s.in ? s.amount : -s.amount })
              valueAt.push((await w.c.get<{ value: string }>('/api/stock')).value)
            }
            for (let n = 0; n < steps.length; n++) {
              const day = new Date(began + (n + 1) * DAY).toISOString().slice(0, 10)
              const end = Date.parse(`${day}T22:59:59Z`)
              for (const reading of ['was', 'books'] as const) {
                const past = await w.c.get<Past>(`/api/past?day=${day}&reading=${reading}`)
                // By category it is the same, added up otherwise: one of the two items has one.
                expect(past.categories).to.have.deep.members(
                  past.rows.map(r => ({
                    category: r.item === items[0]!.id ? 'Wet' : null,
                    items: 1,
                    ...(reading === 'books' ? { value: r.value } : {}),
                  })),
                )
                const right = items
                  .map((it, i) => ({
                    it: it.id,
                    q: happened
                      .filter(h => h.item === i && (reading === 'was' ? h.at : h.booked) <= end)
                      .reduce((sum, h) => sum + h.q, 0),
                  }))
                  .filter(x => x.q !== 0)
                expect(past.rows.map(r => [r.item, Number(r.quantity)]).sort(), `${reading} ${day}`).to.deep.equal(
                  right.map(x => [x.it, x.q]).sort(),
                )
                // As the books stood: the value is what the stock list showed at the end of that day.
                if (reading === 'books') {
                  expect(past.value).to.equal(valueAt[n])
                  const here = await w.c.get<Past>(`/api/past?day=${day}&reading=books&place=${w.lab.id}`)
                  expect(
                    formatDecimal(here.rows.reduce((s, r) => s + decimal(r.value!), 0n)),
                    'the places add up to the whole',
                  ).to.equal(past.value)
                } else expect(past.value, 'values belong to the books').to.equal(undefined)
              }
            }
            expect((await w.c.call('GET', `/api/past?day=2099-01-01&reading=was`)).body.code).to.equal('in_the_future')
          } finally {
            await w.stop()
          }
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 5), endOnFailure: true },
    )
  })

  const SOME = 10_000
  for (const [after, until] of [
    [0, 0],
    [5, 3],
    [0, 1],
    [7, 7 + SOME],
    [7, 8 + SOME],
    [123, 45_678],
  ] as const)
    it(`what was written after ${after} up to ${until} is looked at once each, some at a time`, () => {
      const of = between(-1, after, until, 'and late').map(m => {
        const [, from, to] = /quantity \* -1 .* where seq > (\d+) and seq <= (\d+) and late$/.exec(m)!.map(Number)
        return [from!, to!] as const
      })
      expect(of.every(([from, to]) => from < to && to - from <= SOME)).to.equal(true)
      expect([...of.map(([from]) => from), Math.max(after, until)]).to.deep.equal([after, ...of.map(([, to]) => to)])
    })
  it('ranges of items hold each number once, the last one too', () => {
    for (const last of [0, 1, 999, 1000, 1001, 5432]) {
      const ranges = rangesTo(last)
      expect(ranges.map(([from]) => from)).to.deep.equal([0, ...ranges.slice(0, -1).map(([, to]) => to)])
      expect(ranges.at(-1)![1]).to.be.within(last + 1, last + 1000)
    }
  })
})
