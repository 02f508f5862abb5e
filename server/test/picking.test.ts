// Picking: a list for one or several jobs in walking order, put down with each of them; what lies there is theirs (rules 14, 15, 65).
import { expect } from 'chai'
import { verify } from '@shelve/server'
import { v7 } from 'uuid'
import type { Item, JobView, LotView, NewJobInput, PickRow, PickView, StockRow } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('picking', () => {
  let w: World
  let items: Record<string, Item>
  let bins: Record<string, string>
  beforeEach(async () => {
    w = await world()
    items = {}
    bins = {}
    for (const name of ['B1', 'B2', 'B3'])
      bins[name] = (await w.c.ok<Found>('POST', '/api/places', { name, parent: w.lab.id })).id
    for (const name of ['Filter', 'Oil', 'Seal'])
      items[name] = await newItem(w.c, {
        name,
        code: name.toUpperCase(),
        ...(name === 'Oil' ? { unit: 'L', decimals: 2, identifiedBy: 'lot' as const } : {}),
      })
    const line = (item: string, typed: string, to: string, more: object = {}) =>
      w.c.line({ item: items[item]!.id, typed, price: '2', to: bins[to]!, ...more })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        line('Seal', '20', 'B1'),
        line('Filter', '4', 'B3'),
        line('Filter', '2', 'B2'),
        line('Oil', '3', 'B3', { lot: { code: 'O1' } }),
        line('Oil', '5', 'B1', { lot: { code: 'O2' } }),
      ],
    })
  })
  afterEach(() => w.stop())

  const plan = async (name: string, takes: [item: string, typed: string][], more: Partial<NewJobInput> = {}) =>
    (
      await w.c.ok<Found>('POST', '/api/jobs', {
        place: w.lab.id,
        name,
        day: '2026-11-27',
        lines: takes.map(([item, typed]) => ({ id: v7(), item: items[item]!.id, typed })),
        ...more,
      })
    ).id
  const job = (id: string) => w.c.get<JobView>(`/api/jobs/${id}`)
  const of = (j: JobView, name: string) => j.lines.find(l => l.named.name === name)!
  const nameOf = (id: string | null) => Object.values(items).find(i => i.id === id)?.name
  const binOf = (id: string | null) => Object.entries(bins).find(([, b]) => b === id)?.[0] ?? id
  const begin = async (jobs: string[], more: object = {}) => {
    const id = v7()
    await w.c.ok('POST', '/api/picks', { id, jobs, ...more })
    return id
  }
  const picks = async (over = false) => (await w.c.get<{ rows: PickRow[] }>(`/api/picks?over=${over}`)).rows
  const lines = async (id: string) =>
    (await w.c.draft(id)).lines.map(l => ({ ...l.line!, id: l.id, seen: l.revision, position: l.position }))
  /** Takes what is said of the lines of a list, by item and bin; then puts it down. */
  const take = async (id: string, takes: Record<string, string>) => {
    const changes = (await lines(id)).flatMap(({ seen, position, ...l }) => {
      const typed = takes[`${nameOf(l.item)} ${binOf(l.from)}`]
      return typed === undefined ? [] : [{ id: l.id, seen, position, line: { ...l, typed } }]
    })
    const r = await w.c.save(id, { lines: changes.map(({ line: { id: _, ...line }, ...c }) => ({ ...c, line })) })
    expect(r.status, r.text).to.equal(200)
  }
  const putDown = async (id: string) => w.c.bookSeen(await w.c.draft(id))
  const levels = async (name: string) =>
    (await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${w.lab.id}&q=${name}`)).rows[0]!.levels

  it('one list for two jobs: each lot and bin a line, in the order of the walk; nothing is promised twice', async () => {
    const one = await plan('Petrel', [
      ['Filter', '5'],
      ['Oil', '4'],
    ])
    const two = await plan('Shag', [
      ['Filter', '3'],
      ['Seal', '2'],
    ])
    const id = await begin([one, two], { name: 'Boats on Friday' })
    const view = await w.c.get<PickView>(`/api/picks/${id}`)
    const withs = new Map(view.places.map(p => [p.id, p.job!.name]))
    expect(
      (await lines(id)).map(l => [binOf(l.from), nameOf(l.item), l.lot?.code ?? '', l.asked, withs.get(l.to!)]),
    ).to.deep.equal([
      ['B1', 'Oil', 'O2', '1', 'Petrel'],
      ['B1', 'Seal', '', '2', 'Shag'],
      ['B2', 'Filter', '', '2', 'Petrel'],
      ['B3', 'Filter', '', '3', 'Petrel'],
      ['B3', 'Oil', 'O1', '3', 'Petrel'],
      ['B3', 'Filter', '', '1', 'Shag'],
    ])
    expect([view.state, view.name, view.taken, view.lines]).to.deep.equal(['picking', 'Boats on Friday', 0, 6])
    expect(view.short.map(s => [s.job.code, s.item.name, s.quantity])).to.deep.equal([['J-0002', 'Filter', '2']])
    expect([(await job(one)).state, (await job(two)).state]).to.deep.equal(['picking', 'picking'])
    const nothing = await putDown(id)
    expect([nothing.status, nothing.body.code]).to.deep.equal([422, 'nothing_picked'])
    // Thrown away again: nobody picks them any more.
    await w.c.ok('DELETE', `/api/slips/${id}`)
    expect([(await job(one)).state, await picks()]).to.deep.equal(['planned', []])
  })

  it('what is taken lies with the job: at no value, available to nobody else, demand no more; what was not taken stays owed', async () => {
    const one = await plan('Petrel', [
      ['Filter', '5'],
      ['Seal', '2'],
    ])
    await w.c.ok('POST', `/api/jobs/${one}/reservations`, {})
    expect([(await levels('Filter')).reserved, (await levels('Filter')).available]).to.deep.equal(['5', '1'])
    const id = await begin([one])
    await take(id, { 'Filter B2': '2', 'Filter B3': '2' })
    const r = await putDown(id)
    expect([r.status, r.body.number, r.body.title, r.body.value], r.text).to.deep.equal([201, 'MV-0001', 'Petrel', '0'])
    const j = await job(one)
    expect([of(j, 'Filter').lies, of(j, 'Filter').left, of(j, 'Filter').held, of(j, 'Filter').used]).to.deep.equal([
      '4',
      '1',
      '1',
      '0',
    ])
    const f = await levels('Filter')
    expect([f.onHand, f.available, f.reserved, f.unusable]).to.deep.equal(['6', '1', '1', '4'])
    expect((await picks()).map(p => [p.number, p.state, p.taken, p.lines])).to.deep.equal([['MV-0001', 'ready', 2, 3]])
    // Another job is handed nothing of it, and a move takes it only where it says so.
    const other = await w.c.book({
      kind: 'issue',
      place: w.lab.id,
      head: { job: await plan('Shag', []) },
      lines: [w.c.line({ item: items['Filter']!.id, typed: '3' })],
    })
    expect([other.status, other.body.code]).to.deep.equal([422, 'insufficient_stock'])
    // What is left of it is offered again.
    const again = await begin([one])
    expect((await lines(again)).map(l => [nameOf(l.item), l.asked])).to.deep.equal([
      ['Seal', '2'],
      ['Filter', '1'],
    ])
    // Taken back: it lies on its shelves, and is kept as it was.
    await w.c.ok('POST', `/api/slips/${id}/reversal`, { id: v7() })
    const back = await job(one)
    expect([of(back, 'Filter').lies, of(back, 'Filter').held, of(back, 'Filter').left]).to.deep.equal(['0', '5', '5'])
  })

  it('where a delivery is put that says no place: the shelf on which most lies in all, never with a job', async () => {
    const arrives = async (item: string, more: object = {}) => {
      const slip = await w.c.received(
        w.lab.id,
        'Aster',
        w.c.line({ item: items[item]!.id, typed: '1', price: '2', ...more }),
      )
      const { rows } = await w.c.get<{ rows: { slip: { id: string }; to: string }[] }>(
        `/api/items/${items[item]!.id}/movements?limit=5`,
      )
      return rows.find(r => r.slip.id === slip.id)!.to
    }
    // Three lots of two in one bin are more than one of five in another.
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: ['P', 'Q', 'R'].map(code =>
        w.c.line({ item: items['Oil']!.id, typed: '2', price: '2', to: bins['B2']!, lot: { code } }),
      ),
    })
    expect(await arrives('Oil', { lot: { code: 'S' } })).to.match(/B2$/)
    // Of the filters all but one are picked for a job: what is left decides, not the crate.
    const one = await plan('Petrel', [['Filter', '5']])
    const id = await begin([one])
    await take(id, { 'Filter B2': '2', 'Filter B3': '3' })
    expect((await putDown(id)).status).to.equal(201)
    expect(await arrives('Filter')).to.match(/B3$/)
  })

  it('fetched by somebody: the job is in work; handed out from what lies with it, first of all', async () => {
    const one = await plan('Petrel', [
      ['Oil', '4'],
      ['Seal', '2'],
    ])
    const id = await begin([one])
    await take(id, { 'Oil B1': '1', 'Oil B3': '3', 'Seal B1': '3' })
    expect((await putDown(id)).status).to.equal(201)
    const r = await w.c.ok<PickView>('POST', `/api/picks/${id}/fetched`, { by: 'Nan Orre' })
    expect([r.state, r.fetchedBy, (await job(one)).state]).to.deep.equal(['fetched', 'Nan Orre', 'in_work'])
    const twice = await w.c.call('POST', `/api/picks/${id}/fetched`, { by: 'Somebody' })
    expect([twice.status, twice.body.code]).to.deep.equal([409, 'fetched_already'])
    expect([(await picks()).length, (await picks(true)).map(p => p.fetchedBy)]).to.deep.equal([0, ['Nan Orre']])
    // More seals than were planned lie with it: they are not used up by themselves.
    const draft = v7()
    await w.c.ok('POST', `/api/jobs/${one}/issue`, { id: draft })
    expect((await lines(draft)).map(l => [nameOf(l.item), l.typed])).to.deep.equal([
      ['Oil', '4'],
      ['Seal', '3'],
    ])
    const seals = (await lines(draft)).find(l => nameOf(l.item) === 'Seal')!
    const { seen, position, id: line, ...content } = seals
    await w.c.save(draft, { lines: [{ id: line, seen, position, line: { ...content, typed: '2' } }] })
    const booked = await putDown(draft)
    expect(booked.status, booked.text).to.equal(201)
    expect(new Set(booked.body.lines.flatMap(l => l.movements.map(m => m.from)))).to.deep.equal(
      new Set(['Wet lab, With J-0001']),
    )
    const j = await job(one)
    expect([of(j, 'Oil').used, of(j, 'Oil').left, of(j, 'Seal').used, of(j, 'Seal').lies]).to.deep.equal([
      '4',
      '0',
      '2',
      '1',
    ])
    // It is not over while something lies with it; the way back is offered.
    for (const state of ['done', 'dropped']) {
      const no = await w.c.call('POST', `/api/jobs/${one}/state`, { state })
      expect([no.status, no.body.code]).to.deep.equal([409, 'lies_with_it'])
    }
    const back = v7()
    await w.c.ok('POST', `/api/jobs/${one}/putting-back`, { id: back })
    expect((await lines(back)).map(l => [nameOf(l.item), l.typed, binOf(l.to)])).to.deep.equal([['Seal', '1', 'B1']])
    expect((await putDown(back)).status).to.equal(201)
    await w.c.ok('POST', `/api/jobs/${one}/state`, { state: 'done' })
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('where its things lie is called as the job is, whoever renames it', async () => {
    const one = await plan('Petrel', [['Filter', '2']])
    const withIt = async () => {
      const { rows } = await w.c.get<{ rows: { name: string }[] }>('/api/places')
      return rows.map(p => p.name).filter(name => name.startsWith('With '))
    }
    const id = await begin([one])
    await take(id, { 'Filter B2': '2' })
    expect((await putDown(id)).status).to.equal(201)
    expect(await withIt()).to.deep.equal(['With J-0001'])
    const j = await job(one)
    const head = { ...j.head, code: 'PETREL' }
    const r = await w.c.call('PATCH', `/api/jobs/${one}`, { head }, { 'if-match': String(j.revision) })
    expect(r.status, r.text).to.equal(200)
    expect(await withIt()).to.deep.equal(['With PETREL'])
    await w.c.ok('PUT', `/api/jobs/${one}`, { name: 'Petrel', code: 'P-2', costCentre: null })
    expect(await withIt()).to.deep.equal(['With P-2'])
    const out = v7()
    await w.c.ok('POST', `/api/jobs/${one}/issue`, { id: out })
    const used = await putDown(out)
    expect(used.body.lines.flatMap(l => l.movements.map(m => m.from))).to.deep.equal(['Wet lab, With P-2'])
  })

  it('a job that is moved: what was picked stays where it lies, is no help elsewhere, and is put back; there another place is made', async () => {
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    await w.c.must({
      kind: 'move',
      place: shed,
      lines: [w.c.line({ item: items['Filter']!.id, typed: '2', from: bins['B3']!, to: shed })],
    })
    const one = await plan('Petrel', [['Filter', '3']])
    const id = await begin([one])
    await take(id, { 'Filter B2': '2' })
    expect((await putDown(id)).status).to.equal(201)
    const rest = await begin([one])
    const moved = async (place: string) => {
      const j = await job(one)
      const r = await w.c.call(
        'PATCH',
        `/api/jobs/${one}`,
        { head: { ...j.head, place } },
        { 'if-match': String(j.revision) },
      )
      expect(r.status, r.text).to.equal(200)
    }
    await moved(shed)
    const there = await job(one)
    expect([of(there, 'Filter').lies, of(there, 'Filter').left, of(there, 'Filter').here]).to.deep.equal([
      '0',
      '3',
      '2',
    ])
    expect(there.behind.map(b => [b.place, b.item.name, b.quantity])).to.deep.equal([['Wet lab', 'Filter', '2']])
    // The list that was begun before is still one of the lab, and gets nothing more.
    const more = await w.c.call('POST', `/api/picks/${rest}/more`, {})
    expect([more.status, more.body.code], more.text).to.deep.equal([409, 'nothing_here'])
    // Odile keeps the shed alone: she is told nothing of the lab.
    const odile = await person(w, 'Odile', 'keeper', shed)
    expect((await odile.get<JobView>(`/api/jobs/${one}`)).behind).to.deep.equal([])
    expect((await odile.call('POST', `/api/jobs/${one}/putting-back`, { id: v7() })).status).to.equal(403)
    // Picked there it lies there; both belong to it, and it is over when both are away.
    const again = await begin([one])
    const goals = (await lines(again)).map(l => l.to)
    expect((await lines(again)).map(l => l.asked)).to.deep.equal(['2'])
    const [line] = await lines(again)
    const { seen, position, id: uid, ...content } = line!
    await w.c.save(again, { lines: [{ id: uid, seen, position, line: { ...content, typed: '2' } }] })
    expect((await putDown(again)).status).to.equal(201)
    expect(goals).not.to.include((await lines(rest))[0]!.to)
    const both = await job(one)
    expect([of(both, 'Filter').lies, of(both, 'Filter').left, both.behind.length]).to.deep.equal(['2', '1', 1])
    const over = await w.c.call('POST', `/api/jobs/${one}/state`, { state: 'done' })
    expect([over.status, over.body.code]).to.deep.equal([409, 'lies_with_it'])
    const out = v7()
    await w.c.ok('POST', `/api/jobs/${one}/issue`, { id: out })
    const used = await putDown(out)
    expect(used.body.lines.flatMap(l => l.movements.map(m => m.from))).to.deep.equal(['Shed, With J-0001'])
    const back = v7()
    await w.c.ok('POST', `/api/jobs/${one}/putting-back`, { id: back })
    expect((await lines(back)).map(l => [nameOf(l.item), l.typed])).to.deep.equal([['Filter', '2']])
    expect((await putDown(back)).status).to.equal(201)
    expect((await job(one)).behind).to.deep.equal([])
    await w.c.ok('POST', `/api/jobs/${one}/state`, { state: 'done' })
    // Moved back, and opened again: it has its first place there once more.
    await w.c.ok('POST', `/api/jobs/${one}/state`, { state: 'planned' })
    await moved(w.lab.id)
    const last = await begin([one])
    expect((await lines(last))[0]!.to).to.equal((await lines(rest))[0]!.to)
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('two on one list: who takes what is seen, and both are put down; two who take the last of it: the second is told', async () => {
    const one = await plan('Petrel', [
      ['Filter', '6'],
      ['Seal', '2'],
    ])
    const id = await begin([one])
    const odile = await person(w, 'Odile', 'keeper', w.lab.id)
    await take(id, { 'Filter B2': '2' })
    const seen = await odile.draft(id)
    expect(seen.lines.map(l => l.line!.typed)).to.include('2')
    await take(id, { 'Filter B3': '4', 'Seal B1': '1' })
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason: (await w.c.ok<Found>('POST', '/api/waste-reasons', { name: 'Torn' })).id },
      lines: [w.c.line({ item: items['Filter']!.id, typed: '1', from: bins['B3']! })],
    })
    const no = await putDown(id)
    expect([no.status, no.body.code]).to.deep.equal([422, 'insufficient_stock'])
    await take(id, { 'Filter B3': '3' })
    const r = await putDown(id)
    expect([r.status, r.body.lines.length], r.text).to.deep.equal([201, 3])
  })

  it('only what may be used is on it; a lot that may not is refused where somebody takes it all the same', async () => {
    items['Milk'] = await newItem(w.c, { name: 'Milk', code: 'MILK', identifiedBy: 'lot_expiry' })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        ['M1', '2026-11-20'],
        ['M2', '2026-12-20'],
      ].map(([code, expiry]) =>
        w.c.line({
          item: items['Milk']!.id,
          typed: '3',
          price: '1',
          to: bins['B1']!,
          lot: { code: code!, expiry: expiry! },
        }),
      ),
    })
    const id = await begin([await plan('Breakfast', [['Milk', '5']])])
    const [milk, ...more] = await lines(id)
    expect([milk!.lot?.code, milk!.asked, more]).to.deep.equal(['M2', '3', []])
    const { rows } = await w.c.get<{ rows: LotView[] }>(`/api/items/${items['Milk']!.id}/lots`)
    const bad = rows.find(l => l.code === 'M1')!
    const { id: of, seen, position, ...content } = milk!
    const lot = { id: bad.id, code: 'M1', expiry: bad.expiry }
    await w.c.save(id, { lines: [{ id: of, seen, position, line: { ...content, lot, typed: '1' } }] })
    const no = await putDown(id)
    expect([no.status, no.body.code]).to.deep.equal([422, 'lot_not_usable'])
  })

  it('jobs of several places are no one list; nothing is there; a job elsewhere is not picked; bad names', async () => {
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const one = await plan('Petrel', [['Filter', '1']])
    const two = await plan('Shag', [['Filter', '1']], { place: shed })
    const call = (body: object, c = w.c) => c.call('POST', '/api/picks', { id: v7(), ...body })
    const several = await call({ jobs: [one, two] })
    expect([several.status, several.body.code]).to.deep.equal([409, 'several_places'])
    const none = await call({ jobs: [two] })
    expect([none.status, none.body.code, (await job(two)).state]).to.deep.equal([409, 'nothing_here', 'planned'])
    expect((await call({ jobs: [] })).status).to.equal(422)
    expect((await call({ jobs: [v7()] })).status).to.equal(422)
    const odile = await person(w, 'Odile', 'keeper', shed)
    expect((await call({ jobs: [one] }, odile)).status).to.equal(403)
    const id = await begin([one])
    expect((await odile.call('GET', `/api/picks/${id}`)).status).to.equal(404)
    expect((await odile.get<{ rows: PickRow[] }>('/api/picks')).rows).to.deep.equal([])
    expect((await w.c.call('POST', `/api/picks/${id}/fetched`, { by: 'Nan' })).status, 'not put down yet').to.equal(404)
    // What was picked is no place that somebody chooses.
    const { rows } = await w.c.get<{ rows: { name: string; active: boolean }[] }>('/api/places')
    expect(rows.filter(p => p.name.startsWith('With ')).map(p => p.active)).to.deep.equal([false])
    const { rows: lots } = await w.c.get<{ rows: LotView[] }>(`/api/items/${items['Oil']!.id}/lots`)
    expect(lots.length).to.equal(2)
  })

  it('a satellite is filled up to its targets: from the shelf that fills it all there is, from others what they can spare; nothing is asked for twice', async () => {
    const hide = (await w.c.ok<Found>('POST', '/api/places', { name: 'Hide', kind: 'area' })).id
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const level = (item: string, place: string, target: string) =>
      w.c.ok('PUT', '/api/levels', { item: items[item]!.id, place, minimum: '0', target, bin: null })
    for (const [item, target] of [
      ['Filter', '8'],
      ['Oil', '4'],
      ['Seal', '2'],
    ] as const)
      await level(item, hide, target)
    // The lab keeps 15 seals of its 20, and last filled the hide with filters; the shed has two filters that it can spare.
    await level('Seal', w.lab.id, '19')
    await level('Filter', w.lab.id, '6')
    const move = (place: string, to: string, item: string, typed: string) =>
      w.c.must({ kind: 'move', place, lines: [w.c.line({ item: items[item]!.id, typed, to })] })
    await move(w.lab.id, shed, 'Filter', '2')
    await move(w.lab.id, hide, 'Filter', '1')
    const fill = () =>
      w.c.call<{ lists: { id: string; from: string; lines: number }[]; lacking: number }>(
        'POST',
        `/api/places/${hide}/refill`,
      )
    const filled = await fill()
    expect(filled.status, filled.text).to.equal(201)
    const { lists, lacking } = filled.body
    expect(lists.map(l => [l.from, l.lines])).to.deep.equal([
      ['Wet lab', 4],
      ['Shed', 1],
    ])
    expect(lacking, '7 filters and 2 seals are wanted, 5 and 1 can be given').to.equal(2)
    const [lab] = lists
    expect((await lines(lab!.id)).map(l => [binOf(l.from), nameOf(l.item), l.asked])).to.deep.equal([
      ['B1', 'Oil', '1'],
      ['B1', 'Seal', '1'],
      ['B3', 'Filter', '3'],
      ['B3', 'Oil', '3'],
    ])
    const again = await fill()
    expect([again.status, again.body.code]).to.deep.equal([409, 'nothing_to_fill_from'])
    const view = await w.c.get<PickView>(`/api/picks/${lab!.id}`)
    expect([view.name, view.jobs, view.places.map(p => [p.name, p.job])]).to.deep.equal([
      'Fill Hide',
      [],
      [['Hide', null]],
    ])
    await take(lab!.id, { 'Oil B1': '1', 'Oil B3': '3', 'Filter B3': '2' })
    const down = await putDown(lab!.id)
    expect(down.status, down.text).to.equal(201)
    expect(
      (await picks()).map(p => p.name),
      'nobody has to fetch it',
    ).to.deep.equal(['Fill Hide'])
    const there = async (name: string) =>
      (await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${hide}&q=${name}`)).rows[0]!.levels.onHand
    expect([await there('Oil'), await there('Filter')]).to.deep.equal(['4', '3'])
    // What was left on the way through the lab may be asked for again.
    const more = await fill()
    expect(more.body.lists.map(l => [l.from, l.lines])).to.deep.equal([['Wet lab', 2]])
    const mirja = await person(w, 'Mirja', 'keeper', w.lab.id)
    expect((await mirja.call('POST', `/api/places/${hide}/refill`)).status).to.equal(404)
  })
})
