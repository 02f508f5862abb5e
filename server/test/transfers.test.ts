// Sent and received: what travels lies in a place of its own between two; seen by either end, booked at each by its keeper (rules 12, 67).
import { expect } from 'chai'
import { v7 } from 'uuid'
import { decimal, formatDecimal } from '@shelve/core'
import type {
  Item,
  ItemStock,
  JobView,
  Place,
  SlipContentInput,
  SlipView,
  StockRow,
  Today,
  TransferRow,
  TransferView,
  UsualWay,
  WorkingView,
} from '@shelve/contract'
import { verify } from '@shelve/server'
import { Client, newItem, PASSWORD, person, world, type World } from './client.ts'

type Found = { id: string }
const DAY = 86_400_000
describe('what is sent and arrives', () => {
  let w: World
  let filter: Item
  let oil: Item
  let shed: string
  let rack: string
  let hide: string
  let mirja: Client
  let tova: Client
  beforeEach(async () => {
    w = await world()
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Boat shed', kind: 'area' })).id
    hide = (await w.c.ok<Found>('POST', '/api/places', { name: 'Hide', kind: 'area' })).id
    rack = (await w.c.ok<Found>('POST', '/api/places', { name: 'Rack', parent: shed })).id
    filter = await newItem(w.c, { name: 'Filter', code: 'FIL' })
    oil = await newItem(w.c, { name: 'Oil', code: 'OIL', unit: 'L', decimals: 2, identifiedBy: 'lot' })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        w.c.line({ item: filter.id, typed: '10', price: '3' }),
        w.c.line({ item: oil.id, typed: '5', price: '4', lot: { code: 'O1' } }),
        w.c.line({ item: oil.id, typed: '3', price: '6', lot: { code: 'O2' } }),
      ],
    })
    // The lab is kept by one, the shed by another.
    tova = await person(w, 'Tova', 'keeper', w.lab.id)
    mirja = await person(w, 'Mirja', 'keeper', shed)
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })

  const sending = (
    typed = '4',
    more: Partial<NonNullable<SlipContentInput['head']>> = {},
    litres = '6',
  ): SlipContentInput => ({
    kind: 'dispatch',
    place: w.lab.id,
    head: { towards: shed, carrier: 'the mail boat', due: '2026-11-27', ...more },
    lines: [w.c.line({ item: filter.id, typed }), w.c.line({ item: oil.id, typed: litres })],
  })
  const transfer = (id: string, c = w.c) => c.get<TransferView>(`/api/transfers/${id}`)
  const rows = async (c = w.c, more = '') => (await c.get<{ rows: TransferRow[] }>(`/api/transfers${more}`)).rows
  const begin = async (sent: string, c: Client, place?: string) => {
    const id = v7()
    await c.ok('POST', `/api/transfers/${sent}/arrival`, { id, place })
    return id
  }
  /** Says of what is awaited how much has come, item by item (and lot); then books it. */
  const arrive = async (sent: string, came: Record<string, string>, c = mirja) => {
    const id = await begin(sent, c)
    const d = await c.draft(id)
    const { status, text } = await c.save(id, {
      lines: d.lines.map(({ id, revision, position, line }) => {
        const name = (line!.item === filter.id ? 'Filter' : `Oil ${line!.lot!.code}`) as string
        return { id, seen: revision, position, line: { ...line!, typed: came[name] ?? '' } }
      }),
    })
    expect(status, text).to.equal(200)
    return c.bookSeen(await c.draft(id))
  }
  const levels = async (item: Item, place: string) =>
    (await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${place}&q=${item.code}`)).rows[0]?.levels
  const stock = (item: Item) => w.c.get<ItemStock>(`/api/items/${item.id}/stock`)
  const lines = (t: TransferView) =>
    t.lines.map(l => [`${l.item.name}${l.lot ? ` ${l.lot.code}` : ''}`, l.sent, l.arrived, l.lost, l.left].join(' '))

  it('here + on the way + there is constant, and so is the value; half arrives, the rest stays on its way', async () => {
    const sent = await tova.ok<SlipView>('POST', `/api/slips/${v7()}/booking`, { content: sending(), seen: null })
    expect([sent.number, sent.title]).to.deep.equal(['DP-0001', 'to Boat shed'])
    const everything = async () => {
      const s = [await stock(filter), await stock(oil)]
      return s.map(x => [x.onHand, x.value, formatDecimal(x.places.reduce((n, p) => n + decimal(p.levels.onHand), 0n))])
    }
    const all = [
      ['10', '30', '10'],
      ['8', '38', '8'],
    ]
    expect(await everything()).to.deep.equal(all)
    expect((await stock(filter)).places.map(p => [p.name, p.levels.onHand])).to.deep.equal([
      ['Wet lab', '6'],
      ['On the way, DP-0001', '4'],
    ])
    expect(lines(await transfer(sent.id))).to.deep.equal(['Filter 4 0 0 4', 'Oil O1 5 0 0 5', 'Oil O2 1 0 0 1'])
    // What is in no stockroom's value is told beside them: 4 of 10 for 30, 6 of 8 for 38.
    const told = async () => {
      const { shelves, onTheWay } = await w.c.get<Today>('/api/today')
      const there = shelves.reduce((sum, s) => sum + decimal(s.value!), decimal(onTheWay?.value ?? '0'))
      return [formatDecimal(there), onTheWay && [onTheWay.things, onTheWay.value]]
    }
    expect(await told()).to.deep.equal(['68', [2, '40.5']])
    // Its working says what was sent from where to where, and adds up to it.
    const { figure, lines: sums } = await w.c.get<WorkingView>('/api/workings/on-the-way')
    expect([figure, sums.map(l => [l.label, l.amount, l.slip?.number, l.note])]).to.deep.equal([
      '40.5',
      [['sent', '40.5', sent.number, 'from Wet lab to Boat shed, 2 things']],
    ])
    const first = await arrive(sent.id, { Filter: '3', 'Oil O1': '5' })
    expect(first.status, first.text).to.equal(201)
    expect([first.body.number, first.body.title]).to.deep.equal(['AR-0001', 'from Wet lab'])
    expect(lines(await transfer(sent.id))).to.deep.equal(['Filter 4 3 0 1', 'Oil O1 5 5 0 0', 'Oil O2 1 0 0 1'])
    expect(await everything()).to.deep.equal(all)
    const rest = await arrive(sent.id, { Filter: '1', 'Oil O2': '1' })
    expect(rest.status, rest.text).to.equal(201)
    expect(await rows()).to.deep.equal([])
    expect(await told()).to.deep.equal(['68', null])
    expect((await rows(w.c, '?over=true')).map(r => [r.number, r.left, r.items])).to.deep.equal([['DP-0001', 0, 2]])
    expect(await everything()).to.deep.equal(all)
    expect((await stock(filter)).places.map(p => [p.name, p.levels.onHand])).to.deep.equal([
      ['Wet lab', '6'],
      ['Boat shed', '4'],
    ])
  })

  it('a move received twice is refused, however it is tried; so is more than was sent', async () => {
    const sent = await w.c.must(sending())
    const twice = await begin(sent.id, mirja)
    await arrive(sent.id, { Filter: '4', 'Oil O1': '5', 'Oil O2': '1' })
    const d = await mirja.draft(twice)
    const changes = d.lines.map(({ id, revision, position, line }) => ({
      id,
      seen: revision,
      position,
      line: { ...line!, typed: line!.asked },
    }))
    await mirja.save(twice, { lines: changes })
    const again = await mirja.bookSeen(await mirja.draft(twice))
    expect([again.status, again.body.code]).to.deep.equal([422, 'not_on_the_way'])
    expect(again.body.detail).to.equal('Nothing of this is on its way any more by DP-0001.')
    const begun = await mirja.call('POST', `/api/transfers/${sent.id}/arrival`, { id: v7() })
    expect([begun.status, begun.body.code]).to.deep.equal([409, 'nothing_on_the_way'])
    const other = await w.c.must(sending('2', { due: null }, '1'))
    const much = await arrive(other.id, { Filter: '3' })
    expect(much.body.detail).to.match(/^Only 2 each of this are still on their way by DP-0002/)
    const none = await arrive(other.id, {})
    expect([none.status, none.body.code]).to.deep.equal([422, 'nothing_arrived'])
  })

  it('either end sees it; each books at its own: the sender does not say that it arrived, nobody else sees it at all', async () => {
    const anna = await person(w, 'Anna', 'keeper', hide)
    const sent = await tova.ok<SlipView>('POST', `/api/slips/${v7()}/booking`, { content: sending(), seen: null })
    expect((await rows(tova)).map(r => r.number)).to.deep.equal(['DP-0001'])
    expect((await rows(mirja)).map(r => [r.from.name, r.to.name, r.carrier, r.due, r.left])).to.deep.equal([
      ['Wet lab', 'Boat shed', 'the mail boat', '2026-11-27', 2],
    ])
    expect((await rows(anna)).length).to.equal(0)
    const things = async (c: Client) => (await c.get<Today>('/api/today')).onTheWay?.things ?? 0
    expect([await things(tova), await things(mirja), await things(anna)]).to.deep.equal([2, 2, 0])
    for (const path of [`/api/transfers/${sent.id}`, `/api/slips/${sent.id}`]) {
      expect((await mirja.call('GET', path)).status, path).to.equal(200)
      expect((await anna.call('GET', path)).status, path).to.equal(404)
    }
    expect((await anna.call('POST', `/api/transfers/${sent.id}/arrival`, { id: v7() })).status).to.equal(404)
    expect((await tova.call('POST', `/api/transfers/${sent.id}/arrival`, { id: v7() })).status).to.equal(403)
    const offered = async (c: Client) => (await c.get<TransferView>(`/api/transfers/${sent.id}`)).mayArrive
    expect([await offered(tova), await offered(mirja)], 'nor is it offered').to.deep.equal([false, true])
    const [line] = (await transfer(sent.id)).lines
    const arrival = (place: string): SlipContentInput => ({
      kind: 'arrival',
      place,
      head: { sent: sent.id },
      lines: [w.c.line({ item: line!.item.id, typed: '1' })],
    })
    // What the other end sent is not theirs to take back.
    const back = await mirja.call('POST', `/api/slips/${sent.id}/reversal`, { id: v7() })
    expect([back.status, back.body.code]).to.deep.equal([422, 'not_your_place'])
    const byTova = await tova.book(arrival(w.lab.id))
    expect(byTova.status, 'what comes back is booked where it lies then').to.equal(201)
    const byAnna = await anna.book(arrival(hide))
    expect([byAnna.status, byAnna.body.code]).to.deep.equal([422, 'unknown_slip'])
    expect((await mirja.call('PUT', `/api/transfers/${sent.id}/due`, { due: '2026-11-30' })).status).to.equal(200)
  })

  it('nothing is taken from what travels, or put there; it is no place to be sent to', async () => {
    const sent = await w.c.must(sending())
    const way = w.app.places.row(w.app.places.sentBy(w.app.rows.slip.get({ uid: sent.id })!.id)!)!.uid
    const line = (more: object) => [w.c.line({ item: filter.id, typed: '1', ...more })]
    const tries: [SlipContentInput, string][] = [
      [{ kind: 'move', place: w.lab.id, lines: line({ to: way }) }, 'on_the_way'],
      [{ kind: 'move', place: w.lab.id, lines: line({ from: way, to: shed }) }, 'on_the_way'],
      [{ kind: 'move', place: way, lines: line({ to: shed }) }, 'on_the_way'],
      [{ kind: 'waste', place: way, lines: line({}) }, 'on_the_way'],
      [{ kind: 'receipt', place: w.lab.id, head: { supplier: 'Aster' }, lines: line({ to: way }) }, 'on_the_way'],
      [{ ...sending(), head: { towards: way } }, 'no_goal'],
      [{ ...sending(), head: {} }, 'where_to'],
      [{ ...sending(), head: { towards: w.lab.id } }, 'not_away'],
      [{ ...sending(), head: { towards: shed, due: '2026-11-24' } }, 'due_before'],
      [sending('11'), 'insufficient_stock'],
      [{ kind: 'arrival', place: shed, lines: line({}) }, 'not_sent'],
      [{ kind: 'count', place: way, lines: line({ typed: '5', again: '5', counted: 'counted' }) }, 'more_than_sent'],
    ]
    for (const [content, code] of tries) {
      const r = await w.c.book(content)
      expect([r.status, r.body.fields?.[0]?.code ?? r.body.code], `${content.kind}: ${r.text}`).to.deep.equal([
        422,
        code,
      ])
    }
    expect((await w.c.get<{ rows: Place[] }>('/api/places')).rows.map(p => p.kind)).not.to.include('transit')
  })

  it('taken back: the arrival first, then what was sent; one line replaced stays on the same way', async () => {
    const sent = await w.c.must(sending())
    const came = await arrive(sent.id, { Filter: '4' })
    const early = await w.c.call('POST', `/api/slips/${sent.id}/reversal`, { id: v7() })
    expect(early.status, early.text).to.equal(422)
    // Fewer had been put into the box than was written down.
    const fewer = await w.c.book({
      kind: 'correction',
      head: { corrects: came.body.id },
      lines: [w.c.line({ ref: came.body.lines[0]!.id, act: 'replace', item: filter.id, typed: '3', to: rack })],
    })
    expect(fewer.status, fewer.text).to.equal(201)
    expect(lines(await transfer(sent.id))[0]).to.equal('Filter 4 3 0 1')
    expect((await stock(filter)).places.map(p => [p.name, p.levels.onHand])).to.deep.include(['Boat shed', '3'])
    await w.c.ok('POST', `/api/slips/${fewer.body.id}/reversal`, { id: v7() })
    const less = await w.c.book({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: sent.id },
      lines: [w.c.line({ ref: sent.lines[0]!.id, act: 'replace', item: filter.id, typed: '2' })],
    })
    expect(less.status, less.text).to.equal(201)
    expect(lines(await transfer(sent.id))[0]).to.equal('Filter 2 0 0 2')
    for (const [slip, line] of [
      [less.body.id, null],
      [sent.id, [sent.lines[1]!.id]],
    ] as const)
      await w.c.ok('POST', `/api/slips/${slip}/reversal`, { id: v7(), lines: line })
    expect((await stock(filter)).places.map(p => [p.name, p.levels.onHand])).to.deep.equal([['Wet lab', '10']])
    expect((await transfer(sent.id)).lines).to.deep.equal([])
  })

  it('what is lost is an open difference, and found again it is back; the rest is still on its way', async () => {
    const sent = await w.c.must(sending())
    await arrive(sent.id, { Filter: '3', 'Oil O1': '5' })
    const id = v7()
    const lose = (c: Client, of?: object[]) =>
      c.call<TransferView>('POST', `/api/transfers/${sent.id}/loss`, { id, why: 'Overboard', of })
    const lost = await lose(mirja, [{ item: filter.id }])
    expect(lost.status, lost.text).to.equal(201)
    expect(lines(lost.body)).to.deep.equal(['Filter 4 3 1 0', 'Oil O1 5 5 0 0', 'Oil O2 1 0 0 1'])
    expect(lines((await lose(mirja, [{ item: filter.id }])).body), 'said again it is the same').to.deep.equal(
      lines(lost.body),
    )
    const open = await w.c.get<{ rows: { id: string; open: string; value: string }[] }>('/api/differences')
    expect(open.rows.map(r => [r.open, r.value])).to.deep.equal([['-1', '-3']])
    // It lay under a seat.
    const found = await w.c.book({
      kind: 'closing',
      place: shed,
      lines: [w.c.line({ difference: open.rows[0]!.id, act: 'found', typed: '1', to: shed })],
    })
    expect(found.status, found.text).to.equal(201)
    expect((await stock(filter)).places.map(p => [p.name, p.levels.onHand])).to.deep.equal([
      ['Wet lab', '6'],
      ['Boat shed', '4'],
    ])
  })

  it('some of a line is lost while the rest of it travels on, and again; no more than is on the way, and something', async () => {
    const sent = await w.c.must(sending())
    const lose = (typed: string) =>
      mirja.call<TransferView>('POST', `/api/transfers/${sent.id}/loss`, {
        id: v7(),
        why: 'Overboard',
        of: [{ item: filter.id, typed }],
      })
    expect(lines((await lose('1')).body)[0]).to.equal('Filter 4 0 1 3')
    for (const [typed, said] of [
      ['4', /^Only 3 each of Filter are on the way still/],
      ['0', /^How much of Filter is lost\?/],
      ['-1', /./],
      ['some', /./],
    ] as const) {
      const r = await lose(typed)
      expect([r.status, r.body.fields[0]!.field], typed).to.deep.equal([422, 'of.0.typed'])
      expect(r.body.detail).to.match(said)
    }
    const came = await arrive(sent.id, { Filter: '1' })
    expect(came.status, came.text).to.equal(201)
    expect(lines(await transfer(sent.id))[0], 'it came the moment before: what was missing is there').to.equal(
      'Filter 4 1 0 3',
    )
    w.clock.now += 60_000
    expect(lines((await lose('1')).body)[0]).to.equal('Filter 4 1 1 2')
    w.clock.now += 60_000
    expect(lines((await lose('1')).body)[0]).to.equal('Filter 4 1 2 1')
    const open = await w.c.get<{ rows: { open: string }[] }>('/api/differences')
    expect(open.rows.map(r => r.open)).to.deep.equal(['-1', '-1'])
    w.clock.now += 60_000
    await arrive(sent.id, { Filter: '1' })
    expect(lines(await transfer(sent.id))[0]).to.equal('Filter 4 2 2 0')
    expect((await lose('')).status, 'nothing of it is left').to.equal(409)
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('it is coming where it goes, from its day on; past its day it waits on Today; past the patience nobody reckons with it', async () => {
    await w.c.ok('PUT', '/api/levels', { item: filter.id, place: shed, minimum: '5', target: '9', bin: null })
    const sent = await w.c.must(sending())
    expect(await levels(filter, shed)).to.deep.include({ onHand: '0', available: '0', coming: '4' })
    expect(await levels(filter, w.lab.id)).to.deep.include({ onHand: '6', available: '6', coming: '0' })
    // A job there that needs it the day after has it in time.
    const job = async () =>
      (
        await w.c.ok<Found>('POST', '/api/jobs', {
          name: 'Engine service',
          place: shed,
          day: '2026-11-28',
          lines: [{ id: v7(), item: filter.id, typed: '2' }],
        })
      ).id
    const view = await w.c.get<JobView>(`/api/jobs/${await job()}`)
    expect([view.lines[0]!.coming, view.lines[0]!.whence]).to.deep.equal(['2', 'coming'])
    const waits = async (c: Client) => {
      const { waiting } = await c.get<Today>('/api/today')
      return waiting.filter(x => x.kind === 'transfer').map(x => [x.transfer?.number, x.transfer?.overdue, x.day])
    }
    expect(await waits(mirja), 'not before its day').to.deep.equal([])
    w.clock.now += 2 * DAY
    for (const c of [w.c, mirja, tova])
      await c.ok(
        'POST',
        '/api/session',
        c === w.c
          ? { signIn: 'ines', password: 'correct horse' }
          : { signIn: c === mirja ? 'mirja' : 'tova', password: PASSWORD },
      )
    expect(await waits(mirja)).to.deep.equal([['DP-0001', false, '2026-11-27']])
    expect(await waits(tova), 'who sent it waits for it only when it is late').to.deep.equal([])
    w.clock.now += DAY
    expect([await waits(mirja), await waits(tova)]).to.deep.equal([
      [['DP-0001', true, '2026-11-27']],
      [['DP-0001', true, '2026-11-27']],
    ])
    await w.c.ok('PUT', `/api/transfers/${sent.id}/due`, { due: '2026-11-29' })
    expect((await rows()).map(r => [r.due, r.overdue])).to.deep.equal([['2026-11-29', false]])
    expect((await levels(filter, shed))!.coming).to.equal('4')
    w.clock.now += 30 * DAY
    await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    expect((await levels(filter, shed))!.coming, 'late by 29 days: 28 are waited').to.equal('0')
  })

  it('what was asked for from our own shelves and is sent is owed no more: it comes, once', async () => {
    await w.c.ok('PUT', '/api/levels', { item: filter.id, place: shed, minimum: '5', target: '9', bin: null })
    const id = v7()
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'shelves', id: w.lab.id },
      lines: [{ id: v7(), item: filter.id, place: shed, typed: '4' }],
    })
    await w.c.ok('POST', `/api/restock/${id}/asking`, {
      where: 'our own shelves',
      at: null,
      number: '',
      expected: null,
    })
    expect((await levels(filter, shed))!.coming).to.equal('4')
    const sent = await w.c.must(sending())
    expect((await levels(filter, shed))!.coming).to.equal('4')
    await arrive(sent.id, { Filter: '4' })
    expect(await levels(filter, shed)).to.deep.include({ onHand: '4', coming: '0' })
  })

  it('how it went last between two places is remembered', async () => {
    const way = async (from: string, to: string) =>
      (await w.c.get<{ way: UsualWay | null }>(`/api/transfers/usual?from=${from}&to=${to}`)).way
    expect(await way(w.lab.id, rack)).to.equal(null)
    await w.c.must(sending())
    await w.c.must(sending('1', { carrier: 'Tova, on foot', due: null }, '1'))
    expect(await way(w.lab.id, rack)).to.deep.equal({ carrier: 'Tova, on foot', days: null })
    await w.c.must({ ...sending(), lines: [w.c.line({ item: filter.id, typed: '1' })] })
    expect(await way(w.lab.id, shed)).to.deep.equal({ carrier: 'the mail boat', days: 2 })
    expect(await way(shed, w.lab.id)).to.equal(null)
  })
})
