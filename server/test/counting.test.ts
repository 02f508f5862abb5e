// When an area is due again, what is counted together, what is closed meanwhile, and what a booked count says of itself.
import { expect } from 'chai'
import { verify } from '@shelve/server'
import { v7 } from 'uuid'
import type { CountArea, CountGroup, CountReport, Item, PrintedSheet, Sheet, SlipView } from '@shelve/contract'
import type { z } from 'zod'
import { type Client, newItem, person, world, type World } from './client.ts'

const DAY = 86_400_000

describe('counting an area, and what is counted together', () => {
  let w: World
  let gloves: Item
  let acid: Item
  let tubes: Item
  let job: string
  let bin: string
  const tick = (ms = 60_000) => (w.clock.now += ms)
  const at = (ms = 0) => new Date(w.clock.now + ms).toISOString().replace('.000', '')
  const areas = async (c = w.c) => (await c.get<{ rows: CountArea[]; sheets: PrintedSheet[] }>('/api/count-areas')).rows
  const lab = async () => (await areas()).find(a => a.id === w.lab.id && a.group === null)!
  const issue = (c: Client, more: object = {}) =>
    c.book({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '1' })],
      ...more,
    })
  /** A count of the lab: what is said of each item, in a word. */
  const count = async (said: Record<string, string>, head: object = {}) => {
    const items: Record<string, Item> = { GLV: gloves, ACD: acid, TUB: tubes }
    const r = await w.c.must({
      kind: 'count',
      place: w.lab.id,
      head: { blind: false, ...head },
      lines: Object.entries(said).map(([code, how]) =>
        w.c.line({
          item: items[code]!.id,
          from: code === 'TUB' ? bin : w.lab.id,
          ...(how === 'out'
            ? { counted: 'left_out', note: 'frozen in' }
            : how === 'not'
              ? {}
              : how === '='
                ? { counted: 'confirmed' }
                : { counted: 'counted', typed: how, again: how }),
        }),
      ),
    })
    tick()
    return r
  }
  const sheet = (more = '') => w.c.get<z.infer<typeof Sheet>>(`/api/sheets?place=${w.lab.id}${more}`)
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACD' })
    tubes = await newItem(w.c, { name: 'Tubes', code: 'TUB' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    bin = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'B1', kind: 'bin', parent: w.lab.id })).id
    await w.c.ok('PUT', `/api/places/${w.lab.id}`, {
      name: w.lab.name,
      kind: 'area',
      parent: w.lab.parent,
      countEveryDays: 30,
    })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Ostrelith' },
      lines: [
        w.c.line({ item: gloves.id, typed: '20', price: '2' }),
        w.c.line({ item: acid.id, typed: '5', price: '10' }),
        w.c.line({ item: tubes.id, typed: '100', price: '0.1', to: bin }),
      ],
    })
    tick()
  })
  // The days go by faster than a session lasts.
  beforeEach(() => w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' }))
  after(() => w.stop())

  it('is due again only where every line is counted or left out on purpose', async () => {
    const first = (await lab()).due
    tick(10 * DAY)
    const part = await count({ GLV: '=', ACD: '=' })
    expect(await lab(), 'what stands on no line was left').to.deep.include({ due: first, left: 1 })
    await count({ GLV: '=', ACD: '=', TUB: 'not' })
    expect(await lab()).to.deep.include({ due: first, left: 1 })
    const whole = await count({ GLV: '=', ACD: '=', TUB: 'out' })
    expect(await lab()).to.deep.include({
      due: '2027-01-04',
      left: 0,
      lastSlip: { id: whole.id, number: whole.number },
    })
    // What came while it was counted is not asked for: it lay nowhere when the count began.
    tick(DAY)
    const began = at()
    tick()
    const salt = await newItem(w.c, { name: 'Salt', code: 'SLT' })
    await w.c.received(w.lab.id, 'Ostrelith', w.c.line({ item: salt.id, typed: '1', price: '1' }))
    tick()
    const lines = [gloves, acid, tubes].map(i =>
      w.c.line({ item: i.id, from: i === tubes ? bin : w.lab.id, counted: 'confirmed', countedAt: began }),
    )
    const late = await w.c.must({ kind: 'count', place: w.lab.id, head: { blind: false }, lines })
    expect(await lab()).to.deep.include({ due: '2027-01-05', left: 0 })
    // Taken back, it was none; of another the same.
    await w.c.ok('POST', `/api/slips/${late.id}/reversal`, { id: v7(), lines: null, why: '' })
    expect((await lab()).due).to.equal('2027-01-04')
    await w.c.ok('POST', `/api/slips/${whole.id}/reversal`, { id: v7(), lines: null, why: '' })
    expect(await lab()).to.deep.include({ due: first, left: 1 })
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason: await reason() },
      lines: [w.c.line({ item: salt.id, typed: '1' })],
    })
    tick()
    expect(part.state).to.equal('booked')
  })
  const reason = async () =>
    (await w.c.ok<{ id: string }>('POST', '/api/waste-reasons', { name: `Spilt ${w.clock.now}` })).id

  it('what a count left is counted on a sheet of its own, and both together are the whole', async () => {
    const before = (await lab()).due
    tick(DAY)
    const part = await count({ GLV: '=', ACD: 'not' })
    expect(await lab()).to.deep.include({ due: before, left: 2 })
    const rest = await sheet(`&rest=${part.id}`)
    expect(rest.lines.map(l => [l.item, l.place])).to.deep.equal([
      [acid.id, w.lab.id],
      [tubes.id, bin],
    ])
    const strange = await w.c.book({
      kind: 'count',
      place: w.lab.id,
      head: {
        rest: (
          await w.c.must({
            kind: 'issue',
            place: w.lab.id,
            head: { job },
            lines: [w.c.line({ item: gloves.id, typed: '1' })],
          })
        ).id,
      },
      lines: [w.c.line({ item: acid.id, from: w.lab.id, counted: 'confirmed' })],
    })
    expect(strange.body.code, 'it completes no count').to.equal('unknown_rest')
    tick(DAY)
    const second = await count({ ACD: '=' }, { rest: part.id })
    expect(await lab()).to.deep.include({ due: before, left: 1 })
    const third = await count({ TUB: '=' }, { rest: second.id })
    expect(await lab()).to.deep.include({ left: 0, due: new Date(w.clock.now + 30 * DAY).toISOString().slice(0, 10) })
    // Without the first of them the whole is none.
    await w.c.ok('POST', `/api/slips/${part.id}/reversal`, { id: v7(), lines: null, why: '' })
    expect((await lab()).due).to.equal(before)
    expect((await sheet(`&rest=${third.id}`)).lines.map(l => l.item)).to.deep.equal([gloves.id])
  })

  it('a category, an item or what is picked by hand is counted together, by a cycle of its own; the whole area counts them too', async () => {
    const group = (more: object) =>
      w.c.ok<{ id: string }>('POST', '/api/count-groups', { place: w.lab.id, everyDays: 7, ...more })
    const wet = await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Wet', parent: null })
    const own = await w.c.get<Item & { revision: number }>(`/api/items/${acid.id}`)
    expect(own.category).to.equal(null)
    const sharp = await newItem(w.c, { name: 'Brine', code: 'BRI', category: wet.id })
    await w.c.received(w.lab.id, 'Ostrelith', w.c.line({ item: sharp.id, typed: '8', price: '3' }))
    tick()
    const picked = await group({ name: 'Small things', items: [gloves.id, tubes.id] })
    const category = await group({ name: 'Wet things', category: wet.id })
    expect(
      (await w.c.call('POST', '/api/count-groups', { name: 'small THINGS', place: w.lab.id, items: [acid.id] })).body
        .code,
    ).to.equal('name_taken')
    expect((await w.c.call('POST', '/api/count-groups', { name: 'Nothing', place: w.lab.id })).status).to.equal(422)
    const row = async (id: string) => (await areas()).find(a => a.group?.id === id)!
    expect((await row(picked.id)).lines).to.equal(2)
    expect((await sheet(`&group=${category.id}`)).lines.map(l => l.item)).to.deep.equal([sharp.id])
    const area = (await lab()).due
    const of = { head: { blind: false, group: picked.id } }
    const lines = (items: [Item, string][]) =>
      items.map(([i, from]) => w.c.line({ item: i.id, from, counted: 'confirmed' }))
    tick(2 * DAY)
    await w.c.must({ kind: 'count', place: w.lab.id, ...of, lines: lines([[gloves, w.lab.id]]) })
    expect((await row(picked.id)).left).to.equal(1)
    tick()
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      ...of,
      lines: lines([
        [gloves, w.lab.id],
        [tubes, bin],
      ]),
    })
    const inSeven = new Date(w.clock.now + 7 * DAY).toISOString().slice(0, 10)
    expect(await row(picked.id)).to.deep.include({ left: 0, due: inSeven })
    expect((await lab()).due, 'a group is not the area').to.equal(area)
    // The area as a whole counts every group that lies in it.
    tick(3 * DAY)
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      head: { blind: false },
      lines: lines([
        [gloves, w.lab.id],
        [acid, w.lab.id],
        [sharp, w.lab.id],
        [tubes, bin],
      ]),
    })
    const later = new Date(w.clock.now + 7 * DAY).toISOString().slice(0, 10)
    expect([(await row(picked.id)).due, (await row(category.id)).due]).to.deep.equal([later, later])
    // On paper, with the area, under one number; and entered as a count of the group.
    const { rows } = await w.c.ok<{ rows: PrintedSheet[] }>('POST', '/api/sheets', {
      areas: [w.lab.id],
      groups: [picked.id],
      blind: false,
    })
    expect(rows.map(s => [s.number, s.group?.name ?? null, s.firstPage])).to.deep.equal([
      [1, null, 1],
      [1, 'Small things', 2],
    ])
    const { id } = await w.c.ok<{ id: string }>('POST', `/api/sheets/${rows[1]!.id}/entry`, { id: v7() })
    expect((await w.c.draft(id)).head.head.group).to.equal(picked.id)
    expect((await row(picked.id)).draft).to.deep.include({ id, paper: true })
    expect((await lab()).draft).to.equal(null)
    // Changed, it is another; out of use, it is due no more.
    const all = await w.c.get<{ rows: CountGroup[] }>('/api/count-groups')
    const now = all.rows.find(g => g.id === picked.id)!
    const change = { name: now.name, place: now.place, items: [gloves.id], everyDays: 7 }
    expect((await w.c.call('PUT', `/api/count-groups/${now.id}`, change, { 'if-match': '9' })).status).to.equal(409)
    await w.c.ok('PUT', `/api/count-groups/${now.id}`, change, { 'if-match': String(now.revision) })
    expect((await row(picked.id)).lines).to.equal(1)
    await w.c.ok('PUT', `/api/count-groups/${now.id}`, { ...change, active: false })
    expect((await areas()).some(a => a.group?.id === picked.id)).to.equal(false)
    const keeper = await person(w, 'kim', 'keeper', w.lab.id)
    expect((await keeper.call('PUT', `/api/count-groups/${now.id}`, change)).status, 'who may not set up').to.equal(403)
  })

  it('closed for counting, nothing moves in an area but what moved before; the whole count opens it', async () => {
    const keeper = await person(w, 'ada', 'keeper', w.lab.id)
    tick()
    expect((await issue(keeper)).status).to.equal(201)
    const before = at()
    tick()
    await w.c.ok('PUT', `/api/count-areas/${w.lab.id}/closing`)
    expect((await lab()).closed).to.deep.equal({ since: at().replace('Z', '.000Z'), by: 'Ines Corrie' })
    tick()
    const no = await issue(keeper)
    expect([no.status, no.body.code]).to.deep.equal([422, 'closed_for_counting'])
    expect(no.body.fields[0]!.message).to.match(/^Wet lab is closed for counting since .* by Ines Corrie/)
    const line = w.c.line({ item: tubes.id, from: bin, typed: '1' })
    expect(
      (await keeper.book({ kind: 'waste', place: w.lab.id, head: { reason: await reason() }, lines: [line] })).body
        .code,
      'nor in a bin of it',
    ).to.equal('closed_for_counting')
    const moved = await issue(keeper, { effectiveAt: before })
    expect(moved.status, 'what happened before is written down').to.equal(201)
    await w.c.ok('POST', `/api/slips/${moved.body.id}/reversal`, { id: v7(), lines: null, why: '' })
    await count({ GLV: '=' })
    expect((await lab()).closed, 'not all of it is counted').to.not.equal(null)
    const rows = (await sheet()).lines
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      head: { blind: false },
      lines: rows.map(l => w.c.line({ item: l.item, from: l.place, counted: 'confirmed' })),
    })
    expect((await lab()).closed).to.equal(null)
    tick()
    expect((await issue(keeper)).status).to.equal(201)
    // Whoever may book there opens it; somebody else does not.
    await w.c.ok('PUT', `/api/count-areas/${w.lab.id}/closing`)
    const away = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const other = await person(w, 'bo', 'keeper', away)
    expect((await other.call('DELETE', `/api/count-areas/${w.lab.id}/closing`)).status).to.equal(404)
    await keeper.ok('DELETE', `/api/count-areas/${w.lab.id}/closing`)
    expect((await lab()).closed).to.equal(null)
    const shelf = await keeper.call('PUT', `/api/count-areas/${bin}/closing`)
    expect([shelf.status, shelf.body.code], 'a bin is no area').to.deep.equal([422, 'not_an_area'])
  })

  it('counted by two, each line waits for the second; a third figure settles what they do not agree on', async () => {
    const ada = await person(w, 'eve', 'keeper', w.lab.id)
    tick()
    const id = v7()
    const line = w.c.line({ item: acid.id, from: w.lab.id })
    const has = 5
    const content = { kind: 'count' as const, place: w.lab.id, head: { byTwo: true }, lines: [line] }
    await w.c.ok('PUT', `/api/slips/${id}`, content)
    const own = { ...line, counted: 'counted' as const, countedAt: at() }
    await w.c.saveAs(id, { ...content, lines: [{ ...own, typed: String(has) }] })
    const alone = await w.c.bookSeen(await w.c.draft(id))
    expect(
      alone.body.fields.map(f => f.code),
      'though it is just what the books say',
    ).to.deep.equal(['second_counter'])
    const seen = await ada.draft(id)
    await ada.save(id, {
      lines: [
        {
          id: line.id,
          seen: seen.lines[0]!.revision,
          position: seen.lines[0]!.position,
          line: { ...seen.lines[0]!.line!, typed: '4', counted: 'counted', countedAt: at() },
        },
      ],
    })
    const two = await w.c.draft(id)
    expect(two.lines.map(l => [l.line!.typed, two.counters[l.line!.counter!]])).to.have.deep.members([
      ['5', 'Ines Corrie'],
      ['4', 'eve'],
    ])
    const differ = await w.c.bookSeen(two)
    expect([...new Set(differ.body.fields.map(f => f.code))]).to.deep.equal(['counters_differ'])
    expect(differ.body.fields[0]!.message, 'neither is told').to.not.match(/\d/)
    const mine = two.lines.find(l => l.line!.typed === '5')!
    await w.c.save(id, {
      lines: [{ id: mine.id, seen: mine.revision, position: mine.position, line: { ...mine.line!, again: '4' } }],
    })
    const booked = await w.c.bookSeen(await w.c.draft(id))
    expect(booked.status, booked.text).to.equal(201)
    const report = await w.c.get<CountReport>(`/api/counts/${id}`)
    expect(report.rows.filter(r => r.expected !== null).map(r => [r.expected, r.counted, r.difference])).to.deep.equal([
      ['5', '4', '-1'],
    ])
  })

  it('a booked count says of each line what was counted, expected, left out, and what it is worth; so do its list and that of what is open', async () => {
    tick()
    const here = await sheet('&figures=yes')
    const lies = new Map(here.lines.map(l => [l.item, Number(l.expected)]))
    const slip: SlipView = await count({ GLV: String(lies.get(gloves.id)! - 2), ACD: '=', TUB: 'out' })
    const r = await w.c.get<CountReport>(`/api/counts/${slip.id}`)
    expect(r).to.deep.include({ counted: 2, agreeing: 1, leftOut: 1, left: 1, net: '-4', gross: '4', place: 'Wet lab' })
    expect(
      r.rows.map(x => [x.item.code, x.state, x.expected, x.counted, x.difference, x.open, x.value, x.note]),
    ).to.deep.equal([
      ['GLV', 'counted', String(lies.get(gloves.id)), String(lies.get(gloves.id)! - 2), '-2', '-2', '-4', ''],
      ['ACD', 'confirmed', '4', '4', '0', '0', '0', ''],
      ['TUB', 'left_out', null, null, null, null, null, 'frozen in'],
    ])
    const csv = async (path: string, c = w.c) => (await c.call('GET', path, undefined, { accept: 'text/csv' })).text
    expect((await csv(`/api/counts/${slip.id}`)).split('\r\n').slice(0, 2)).to.deep.equal([
      'code,name,place,lot,expected,counted,difference,unit,value,note,by,counted at',
      `GLV,Gloves,Wet lab,,${lies.get(gloves.id)},${lies.get(gloves.id)! - 2},-2,each,-4,,,${r.rows[0]!.at}`,
    ])
    const open = (await csv('/api/differences')).split('\r\n')
    expect(open[0]).to.equal('counted at,slip,code,name,place,lot,expected,counted,open,unit,value')
    expect(open.filter(l => l.includes(slip.number!)).map(l => l.split(',').slice(1))).to.deep.equal([
      [
        slip.number,
        'GLV',
        'Gloves',
        'Wet lab',
        '',
        String(lies.get(gloves.id)),
        String(lies.get(gloves.id)! - 2),
        '-2',
        'each',
        '-4',
      ],
    ])
    const who = await person(w, 'req', 'requester', w.lab.id)
    const hidden = await who.get<CountReport>(`/api/counts/${slip.id}`)
    expect([hidden.net, hidden.rows[0]!.value]).to.deep.equal([undefined, undefined])
    expect((await csv('/api/differences', who)).split('\r\n')[1]!.endsWith(',')).to.equal(true)
    expect(verify(w.app).faults).to.deep.equal([])
  })
})
