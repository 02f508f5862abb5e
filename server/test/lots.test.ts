import { expect } from 'chai'
import type { LotPage, LotRow, LotView } from '@shelve/contract'
import { Client, newItem, person, world, type World } from './client.ts'

describe('everything about one lot', () => {
  let w: World
  let shed: string
  let lot: string
  let sal: Client
  before(async () => {
    w = await world()
    const { c, lab } = w
    shed = (await c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const serum = await newItem(c, { name: 'Serum', code: 'SER', identifiedBy: 'lot_expiry', unit: 'ml', decimals: 1 })
    const job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Plates' })).id
    const reason = (await c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
      r => r.name === 'Spilled',
    )!.id
    const tick = () => {
      w.clock.now += 60_000
    }
    await c.received(
      lab.id,
      'Aster',
      c.line({ item: serum.id, typed: '10', price: '1', lot: { code: 'A1', expiry: '2027-01-31' } }),
    )
    tick()
    const issue = await c.must({
      kind: 'issue',
      place: lab.id,
      taker: 'Wren',
      head: { job },
      lines: [c.line({ item: serum.id, typed: '4' })],
    })
    tick()
    await c.must({
      kind: 'bring_back',
      place: lab.id,
      head: { job },
      lines: [c.line({ item: serum.id, typed: '1.5', ref: issue.lines[0]!.id })],
    })
    tick()
    await c.must({ kind: 'waste', place: lab.id, head: { reason }, lines: [c.line({ item: serum.id, typed: '0.5' })] })
    tick()
    await c.must({ kind: 'move', place: lab.id, lines: [c.line({ item: serum.id, typed: '2', to: shed })] })
    tick()
    lot = (await c.get<{ rows: LotView[] }>(`/api/items/${serum.id}/lots`)).rows[0]!.id
    await c.ok('PUT', `/api/lots/${lot}/state`, { held: 'recalled', why: 'maker’s letter' })
    await c.ok('POST', '/api/people', {
      name: 'Sal',
      signIn: 'sal',
      password: 'long enough',
      role: 'observer',
      place: shed,
    })
    sal = new Client(c.base)
    await sal.ok('POST', '/api/session', { signIn: 'sal', password: 'long enough' })
  })
  after(() => w.stop())

  it('came from, lies in, went to (net of what came back): it adds up; its states with who and why; each slip', async () => {
    const p = await w.c.get<LotPage>(`/api/lots/${lot}`)
    expect([p.code, p.expiry, p.state, p.quantity]).to.deep.equal(['A1', '2027-01-31', 'recalled', '7'])
    expect([p.came, p.places.map(x => [x.name, x.quantity]), p.went.map(x => [x.name, x.quantity])]).to.deep.equal([
      [{ name: 'Aster', quantity: '10' }],
      [
        ['Wet lab', '5'],
        ['Shed', '2'],
      ],
      [
        ['Spilled', '0.5'],
        ['Plates', '2.5'],
      ],
    ])
    expect(p.states.map(s => [s.held, s.why, s.by])).to.deep.equal([['recalled', 'maker’s letter', 'Ines Corrie']])
    expect(p.movements.map(m => [m.slip.number, m.from, m.to, m.quantity, m.taker])).to.deep.equal([
      ['MV-0001', 'Wet lab', 'Shed', '2', ''],
      ['WA-0001', 'Wet lab', 'Spilled', '0.5', ''],
      ['BB-0001', 'Plates', 'Wet lab', '1.5', ''],
      ['IS-0001', 'Wet lab', 'Plates', '4', 'Wren'],
      ['RC-0001', 'Aster', 'Wet lab', '10', ''],
    ])
    const csv = await w.c.call('GET', `/api/lots/${lot}`, undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n').length).to.equal(7)
  })
  it('who looks into the shed alone sees what passed there; a lot that never was there is not found', async () => {
    const p = await sal.get<LotPage>(`/api/lots/${lot}`)
    expect([p.places.map(x => x.name), p.went, p.movements.map(m => m.slip.number), p.quantity]).to.deep.equal([
      ['Shed'],
      [],
      ['MV-0001'],
      '2',
    ])
    const other = await newItem(w.c, { name: 'Acid', identifiedBy: 'lot' })
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: other.id, typed: '1', price: '1', lot: { code: 'Z' } }))
    const [mine] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${other.id}/lots`)).rows
    expect((await sal.call('GET', `/api/lots/${mine!.id}`)).status).to.equal(404)
  })

  it('adds up all that ever moved of it, tells the latest, and how many are before them; the file has every one', async () => {
    const { c, lab } = w
    const PARTS = 130
    const glue = await newItem(c, { name: 'Glue', code: 'GLU', identifiedBy: 'lot' })
    const [press, mill] = await Promise.all(
      ['Press', 'Mill'].map(name => c.ok<{ id: string }>('POST', '/api/jobs', { code: name, name })),
    )
    await c.received(lab.id, 'Aster', c.line({ item: glue.id, typed: '500', price: '1', lot: { code: 'G' } }))
    const out = (job: { id: string } | undefined, many: number) =>
      c.must({
        kind: 'issue',
        place: lab.id,
        head: { job: job!.id },
        lines: Array.from({ length: many }, () => c.line({ item: glue.id, typed: '2' })),
      })
    await out(press, 1)
    await out(mill, PARTS - 1)
    const { id } = (await c.get<{ rows: LotView[] }>(`/api/items/${glue.id}/lots`)).rows[0]!
    const p = await c.get<LotPage>(`/api/lots/${id}`)
    expect([p.came, p.went.map(x => [x.name, x.quantity]).sort()]).to.deep.equal([
      [{ name: 'Aster', quantity: '500' }],
      [
        ['Mill', '258'],
        ['Press', '2'],
      ],
    ])
    expect([p.movements.length, p.earlier, p.movements.every(m => m.to === 'Mill')]).to.deep.equal([100, 31, true])
    const csv = await c.call('GET', `/api/lots/${id}`, undefined, { accept: 'text/csv' })
    const told = csv.text.trim().split('\r\n').slice(1)
    expect([told.length, new Set(told).size <= PARTS + 1, told.at(-1)!.includes('Aster')]).to.deep.equal([
      131,
      true,
      true,
    ])
    expect(told.filter(t => t.includes(',Mill,')).length).to.equal(PARTS - 1)
  })

  it('is there since it came, whenever that is written: what came first goes first', async () => {
    const { c, lab } = w
    const salt = await newItem(c, { name: 'Salt', identifiedBy: 'lot' })
    const came = (code: string, daysAgo: number) => ({
      kind: 'receipt' as const,
      place: lab.id,
      effectiveAt: new Date(w.clock.now - daysAgo * 86_400_000).toISOString(),
      head: { supplier: 'Aster' },
      lines: [c.line({ item: salt.id, typed: '5', price: '1', lot: { code } })],
    })
    await c.must(came('second', 1))
    await c.must(came('first', 3))
    // Another of it was put in the place of a line that had another name: it came when that did.
    const wrong = await c.must(came('mistyped', 2))
    const said = c.line({ item: salt.id, typed: '5', price: '1', lot: { code: 'between' } })
    await c.must({
      kind: 'correction',
      place: lab.id,
      head: { corrects: wrong.id, supplier: 'Aster' },
      lines: [{ ...said, ref: wrong.lines[0]!.id, act: 'replace' }],
    })
    const { rows } = await c.get<{ rows: LotView[] }>(`/api/items/${salt.id}/lots`)
    const since = await Promise.all(
      rows
        .filter(l => l.code !== 'mistyped')
        .map(async l => (await c.get<LotPage>(`/api/lots/${l.id}`)).received.slice(0, 10)),
    )
    expect(since.sort()).to.deep.equal(['2026-11-22', '2026-11-23', '2026-11-24'])
    const effect = await c.effect({
      kind: 'waste',
      place: lab.id,
      head: { reason: (await c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows[0]!.id },
      lines: [c.line({ item: salt.id, typed: '12' })],
    })
    expect(effect.lines[0]!.lots.map(l => [l.code, l.quantity])).to.deep.equal([
      ['first', '5'],
      ['between', '5'],
      ['second', '2'],
    ])
  })
})

describe('all lots as one list', () => {
  let w: World
  before(async () => {
    w = await world()
    const { c, lab } = w
    const shed = (await c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const serum = await newItem(c, { name: 'Serum', code: 'SER', identifiedBy: 'lot_expiry', unit: 'ml', decimals: 1 })
    const agar = await newItem(c, { name: 'Agar', code: 'AGR', identifiedBy: 'lot_expiry' })
    const plain = await newItem(c, { name: 'Gloves', code: 'GLV' })
    const line = (item: { id: string }, typed: string, code = '', expiry: string | null = null, to = lab.id) =>
      c.line({ item: item.id, typed, price: '2', to, ...(code ? { lot: { code, expiry } } : {}) })
    await c.must({
      kind: 'receipt',
      place: lab.id,
      head: { supplier: 'Aster' },
      lines: [
        line(serum, '10', 'S-1', '2027-01-31'),
        line(serum, '4', 'S-1', '2027-01-31', shed),
        line(agar, '6', 'A-7', '2026-11-24', shed),
        line(agar, '5', 'A-8', '2026-12-24'),
        line(agar, '1', 'A-9', '2026-12-01'),
        line(plain, '3'),
      ],
    })
    // Of one nothing is left; one is held.
    const { rows } = await c.get<{ rows: LotView[] }>(`/api/items/${agar.id}/lots`)
    const of = (code: string) => rows.find(l => l.code === code)!.id
    const reason = (await c.ok<{ id: string }>('POST', '/api/waste-reasons', { name: 'Dry' })).id
    await c.must({
      kind: 'waste',
      place: lab.id,
      head: { reason },
      lines: [c.line({ item: agar.id, typed: '1', lot: { id: of('A-9'), code: 'A-9', expiry: null } })],
    })
    await c.ok('PUT', `/api/lots/${of('A-8')}/state`, { held: 'held', why: 'the lid is open' })
  })
  after(() => w.stop())
  const lots = async (q = '') =>
    (await w.c.get<{ rows: LotRow[] }>(`/api/lots?${q}`)).rows.map(l =>
      [l.code, l.state, l.quantity, l.value, l.places.map(p => `${p.name} ${p.quantity}`).join(', ')].join(' | '),
    )

  it('each of which something lies, the first to run out first; by state, item, number and place', async () => {
    const a7 = 'A-7 | expired | 6 | 12 | Shed 6'
    const a8 = 'A-8 | held | 5 | 10 | Wet lab 5'
    const s1 = 'S-1 | usable | 14 | 28 | Wet lab 10, Shed 4'
    expect(await lots()).to.deep.equal([a7, a8, s1])
    expect(await lots('state=held')).to.deep.equal([a8])
    expect(await lots('q=agar')).to.deep.equal([a7, a8])
    expect(await lots('q=s-1')).to.deep.equal([s1])
    expect(await lots('sort=code')).to.deep.equal([a7, a8, s1])
    expect(await lots(`place=${w.lab.id}&sort=item`)).to.deep.equal([a8, 'S-1 | usable | 10 | 20 | Wet lab 10'])
    const page = await w.c.get<{ rows: LotRow[]; next: string; total: number }>('/api/lots?limit=2')
    expect([page.rows.length, page.total]).to.deep.equal([2, 3])
    expect(await lots(`limit=2&cursor=${page.next}`)).to.deep.equal([s1])
    const csv = await w.c.call('GET', '/api/lots', undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n')[1]).to.equal('AGR,Agar,A-7,2026-11-24,expired,6,each,6 in Shed,,,12')
  })

  it('whoever keeps one place sees the lots there, and of them what lies there', async () => {
    const mirja = await person(w, 'Mirja', 'requester', w.lab.id)
    const { rows } = await mirja.get<{ rows: LotRow[] }>('/api/lots')
    expect(rows.map(l => [l.code, l.quantity, l.value])).to.deep.equal([
      ['A-8', '5', undefined],
      ['S-1', '10', undefined],
    ])
  })
})
