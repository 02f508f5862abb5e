// A lot followed both ways through makes: what it is made of, what it is in, who got it, what is left; all of it recalled in one step.
import { expect } from 'chai'
import { v7 } from 'uuid'
import {
  type Item,
  type LotPage,
  type LotTrace,
  type LotView,
  type Recalled,
  type SlipContentInput,
  type SlipView,
  wholeTrace,
  type WholeTrace,
} from '@shelve/contract'
import { type Client, newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('a lot, from where it came to who got it', () => {
  let w: World
  let shed: string
  const items: Record<string, Item> = {}
  const lots: Record<string, string> = {}
  let job: string
  let burnt: string
  const line = (item: string, typed: string, more: object = {}) => w.c.line({ item: items[item]!.id, typed, ...more })
  const make = (out: SlipContentInput['lines'], into: SlipContentInput['lines'], more: object = {}) =>
    w.c.must({ kind: 'make', place: w.lab.id, lines: [...out!, ...into!], ...more })
  const out = (item: string, typed: string, code: string, more: object = {}) =>
    line(item, typed, { side: 'out', lot: { code }, ...more })
  const lotsOf = async (item: string, c: Client = w.c) =>
    (await c.get<{ rows: LotView[] }>(`/api/items/${items[item]!.id}/lots`)).rows
  const trace = (lot: string, c: Client = w.c) => c.get<LotTrace>(`/api/lots/${lots[lot]}/trace`).then(wholeTrace)
  const told = (t: WholeTrace['up']) => t.map(x => [x.item.name, x.code, x.depth, x.quantity, x.left, x.state])
  let mixed: SlipView
  before(async () => {
    w = await world()
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    burnt = (await w.c.ok<Found>('POST', '/api/waste-reasons', { name: 'Broken' })).id
    job = (await w.c.ok<Found>('POST', '/api/jobs', { code: 'SAM', name: 'Sampling' })).id
    for (const name of ['Ethanol', 'Dye', 'Fixative', 'Kit'])
      items[name] = await newItem(w.c, { name, code: name.toUpperCase(), unit: 'L', decimals: 3, identifiedBy: 'lot' })
    items['Water'] = await newItem(w.c, { name: 'Water', code: 'WATER', unit: 'L', decimals: 3 })
    for (const code of ['E1', 'E2'])
      await w.c.received(w.lab.id, 'Aster', line('Ethanol', '5', { lot: { code }, price: '4' }))
    await w.c.received(
      w.lab.id,
      'Aster',
      line('Dye', '1', { lot: { code: 'D1' }, price: '9' }),
      line('Water', '20', { price: '0.1' }),
    )
    const e = async (code: string) => ({ lot: { id: (await lotsOf('Ethanol')).find(l => l.code === code)!.id, code } })
    // E1 and the dye make F1; E2 alone F2. F1 is in the kits K1 (with water) and, by a mistake that is put right, not in K2.
    await make([out('Fixative', '3', 'F1')], [line('Ethanol', '2', await e('E1')), line('Dye', '0.5')])
    await make([out('Fixative', '2', 'F2')], [line('Ethanol', '2', await e('E2'))])
    const f = async (code: string) => ({ lot: { id: (await lotsOf('Fixative')).find(l => l.code === code)!.id, code } })
    await make([out('Kit', '4', 'K1')], [line('Fixative', '1', await f('F1')), line('Water', '3')])
    mixed = await make([out('Kit', '4', 'K2')], [line('Fixative', '1', await f('F1')), line('Water', '3')])
    await make([out('Kit', '4', 'K2')], [line('Fixative', '1', await f('F2')), line('Water', '3')], {
      head: { corrects: mixed.id },
    })
    const gone = await make([out('Kit', '1', 'K3')], [line('Fixative', '0.5', await f('F1'))])
    await w.c.ok('POST', `/api/slips/${gone.id}/reversal`, { id: v7() })
    for (const item of Object.keys(items)) for (const l of await lotsOf(item)) lots[l.code ?? item] = l.id
    const kit = { lot: { id: lots['K1']!, code: 'K1' } }
    const issued = await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      taker: 'Nan Orre',
      head: { job },
      lines: [line('Kit', '2', kit)],
    })
    await w.c.must({
      kind: 'bring_back',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ ref: issued.lines[0]!.id, typed: '0.5', item: items['Kit']!.id })],
    })
    await w.c.must({ kind: 'waste', place: w.lab.id, head: { reason: burnt }, lines: [line('Kit', '1', kit)] })
    await w.c.must({ kind: 'move', place: w.lab.id, lines: [line('Kit', '1', { ...kit, to: shed })] })
  })
  after(() => w.stop())

  it('down: what it is in, as it really was, each with what is left; who got it, net of what came back; where the rest lies', async () => {
    const t = await trace('E1')
    expect(told(t.down)).to.deep.equal([
      ['Fixative', 'F1', 1, '3', '2', 'usable'],
      ['Kit', 'K1', 2, '4', '1.5', 'usable'],
    ])
    expect(t.up).to.deep.equal([])
    expect(t.got.map(g => [g.item.name, g.code, g.kind, g.name, g.takers, g.quantity, g.slips.length])).to.deep.equal([
      ['Kit', 'K1', 'used', 'Sampling', ['Nan Orre'], '1.5', 1],
      ['Kit', 'K1', 'waste', 'Broken', [], '1', 1],
    ])
    expect(t.left.map(l => [l.item.name, l.code, l.place, l.quantity])).to.deep.equal([
      ['Ethanol', 'E1', 'Wet lab', '3'],
      ['Fixative', 'F1', 'Wet lab', '2'],
      ['Kit', 'K1', 'Wet lab', '0.5'],
      ['Kit', 'K1', 'Shed', '1'],
    ])
  })
  it('up: what it is made of, through every make; what has no lots is named', async () => {
    expect(told((await trace('K1')).up)).to.deep.equal([
      ['Fixative', 'F1', 1, '1', '2', 'usable'],
      ['Water', null, 1, '3', '14', 'usable'],
      ['Ethanol', 'E1', 2, '2', '3', 'usable'],
      ['Dye', 'D1', 2, '0.5', '0.5', 'usable'],
    ])
    expect(
      (await trace('K2')).up.map(x => x.code),
      'put right: of F2',
    ).to.deep.equal(['F2', null, 'E2'])
    expect((await trace('K2')).up[0]!.makes.map(m => m.number)).to.deep.equal(['MA-0005'])
  })
  it('up and down are one relation, whichever two lots are asked', async () => {
    const all = await Promise.all(Object.keys(lots).map(async code => [code, await trace(code)] as const))
    const of = (x: WholeTrace['up'][number]) => x.code ?? x.item.name
    const down = all.flatMap(([code, t]) => t.down.map(d => `${code} in ${of(d)}`))
    const up = all.flatMap(([code, t]) => t.up.map(u => `${of(u)} in ${code}`))
    expect(down.length).to.be.greaterThan(9)
    expect(down.sort()).to.deep.equal(up.sort())
  })
  it('its own page says what of it came of a make, and what went into one', async () => {
    const page = await w.c.get<LotPage>(`/api/lots/${lots['F1']}`)
    expect([page.came, page.went.map(x => [x.name, x.quantity])]).to.deep.equal([
      [{ name: 'made', quantity: '3' }],
      [['made', '1']],
    ])
  })
  it('who has it by now: charged to somebody else it is theirs; spoiled with them it is wasted', async () => {
    const got = async () =>
      (await trace('E1')).got.map(g => [g.kind, g.name, g.quantity]).sort((x, y) => (x[1]! < y[1]! ? -1 : 1))
    const before = await got()
    const centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Clinic' })).id
    const { rows } = await w.c.get<{ rows: { id: string; title: string }[] }>('/api/slips?kind=issue')
    const issue = await w.c.get<SlipView>(`/api/slips/${rows.find(r => r.title === 'to Sampling')!.id}`)
    const line = issue.lines[0]!
    const of = { place: issue.place!.id }
    const pass = (typed: string, more: object) => w.c.line({ ref: line.id, item: line.item!.id, typed, ...more })
    const moved = await w.c.must({ ...of, kind: 'recharge', head: { costCentre: centre }, lines: [pass('1', {})] })
    const torn = await w.c.must({
      ...of,
      kind: 'bring_back',
      head: { job: issue.content!.head.job },
      lines: [
        pass('0.25', {
          reason: (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
            r => r.name === 'Broken',
          )!.id,
        }),
      ],
    })
    expect(await got()).to.deep.equal([
      ['waste', 'Broken', '1.25'],
      ['used', 'Clinic', '1'],
      ['used', 'Sampling', '0.25'],
    ])
    for (const s of [torn, moved]) await w.c.ok('POST', `/api/slips/${s.id}/reversal`, { id: v7() })
    expect(await got()).to.deep.equal(before)
  })
  it('as CSV: whom to tell, and where to look', async () => {
    const r = await w.c.call('GET', `/api/lots/${lots['E1']}/trace`, undefined, { accept: 'text/csv' })
    const rows = r.text.trim().split('\r\n')
    expect(rows[0]).to.equal('what became of it,to or in,taken by,item,lot,quantity,unit,last,slips')
    expect(rows.slice(1).map(x => x.split(',').slice(0, 6).join(','))).to.deep.equal([
      'used,Sampling,Nan Orre,Kit,K1,1.5',
      'waste,Broken,,Kit,K1,1',
      'left,Wet lab,,Ethanol,E1,3',
      'left,Wet lab,,Fixative,F1,2',
      'left,Wet lab,,Kit,K1,0.5',
      'left,Shed,,Kit,K1,1',
    ])
  })
  it('whoever may only look into another place sees of it what came there; a lot that never did is not there', async () => {
    const odile = await person(w, 'Odile', 'keeper', shed)
    const t = await trace('K1', odile)
    expect([t.up, t.down, t.got, t.left.map(l => [l.place, l.quantity])]).to.deep.equal([[], [], [], [['Shed', '1']]])
    expect((await odile.call('GET', `/api/lots/${lots['E1']}/trace`)).status).to.equal(404)
    // Some of it lies where she may not book: nothing of it is held.
    const no = await odile.call('POST', `/api/lots/${lots['K1']}/recall`, { held: 'held', why: 'cracked' })
    expect([no.status, no.body.code]).to.deep.equal([403, 'not_your_place'])
    expect((await lotsOf('Kit')).find(l => l.code === 'K1')!.state).to.equal('usable')
  })
  it('recalled in one step with all that is made of it; what was not stays; nothing of it is issued or made into something', async () => {
    const bad = await w.c.call('POST', `/api/lots/${lots['E1']}/recall`, { held: 'recalled', why: '' })
    expect(bad.status).to.equal(422)
    const r = await w.c.ok<Recalled>('POST', `/api/lots/${lots['E1']}/recall`, { held: 'recalled', why: 'cloudy' })
    expect(r.lots.map(l => `${l.item} ${l.code}`).sort()).to.deep.equal(['Ethanol E1', 'Fixative F1', 'Kit K1'])
    const state = async (item: string) => (await lotsOf(item)).map(l => `${l.code} ${l.state}`)
    expect(await state('Kit')).to.deep.equal(['K1 recalled', 'K2 usable'])
    expect((await trace('E1')).down.map(d => d.state)).to.deep.equal(['recalled', 'recalled'])
    const into = await w.c.book({
      kind: 'make',
      place: w.lab.id,
      lines: [out('Kit', '1', 'K9'), line('Fixative', '1', { lot: { id: lots['F1']!, code: 'F1' } })],
    })
    expect([into.status, into.body.code]).to.deep.equal([422, 'lot_not_usable'])
    const free = await w.c.book({
      kind: 'make',
      place: w.lab.id,
      lines: [out('Kit', '1', 'K9'), line('Fixative', '1.5')],
    })
    expect([free.status, free.body.code], 'only what may be used is chosen').to.deep.equal([422, 'insufficient_stock'])
    const again = await w.c.ok<Recalled>('POST', `/api/lots/${lots['E1']}/recall`, { held: 'recalled', why: 'cloudy' })
    expect(again.lots, 'it is so already').to.deep.equal([])
  })
})
