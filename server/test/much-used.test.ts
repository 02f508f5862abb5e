// A job of which much is booked: added up a piece at a time, others being let in, and all of it of one moment.
import { expect } from 'chai'
import { v7 } from 'uuid'
import { type Item, type JobView, SlipContent, type SlipView } from '@shelve/contract'
import { formatDecimal } from '@shelve/core'
import { bookNow, type House } from '@shelve/server'
import { jobView } from '../src/jobs/view.ts'
import { callerOf } from '../src/people/index.ts'
import { newItem, world, type World } from './client.ts'

describe('a job of which much is booked', () => {
  const NEEDS = 30
  let w: World
  let items: Item[]
  let delivery: SlipView
  before(async () => {
    w = await world()
    items = await Promise.all(
      Array.from({ length: NEEDS }, (_, n) => newItem(w.c, { name: `Nail ${n}`, code: `N${n}` })),
    )
    const lines = items.map(i => w.c.line({ item: i.id, typed: '9000', price: '2' }))
    delivery = await w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'Aster' }, lines })
  })
  after(() => w.stop())
  const begun = async (of: readonly Item[], more: object = {}) => {
    const lines = of.map(i => ({ id: v7(), item: i.id, typed: '9000' }))
    return (await w.c.ok<{ id: string }>('POST', '/api/jobs', { name: 'Jetty', place: w.lab.id, lines, ...more })).id
  }
  const issue = (job: string, of: readonly Item[], typed = '1') =>
    ({ kind: 'issue', place: w.lab.id, head: { job }, lines: of.map(i => w.c.line({ item: i.id, typed })) }) as const
  const caller = (house: House) => callerOf(house, w.c.cookie.split('=')[1])!
  /** Booked while something else is read: whoever reads has heard of it. */
  async function bookedBeside(job: string): Promise<void> {
    await w.app.commit(() => bookNow(w.app, caller(w.app), v7(), SlipContent.parse(issue(job, items))))
    w.reading.moveOn()
  }
  /** Runs something while each piece of work takes so long that others are let in after it. */
  async function slowly<T>(run: () => Promise<T>): Promise<T> {
    let now = 0
    performance.now = () => (now += 1000)
    try {
      return await run()
    } finally {
      delete (performance as { now?: unknown }).now
    }
  }

  it('what is booked while it is read stands in all of it, or in nothing', async () => {
    const job = await begun(items)
    await w.c.must(issue(job, items))
    const used: string[][] = []
    await slowly(async () => {
      const read = jobView(w.reading, caller(w.reading), job)
      await bookedBeside(job)
      used.push((await read).lines.map(l => `${l.used} ${l.usedWorth}`))
    })
    expect(used).to.deep.equal([items.map(() => '2 4')])
    expect((await w.c.get<JobView>(`/api/jobs/${job}`)).lines.map(l => `${l.used} ${l.usedWorth}`)).to.deep.equal(
      used[0],
    )
  })

  it('where each time it is read something more is booked, it is read at once at last', async () => {
    const job = await begun(items)
    let read: JobView | undefined
    let booked = 0
    await slowly(async () => {
      const reading = jobView(w.reading, caller(w.reading), job).then(r => (read = r))
      for (; !read; booked++) await bookedBeside(job)
      await reading
    })
    expect(booked, 'it ends while more and more is booked').to.be.greaterThan(1)
    const [first] = read!.lines
    expect(Number(first!.used)).to.be.within(1, booked)
    expect(read!.lines.map(l => l.used)).to.deep.equal(items.map(() => first!.used))
  })

  it('of thousands of movements each counts once, what came back and what was charged on among them', async () => {
    const [nail, other] = items as [Item, Item]
    const [job, elsewhere] = [await begun([nail, other]), await begun([nail])]
    const slips: SlipView[] = []
    for (let n = 0; n < 5; n++)
      slips.push(
        await w.c.must(
          issue(
            job,
            Array.from({ length: 499 }, () => nail),
          ),
        ),
      )
    await w.c.must(issue(job, [other], '3'))
    // Of the first and of the last slip, so of different pieces.
    const ref = (at: number) => slips[at]!.lines[0]!.id
    const give = (kind: 'bring_back' | 'recharge', at: number, head: object) =>
      w.c.must({ kind, place: w.lab.id, head, lines: [w.c.line({ item: nail.id, typed: '1', ref: ref(at) })] })
    await give('bring_back', 0, {})
    await give('recharge', 4, { job: elsewhere })
    const { lines } = await w.c.get<JobView>(`/api/jobs/${job}`)
    expect(lines.map(l => [l.used, l.usedWorth])).to.deep.equal([
      [`${5 * 499 - 2}`, `${2 * (5 * 499 - 2)}`],
      ['3', '6'],
    ])
    const charged = await w.c.get<JobView>(`/api/jobs/${elsewhere}`)
    expect(charged.lines.map(l => [l.used, l.usedWorth])).to.deep.equal([['1', '2']])

    // Put right late, the price is another one of each of them; and again as it was.
    const worth = async (of: string) => (await w.c.get<JobView>(`/api/jobs/${of}`)).lines.map(l => l.usedWorth)
    const priced = (price: string) => {
      const line = w.c.line({ ref: delivery.lines[0]!.id, item: nail.id, act: 'price', price })
      return w.c.must({ kind: 'correction', place: w.lab.id, head: { corrects: delivery.id }, lines: [line] })
    }
    for (const price of [3, 2]) {
      await priced(`${price}`)
      const all = [[`${price * (5 * 499 - 2)}`, '6'], [`${price}`]]
      expect([await worth(job), await worth(elsewhere)]).to.deep.equal(all)
    }
  })

  it('what is kept of a need is what is committed: not what came to nothing, and all that came after it', async () => {
    const [nail] = items as [Item]
    const job = await begun([nail])
    const id = w.app.known.item(nail.id)!.id
    const jobId = w.app.rows.job.get({ uid: job })!.id
    const used = (house: House) => {
      const { needs } = house.sources.demand([id]).get(id)!
      return Number(formatDecimal(needs.find(n => n.jobId === jobId)!.used))
    }
    const lines = (many: number) => Array.from({ length: many }, () => nail)
    const bookedNow = (many: number) => bookNow(w.app, caller(w.app), v7(), SlipContent.parse(issue(job, lines(many))))
    let all = 0
    // Few, then more than is read each time, then some more, before anybody asks and after.
    for (const many of [3, 120, 1, 60, 0, 60]) {
      if (many) await w.c.must(issue(job, lines(many)))
      all += many
      if (many !== 1) expect([used(w.app), used(w.reading)]).to.deep.equal([all, all])
      const undone = w.app.commit(() => {
        bookedNow(70)
        expect(used(w.app), 'within it').to.equal(all + 70)
        throw new Error('no')
      })
      expect(await undone.catch((e: Error) => e.message)).to.equal('no')
      expect([used(w.app), used(w.reading)]).to.deep.equal([all, all])
    }
  })
})
