// Jobs: what they need, whether it can be met, what is kept for them, and what of it is demand everywhere (rules 12, 61, 62, 64, 65).
import { expect } from 'chai'
import { v7 } from 'uuid'
import type {
  Item,
  JobRow,
  JobSaved,
  JobStated,
  Found,
  ItemNeed,
  Today,
  WorkingView,
  JobsTaken,
  JobView,
  LotView,
  NewJobInput,
  Place,
  Proposal,
  SlipContentInput,
  SlipView,
  StockRow,
  TemplateNeeds,
} from '@shelve/contract'
import { type Client, newItem, person, world, type World } from './client.ts'
import { kitchen } from './kitchen.ts'

describe('jobs', () => {
  let w: World
  let k: Awaited<ReturnType<typeof kitchen>>
  let shed: Place
  before(async () => {
    w = await world()
    k = await kitchen(w)
    await k.makeAll()
    shed = await w.c.ok<Place>('POST', '/api/places', { name: 'Boat shed', kind: 'area', parent: w.lab.parent })
  })
  after(() => w.stop())

  const plan = async (more: Partial<NewJobInput>, c: Client = w.c) =>
    (await c.ok<{ id: string }>('POST', '/api/jobs', { place: w.lab.id, ...more })).id
  const job = (id: string, c: Client = w.c) => c.get<JobView>(`/api/jobs/${id}`)
  const save = (id: string, changes: object, revision?: number, c: Client = w.c) =>
    c.call<JobSaved>('PATCH', `/api/jobs/${id}`, changes, revision ? { 'if-match': String(revision) } : {})
  const state = (id: string, to: string) => w.c.call<JobView>('POST', `/api/jobs/${id}/state`, { state: to })
  const reserve = (id: string, what: object = {}, c: Client = w.c) =>
    c.call<JobView>('POST', `/api/jobs/${id}/reservations`, what)
  const rows = async (c: Client = w.c) => (await c.get<{ rows: JobRow[] }>('/api/jobs/planned')).rows
  const levels = async (name: string) => {
    const { rows } = await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${w.lab.id}&q=${k.items[name]!.code}`)
    return rows.find(r => r.item === k.items[name]!.id)!
  }
  const of = (j: JobView, name: string) => j.lines.find(l => l.named.name === name)!
  const told = (j: JobView) =>
    Object.fromEntries(j.lines.map(l => [l.named.name, [l.need, l.whence, l.here, l.coming, l.missing]]))
  const issue = (to: string, name: string, typed: string, more = {}) =>
    w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job: to },
      lines: [w.c.line({ item: k.items[name]!.id, typed, ...more })],
    })
  let dinner = ''

  it('a dinner for 26 takes what its recipe says, and what must be made for it is planned beneath, as deep as it goes', async () => {
    for (const [name, typed] of [
      ['sauce', '1.2'],
      ['stock', '3'],
    ] as const)
      await w.c.received(w.lab.id, 'Quillfern', w.c.line({ item: k.items[name]!.id, typed, price: '2' }))
    dinner = await plan({ template: k.ids['DIN']!, typed: '26', day: '2026-11-27', time: '18:30' })
    const j = await job(dinner)
    expect([j.head.code, j.head.name, j.state, j.wanted, j.wantedUnit, j.makes?.name]).to.deep.equal([
      'J-0001',
      'How DIN is made',
      'planned',
      '26',
      'portion',
      'dinner',
    ])
    // reference/jobs.txt: dinner for 26, 1.2 of sauce and 3 of stock there.
    expect(told(j)).to.deep.equal({
      fish: ['5.318', 'here', '5.318', '0', '0'],
      sauce: ['2.44', 'made', '1.2', '1.24', '0'],
      lemon: ['11', 'here', '11', '0', '0'],
      'foil tray': ['7', 'here', '7', '0', '0'],
    })
    expect([of(j, 'lemon').exact, of(j, 'fish').first?.place]).to.deep.equal(['10.4', 'Wet lab'])
    const [part] = j.parts
    const sauce = await job(part!.id)
    expect([sauce.head.code, sauce.wanted, sauce.wantedUnit, sauce.parent?.code, sauce.parts]).to.deep.equal([
      'J-0002',
      '1.5',
      'L',
      'J-0001',
      [],
    ])
    expect(told(sauce)).to.deep.equal({
      stock: ['1.184', 'here', '1.184', '0', '0'],
      butter: ['0.217', 'here', '0.217', '0', '0'],
      flour: ['0.158', 'here', '0.158', '0', '0'],
    })
    // 5.318 fish at 14, 11 lemons, 7 trays, 1.2 L of sauce at 2, and 1.24 of the 1.5 L whose stock is at 2.
    const made = 1.184 * 2 + 0.217 * 7.4 + 0.158 * 0.85
    const cost = 5.318 * 14 + 11 * 0.35 + 7 * 0.22 + 1.2 * 2 + (made * 1.24) / 1.5
    expect(Number(j.cost)).to.be.closeTo(cost, 0.00001)
    expect(Number(j.one)).to.be.closeTo(cost / 26, 0.000001)
    const same = await w.c.get<TemplateNeeds>(`/api/templates/${k.ids['DIN']}/needs?wanted=26&place=${w.lab.id}`)
    expect([j.could, j.short.map(s => s.item.name)], 'as its template says').to.deep.equal([
      same.could,
      same.short.map(s => s.item.name),
    ])
  })

  it('the number it is for is typed into it, and all beneath follows; a part says that it follows', async () => {
    const j = await job(dinner)
    const r = await save(dinner, { head: { ...j.head, typed: '10' } }, j.revision)
    expect([r.status, r.body.job.wanted, of(r.body.job, 'fish').need]).to.deep.equal([200, '10', '2.045'])
    expect(
      [of(r.body.job, 'sauce').need, of(r.body.job, 'sauce').whence, r.body.job.parts],
      'enough is there',
    ).to.deep.equal(['1', 'here', []])
    const part = (await rows()).find(x => x.code === 'J-0002')
    expect(part, 'what nobody began is planned no more').to.equal(undefined)
    const again = await save(dinner, { head: { ...j.head, typed: '26' } }, r.body.revision)
    expect(again.body.job.parts.map(p => [p.code, p.state])).to.deep.equal([['J-0002', 'planned']])
    const sauce = await job(again.body.job.parts[0]!.id)
    const no = await save(sauce.id, { head: { ...sauce.head, typed: '9' } }, sauce.revision)
    expect([no.status, no.body.code]).to.deep.equal([409, 'follows_its_job'])
    const wrong = await save(dinner, { head: { ...j.head, typed: 'many' } }, again.body.revision)
    expect([wrong.status, wrong.body.code, wrong.body.fields[0]!.field]).to.deep.equal([
      422,
      'quantity_unread',
      'typed',
    ])
    expect((await job(dinner)).wanted, 'nothing half done').to.equal('26')
  })

  it('what it needs is demand everywhere: available, how long it lasts, what is due, the proposals and why', async () => {
    const lemon = await levels('lemon')
    expect([lemon.levels.available, lemon.levels.due, lemon.levels.days]).to.deep.equal(['18', false, null])
    const more = await plan({ template: k.ids['DIN']!, typed: '20', day: '2026-11-28', name: 'Dinner on Saturday' })
    const after = await levels('lemon')
    expect(
      [after.levels.available, after.levels.due, after.levels.bring, after.levels.days],
      '11 on the 27th and 8 on the 28th are one more than there are',
    ).to.deep.equal(['18', true, '1', 2])
    expect(told(await job(more))['lemon']).to.deep.equal(['8', 'missing', '7', '0', '1'])
    const { proposals } = await w.c.get<{ proposals: Proposal[] }>(`/api/restock?place=${w.lab.id}`)
    const line = proposals.flatMap(p => p.lines).find(l => l.item === k.items['lemon']!.id)!
    expect([line.typed, line.why]).to.deep.equal(['1', 'J-0003 needs 1 more by 28 Nov 2026; lasts 2 days'])
    // 2.44 of which 1.2 are there: 1.5 are made. Of these 0.26 are left for the 1.9 of Saturday: 2 are made then.
    expect((await levels('sauce')).levels.coming, 'what is made for it is on its way').to.equal('3.5')
    expect((await state(more, 'dropped')).status).to.equal(201)
    expect((await levels('lemon')).levels.due, 'what is dropped needs nothing').to.equal(false)
    await w.c.ok('PUT', '/api/settings', { ...w.me.settings, aheadDays: 2 })
    const far = await plan({ template: k.ids['DIN']!, typed: '20', day: '2026-11-28', name: 'Later' })
    expect((await levels('lemon')).levels.due, 'nearer than that it calls for nothing yet').to.equal(false)
    await w.c.ok('PUT', '/api/settings', w.me.settings)
    expect((await levels('lemon')).levels.due).to.equal(true)
    await state(far, 'dropped')
  })

  it('what is set aside is kept from others, used first by its own issue, and free again when the job is over', async () => {
    const first = await plan({ name: 'Tart', lines: [{ id: v7(), item: k.items['lemon']!.id, typed: '10' }] })
    const kept = await reserve(first)
    expect([kept.status, of(kept.body, 'lemon').held, of(kept.body, 'lemon').wished]).to.deep.equal([201, '10', '10'])
    const lemon = await levels('lemon')
    expect([lemon.levels.reserved, lemon.levels.available]).to.deep.equal(['10', '8'])
    expect(told(await job(dinner))['lemon'], 'the dinner has what is left').to.deep.equal([
      '11',
      'missing',
      '8',
      '0',
      '3',
    ])
    expect((await reserve(dinner)).status).to.equal(201)
    expect([(await levels('lemon')).levels.available, of(await job(dinner), 'lemon').held]).to.deep.equal(['0', '8'])
    const lines = (await job(first)).lines
    expect([
      (await reserve(first, { need: lines[0]!.id, typed: '1' })).body.lines?.[0]?.held,
      (await reserve(dinner, { need: of(await job(dinner), 'lemon').id })).body.code,
      (await reserve(dinner, { need: of(await job(dinner), 'lemon').id, typed: '4' })).body.code,
      (await reserve(dinner, { typed: '4' })).body.code,
    ]).to.deep.equal(['10', 'not_free', 'more_than_needed', 'need_wanted'])
    const slip = await issue(first, 'lemon', '4')
    const after = of(await job(first), 'lemon')
    expect([after.used, after.left, after.held, (await levels('lemon')).levels.available]).to.deep.equal([
      '4',
      '6',
      '6',
      '0',
    ])
    await w.c.must({
      kind: 'correction',
      head: { corrects: slip.id, why: 'it was for nobody' },
      lines: [w.c.line({ ref: slip.lines[0]!.id, act: 'take_back' })],
    })
    expect([of(await job(first), 'lemon').used, of(await job(first), 'lemon').held]).to.deep.equal(['0', '10'])
    expect((await state(first, 'done')).body.lines[0]!.left).to.equal('0')
    expect((await levels('lemon')).levels.reserved, 'what is over keeps nothing').to.equal('8')
    expect((await reserve(first)).body.code).to.equal('job_over')
    await reserve(dinner)
    const again = await w.c.ok<JobStated>('POST', `/api/jobs/${first}/state`, { state: 'planned' })
    expect(
      [of(again, 'lemon').held, again.lost.map(l => [l.item.name, l.quantity])],
      'opened again it has what is still free, and says what is not',
    ).to.deep.equal(['7', [['lemon', '3']]])
    expect(of(await job(dinner), 'lemon').held, 'and takes nothing from the others').to.equal('11')
    await state(first, 'dropped')
    expect((await w.c.ok<JobView>('POST', `/api/jobs/${dinner}/freeing`, {})).lines.map(l => l.held)).to.deep.equal([
      '0',
      '0',
      '0',
      '0',
    ])
  })

  it('what is set aside for a job is taken for another only by whoever says so, of a lot of its own not before the others', async () => {
    const paint = await newItem(w.c, { name: 'Paint', code: 'PNT', unit: 'L', decimals: 1, identifiedBy: 'lot_expiry' })
    const receive = (code: string, expiry: string, typed: string) =>
      w.c.received(
        w.lab.id,
        'Quillfern',
        w.c.line({ item: paint.id, typed, price: '1', lot: { id: null, code, expiry } }),
      )
    await receive('P1', '2026-12-31', '4')
    await receive('P2', '2027-06-30', '6')
    const hull = await plan({ name: 'Hull', lines: [{ id: v7(), item: paint.id, typed: '4' }] })
    const need = async () => (await job(hull)).lines[0]!
    const { rows: lots } = await w.c.get<{ rows: LotView[] }>(`/api/items/${paint.id}/lots`)
    const p1 = lots.find(l => l.code === 'P1')!
    const asked = { need: (await need()).id, lot: p1.id, typed: '3' }
    expect((await reserve(hull, { ...asked, lot: v7() })).status).to.equal(422)
    expect((await reserve(hull, { ...asked, typed: '4.5' })).body.code).to.equal('more_than_needed')
    expect(
      (await reserve(hull, asked)).body.lines.map(l => [l.held, l.keeps.map(x => [x.lot, x.quantity])]),
    ).to.deep.equal([['3', [['P1', '3']]]])
    const slip = (typed: string, more = {}, kind: 'issue' | 'waste' = 'issue'): SlipContentInput => ({
      kind,
      place: w.lab.id,
      head: kind === 'issue' ? { job: dinner } : { reason },
      lines: [w.c.line({ item: paint.id, typed, ...more })],
    })
    const reason = (await w.c.ok<{ id: string }>('POST', '/api/waste-reasons', { name: 'Spilt' })).id
    const lotsOf = async (c: SlipContentInput) => (await w.c.effect(c)).lines[0]!.lots.map(l => [l.code, l.quantity])
    expect(await lotsOf(slip('6.5')), 'P1 would go first, but 3 of it are wished for by its lot').to.deep.equal([
      ['P2', '6'],
      ['P1', '0.5'],
    ])
    expect((await w.c.effect(slip('7'))).ok).to.equal(true)
    for (const kind of ['issue', 'waste'] as const) {
      const { refusals } = await w.c.effect(slip('7.1', {}, kind))
      expect(refusals.map(r => [r.code, r.message])).to.deep.equal([
        [
          'takes_reserved',
          `0.1 L of this is set aside for Hull (${(await job(hull)).head.code}). Take less, or take it all the same: that job lacks it then.`,
        ],
      ])
      expect((await w.c.book(slip('7.1', {}, kind))).body.code, 'nor without having looked').to.equal('takes_reserved')
    }
    const known = slip('7.1', { accepts: [(await job(hull)).head.code] })
    const seen = await w.c.effect(known)
    expect(seen.ok).to.equal(true)
    const own = { ...slip('1'), head: { job: hull } }
    expect(await lotsOf(own), 'its own goes first, and nobody is asked').to.deep.equal([['P1', '1']])
    await w.c.must(own)
    expect([(await need()).held, (await need()).used]).to.deep.equal(['2', '1'])
    const moved = await w.c.book(known, v7(), seen.fingerprint)
    expect(moved.status, 'it takes no more of it than was seen').to.equal(409)
    await w.c.must(slip('6.9', { accepts: [(await job(hull)).head.code] }))
    expect([(await need()).held, (await need()).wished, (await need()).whence], 'the job lacks it').to.deep.equal([
      '2',
      '2',
      'missing',
    ])
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      lines: [
        w.c.line({
          item: paint.id,
          typed: '1',
          again: '1',
          counted: 'counted',
          lot: { id: p1.id, code: 'P1', expiry: null },
        }),
      ],
    })
    expect([(await need()).held, (await need()).wished], 'a count asks nobody').to.deep.equal(['1', '2'])
    await state(hull, 'dropped')
  })

  it('a replaced line, and what is brought back, count for the need; what is taken for another job does not', async () => {
    const a = await plan({ name: 'Soup', lines: [{ id: v7(), item: k.items['onion']!.id, typed: '1 kg' }] })
    const b = await plan({ name: 'Bread', lines: [{ id: v7(), item: k.items['onion']!.id, typed: '500 g' }] })
    const used = async () => [(await job(a)).lines[0]!.used, (await job(b)).lines[0]!.used]
    const fix = (slip: SlipView, more: object, head = {}) =>
      w.c.must({
        kind: 'correction',
        head: { corrects: slip.id, why: 'misread', job: a, ...head },
        lines: [
          w.c.line({ ref: slip.lines[0]!.id, act: 'replace', item: k.items['onion']!.id, from: w.lab.id, ...more }),
        ],
      })
    const one = await issue(a, 'onion', '0.6')
    const other = await issue(a, 'onion', '0.4')
    expect(await used()).to.deep.equal(['1', '0'])
    await fix(one, { typed: '0.1' })
    expect(await used()).to.deep.equal(['0.5', '0'])
    await fix(other, { typed: '0.4' }, { job: b })
    expect(await used(), 'it was for the other one').to.deep.equal(['0.1', '0.4'])
    await w.c.must({
      kind: 'bring_back',
      place: w.lab.id,
      head: { job: b },
      lines: [w.c.line({ item: k.items['onion']!.id, typed: '100 g' })],
    })
    expect(await used()).to.deep.equal(['0.1', '0.3'])
    await w.c.received(
      w.lab.id,
      'Quillfern',
      w.c.line({ item: k.items['onion']!.id, typed: '0.1', price: '1', direct: { job: b, costCentre: null } }),
    )
    expect(await used(), 'also what went straight to it').to.deep.equal(['0.1', '0.4'])
    const off = (await job(b)).lines[0]!
    const no = await save(b, { lines: [{ id: off.id, seen: off.revision, position: off.position, line: null }] })
    expect([no.status, no.body.code]).to.deep.equal([409, 'taken_for_it'])
    await state(a, 'dropped')
    await state(b, 'done')
  })

  it('two write on one job: lines merge, the same line is told with both versions, and an item stands once', async () => {
    const id = await plan({ name: 'Stew' })
    const [one, two] = [v7(), v7()]
    const line = (name: string, typed: string) => ({ item: k.items[name]!.id, typed })
    const first = await save(id, { lines: [{ id: one, seen: 0, position: 1, line: line('carrot', '1') }] })
    expect([first.status, first.body.job.lines[0]!.need]).to.deep.equal([200, '1'])
    const twin = await save(id, { lines: [{ id: two, seen: 0, position: 2, line: line('carrot', '2') }] })
    expect(twin.body.stale.lines, 'put on by somebody else already, otherwise').to.deep.include.members([])
    expect(twin.body.stale.lines.map(l => [l.id, l.was, l.theirs?.typed, l.yours?.typed])).to.deep.equal([
      [one, two, '1', '2'],
    ])
    const onion = await save(id, { lines: [{ id: two, seen: 0, position: 2, line: line('onion', 'lots') }] })
    expect(onion.body.job.lines.map(l => [l.named.name, l.need, l.unread === null])).to.deep.equal([
      ['carrot', '1', true],
      ['onion', '0', false],
    ])
    const head = (await job(id)).head
    expect((await save(id, { head: { ...head, note: 'with bones' } }, 99)).body.stale.head?.theirs.note).to.equal('')
    const charge = await w.c.ok<Item>('POST', '/api/items', {
      code: 'FRE',
      name: 'Freight',
      unit: 'each',
      kept: 'charge',
    })
    const no = await save(id, { lines: [{ id: v7(), seen: 0, position: 3, line: { item: charge.id, typed: '1' } }] })
    expect([no.status, no.body.code, no.body.fields[0]!.field]).to.deep.equal([422, 'not_stocked', 'item'])
    const other = await plan({ name: 'Pie' })
    const foreign = await save(other, { lines: [{ id: one, seen: 0, position: 1, line: line('butter', '1') }] })
    expect([foreign.status, foreign.body.code]).to.deep.equal([409, 'line_of_another_job'])
    const copy = await job(await plan({ like: id, name: 'Stew again' }))
    expect(copy.lines.map(l => [l.named.name, l.typed])).to.deep.equal([
      ['carrot', '1'],
      ['onion', 'lots'],
    ])
    for (const x of [id, other, copy.id]) await state(x, 'dropped')
  })

  it('a running job keeps the version it began with', async () => {
    const id = await plan({ template: k.ids['STK']!, typed: '5' })
    const { content, version } = await w.c.get<{
      content: { lines: { item: string; typed: string }[] }
      version: number
    }>(`/api/templates/${k.ids['STK']}`)
    const lines = content.lines.map(l => (l.item === k.items['onion']!.id ? { ...l, typed: '6' } : l))
    await w.c.ok('PUT', `/api/templates/${k.ids['STK']}`, { ...content, lines }, { 'if-match': String(version) })
    const j = await job(id)
    expect([of(j, 'onion').need, j.template!.version, j.template!.last]).to.deep.equal(['0.741', 1, 2])
    expect(of(await job(await plan({ template: k.ids['STK']!, typed: '5' })), 'onion').need).to.equal('7.407')
    for (const x of await rows()) if (x.name === 'How STK is made') await state(x.id, 'dropped')
  })

  it('what a job still needs is handed out in one slip, from where it is kept', async () => {
    const id = await plan({ name: 'Fry', lines: [{ id: v7(), item: k.items['fish']!.id, typed: '20' }] })
    const draft = v7()
    await w.c.ok('POST', `/api/jobs/${id}/issue`, { id: draft })
    const d = await w.c.draft(draft)
    expect(
      [d.kind, d.head.head.job, d.lines.map(l => l.line!.typed)],
      'without a day it is as good as today',
    ).to.deep.equal(['issue', id, ['9.5']])
    expect((await w.c.bookSeen(d)).status).to.equal(201)
    expect([of(await job(id), 'fish').used, of(await job(id), 'fish').left]).to.deep.equal(['9.5', '10.5'])
    expect((await w.c.call('POST', `/api/jobs/${id}/issue`, { id: v7() })).body.code).to.equal('nothing_here')
    await state(id, 'done')
  })

  it('what is kept elsewhere or of one lot is handed out from there, each as a line of its own', async () => {
    const rope = await newItem(w.c, { name: 'Twine', code: 'TWI', unit: 'm', decimals: 1, identifiedBy: 'lot' })
    const receive = (place: string, code: string, typed: string) =>
      w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Quillfern' },
        lines: [w.c.line({ item: rope.id, typed, price: '1', lot: { id: null, code, expiry: null } })],
      })
    await receive(w.lab.id, 'T1', '5')
    await receive(w.lab.id, 'T2', '5')
    await receive(shed.id, 'T3', '4')
    const id = await plan({ name: 'Nets', lines: [{ id: v7(), item: rope.id, typed: '9.5' }] })
    const need = (await job(id)).lines[0]!.id
    const { rows: lots } = await w.c.get<{ rows: LotView[] }>(`/api/items/${rope.id}/lots`)
    await reserve(id, { need, lot: lots.find(l => l.code === 'T2')!.id, typed: '3' })
    await reserve(id, { need, place: shed.id, typed: '2.5' })
    const line = (await job(id)).lines[0]!
    expect(line.keeps.map(x => [x.placeName, x.lot, x.quantity])).to.deep.equal([
      ['Wet lab', 'T2', '3'],
      ['Boat shed', null, '2.5'],
    ])
    expect([line.held, line.here, line.whence]).to.deep.equal(['5.5', '4', 'here'])
    const draft = v7()
    await w.c.ok('POST', `/api/jobs/${id}/issue`, { id: draft })
    const d = await w.c.draft(draft)
    expect(
      d.lines.map(l => [l.line!.typed, l.line!.lot?.code ?? null, l.line!.from]),
      '4 of any lot',
    ).to.deep.equal([
      ['3', 'T2', null],
      ['2.5', null, shed.id],
      ['4', null, null],
    ])
    expect((await w.c.bookSeen(d)).status).to.equal(201)
    expect([(await job(id)).lines[0]!.used, (await job(id)).lines[0]!.held]).to.deep.equal(['9.5', '0'])
    await state(id, 'done')
    const held = await w.c.ok<Place>('POST', '/api/places', { name: 'Returns', kind: 'held', parent: w.lab.id })
    const no = await w.c.call('POST', '/api/jobs', { name: 'X', place: held.id })
    expect([no.status, no.body.code]).to.deep.equal([422, 'no_shelf'])
  })

  it('wait on Today, are found by word, number and reference, and are told where an item is', async () => {
    const today = async () => (await w.c.get<Today>(`/api/today?place=${w.lab.id}`)).waiting
    const waits = async (name: string) => (await today()).find(x => x.kind === 'job' && x.job?.name === name)
    const hull = await plan({
      name: 'Hull and keel',
      reference: 'WO/77',
      day: '2026-11-28',
      lines: [{ id: v7(), item: k.items['flour']!.id, typed: '0.5' }],
    })
    expect(await waits('Hull and keel'), 'three days ahead, and all is there').to.equal(undefined)
    const at = async (day: string) => {
      const j = await job(hull)
      await save(hull, { head: { ...j.head, day } }, j.revision)
    }
    await at('2026-11-27')
    expect(await waits('Hull and keel')).to.deep.include({ day: '2026-11-27', n: 0, named: [] })
    await reserve(hull)
    await issue(hull, 'flour', '0.1')
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      lines: [w.c.line({ item: k.items['flour']!.id, typed: '0.3', again: '0.3', counted: 'counted', from: w.lab.id })],
    })
    const fallen = (await today()).find(x => x.kind === 'unkept')
    expect([fallen?.n, fallen?.named.map(x => [x.name, x.quantity])], '0.4 were kept, 0.3 are there').to.deep.equal([
      1,
      [['flour', '0.1']],
    ])
    const lacks = await waits('Hull and keel')
    expect([lacks?.n, lacks?.named.map(x => [x.name, x.quantity])]).to.deep.equal([1, [['flour', '0.1']]])
    await at('2026-12-09')
    expect((await waits('Hull and keel'))?.n, 'in want of something it waits as far ahead as one restocks').to.equal(1)
    await at('2026-12-10')
    expect(await waits('Hull and keel')).to.equal(undefined)
    for (const q of ['and keel', 'wo/7', (await job(hull)).head.code])
      expect(
        (await w.c.get<{ rows: Found[] }>(`/api/search?q=${q}`)).rows.find(r => r.kind === 'plan')?.id,
        q,
      ).to.equal(hull)
    const needs = await w.c.get<{ rows: ItemNeed[] }>(`/api/items/${k.items['flour']!.id}/needs`)
    expect(needs.rows.find(r => r.job.id === hull)).to.deep.include({ left: '0.4', held: '0.3', whence: 'missing' })
    const working = await w.c.get<WorkingView>(`/api/workings/available?item=${k.items['flour']!.id}&place=${w.lab.id}`)
    expect(working.lines.find(l => l.label === 'reserved')).to.deep.include({
      amount: '-0.3',
      note: `for ${(await job(hull)).head.code}, in Wet lab`,
    })
    await state(hull, 'dropped')
    expect((await today()).filter(x => x.kind === 'unkept' || x.job?.id === hull)).to.deep.equal([])
  })

  it('of what was made and is done with, more is planned as another part; whatever the part lacks, the dinner lacks', async () => {
    const id = await plan({ template: k.ids['SCE']!, typed: '40', day: '2026-12-20' })
    const first = (await job(id)).parts[0]!
    expect([
      of(await job(id), 'stock').whence,
      (await job(first.id)).lines.map(l => l.whence).includes('missing'),
    ]).to.deep.equal(['missing', true])
    await state(first.id, 'done')
    const j = await job(id)
    await save(id, { head: { ...j.head, note: 'again' } }, j.revision)
    expect((await job(id)).parts.map(p => [p.id === first.id, p.state])).to.deep.equal([
      [true, 'done'],
      [false, 'planned'],
    ])
    await state(id, 'dropped')
    expect(
      (await rows()).filter(r => r.parent?.id === id),
      'nothing is made for it any more',
    ).to.deep.equal([])
  })

  it('come in from another system by their own reference, again and again without doubling, all or nothing', async () => {
    const bring = (text: string, more: object = {}) =>
      w.c.call<JobsTaken>('POST', '/api/jobs/brought', { text, place: w.lab.id, ...more })
    const file = [
      'Reference;Name;Template;For how much;Day;Item;Quantity',
      'WO-1;Pump;;;2026-12-01;LEMON;2',
      'WO-1;Pump;;;2026-12-01;butter;100 g',
      'WO-2;;STK;10 L;2026-12-02;;',
    ].join('\r\n')
    const first = await bring(file)
    expect([first.status, first.body.rows.map(r => [r.reference, r.name, r.came])]).to.deep.equal([
      201,
      [
        ['WO-1', 'Pump', 'new'],
        ['WO-2', 'How STK is made', 'new'],
      ],
    ])
    expect((await bring(file)).body.rows.map(r => r.came)).to.deep.equal(['same', 'same'])
    const [pump, stock] = first.body.rows
    expect((await job(pump!.id)).lines.map(l => [l.named.name, l.need])).to.deep.equal([
      ['lemon', '2'],
      ['butter', '0.1'],
    ])
    expect((await job(stock!.id)).wanted).to.equal('10')
    const changed = await bring(file.replace('LEMON;2', 'LEMON;3').replaceAll('2026-12-01', '2026-12-05'))
    expect(changed.body.rows.map(r => r.came)).to.deep.equal(['changed', 'same'])
    expect([(await job(pump!.id)).head.day, of(await job(pump!.id), 'lemon').need]).to.deep.equal(['2026-12-05', '3'])
    // As spreadsheets write it: other delimiters, the others within words; the organisation's days; hours without a nought.
    for (const [by, ...sheet] of [
      [';', 'reference;note;day;time', 'WO-1;oil, grease; rags;5.12.2026;8:30'],
      [';', '\ufeffReference;Note;Day;Time', 'WO-1;"oil, grease; rags";05/12/2026;08:30:00'],
      [',', 'reference,note,day,time', 'WO-1,"oil, grease; rags",2026-12-05,8.30'],
      ['tab', 'reference\tnote\tday\ttime', 'WO-1\toil, grease; rags\t5 Dec 2026\t0830'],
    ]) {
      const text = sheet.join('\n')
      const whole = by !== ';' || text.includes('"')
      const r = await bring(whole ? text : text.replace('; rags', ''))
      expect([by, r.status, r.body.rows?.[0]?.name], r.body.detail).to.deep.equal([by, 201, 'Pump'])
      const { note, day, time } = (await job(pump!.id)).head
      expect([by, note, day, time]).to.deep.equal([
        by,
        whole ? 'oil, grease; rags' : 'oil, grease',
        '2026-12-05',
        '08:30',
      ])
    }
    // 58: a file knows how it writes numbers, or somebody says it; where one reading is impossible, nobody is asked.
    const needs = async (text: string, more: object = {}) => {
      const r = await bring(text, more)
      if (r.status === 422) return r.body.detail
      return (await job(pump!.id)).lines.map(l => l.need).join(' ')
    }
    const of58 = (lemon: string, butter: string) =>
      `reference;item;quantity\nWO-1;LEMON;${lemon}\nWO-1;butter;${butter}`
    expect(await needs(of58('1.500', '2'))).to.equal('1500 2')
    expect(await needs(of58('3', '1.250'))).to.match(/^Line 3: 1\.250 could be 1\.25 kg or 1250 kg\. Which one\?/)
    expect(await needs(of58('3', '1.250'), { decimalMark: '.' })).to.equal('3 1.25')
    expect(await needs(of58('4', '1.250'), { decimalMark: ',' })).to.equal('4 1250')
    expect(await needs(of58('5', '1.250').replaceAll(';', ','))).to.equal('5 1.25')
    expect(await needs(of58('3', '0,5 kg + 1.000 g'))).to.equal('3 1.5')
    await state(pump!.id, 'done')
    expect(
      (await bring(file)).body.rows.map(r => r.came),
      'what is over stays',
    ).to.deep.equal(['over', 'same'])
    const count = (await rows()).length
    for (const [text, said] of [
      ['name\nPump', 'Line 1: The first line names the columns.'],
      ['reference,colour\nA,red', 'Line 1: Nobody knows the column colour.'],
      ['reference,name\nWO-7,Seven\n,Eight', 'Line 3: a reference is wanted.'],
      ['reference,name,item\nWO-8,Eight,NOWHERE', 'Line 2: there is no item “NOWHERE”.'],
      ['reference,name,day\nWO-9,Nine,tomorrow', 'Line 2: day: a date like 2026-11-25 is wanted'],
      ['reference,name,day\nWO-9,Nine,12/2026', 'Line 2: day: a date like 2026-11-25 is wanted'],
      ['reference;name;day\nWO-9;Nine;31.11.2026', 'Line 2: day: a date like 2026-11-25 is wanted'],
      ['reference,name,time\nWO-9,Nine,25:00', 'Line 2: time: a time like 18:30 is wanted'],
      ['reference,name\nWO-10,"Ten', 'This is no CSV file:'],
      ['reference,name,template,for how much\nWO-11,Eleven,STK,plenty', 'Line 2: '],
      ['reference,name,item,quantity\nWO-13,Ten,LEMON,2\nWO-13,,butter,plenty', 'Line 3: “plenty” is no quantity.'],
      ['reference\nWO-12', 'Line 2: What is the job called?'],
    ] as const) {
      const r = await bring(text)
      expect([r.status, r.body.code, r.body.detail.startsWith(said), r.body.detail]).to.deep.equal([
        422,
        'jobs_not_read',
        true,
        r.body.detail,
      ])
    }
    expect((await rows()).length, 'nothing of a file with a fault is taken').to.equal(count)
    await state(stock!.id, 'dropped')
  })

  it('those that are over are given page by page, the last first; each once, and of one’s own place only', async () => {
    const days = [null, '2026-11-03', '2026-11-03', '2026-10-30', '2026-11-03', null]
    const times = ['', '', '08:00', '', '08:00', '']
    const all: string[] = []
    for (const [i, day] of days.entries()) {
      const id = await plan({ name: `Rope ${i}`, place: i === 3 ? shed.id : w.lab.id, ...(day ? { day } : {}) })
      const { head, revision } = await job(id)
      if (times[i]) await save(id, { head: { ...head, time: times[i] } }, revision)
      all.push(id)
      expect((await state(id, i % 2 ? 'dropped' : 'done')).status).to.equal(201)
    }
    const pages = async (c: Client, limit: number) => {
      const found: string[] = []
      for (let cursor = ''; ;) {
        const page = await c.get<{ rows: JobRow[]; next: string | null }>(
          `/api/jobs/over?limit=${limit}${cursor && `&cursor=${cursor}`}`,
        )
        expect(page.rows.length).to.be.within(1, limit)
        expect(page.rows.every(r => r.state === 'done' || r.state === 'dropped')).to.equal(true)
        found.push(...page.rows.map(r => r.id).filter(r => all.includes(r)))
        if (!page.next) return found
        cursor = page.next
      }
    }
    // Without a day first, then by day; without a time after those that have one.
    const order = [5, 0, 1, 4, 2, 3].map(i => all[i])
    for (const limit of [1, 2, 100]) expect(await pages(w.c, limit), `${limit} a page`).to.deep.equal(order)
    const here = await person(w, 'Anka', 'observer', w.lab.id)
    expect(await pages(here, 2)).to.deep.equal(order.slice(0, 5))
    expect((await rows()).map(r => r.id)).to.not.include.members(all)
  })

  it('are for whoever may look where they are done, and changed by whoever keeps that place', async () => {
    const there = await plan({
      name: 'Oars',
      place: shed.id,
      lines: [{ id: v7(), item: k.items['butter']!.id, typed: '1' }],
    })
    const ruben = await person(w, 'Ruben', 'keeper', w.lab.id)
    const linnea = await person(w, 'Linnea', 'observer', w.lab.id)
    expect([
      (await ruben.call('GET', `/api/jobs/${there}`)).status,
      (await reserve(there, {}, ruben)).status,
      (await save(there, {}, 1, ruben)).status,
      (await ruben.call('POST', `/api/jobs/${there}/state`, { state: 'dropped' })).status,
      (await ruben.call('POST', '/api/jobs', { name: 'X', place: shed.id })).status,
      (await linnea.call('POST', '/api/jobs', { name: 'X', place: w.lab.id })).status,
      (await linnea.call('POST', `/api/jobs/${dinner}/state`, { state: 'dropped' })).status,
    ]).to.deep.equal([404, 403, 403, 403, 422, 403, 403])
    expect((await rows(ruben)).map(r => r.placeName)).to.not.include('Boat shed')
    const far = v7()
    const mixed = await plan({
      name: 'Varnish',
      lines: [{ id: far, item: k.items['butter']!.id, typed: '0.1', from: shed.id }],
    })
    await w.c.must({
      kind: 'move',
      place: w.lab.id,
      lines: [w.c.line({ item: k.items['butter']!.id, typed: '0.05', to: shed.id })],
    })
    await reserve(mixed, { need: far, place: shed.id, typed: '0.05' })
    const [as] = (await job(mixed, ruben)).lines
    expect([as!.from, as!.keeps, as!.held], 'neither whence nor where it is kept').to.deep.equal([null, [], '0.05'])
    const typedOn = { item: as!.item, typed: '0.08' }
    const put = await save(
      mixed,
      { lines: [{ id: far, seen: as!.revision, position: as!.position, line: typedOn }] },
      1,
      ruben,
    )
    expect(
      [put.status, (await job(mixed)).lines[0]!.from],
      'and what he does not see he does not change',
    ).to.deep.equal([200, shed.id])
    await state(mixed, 'dropped')
    const copied = await ruben.call('POST', '/api/jobs', { name: 'Mine', place: w.lab.id, like: there })
    expect([copied.status, copied.body.code], 'nor is what it needs copied').to.deep.equal([404, 'not_found'])
    const sauce = (await rows()).find(r => r.parent?.id === dinner)!
    expect((await job(await plan({ like: sauce.id }))).wanted, 'a part is copied for as much as it was for').to.equal(
      sauce.wanted,
    )
    const seen = await job(dinner, linnea)
    expect(
      ['cost' in seen, 'worth' in seen.lines[0]!, seen.mayChange],
      'an observer sees values, and changes nothing',
    ).to.deep.equal([true, true, false])
    const ask = await person(w, 'Sorrel', 'requester', w.lab.id)
    const hidden = await job(dinner, ask)
    expect(['cost' in hidden, 'worth' in hidden.lines[0]!, 'cost' in hidden.lines[0]!]).to.deep.equal([
      false,
      false,
      false,
    ])
    const moved = await job(dinner, ruben)
    expect(
      (await save(dinner, { head: { ...moved.head, place: shed.id } }, moved.revision, ruben)).status,
      'nor to where one keeps nothing',
    ).to.equal(422)
    const live = await w.c.call('POST', '/api/jobs', { name: 'Only a name' })
    expect(live.status).to.equal(201)
    expect(
      (await w.c.call('GET', `/api/jobs/${(live.body as unknown as { id: string }).id}`)).status,
      'a name has no plan',
    ).to.equal(404)
  })
})
