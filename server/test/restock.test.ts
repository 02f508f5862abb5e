import { expect } from 'chai'
import { v7 } from 'uuid'
import type { RestockSaved, Item, Proposal, RestockRow, RestockView, ShortRow } from '@shelve/contract'
import { Client, newItem, world, type World } from './client.ts'

type Restock = { proposals: Proposal[]; slips: RestockRow[] }
describe('restock slips', () => {
  let w: World
  let shed: string
  let launch: string
  let gloves: Item
  let rope: Item
  let fuse: Item
  let ruben: Client
  const tick = () => {
    w.clock.now += 60_000
  }
  const restock = (c: Client = w.c, place?: string) => c.get<Restock>(`/api/restock${place ? `?place=${place}` : ''}`)
  const told = (r: Restock) =>
    r.proposals.map(p => [p.source.kind, p.name, p.lines.map(l => [l.code, l.placeName, l.typed, l.pack, l.why])])
  const level = (item: Item, place: string, minimum: string, target: string) =>
    w.c.ok('PUT', '/api/levels', { item: item.id, place, minimum, target })
  const begin = (p: Proposal, c: Client = w.c, id = v7()) =>
    c.call<RestockView>('POST', '/api/restock', {
      id,
      source: p.source,
      lines: p.lines.map(l => ({ id: v7(), item: l.item, place: l.place, typed: l.typed, unit: l.pack, why: l.why })),
    })
  const receive = (it: Item, place: string, typed: string, supplier: string) => {
    tick()
    return w.c.must({
      kind: 'receipt',
      place,
      head: { supplier },
      lines: [w.c.line({ item: it.id, typed, price: '1' })],
    })
  }
  before(async () => {
    w = await world()
    shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    launch = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Launch', kind: 'area' })).id
    gloves = await newItem(w.c, {
      name: 'Gloves',
      code: 'GLV',
      unit: 'box',
      packs: [{ name: 'case', size: '10', issuing: false }],
    })
    rope = await newItem(w.c, { name: 'Rope', code: 'ROP', unit: 'm' })
    fuse = await newItem(w.c, { name: 'Fuse', code: 'FUS' })
    await receive(gloves, w.lab.id, '12', 'Aster')
    await receive(rope, shed, '100', 'Thole')
    tick()
    await w.c.must({ kind: 'move', place: shed, lines: [w.c.line({ item: rope.id, typed: '5', to: launch })] })
    await w.c.ok('POST', '/api/people', { name: 'Ruben', signIn: 'ruben', password: 'long enough', role: 'keeper' })
    ruben = new Client(w.c.base)
    await ruben.ok('POST', '/api/session', { signIn: 'ruben', password: 'long enough' })
  })
  after(() => w.stop())

  it('one proposal a source: our own shelves where it lies over or last came from, the last supplier in whole packs, nobody yet', async () => {
    await level(gloves, w.lab.id, '15', '40')
    await level(rope, launch, '10', '30')
    await level(rope, shed, '20', '50')
    await level(fuse, shed, '5', '10')
    expect(told(await restock())).to.deep.equal([
      ['shelves', 'Shed', [['ROP', 'Launch', '25', null, 'at its minimum']]],
      ['supplier', 'Aster', [['GLV', 'Wet lab', '3', 'case', 'at its minimum']]],
      ['nobody', 'Nobody yet', [['FUS', 'Shed', '10', null, 'nothing left']]],
    ])
    expect(told(await restock(w.c, w.lab.id)).map(p => p[1])).to.deep.equal(['Aster'])
  })

  let slip: RestockView
  it('what somebody is writing is offered to nobody else, and says by whom; a race is refused by name', async () => {
    const p = (await restock()).proposals.find(x => x.name === 'Aster')!
    const id = v7()
    const made = await begin(p, w.c, id)
    expect([made.status, made.body.lines.map(l => [l.typed, l.unit, l.quantity])]).to.deep.equal([
      201,
      [['3', 'case', '30']],
    ])
    expect((await begin(p, w.c, id)).status, 'the same again is the same slip').to.equal(201)
    const late = await begin(p, ruben)
    expect([late.status, late.body.code, late.body.detail]).to.deep.equal([
      409,
      'taken_already',
      'Gloves stands on a slip that Ines Corrie is writing.',
    ])
    const seen = await restock(ruben)
    expect(seen.proposals.map(x => x.name)).to.not.include('Aster')
    expect(seen.slips.map(s => [s.name, s.state, s.by, s.mine, s.count])).to.deep.equal([
      ['Aster', 'open', 'Ines Corrie', false, 1],
    ])
    slip = made.body
  })

  it('lines are changed, added and taken off; what cannot be read is kept, said at its line, and not asked for; an old revision overwrites nothing', async () => {
    const save = (lines: object[]) => w.c.call<RestockSaved>('PATCH', `/api/restock/${slip.id}`, { lines })
    const first = { item: gloves.id, place: w.lab.id, typed: '4', unit: 'case' }
    const fuses = { item: fuse.id, place: shed, typed: '-1', unit: null, why: 'by hand' }
    const [one, other] = [slip.lines[0]!.id, v7()]
    const at = (id: string, seen: number, line: object | null) => ({ id, seen, position: id === one ? 1 : 2, line })
    const bad = await save([at(one, 1, { ...first, typed: '2 box of' }), at(other, 0, fuses)])
    expect(bad.body.slip.lines.map(l => [l.typed, l.quantity, l.unread])).to.deep.equal([
      ['2 box of', '0', 'This item does not come in “box of”. It comes in box, case.'],
      ['-1', '0', '“-1” is below zero. Type what is there or what moves; to undo a slip, take it back.'],
    ])
    const early = await w.c.call('POST', `/api/restock/${slip.id}/asking`, { where: 'by telephone' })
    expect([early.status, early.body.code, early.body.fields.map(f => f.line)]).to.deep.equal([
      422,
      'unread',
      [one, other],
    ])
    const good = await save([at(one, 2, first), at(other, 2, { ...fuses, typed: '12' })])
    expect(good.body.slip.lines.map(l => l.unread)).to.deep.equal([null, null])
    expect(good.body.slip.lines.map(l => [l.code, l.quantity, l.why])).to.deep.equal([
      ['GLV', '40', ''],
      ['FUS', '12', 'by hand'],
    ])
    const old = await save([at(one, 2, { ...first, typed: '9' }), at(other, 2, null)])
    expect(old.body.stale.lines.map(l => [l.id, l.theirs?.typed ?? null, l.by])).to.deep.equal([
      [one, '4', 'Ines Corrie'],
      [other, '12', 'Ines Corrie'],
    ])
    expect(
      told(await restock()).map(p => p[1]),
      'the fuse stands on a slip now',
    ).to.deep.equal(['Shed'])
    const csv = await w.c.call('GET', `/api/restock/${slip.id}`, undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n')[1]).to.equal('GLV,Gloves,4,case,40,box,Wet lab,')
    slip = good.body.slip
  })

  it('asked for, it is on its way: short becomes short with something coming, and is not proposed again; arriving fills it, taken back opens it', async () => {
    const asked = await w.c.ok<RestockView>('POST', `/api/restock/${slip.id}/asking`, {
      where: 'by telephone',
      number: 'A-77',
      expected: '2026-12-03',
    })
    expect([asked.state, asked.asked!.number, asked.lines.map(l => l.owed)]).to.deep.equal([
      'asked',
      'A-77',
      ['40', '12'],
    ])
    const short = (await w.c.get<{ rows: ShortRow[] }>('/api/short')).rows
    expect(
      short.map(r => [r.code, r.place.name, r.levels.state, r.levels.coming, r.levels.bring]),
    ).to.deep.include.members([
      ['GLV', 'Wet lab', 'short_coming', '40', '0'],
      ['FUS', 'Shed', 'short_coming', '12', '0'],
    ])
    expect(told(await restock()).map(p => p[1])).to.deep.equal(['Shed'])
    expect((await w.c.call('PATCH', `/api/restock/${slip.id}`, { lines: [] })).body.code).to.equal('asked_already')
    const came = await receive(gloves, w.lab.id, '25', 'Aster')
    const owed = async () => {
      const v = await w.c.get<RestockView>(`/api/restock/${slip.id}`)
      return [v.state, v.lines.map(l => l.owed)]
    }
    expect(await owed()).to.deep.equal(['asked', ['15', '12']])
    await receive(gloves, w.lab.id, '20', 'Aster')
    await receive(fuse, shed, '12', 'Thole')
    expect(await owed()).to.deep.equal(['arrived', ['0', '0']])
    tick()
    await w.c.ok('POST', `/api/slips/${came.id}/reversal`, { id: v7() })
    expect(await owed(), 'what is taken back never came').to.deep.equal(['asked', ['20', '0']])
    await w.c.ok('DELETE', `/api/restock/${slip.id}`)
    expect((await w.c.get<RestockView>(`/api/restock/${slip.id}`)).state).to.equal('dropped')
    const gone = (
      await w.c.get<{ rows: { code: string; levels: { coming: string } }[] }>(`/api/stock?place=${w.lab.id}`)
    ).rows.find(r => r.code === 'GLV')!
    expect(gone.levels.coming, 'and what will not come is not waited for').to.equal('0')
  })

  it('what lies on our own shelves becomes a move: a draft to look at, then booked, then there', async () => {
    const p = (await restock()).proposals.find(x => x.name === 'Shed')!
    const made = (await begin(p)).body
    const move = v7()
    await w.c.ok('POST', `/api/restock/${made.id}/move`, { id: move })
    const draft = await w.c.get<{
      kind: string
      content: { lines: { typed: string; to: string }[] } & Parameters<typeof w.c.book>[0]
    }>(`/api/slips/${move}`)
    expect([draft.kind, draft.content.lines.map(l => [l.typed, l.to])]).to.deep.equal(['move', [['25', launch]]])
    tick()
    await w.c.must(draft.content, move)
    expect((await w.c.get<RestockView>(`/api/restock/${made.id}`)).state).to.equal('arrived')
    expect(told(await restock()).flatMap(x => (x[2] as string[][]).map(l => l[0]))).to.not.include('ROP')
  })

  it('what was asked for by telephone this morning is written down at noon: what came meanwhile has come', async () => {
    const id = v7()
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'nobody', id: null },
      lines: [{ id: v7(), item: fuse.id, place: shed, typed: '5' }],
    })
    const at = new Date(w.clock.now).toISOString()
    await receive(fuse, shed, '2', 'Thole')
    w.clock.now += 3_600_000
    const ask = (when: number) =>
      w.c.call<RestockView>('POST', `/api/restock/${id}/asking`, {
        where: 'by telephone',
        at: new Date(when).toISOString(),
      })
    expect((await ask(w.clock.now + 3_600_000)).body.code).to.equal('in_the_future')
    expect((await ask(w.clock.now - 121 * 86_400_000)).body.code).to.equal('too_long_ago')
    const { body } = await ask(Date.parse(at))
    expect([body.state, body.asked!.at, body.lines[0]!.owed]).to.deep.equal(['asked', at, '3'])
  })

  it('who keeps one place asks for that place only, and is not told what others ask for', async () => {
    await w.c.ok('POST', '/api/people', {
      name: 'Sorrel',
      signIn: 'sorrel',
      password: 'long enough',
      role: 'requester',
      place: launch,
    })
    const sorrel = new Client(w.c.base)
    await sorrel.ok('POST', '/api/session', { signIn: 'sorrel', password: 'long enough' })
    const seen = await restock(sorrel)
    expect(seen.slips.every(s => s.name === 'Shed')).to.equal(true)
    const no = await sorrel.call('POST', '/api/restock', {
      id: v7(),
      source: { kind: 'nobody', id: null },
      lines: [{ id: v7(), item: fuse.id, place: shed, typed: '3' }],
    })
    expect([no.status, no.body.code], 'what one may not see is not there').to.deep.equal([422, 'unknown_place'])
    expect((await sorrel.call('GET', `/api/restock/${slip.id}`)).status).to.equal(404)
  })
})
