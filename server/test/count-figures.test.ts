// A count that shows its figures shows them before anybody has counted; a blind one never does.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, SlipContentInput, WorkingView } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

describe('the figures of a count', () => {
  let w: World
  let gloves: Item
  let acid: Item
  let job: string
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACD', identifiedBy: 'lot' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Ostrelith' },
      lines: [
        w.c.line({ item: gloves.id, typed: '20', price: '2' }),
        w.c.line({ item: acid.id, typed: '3', price: '5', lot: { code: 'A' } }),
        w.c.line({ item: acid.id, typed: '4', price: '5', lot: { code: 'B' } }),
      ],
    })
    w.clock.now += 60_000
  })
  after(() => w.stop())

  it('stand before anybody has counted, by their working; what is not counted is no part of what was looked at', async () => {
    const lots = (await w.c.get<{ rows: { id: string; code: string }[] }>(`/api/items/${acid.id}/lots`)).rows
    const lotOf = (code: string) => ({ id: lots.find(l => l.code === code)!.id, code })
    const line = (item: Item, more: object) => w.c.line({ item: item.id, from: w.lab.id, ...more })
    const counted = line(acid, { lot: lotOf('A'), counted: 'counted', typed: '3' })
    const lines = [line(gloves, {}), line(acid, { lot: lotOf('B') }), counted]
    const content = (blind: boolean): SlipContentInput => ({ kind: 'count', place: w.lab.id, head: { blind }, lines })
    const told = async (blind: boolean) => (await w.c.effect(content(blind))).lines.map(l => [l.expected, l.difference])
    expect(await told(false)).to.deep.equal([
      ['20', null],
      ['4', null],
      ['3', '0'],
    ])
    // Blind, only what stands is told.
    expect(await told(true)).to.deep.equal([
      [null, null],
      [null, null],
      ['3', '0'],
    ])
    // An item with lots of which none lies there: nothing is expected, and confirming it says the same.
    const resin = await newItem(w.c, { name: 'Resin', code: 'RSN', identifiedBy: 'lot' })
    const bare = { ...content(false), lines: [line(resin, { lot: null }), line(acid, { lot: null }), counted] }
    const expected = async () => (await w.c.effect(bare)).lines.map(l => l.expected)
    expect(await expected(), 'of acid two lots lie there, and none is named').to.deep.equal(['0', null, '3'])
    Object.assign(bare.lines[0]!, { counted: 'confirmed' })
    expect(await expected()).to.deep.equal(['0', null, '3'])
    // A lot of another item says nothing, as long as nobody counts it.
    const odd = { ...content(false), lines: [line(gloves, { lot: lotOf('A') }), counted] }
    expect((await w.c.effect(odd)).refusals).to.deep.equal([])
    const id = v7()
    const working = (blind: boolean) =>
      w.c.call<WorkingView>('POST', `/api/slips/${id}/effect/working`, {
        content: content(blind),
        line: lines[0]!.id,
        figure: 'expected',
        side: 'after',
      })
    expect((await working(false)).body.figure).to.equal('20')
    expect((await working(true)).status).to.equal(403)

    // Somebody takes a box: the line nobody counted follows, and what was looked at of the others still stands.
    const looked = await w.c.effect(content(false))
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '2' })],
    })
    w.clock.now += 1000
    expect((await told(false))[0]).to.deep.equal(['18', null])
    expect((await w.c.book(content(false), id, looked.fingerprint)).status).to.equal(201)
    // It tallied what was counted, and nothing else.
    expect((await w.c.get<{ onHand: string }>(`/api/items/${gloves.id}/stock`)).onHand).to.equal('18')
  })
  it('say what moved within half an hour, and stand by what the counter says of it: before the count, or after', async () => {
    const tape = await newItem(w.c, { name: 'Tape', code: 'TAP' })
    const to = { head: { job } }
    await w.c.must({ kind: 'opening', place: w.lab.id, lines: [w.c.line({ item: tape.id, typed: '20', price: '1' })] })
    w.clock.now += 7_200_000
    const counted = w.clock.now
    const at = (minutes: number) => new Date(counted + minutes * 60_000).toISOString()
    // Written ten minutes later: when it was taken is known to the minute at best.
    w.clock.now += 600_000
    const issue = async (minutes: number, typed: string) =>
      (
        await w.c.must({
          kind: 'issue',
          place: w.lab.id,
          ...to,
          effectiveAt: at(minutes),
          lines: [w.c.line({ item: tape.id, typed })],
        })
      ).number
    const [first, second] = [await issue(-5, '2'), await issue(5, '3')]
    const line = w.c.line({ item: tape.id, from: w.lab.id, counted: 'counted', typed: '20', countedAt: at(0) })
    const told = async (countedAt: string | null, more: object = {}) => {
      const head = { blind: false }
      const content = { kind: 'count' as const, place: w.lab.id, head, lines: [{ ...line, countedAt, ...more }] }
      const [found] = (await w.c.effect(content)).lines
      return [found!.expected, found!.near?.map(n => [n.slip.number, n.quantity, n.at, n.before, n.turned])]
    }
    const moment = (minutes: number) => new Date(counted + minutes * 60_000 - 1).toISOString()
    expect(await told(at(0))).to.deep.equal([
      '18',
      [
        [first, '-2', at(-5), true, moment(-5)],
        [second, '-3', at(5), false, at(5)],
      ],
    ])
    // The first was after it: twenty lay there. The second before it: fifteen.
    expect((await told(moment(-5)))[0]).to.equal('20')
    expect((await told(at(5)))[0]).to.equal('15')
    expect(await told(at(0), { counted: 'confirmed', typed: '' }), 'as expected, whatever that is').to.deep.equal([
      '18',
      undefined,
    ])
    expect((await told(at(-40)))[1], 'long before').to.equal(undefined)
    await w.c.must({ kind: 'count', place: w.lab.id, lines: [{ ...line, countedAt: moment(-5) }] })
    const { places } = await w.c.get<{ places: { levels: { onHand: string } }[] }>(`/api/items/${tape.id}/stock`)
    expect(
      places.map(p => p.levels.onHand),
      'twenty, less two and three: nothing was missing',
    ).to.deep.equal(['15'])
  })
  it('of a place one may not see are told to nobody', async () => {
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const keeper = await person(w, 'Ruben', 'keeper', shed)
    const r = await keeper.call<{ lines: unknown[] }>('POST', `/api/slips/${v7()}/effect`, {
      kind: 'count',
      place: shed,
      head: { blind: false },
      lines: [w.c.line({ item: gloves.id, from: w.lab.id })],
    })
    expect(r.text).to.not.include('"18"')
  })
})
