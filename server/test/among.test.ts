// Handed out for several: each is charged its part, to the last of a millionth; brought back, each gets its part again.
import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import { decimal, equalParts, formatDecimal, readParts, sharedOut } from '@shelve/core'
import type { Budgets, Item, JobView, SlipContentInput, SlipView } from '@shelve/contract'
import { ledgerJsonLines, verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

type Found = { id: string }
type Among = NonNullable<NonNullable<SlipContentInput['head']>['among']>
describe('something is handed out for several', () => {
  let w: World
  let wipes: Item
  let acid: Item
  let a: string
  let b: string
  let job: string
  beforeEach(async () => {
    w = await world()
    wipes = await newItem(w.c, { name: 'Wipes', code: 'WIP' })
    acid = await newItem(w.c, {
      name: 'Acid',
      code: 'ACI',
      unit: 'L',
      decimals: 3,
      identifiedBy: 'lot',
      method: 'fifo',
    })
    a = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Water', code: 'WAT' })).id
    b = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Birds', code: 'BIR' })).id
    job = (
      await w.c.ok<Found>('POST', '/api/jobs', {
        place: w.lab.id,
        name: 'Run',
        lines: [{ id: v7(), item: acid.id, typed: '1' }],
      })
    ).id
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        w.c.line({ item: wipes.id, typed: '10', price: '3' }),
        w.c.line({ item: acid.id, typed: '1', price: '10', lot: { code: 'A1' } }),
        w.c.line({ item: acid.id, typed: '2', price: '20', lot: { code: 'A2' } }),
      ],
    })
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })
  const parts = (...of: [object, string][]): Among => of.map(([who, percent]) => ({ ...who, percent }))
  const issue = (among: Among, lines: object[], more: object = {}): SlipContentInput => ({
    kind: 'issue',
    place: w.lab.id,
    head: { among, ...more },
    lines: lines.map(l => w.c.line(l)),
  })
  /** Quantity and value that each has, from the exported ledger alone. */
  function have(item = 'WIP'): Record<string, string> {
    const of = new Map<string, [bigint, bigint]>()
    for (const l of ledgerJsonLines(w.app)) {
      const m = JSON.parse(l) as { from: string; to: string; value: string; quantity: string; item: string }
      if (!l.includes(`"${item}"`)) continue
      for (const [account, sign] of [
        [m.to, 1n],
        [m.from, -1n],
      ] as const) {
        const name = /Water|Birds|Run/.exec(account)?.[0]
        if (!name) continue
        const [q, v] = of.get(name) ?? [0n, 0n]
        of.set(name, [q + sign * decimal(m.quantity), v + sign * decimal(m.value)])
      }
    }
    return Object.fromEntries([...of].map(([n, [q, v]]) => [n, `${formatDecimal(q)} for ${formatDecimal(v)}`]))
  }

  it('each is charged its part, also of one thing; both stand in its title', async () => {
    const slip = await w.c.must(
      issue(parts([{ costCentre: a }, '75'], [{ costCentre: b }, '25 %']), [{ item: wipes.id, typed: '1' }]),
    )
    expect([slip.title, have()]).to.deep.equal([
      'to Water and Birds',
      { Water: '0.75 for 2.25', Birds: '0.25 for 0.75' },
    ])
    await w.c.must(
      issue(parts([{ costCentre: a }, '33.3'], [{ costCentre: b }, '33.3'], [{ job }, '33,4']), [
        { item: wipes.id, typed: '1' },
      ]),
    )
    expect(have()).to.deep.equal({ Water: '1.083 for 3.249', Birds: '0.583 for 1.749', Run: '0.334 for 1.002' })
  })

  it('of each lot its part; what a job gets so it needs no more; budgets are asked', async () => {
    await w.c.ok('PUT', `/api/cost-centres/${a}/budgets/2026`, { amount: '20', warn: 40, stop: null })
    const content = issue(parts([{ costCentre: a }, '50'], [{ job }, '50']), [{ item: acid.id, typed: '1.5' }])
    const { notes } = await w.c.effect(content)
    expect(notes).to.deep.equal(['With this, Water has used 50 % of its budget of the year.'])
    const slip = await w.c.must(content)
    expect(slip.lines[0]!.movements.map(m => [m.lot, m.quantity])).to.deep.equal([
      ['A1', '0.5'],
      ['A1', '0.5'],
      ['A2', '0.25'],
      ['A2', '0.25'],
    ])
    expect(have('ACI')).to.deep.equal({ Water: '0.75 for 10', Run: '0.75 for 10' })
    const { lines } = await w.c.get<JobView>(`/api/jobs/${job}`)
    expect([lines[0]!.used, lines[0]!.left]).to.deep.equal(['0.75', '0.25'])
    const { rows } = await w.c.get<Budgets>('/api/budgets?year=2026')
    expect(rows.map(r => [r.name, r.used])).to.deep.include(['Water', '10'])
  })

  it('brought back, charged elsewhere, replaced, taken back: each in its part', async () => {
    const slip = await w.c.must(
      issue(parts([{ costCentre: a }, '75'], [{ costCentre: b }, '25']), [{ item: wipes.id, typed: '4' }]),
    )
    const ref = slip.lines[0]!.id
    await w.c.must({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref, typed: '2' })] })
    expect(have()).to.deep.equal({ Water: '1.5 for 4.5', Birds: '0.5 for 1.5' })
    const more = await w.c.effect({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref, typed: '3' })] })
    expect(more.refusals.map(r => r.code)).to.deep.equal(['more_than_issued'])
    await w.c.must({ kind: 'recharge', place: w.lab.id, head: { job }, lines: [w.c.line({ ref, typed: '1' })] })
    expect(have()).to.deep.equal({ Water: '0.75 for 2.25', Birds: '0.25 for 0.75', Run: '1 for 3' })
    const other = await w.c.must(
      issue(parts([{ costCentre: a }, '50'], [{ costCentre: b }, '50']), [{ item: wipes.id, typed: '2' }]),
    )
    const correct = (head: object, line: object): SlipContentInput => ({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: other.id, why: 'counted again', ...head },
      lines: [w.c.line({ item: wipes.id, ref: other.lines[0]!.id, ...line })],
    })
    const { among } = issue(parts([{ costCentre: a }, '50'], [{ costCentre: b }, '50']), []).head!
    await w.c.must(correct({ among }, { act: 'replace', typed: '1' }))
    expect(have()).to.deep.equal({ Water: '1.25 for 3.75', Birds: '0.75 for 2.25', Run: '1 for 3' })
    const undone = await w.c.call<SlipView>('POST', `/api/slips/${slip.id}/reversal`, { id: v7() })
    expect(undone.status, 'some of it came back').to.equal(422)
  })

  it('what does not add up is refused in words, and nothing is booked', async () => {
    const dropped = (await w.c.ok<Found>('POST', '/api/jobs', { name: 'Over', code: 'OV' })).id
    await w.c.ok('PUT', `/api/jobs/${dropped}`, { name: 'Over', code: 'OV', costCentre: null, active: false })
    const A = { costCentre: a }
    const B = { costCentre: b }
    const cases: [Among, object, string, string][] = [
      [parts([A, '50'], [B, '40']), {}, 'among_not_whole', 'The parts add up to 90 %, and not to 100 %.'],
      [parts([A, '50'], [B, '50.000001']), {}, 'among_not_whole', 'The parts add up to 100.000001 %'],
      [parts([A, '100'], [B, '0']), {}, 'not_a_part', '0 is no part of it'],
      [parts([A, '110'], [B, '-10']), {}, 'not_a_part', '110 is no part of it'],
      [parts([A, 'half'], [B, '50']), {}, 'not_a_part', 'half is no part of it'],
      [parts([A, ''], [B, '50']), {}, 'not_a_part', 'For which part of it is each?'],
      [parts([A, '50'], [A, '50']), {}, 'among_twice', 'The same stands there twice'],
      [parts([A, '50'], [{}, '50']), {}, 'for_whom', 'Who or what is it for?'],
      [parts([A, '50'], [{ job: dropped }, '50']), {}, 'for_whom_ended', 'Over is not in use any more.'],
      [parts([A, '50'], [B, '50']), { costCentre: a }, 'among_or_one', 'It is for one, or for several'],
    ]
    const before = have()
    for (const [among, more, code, says] of cases) {
      const r = await w.c.book(issue(among, [{ item: wipes.id, typed: '2' }], more))
      expect([r.status, r.body.fields?.map(f => f.code)], says).to.deep.equal([422, [code]])
      expect(r.body.fields[0]!.message).to.include(says)
    }
    expect(have()).to.deep.equal(before)
    expect(
      (await w.c.book(issue(parts([A, '100']), [{ item: wipes.id, typed: '1' }]))).status,
      'all of it for one',
    ).to.equal(201)
  })

  it('parts add up exactly: equal ones to a hundred, of any quantity to all of it, none a millionth off its own', () => {
    for (let n = 1; n <= 12; n++) {
      const p = readParts(equalParts(n))
      expect(p.ok, String(n)).to.equal(true)
    }
    expect(equalParts(3)).to.deep.equal(['33.34', '33.33', '33.33'])
    fc.assert(
      fc.property(
        fc.bigInt(1n, 10n ** 12n),
        fc.array(fc.bigInt(1n, 1000n), { minLength: 1, maxLength: 12 }),
        (q, weights) => {
          const out = sharedOut(q, weights)
          const sum = weights.reduce((x, y) => x + y, 0n)
          expect(out.reduce((x, y) => x + y, 0n)).to.equal(q)
          for (const [i, x] of out.entries()) {
            const off = x * sum - q * weights[i]!
            expect(off < sum && off > -sum).to.equal(true)
          }
        },
      ),
    )
  })
})

// A list on paper: each line says itself for whom it is, and by whom it was taken.
describe('each line is for its own', () => {
  let w: World
  let wipes: Item
  let acid: Item
  let a: string
  let b: string
  let job: string
  beforeEach(async () => {
    w = await world()
    wipes = await newItem(w.c, { name: 'Wipes', code: 'WIP' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACI', unit: 'L', decimals: 3, identifiedBy: 'lot' })
    const centre = async (name: string) =>
      (await w.c.ok<Found>('POST', '/api/cost-centres', { name, code: name.slice(0, 3).toUpperCase() })).id
    a = await centre('Water')
    b = await centre('Birds')
    job = (
      await w.c.ok<Found>('POST', '/api/jobs', {
        place: w.lab.id,
        name: 'Run',
        costCentre: b,
        lines: [{ id: v7(), item: acid.id, typed: '1' }],
      })
    ).id
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        w.c.line({ item: wipes.id, typed: '10', price: '3' }),
        w.c.line({ item: acid.id, typed: '1', price: '10', lot: { code: 'A1' } }),
        w.c.line({ item: acid.id, typed: '2', price: '10', lot: { code: 'A2' } }),
      ],
    })
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })
  const to = (who: object, person = '') => ({ direct: { job: null, costCentre: null, person, ...who } })
  const list = (lines: object[], more: object = {}): SlipContentInput => ({
    kind: 'issue',
    place: w.lab.id,
    lines: lines.map(l => w.c.line(l)),
    ...more,
  })
  const used = async () =>
    Object.fromEntries(
      (await w.c.get<Budgets>('/api/budgets?year=2026')).rows.map(r => [r.name, r.used] as const),
    ) as Record<string, string>

  it('each is charged what its lines took; the job’s line answers its need; who took it is known of each', async () => {
    const slip = await w.c.must(
      list(
        [
          { item: wipes.id, typed: '2', ...to({ costCentre: a }, 'Sorrel') },
          { item: wipes.id, typed: '1', ...to({ job }, 'Ferrin') },
          { item: acid.id, typed: '0.4', ...to({ job }) },
          { item: wipes.id, typed: '1' },
        ],
        { head: { costCentre: a }, taker: 'Odd' },
      ),
    )
    expect(slip.title).to.equal('to Water and Run')
    expect(await used()).to.deep.equal({ Water: '9', Birds: '7' })
    const view = await w.c.get<JobView>(`/api/jobs/${job}`)
    expect(view.lines.map(l => l.used)).to.deep.equal(['0.4'])
    expect(view.others.map(o => [o.item.name, o.quantity])).to.deep.equal([['Wipes', '1']])
    expect(
      view.slips.map(s => s.number),
      'the job knows the list by its lines',
    ).to.deep.equal([slip.number])
    const history = await w.c.get<{ rows: { to: string; taker: string }[] }>(`/api/items/${wipes.id}/movements`)
    expect(history.rows.slice(0, 3).map(r => `${r.to}: ${r.taker}`)).to.have.members([
      'Water: Sorrel',
      'Run: Ferrin',
      'Water: Odd',
    ])
    // Brought back by its line it is theirs again; put right, it is for whom the line said.
    await w.c.must({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref: slip.lines[1]!.id, typed: '1' })] })
    expect((await w.c.get<JobView>(`/api/jobs/${job}`)).others).to.deep.equal([])
    const was = slip.content!.lines[0]!
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { ...slip.content!.head, corrects: slip.id },
      lines: [{ ...was, id: v7(), ref: was.id, act: 'replace', typed: '1' }],
    })
    expect(await used()).to.deep.equal({ Water: '6', Birds: '4' })
  })
  const wrong: [string, () => object[], object, string][] = [
    ['a line for nobody', () => [{ item: wipes.id, typed: '1', ...to({}) }], {}, 'for_whom'],
    [
      'a line that says nothing, and neither does the slip',
      () => [
        { item: wipes.id, typed: '1', ...to({ costCentre: a }) },
        { item: wipes.id, typed: '1' },
      ],
      {},
      'for_whom',
    ],
    [
      'more than is there, by two lines',
      () => [
        { item: wipes.id, typed: '6', ...to({ costCentre: a }) },
        { item: wipes.id, typed: '5', ...to({ costCentre: b }) },
      ],
      {},
      'insufficient_stock',
    ],
    [
      'a cost centre that is not there',
      () => [{ item: wipes.id, typed: '1', ...to({ costCentre: v7() }) }],
      {},
      'unknown_cost_centre',
    ],
  ]
  for (const [name, lines, more, code] of wrong)
    it(`${name} is refused, and nothing is booked`, async () => {
      const r = await w.c.book(list(lines(), more))
      expect([r.status, r.body.fields?.[0]?.code], r.text).to.deep.equal([422, code])
      expect(await used()).to.deep.equal({ Birds: '0', Water: '0' })
    })
  it('is asked of each budget by its line', async () => {
    await w.c.ok('PUT', `/api/cost-centres/${b}/budgets/2026`, { amount: '5', warn: null, stop: 100 })
    const r = await w.c.book(
      list([
        { item: wipes.id, typed: '3', ...to({ costCentre: a }) },
        { item: wipes.id, typed: '2', ...to({ costCentre: b }) },
      ]),
    )
    expect(r.body.fields?.map(x => [x.code, x.field])).to.deep.equal([['over_budget', 'direct']])
  })
  it('what is kept for a job is taken by its own line and asked of others', async () => {
    const view = await w.c.get<JobView>(`/api/jobs/${job}`)
    expect(view.lines).to.have.length(1)
    await w.c.ok('POST', `/api/jobs/${job}/reservations`, {})
    const other = await w.c.book(list([{ item: acid.id, typed: '3', ...to({ costCentre: a }) }]))
    const own = await w.c.book(list([{ item: acid.id, typed: '1', ...to({ job }) }]))
    expect([other.status, own.status]).to.deep.equal([422, 201])
    expect(other.body.fields?.[0]?.code).to.equal('takes_reserved')
  })
})
