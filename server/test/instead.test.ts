// Or instead: what may be taken in the place of something counts for it; what comes later is offered on the list that is picked.
import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import { decimal, formatDecimal, ONE, standsFor } from '@shelve/core'
import type { Item, JobView, PickView, TemplateInput } from '@shelve/contract'
import { verify } from '@shelve/server'
import { newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('something is taken in the place of a need', () => {
  let w: World
  let filter: Item
  let mesh: Item
  let oil: Item
  let grease: Item
  let job: string
  beforeEach(async () => {
    w = await world()
    filter = await newItem(w.c, { name: 'Filter', code: 'FIL' })
    mesh = await newItem(w.c, { name: 'Mesh', code: 'MES' })
    oil = await newItem(w.c, { name: 'Oil', code: 'OIL', unit: 'L', decimals: 3 })
    grease = await newItem(w.c, { name: 'Grease', code: 'GRE', unit: 'kg', decimals: 2 })
    await receive([
      [mesh, '20'],
      [oil, '2'],
      [grease, '5'],
      [filter, '1'],
    ])
    const template: TemplateInput = {
      code: 'SRV',
      name: 'Service',
      makes: null,
      lines: [
        { id: v7(), item: filter.id, typed: '2', instead: [{ item: mesh.id, typed: '3' }] },
        {
          id: v7(),
          item: oil.id,
          typed: '1.5',
          instead: [
            { item: grease.id, typed: '0.5' },
            { item: mesh.id, typed: '1' },
          ],
        },
      ],
    }
    const { id } = await w.c.ok<Found>('POST', '/api/templates', template)
    job = (await w.c.ok<Found>('POST', '/api/jobs', { place: w.lab.id, template: id, typed: '2', name: 'Petrel' })).id
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })
  const receive = (lines: readonly (readonly [Item, string])[]) =>
    w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: lines.map(([item, typed]) => w.c.line({ item: item.id, typed, price: '1' })),
    })
  const view = () => w.c.get<JobView>(`/api/jobs/${job}`)
  const lines = (j: JobView) => j.lines.map(l => [l.named.name, l.need, l.left, l.whence, l.note])
  const of = (j: JobView, name: string) => j.lines.find(l => l.named.name === name)!
  const swap = async (name: string, item: Item, typed = '', c = w.c) =>
    c.call<JobView>('POST', `/api/jobs/${job}/instead`, { need: of(await view(), name).id, item: item.id, typed })

  it('says how much of it stands for what is not here, and how much of that is here', async () => {
    const j = await view()
    // 4 filters are needed and 1 is here: 3 × 3 ÷ 2 = 4.5 meshes, in whole ones 5. 1 L of 3 is lacking: a third of a kilo.
    expect(of(j, 'Filter').instead).to.deep.equal([
      { item: { id: mesh.id, code: 'MES', name: 'Mesh', unit: 'each' }, typed: '3 each', stands: '5', here: '20' },
    ])
    expect(of(j, 'Oil').instead.map(o => [o.item.name, o.stands, o.here])).to.deep.equal([
      ['Grease', '0.33', '5'],
      ['Mesh', '1', '20'],
    ])
  })

  it('is a need like any other from then on: used, owed, demanded; the other takes so much less', async () => {
    expect((await swap('Filter', mesh)).status).to.equal(201)
    expect(lines(await view())).to.deep.equal([
      ['Filter', '1', '1', 'here', ''],
      ['Mesh', '5', '5', 'here', 'instead of 3 each Filter'],
      ['Oil', '3', '3', 'missing', ''],
    ])
    // Another need takes of the same: both together.
    expect((await swap('Oil', mesh, '0.75')).status).to.equal(201)
    expect(of(await view(), 'Mesh')).to.deep.include({
      need: '6',
      note: 'instead of 3 each Filter; instead of 0.75 L Oil',
    })
    expect(of(await view(), 'Oil').need).to.equal('2.25')
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: mesh.id, typed: '6' }), w.c.line({ item: filter.id, typed: '1' })],
    })
    const j = await view()
    expect([of(j, 'Mesh').left, of(j, 'Filter').left, j.others]).to.deep.equal(['0', '0', []])
    // All of it is taken: nothing of it can be taken otherwise.
    const no = await swap('Filter', mesh)
    expect([no.status, no.body.code]).to.deep.equal([409, 'nothing_left'])
  })

  it('what may not be is refused, and nothing is changed', async () => {
    const before = await view()
    const other = await person(
      w,
      'Mirja',
      'keeper',
      (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id,
    )
    const cases: [() => ReturnType<typeof swap>, number, string][] = [
      [() => swap('Filter', grease), 409, 'not_instead'],
      [() => swap('Filter', mesh, '4.5'), 409, 'quantity_unread'],
      [() => swap('Filter', mesh, '5'), 409, 'more_than_left'],
      [() => swap('Filter', mesh, '0'), 409, 'quantity_unread'],
      [() => swap('Filter', mesh, '', other), 403, 'not_allowed'],
      [() => w.c.call('POST', `/api/jobs/${job}/instead`, { need: v7(), item: mesh.id }), 404, 'not_found'],
    ]
    for (const [run, status, code] of cases) {
      const r = await run()
      expect([r.status, r.body.code], code).to.deep.equal([status, code])
    }
    expect(await view()).to.deep.equal(before)
    await w.c.ok('POST', `/api/jobs/${job}/state`, { state: 'dropped' })
    expect((await swap('Filter', mesh)).body.code).to.equal('job_over')
  })

  it('on a list that is picked: what is taken instead goes on it, and what has come since', async () => {
    const id = v7()
    await w.c.ok('POST', '/api/picks', { id, jobs: [job] })
    const pick = () => w.c.get<PickView>(`/api/picks/${id}`)
    const listed = async () =>
      (await w.c.draft(id)).lines.map(l => [
        [filter, mesh, oil, grease].find(i => i.id === l.line!.item)!.name,
        l.line!.asked,
      ])
    expect(await listed()).to.deep.equal([
      ['Filter', '1'],
      ['Oil', '2'],
    ])
    const short = (await pick()).short
    expect(short.map(s => [s.item.name, s.quantity, s.instead.map(o => `${o.stands} ${o.item.name}`)])).to.deep.equal([
      ['Filter', '3', ['5 Mesh']],
      ['Oil', '1', ['0.33 Grease', '1 Mesh']],
    ])
    expect((await pick()).more).to.deep.equal([])
    expect((await w.c.call('POST', `/api/picks/${id}/more`)).body.code).to.equal('nothing_here')
    await w.c.ok('POST', `/api/jobs/${job}/instead`, { need: short[0]!.need, item: mesh.id })
    await receive([[oil, '0.6']])
    expect((await pick()).more).to.deep.equal(['Mesh', 'Oil'])
    const after = await w.c.ok<PickView>('POST', `/api/picks/${id}/more`)
    expect([after.more, after.short.map(s => [s.item.name, s.quantity])]).to.deep.equal([[], [['Oil', '0.4']]])
    expect(await listed()).to.deep.equal([
      ['Filter', '1'],
      ['Oil', '2'],
      ['Mesh', '5'],
      ['Oil', '0.6'],
    ])
    const other = await person(w, 'Mirja', 'observer', w.lab.id)
    expect((await other.call('POST', `/api/picks/${id}/more`)).status).to.equal(403)
  })

  it('stands for it in the relation of their amounts, never less in whole ones (brute force: counted up one by one)', () => {
    fc.assert(
      fc.property(fc.bigInt(1n, 400n), fc.bigInt(1n, 30n), fc.bigInt(1n, 30n), (quantity, of, by) => {
        let whole = 0n
        while (whole * of < quantity * by) whole++
        expect(standsFor(quantity * ONE, { of: of * ONE, by: by * ONE }, 0)).to.equal(whole * ONE)
      }),
    )
    expect(formatDecimal(standsFor(decimal('1'), { of: decimal('1.5'), by: decimal('0.5') }, 2))).to.equal('0.33')
  })
})
