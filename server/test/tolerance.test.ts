// How far off a count may be, by what sets it; and how right the books were by it. Figures worked out by hand.
import { expect } from 'chai'
import type { Category, CountAccuracy, Item } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

const MINUTE = 60_000
type Found = { id: string }

describe('how far off a count may be (rule 26)', () => {
  let w: World
  let above: Found
  let within: Found
  before(async () => {
    w = await world()
    above = await w.c.ok<Found>('POST', '/api/categories', { name: 'Reagents', tolerance: { quantity: '10' } })
    within = await w.c.ok<Found>('POST', '/api/categories', { name: 'Acids', parent: above.id })
  })
  after(() => w.stop())
  /** An item of which 100 lie there, at 2 each. */
  const hundred = async (more: object) => {
    const it = await newItem(w.c, { name: `Item ${crypto.randomUUID()}`, ...more })
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: it.id, typed: '100', price: '2' }))
    w.clock.now += MINUTE
    return it
  }
  const count = (it: Item, typed: string) => ({
    kind: 'count' as const,
    place: w.lab.id,
    lines: [w.c.line({ item: it.id, from: w.lab.id, counted: 'counted' as const, typed })],
  })
  /** What is asked of so many counted once. */
  const asks = async (it: Item, typed: string) => {
    const out = await w.c.effect(count(it, typed))
    return out.refusals.length ? out.refusals[0]!.code : 'near enough'
  }
  const both = async (it: Item, near: string, far: string) =>
    expect([await asks(it, near), await asks(it, far)]).to.deep.equal(['near enough', 'count_twice'])
  it('is said by the item, all its limits together; of what it costs now', async () => {
    await both(await hundred({ category: within.id, tolerance: { quantity: '3' } }), '97', '96')
    await both(await hundred({ tolerance: { percent: '1' } }), '99', '98')
    // Two each: 8 is four of them.
    const worth = await hundred({ tolerance: { value: '8' } })
    await both(worth, '96', '95')
    await both(worth, '104', '105')
    await both(await hundred({ tolerance: { quantity: '50', percent: '20', value: '8' } }), '104', '105')
  })
  it('by its category, by one above that, and at last by the organisation', async () => {
    await both(await hundred({ category: within.id }), '90', '89')
    await both(await hundred({}), '95', '94')
    const rows = (await w.c.get<{ rows: Category[] }>('/api/categories')).rows
    expect(rows.map(r => [r.name, r.tolerance])).to.deep.equal([
      ['Acids', null],
      ['Reagents', { quantity: '10', percent: null, value: null }],
    ])
    const it = await hundred({ category: within.id })
    expect([it.tolerance, it.ownTolerance]).to.deep.equal([{ quantity: '10', percent: null, value: null }, null])
  })
  it('changed meanwhile, a count that is written is judged by what holds now', async () => {
    const it = await hundred({})
    expect(await asks(it, '97')).to.equal('near enough')
    await w.c.ok('PUT', '/api/settings', { tolerancePercent: '2', toleranceValue: '100' })
    await both(it, '98', '97')
    await w.c.ok('PUT', '/api/settings', { tolerancePercent: '100', toleranceValue: '4' })
    await both(it, '98', '97')
    await w.c.ok('PUT', '/api/settings', { toleranceValue: null, tolerancePercent: '5.0' })
    expect(
      (await w.c.get<{ rows: { subject: string; before: string; after: string }[] }>('/api/audit?what=setting')).rows
        .map(r => `${r.subject}: ${r.before} → ${r.after}`)
        .filter(t => t.startsWith('tolerance')),
    ).to.have.members([
      'tolerancePercent: 5 → 2',
      'toleranceValue: none → 100',
      'tolerancePercent: 2 → 100',
      'toleranceValue: 100 → 4',
      'tolerancePercent: 100 → 5',
      'toleranceValue: 4 → none',
    ])
    for (const [field, body] of [
      ['tolerancePercent', { tolerancePercent: '100.000001' }],
      ['tolerancePercent', { tolerancePercent: '-1' }],
      ['toleranceValue', { toleranceValue: 'much' }],
    ] as const) {
      const no = await w.c.call<{ fields: { field: string }[] }>('PUT', '/api/settings', body)
      expect([no.status, no.body.fields[0]!.field], JSON.stringify(body)).to.deep.equal([422, field])
    }
  })
  it('an item keeps its own through a change of something else, and gives it up when told', async () => {
    const it = await hundred({ category: within.id, tolerance: { quantity: '1' } })
    const change = async (more: object) => {
      const now = await w.c.get<Item>(`/api/items/${it.id}`)
      return w.c.call(
        'PUT',
        `/api/items/${it.id}`,
        { code: now.code, name: now.name, unit: now.unit, category: within.id, ...more },
        { 'if-match': `"${now.revision}"` },
      )
    }
    expect((await change({ tolerance: { quantity: '1', percent: null, value: null } })).status).to.equal(200)
    await both(it, '99', '98')
    expect((await change({ tolerance: null })).status).to.equal(200)
    await both(it, '90', '89')
  })
})

describe('how right the books were (rule 29)', () => {
  let w: World
  let items: Item[]
  let shed: string
  let eve: typeof w.c
  const counted = (it: Item, typed: string, more: object = {}, place = w.lab.id) =>
    w.c.line({ item: it.id, from: place, counted: 'counted' as const, typed, ...more })
  const count = (lines: ReturnType<typeof counted>[], place = w.lab.id) => {
    w.clock.now += MINUTE
    return w.c.must({ kind: 'count', place, lines })
  }
  before(async () => {
    w = await world()
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    eve = await person(w, 'eve', 'keeper')
    items = []
    for (const name of ['Flour', 'Salt', 'Oil', 'Rope', 'Tape']) items.push(await newItem(w.c, { name }))
    for (const place of [w.lab.id, shed])
      await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Aster' },
        lines: items.slice(0, 4).map(i => w.c.line({ item: i.id, typed: '20', price: '2' })),
      })
  })
  after(() => w.stop())
  /** Counted by two: what Ines finds, what Eve does, and what Ines does at the second look, which settles it. */
  const byTwo = async (it: Item, place: string, [first, other]: readonly [string, string]) => {
    const [id, line] = [crypto.randomUUID(), w.c.line({ item: it.id, from: place, unitCost: '2' })]
    await w.c.ok('PUT', `/api/slips/${id}`, { kind: 'count', place, head: { byTwo: true }, lines: [line] })
    const enter = async (c: typeof w.c, typed: string, more: object = {}) => {
      w.clock.now += MINUTE
      const is = (await c.draft(id)).lines[0]!
      const said = { counted: 'counted' as const, typed, countedAt: new Date(w.clock.now).toISOString(), ...more }
      const { id: of, revision: seen, position } = is
      expect(
        (await c.save(id, { lines: [{ id: of, seen, position, line: { ...is.line!, ...said } }] })).status,
      ).to.equal(200)
      return said.countedAt
    }
    const at = await enter(w.c, first)
    await enter(eve, other)
    await enter(w.c, first, { again: other, countedAt: at })
    expect((await w.c.bookSeen(await w.c.draft(id))).status).to.equal(201)
  }
  const report = (more = '', c = w.c) => c.get<CountAccuracy>(`/api/look-back/counts?from=2026-11&to=2026-11${more}`)
  const said = (r: CountAccuracy | CountAccuracy['places'][number]) => [
    `${r.hits} of ${r.lines}, ${r.exact} exact: ${r.share} %`,
    `${r.missing} + ${r.over} = ${r.net}; ${r.gross}`,
  ]
  it('of nothing counted there is no per cent', async () => {
    expect(said(await report())).to.deep.equal(['0 of 0, 0 exact: null %', '0 + 0 = 0; 0'])
  })
  it('hits by the first tally, misses by what was found; net and gross; what was not counted is left out', async () => {
    const [flour, salt, oil, rope, tape] = items as [Item, Item, Item, Item, Item]
    await count([
      // As the books have it; one of twenty off, which is 5 per cent; four of them, counted twice.
      counted(flour, '20'),
      counted(salt, '19'),
      counted(oil, '16', { again: '16' }),
      // Nothing of it was there before.
      counted(tape, '3', { again: '3', unitCost: '4' }),
      w.c.line({ item: rope.id, from: w.lab.id, counted: 'not' }),
    ])
    const { id } = await count([counted(rope, '25', { again: '25' }, shed)], shed)
    const r = await report()
    expect(said(r)).to.deep.equal(['2 of 5, 1 exact: 40 %', '-10 + 22 = 12; 32'])
    expect(r.places.map(p => [p.name, ...said(p)])).to.deep.equal([
      ['Shed', '0 of 1, 0 exact: 0 %', '0 + 10 = 10; 10'],
      [w.lab.name, '2 of 4, 1 exact: 50 %', '-10 + 12 = 2; 22'],
    ])
    expect(r.items.map(i => [i.name, i.gross])).to.deep.equal([
      ['Tape', '12'],
      ['Rope', '10'],
      ['Oil', '8'],
      ['Salt', '2'],
    ])
    expect(said(await report(`&place=${shed}`))).to.deep.equal(['0 of 1, 0 exact: 0 %', '0 + 10 = 10; 10'])
    // Each is what the count itself says.
    expect(await w.c.get(`/api/counts/${id}`)).to.deep.include({ net: '10', gross: '10' })
    // Found where it had been put, the books were as wrong as before; taken back, nobody counted it.
    await w.c.ok('POST', `/api/slips/${id}/reversal`, { id: crypto.randomUUID() })
    expect(said(await report())).to.deep.equal(['2 of 4, 1 exact: 50 %', '-10 + 12 = 2; 22'])
  })
  it('the first of two counters decides, whoever is right; a wider tolerance later changes nothing of it', async () => {
    const [flour] = items as [Item]
    await byTwo(flour, shed, ['15', '20'])
    const shedNow = ['0 of 1, 0 exact: 0 %', '0 + 0 = 0; 0']
    expect(said(await report(`&place=${shed}`)), 'nothing was put right').to.deep.equal(shedNow)
    await w.c.ok('PUT', '/api/settings', { tolerancePercent: '100' })
    expect(said(await report(`&place=${shed}`))).to.deep.equal(shedNow)
    // What was written before that was kept is judged as it stands, by what holds today.
    w.app.store.client.exec('drop trigger tally_no_update; update tally set first_off = null, first_within = null')
    expect(said(await report(`&place=${shed}`))).to.deep.equal(['1 of 1, 1 exact: 100 %', '0 + 0 = 0; 0'])
    expect(said(await report())).to.deep.equal(['4 of 5, 2 exact: 80 %', '-10 + 12 = 2; 22'])
  })
  it('beside as many months before, and only to whoever sees values', async () => {
    const r = await w.c.get<CountAccuracy>('/api/look-back/counts?from=2026-12&to=2026-12')
    expect([said(r), said(r.before as never), r.before.from]).to.deep.equal([
      ['0 of 0, 0 exact: null %', '0 + 0 = 0; 0'],
      ['4 of 5, 2 exact: 80 %', '-10 + 12 = 2; 22'],
      '2026-11',
    ])
    const requester = await person(w, 'ruben', 'requester')
    const no = await requester.call('GET', '/api/look-back/counts?from=2026-11&to=2026-11')
    expect(no.status).to.equal(403)
  })
  it('what is found is a miss however much the first of two found of it', async () => {
    const cord = await newItem(w.c, { name: 'Cord', tolerance: { quantity: '10' } })
    await byTwo(cord, shed, ['5', '3'])
    const [row] = (await report(`&place=${shed}`)).items
    expect([row!.name, ...said(row as never)]).to.deep.equal(['Cord', '0 of 1, 0 exact: 0 %', '0 + 6 = 6; 6'])
  })
})
