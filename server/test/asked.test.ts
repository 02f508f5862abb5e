// What was asked for: who sends it out, what comes of it, what of it will not come, and that what came elsewhere has come.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, RestockRow, RestockView, SlipView, Today } from '@shelve/contract'
import { type Client, newItem, person, world, type World } from './client.ts'

describe('what was asked for', () => {
  let w: World
  let galley: string
  let flour: Item
  let oats: Item
  let cook: Client
  let keeper: Client
  const tick = () => {
    w.clock.now += 60_000
  }
  before(async () => {
    w = await world()
    galley = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Galley', kind: 'area' })).id
    flour = await newItem(w.c, { name: 'Flour', code: 'FLR', unit: 'kg', packs: [{ name: 'sack', size: '25' }] })
    oats = await newItem(w.c, { name: 'Oats', code: 'OAT', unit: 'kg' })
    await receive(w.lab.id, 'Aster', [flour, '1'])
    cook = await person(w, 'Sorrel', 'requester', galley)
    keeper = await person(w, 'Ruben', 'keeper', galley)
  })
  after(() => w.stop())
  const receive = (place: string, supplier: string, ...lines: [Item, string][]) => {
    tick()
    return w.c.must({
      kind: 'receipt',
      place,
      head: { supplier },
      lines: lines.map(([it, typed]) => w.c.line({ item: it.id, typed, price: '1' })),
    })
  }
  const aster = async () => {
    const { rows } = await w.c.get<{ rows: { id: string; name: string }[] }>('/api/suppliers')
    return { kind: 'supplier' as const, id: rows.find(s => s.name === 'Aster')!.id }
  }
  const begin = async (c: Client, ...lines: [Item, string, string?][]) =>
    c.ok<RestockView>('POST', '/api/restock', {
      id: v7(),
      source: await aster(),
      lines: lines.map(([it, typed, unit]) => ({ id: v7(), item: it.id, place: galley, typed, unit: unit ?? null })),
    })
  const act = (c: Client, v: RestockView, what: string, body?: object) =>
    c.call<RestockView>('POST', `/api/restock/${v.id}/${what}`, body)
  const asked = async (...lines: [Item, string, string?][]) => {
    const v = await begin(keeper, ...lines)
    tick()
    return (await act(keeper, v, 'asking', { where: 'by telephone' })).body
  }
  const owed = async (v: RestockView) => (await w.c.get<RestockView>(`/api/restock/${v.id}`)).lines.map(l => l.owed)
  const drop = async (v: RestockView) => w.c.ok('DELETE', `/api/restock/${v.id}`)

  it('has a number of ours, in the order in which slips were begun', async () => {
    const first = await begin(keeper, [oats, '1'])
    const second = await begin(keeper, [flour, '1'])
    expect(Number(second.number.slice(3)) - Number(first.number.slice(3))).to.equal(1)
    expect(first.number).to.match(/^RS-\d{4}$/)
    await drop(first)
    const third = await begin(keeper, [oats, '1'])
    expect(third.number, 'a number is never given twice').to.equal(
      `RS-${String(Number(second.number.slice(3)) + 1).padStart(4, '0')}`,
    )
    const csv = await keeper.call('GET', `/api/restock/${second.id}`, undefined, { accept: 'text/csv' })
    expect(csv.headers.get('content-disposition')).to.contain(second.number)
    await drop(second)
    await drop(third)
  })

  it('leaves the house by nobody who may only ask: they hand it over, and it waits for whoever keeps the place', async () => {
    const v = await begin(cook, [flour, '2', 'sack'])
    expect([v.may, v.sends]).to.deep.equal([true, false])
    for (const [what, body] of [
      ['asking', { where: 'by telephone' }],
      ['mails', { to: 'orders@aster.example' }],
      ['cancellation', { line: v.lines[0]!.id, why: 'no' }],
    ] as const) {
      const r = await act(cook, v, what, body)
      expect([r.status, r.body.code], what).to.deep.equal([403, 'not_allowed'])
    }
    const waiting = async (c: Client) =>
      (await c.get<Today>('/api/today')).waiting.filter(x => x.kind === 'handed').map(x => [x.n, x.handed!.by])
    expect(await waiting(keeper), 'it is not the keeper’s yet').to.deep.equal([])
    const handed = (await act(cook, v, 'handing')).body
    expect([handed.state, handed.handed?.by]).to.deep.equal(['open', 'Sorrel'])
    expect((await waiting(keeper)).map(([n]) => n)).to.deep.equal([1])
    expect(await waiting(cook), 'who handed it over waits for nobody').to.deep.equal([])
    expect(await waiting(await person(w, 'Lab', 'keeper', w.lab.id)), 'nor does another place').to.deep.equal([])
    expect(
      (await keeper.get<{ slips: RestockRow[] }>('/api/restock')).slips.find(s => s.id === v.id)!.handed!.by,
    ).to.equal('Sorrel')
    // It is given back with a reason: its asker sees that on Today, changes it, and hands it over anew.
    const back = async (c: Client) =>
      (await c.get<Today>('/api/today')).waiting
        .filter(x => x.kind === 'given_back')
        .map(x => [x.n, x.handed!.by, x.handed!.why])
    const give = (c: Client, why: string, revision?: number) =>
      c.call<RestockView>(
        'POST',
        `/api/restock/${v.id}/giving-back`,
        { why },
        revision === undefined ? {} : { 'if-match': String(revision) },
      )
    expect([(await give(cook, 'no')).body.code, (await give(keeper, '  ')).status]).to.deep.equal(['not_allowed', 422])
    expect((await give(keeper, 'seen before', handed.version - 1)).body.code).to.equal('saved_meanwhile')
    const given = (await give(keeper, 'one sack will do')).body
    expect([given.handed, given.back?.by, given.back?.why, given.state]).to.deep.equal([
      null,
      given.back?.by,
      'one sack will do',
      'open',
    ])
    expect(await waiting(keeper)).to.deep.equal([])
    expect([await back(cook), await back(keeper)]).to.deep.equal([[[1, given.back!.by, 'one sack will do']], []])
    expect((await give(keeper, 'twice')).body.code).to.equal('not_handed')
    expect((await act(cook, given, 'handing')).body.back).to.equal(null)
    expect([await back(cook), (await waiting(keeper)).map(([n]) => n)]).to.deep.equal([[], [1]])
    expect((await act(keeper, v, 'asking', { where: 'by telephone' })).status).to.equal(201)
    expect(await waiting(keeper)).to.deep.equal([])
    expect((await cook.call('DELETE', `/api/restock/${v.id}`)).body.code, 'nor does it come back by them').to.equal(
      'not_all_yours',
    )
    const empty = await begin(cook)
    expect((await act(cook, empty, 'handing')).body.code).to.equal('no_lines')
    await drop(v)
  })

  it('it has come: what is owed stands on a delivery, as it was asked for, and settles it', async () => {
    const v = await asked([flour, '2', 'sack'], [oats, '8'])
    await receive(galley, 'Aster', [oats, '3'])
    const come = (c: Client, place = galley, id = v7()) =>
      c.call<{ id: string }>('POST', `/api/restock/${v.id}/arrival`, { id, place })
    expect((await come(cook)).body.code).to.equal('not_allowed')
    const { id } = (await come(keeper)).body
    const { content } = await keeper.get<SlipView>(`/api/slips/${id}`)
    expect([content!.kind, content!.head.supplier, content!.lines.map(l => [l.item, l.typed, l.unit])]).to.deep.equal([
      'receipt',
      'Aster',
      [
        [flour.id, '2', 'sack'],
        [oats.id, '5', null],
      ],
    ])
    expect(await owed(v), 'begun is not come').to.deep.equal(['50', '5'])
    tick()
    expect(
      (await keeper.book({ ...content!, lines: content!.lines.map(l => ({ ...l, id: v7(), price: '1' })) })).status,
    ).to.equal(201)
    expect(await owed(v)).to.deep.equal(['0', '0'])
    expect((await come(keeper)).body.code).to.equal('nothing_owed')
    expect((await come(w.c, w.lab.id)).body.code, 'nothing is owed there').to.equal('nothing_owed')
  })

  it('a line that will not come is taken out with a reason; the others wait on, and it may be asked for anew', async () => {
    const v = await asked([flour, '1', 'sack'], [oats, '4'])
    const [line, other] = v.lines
    expect((await act(keeper, v, 'cancellation', { line: line!.id, why: '  ' })).status, 'a reason').to.equal(422)
    expect((await act(keeper, v, 'cancellation', { line: v7(), why: 'x' })).status).to.equal(404)
    const left = (await act(keeper, v, 'cancellation', { line: line!.id, why: 'they have none' })).body
    expect(left.lines.map(l => [l.owed, l.cancelled?.why ?? null, l.cancelled?.by ?? null])).to.deep.equal([
      ['0', 'they have none', 'Ruben'],
      ['4', null, null],
    ])
    expect(left.state).to.equal('asked')
    expect(
      (await act(keeper, v, 'cancellation', { line: line!.id, why: 'again' })).body.lines[0]!.cancelled!.why,
      'once',
    ).to.equal('they have none')
    const again = await asked([flour, '1', 'sack'])
    expect(await owed(again)).to.deep.equal(['25'])
    await receive(galley, 'Aster', [flour, '25'])
    expect([await owed(again), await owed(v)], 'it fills what is waited for').to.deep.equal([['0'], ['0', '4']])
    expect((await act(keeper, v, 'cancellation', { line: other!.id, why: 'nor that' })).body.state).to.equal('arrived')
    const open = await begin(keeper, [oats, '1'])
    expect((await act(keeper, open, 'cancellation', { line: open.lines[0]!.id, why: 'x' })).body.code).to.equal(
      'not_asked',
    )
    await drop(open)
  })

  it('what the same supplier delivered into another place has come, once; what came from elsewhere has not', async () => {
    const v = await asked([oats, '10'])
    await receive(w.lab.id, 'Thole', [oats, '10'])
    expect(await owed(v), 'another supplier’s').to.deep.equal(['10'])
    const there = await receive(w.lab.id, 'Aster', [oats, '6'])
    expect(await owed(v)).to.deep.equal(['4'])
    tick()
    await w.c.must({ kind: 'move', place: w.lab.id, lines: [w.c.line({ item: oats.id, typed: '6', to: galley })] })
    expect(await owed(v), 'carried over it is the same').to.deep.equal(['4'])
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: there.id, supplier: 'Aster' },
      lines: [w.c.line({ ref: there.lines[0]!.id, item: oats.id, act: 'replace', typed: '5' })],
    })
    expect(await owed(v)).to.deep.equal(['5'])
    await receive(galley, 'Aster', [oats, '7'])
    expect(await owed(v)).to.deep.equal(['0'])
  })
})
