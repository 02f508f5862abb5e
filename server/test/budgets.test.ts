// Budgets of cost centres: used as every report has it, set aside and planned for their jobs; a warning, then a stop, at a per cent of it.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Budgets, Item, SlipContentInput, SlipView } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('budgets of cost centres', () => {
  let w: World
  let filter: Item
  let boats: string
  let galley: string
  beforeEach(async () => {
    w = await world()
    filter = await newItem(w.c, { name: 'Filter', code: 'FIL' })
    boats = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Boats', code: 'BOAT' })).id
    galley = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Catering', code: 'FOOD' })).id
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: filter.id, typed: '100', price: '2' }))
  })
  afterEach(() => w.stop())
  const set = (centre: string, amount: string | null, warn: number | null = null, stop: number | null = null) =>
    w.c.call('PUT', `/api/cost-centres/${centre}/budgets/2026`, { amount, warn, stop })
  const stands = async (centre: string, year = 2026) =>
    (await w.c.get<Budgets>(`/api/budgets?year=${year}&centre=${centre}`)).rows[0]
  const issue = (typed: string, head: object = { costCentre: boats }): SlipContentInput => ({
    kind: 'issue',
    place: w.lab.id,
    head,
    lines: [w.c.line({ item: filter.id, typed })],
  })

  it('used, set aside, planned and left: each from where it is charged, in its month; of other years nothing', async () => {
    expect((await set(boats, '100', 80, 100)).status).to.equal(204)
    await w.c.must(issue('10'))
    w.clock.now += 60_000
    // Straight to them, and charged to them by a job of theirs.
    const need = v7()
    const job = (
      await w.c.ok<Found>('POST', '/api/jobs', {
        name: 'Engine service',
        place: w.lab.id,
        costCentre: boats,
        day: '2026-11-28',
        lines: [{ id: need, item: filter.id, typed: '12' }],
      })
    ).id
    await w.c.must(issue('2', { job }))
    await w.c.ok('POST', `/api/jobs/${job}/reservations`, {
      need,
      place: null,
      lot: null,
      typed: '4',
      unit: null,
    })
    const oil = await newItem(w.c, { name: 'Paint job', kept: 'charge' })
    await w.c.received(
      w.lab.id,
      'Aster',
      w.c.line({ item: oil.id, typed: '1', price: '7', direct: { costCentre: boats } }),
    )
    const b = (await stands(boats))!
    expect([b.amount, b.used, b.kept, b.planned, b.left, b.percent, b.warn, b.stop]).to.deep.equal([
      '100',
      '31',
      '8',
      '12',
      '49',
      '31',
      80,
      100,
    ])
    expect(b.months.map(Number)).to.deep.equal([0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 31, 0])
    expect((await stands(boats, 2025))!.used).to.equal('0')
    expect(await stands(galley)).to.deep.include({ amount: null, used: '0', left: null, percent: null })
    // A charge that was wrong is moved: the one has it back, the other bears it.
    const sent = await w.c.must(issue('3'))
    await w.c.must({
      kind: 'recharge',
      place: w.lab.id,
      head: { costCentre: galley },
      lines: [w.c.line({ ref: sent.lines[0]!.id, typed: '3', item: filter.id })],
    })
    expect([(await stands(boats))!.used, (await stands(galley))!.used]).to.deep.equal(['31', '6'])
    await set(boats, null)
    expect((await stands(boats))!.amount).to.equal(null)
  })

  it('what was asked for comes to its jobs first due first; what another job makes was asked of nobody', async () => {
    await set(boats, '100')
    await w.c.must(issue('95', { costCentre: galley }))
    const job = (day: string, typed: string, costCentre = boats) =>
      w.c.ok<Found>('POST', '/api/jobs', {
        name: `Service ${day}`,
        place: w.lab.id,
        costCentre,
        day,
        lines: [{ id: v7(), item: filter.id, typed }],
      })
    await job('2026-12-01', '8')
    await job('2026-12-05', '4')
    const asked = async () => {
      const b = (await stands(boats))!
      return [b.kept, b.asked, b.planned, b.left].map(Number)
    }
    expect(await asked(), '12 at 2').to.deep.equal([0, 0, 24, 76])
    // 5 lie there; of the 5 that are asked for the first job lacks 3, the second has 2 of its 4.
    const id = v7()
    w.clock.now += 60_000
    const line = { id: v7(), item: filter.id, place: w.lab.id, typed: '5' }
    await w.c.ok('POST', '/api/restock', { id, source: { kind: 'nobody' }, lines: [line] })
    await w.c.ok('POST', `/api/restock/${id}/asking`, { where: 'by telephone', expected: '2026-11-30' })
    expect(await asked()).to.deep.equal([0, 10, 14, 76])
  })

  // Each boundary: at the limit is within; one tick beyond is not.
  for (const [what, typed, code, notes] of [
    ['below the warning', '39', undefined, []],
    ['at the warning', '40', undefined, []],
    ['beyond the warning', '41', undefined, ['With this, Boats has used 82 % of its budget of the year.']],
    ['at the stop', '50', undefined, ['With this, Boats has used 100 % of its budget of the year.']],
    ['beyond the stop', '51', 'over_budget', ['With this, Boats has used 102 % of its budget of the year.']],
  ] as const)
    it(`${what}: ${typed} at 2 of 100, warned from 80 %, stopped beyond 100 %`, async () => {
      await set(boats, '100', 80, 100)
      const effect = await w.c.effect(issue(typed))
      expect(effect.notes).to.deep.equal(notes)
      const r = await w.c.book(issue(typed))
      expect([r.status, r.body.code]).to.deep.equal(code ? [422, code] : [201, undefined])
      if (code)
        expect(r.body.detail).to.equal(
          'With this, Boats would have used 102 % of its budget of the year, and beyond 100 % nothing more is charged to it. ' +
            'Charge somebody else, or have a manager book it with a reason.',
        )
    })

  it('a stop holds for whoever may not override, however it is charged; a manager says why', async () => {
    await set(boats, '10', null, 90)
    const keeper = await person(w, 'Tova', 'keeper')
    const why = { costCentre: boats, why: 'The engine is out' }
    const codes = async (c: typeof w.c, content: SlipContentInput) => (await c.book(content)).body.code
    const job = (await w.c.ok<Found>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await w.c.ok('PUT', `/api/jobs/${job}`, { code: 'J', name: 'Job', costCentre: boats })
    const sent = await w.c.must(issue('5', { costCentre: galley }))
    const charge: SlipContentInput = {
      kind: 'recharge',
      place: w.lab.id,
      head: { costCentre: boats },
      lines: [w.c.line({ ref: sent.lines[0]!.id, typed: '5', item: filter.id })],
    }
    const straight: SlipContentInput = {
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: filter.id, typed: '5', price: '2', direct: { job } })],
    }
    expect([
      await codes(keeper, issue('5')),
      await codes(keeper, issue('5', why)),
      await codes(w.c, issue('5')),
      await codes(w.c, issue('5', { job })),
      await codes(w.c, charge),
      await codes(w.c, straight),
      await codes(w.c, issue('5', why)),
    ]).to.deep.equal([...Array<string>(6).fill('over_budget'), undefined])
    // From one job of theirs to another charges them nothing.
    const [ours] = (await w.c.get<{ rows: Found[] }>('/api/slips?kind=issue')).rows
    const line = (await w.c.get<SlipView>(`/api/slips/${ours!.id}`)).lines[0]!.id
    const within = { ...charge, head: { job }, lines: [w.c.line({ ref: line, typed: '1', item: filter.id })] }
    expect(await codes(keeper, within)).to.equal(undefined)
    // Once it is over, nothing more; what comes back makes room again.
    expect(await codes(keeper, issue('1'))).to.equal('over_budget')
    const [last] = (await w.c.get<{ rows: Found[] }>('/api/slips?kind=issue')).rows
    const { lines } = await w.c.get<SlipView>(`/api/slips/${last!.id}`)
    await w.c.must({
      kind: 'bring_back',
      place: w.lab.id,
      head: { costCentre: boats },
      lines: [w.c.line({ ref: lines[0]!.id, typed: '4', item: filter.id })],
    })
    expect(await codes(keeper, issue('3'))).to.equal(undefined)
  })

  it('who may not see values of every place sees no budget, and sets none; what is no budget is refused', async () => {
    const keeper = await person(w, 'Tova', 'keeper', w.lab.id)
    const asker = await person(w, 'Mirja', 'requester')
    expect((await keeper.call('GET', '/api/budgets')).status).to.equal(403)
    expect((await asker.call('GET', '/api/budgets')).status).to.equal(403)
    const of = `/api/cost-centres/${boats}/budgets/2026`
    expect((await keeper.call('PUT', of, { amount: '5' })).status).to.equal(403)
    for (const body of [{ amount: '-5' }, { amount: '0' }, { amount: '5', warn: 0 }, { amount: '5', stop: 1001 }, {}])
      expect((await w.c.call('PUT', of, body)).status, JSON.stringify(body)).to.equal(422)
    expect((await w.c.call('PUT', `/api/cost-centres/${v7()}/budgets/2026`, { amount: '5' })).status).to.equal(404)
  })
})
