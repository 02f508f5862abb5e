import { expect } from 'chai'
import { v7 } from 'uuid'
import {
  api,
  type Item,
  type Me,
  type Operation,
  type Person,
  type Place,
  type SlipView,
  type StockRow,
} from '@shelve/contract'
import { MAY, type Action, type Role } from '../src/rights/roles.ts'
import { Client, newItem, PASSWORD, person, world, type World } from './client.ts'
import { Stream } from './stream.ts'

const operations = Object.entries(api as Record<string, Operation>)
const filled = (path: string) =>
  path.replace(':figure', 'on-hand').replace(':code', 'X').replace(':name', 'today').replace(':id', v7())

describe('rights: roles × actions × places', () => {
  let w: World
  let shed: Place
  let gloves: Item
  let rope: Item
  const who: Record<string, Client> = {}
  before(async () => {
    w = await world()
    const id = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    shed = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.find(p => p.id === id)!
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    rope = await newItem(w.c, { name: 'Rope', code: 'ROP' })
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: gloves.id, typed: '10', price: '2' }))
    await w.c.must({
      kind: 'receipt',
      place: shed.id,
      head: { supplier: 'Thole' },
      lines: [
        w.c.line({ item: rope.id, typed: '30', price: '1' }),
        w.c.line({ item: gloves.id, typed: '4', price: '2' }),
      ],
    })
    for (const role of Object.keys(MAY) as Role[]) who[role] = await person(w, role, role, null)
    who.labKeeper = await person(w, 'lab-keeper', 'keeper', w.lab.id)
    who.labManager = await person(w, 'lab-manager', 'manager', w.lab.id)
    who.labRequester = await person(w, 'lab-requester', 'requester', w.lab.id)
  })
  after(() => w.stop())

  it('every route lets in exactly the roles that its right names', async () => {
    for (const role of Object.keys(MAY) as Role[])
      for (const [name, o] of operations) {
        if (o.right === 'none' || ['signOut', 'changeHands'].includes(name)) continue
        const wanted: Action = o.right === 'set_up_here' ? 'set_up' : o.right
        const r = await who[role]!.call(o.method.toUpperCase(), filled(o.path), o.method === 'get' ? undefined : {})
        if (MAY[role].includes(wanted)) expect(r.body?.code, `${role} ${name}`).to.not.equal('not_allowed')
        else expect([r.status, r.body.code], `${role} ${name}`).to.deep.equal([403, 'not_allowed'])
      }
  })

  it('who keeps one place sees that place and no other: lists, figures, slips, places, exports', async () => {
    const c = who.labKeeper!
    const rows = async (path: string) =>
      (await c.get<{ rows: { code?: string; name?: string; title?: string }[] }>(path)).rows
    expect((await rows('/api/places')).map(p => p.name)).to.deep.equal(['Wet lab'])
    expect(
      (await c.get<{ rows: StockRow[] }>('/api/stock')).rows.map(r => [r.code, r.levels.onHand, r.value]),
    ).to.deep.equal([['GLV', '10', '20']])
    expect((await rows('/api/slips')).map(s => s.title)).to.deep.equal(['from Aster'])
    expect((await c.get<{ figure: string }>(`/api/workings/on-hand?item=${gloves.id}`)).figure).to.equal('10')
    for (const path of [
      `/api/stock?place=${shed.id}`,
      `/api/short?place=${shed.id}`,
      `/api/sheets?place=${shed.id}`,
      `/api/past?day=2026-11-25&reading=was&place=${shed.id}`,
      `/api/workings/on-hand?item=${gloves.id}&place=${shed.id}`,
      `/api/items/${rope.id}/lots?place=${shed.id}`,
      `/api/items/${rope.id}/movements?place=${shed.id}`,
    ])
      expect((await c.call('GET', path)).status, path).to.equal(404)
    const theirs = (await w.c.get<{ rows: { id: string; title: string }[] }>('/api/slips')).rows.find(
      s => s.title === 'from Thole',
    )!
    expect((await c.call('GET', `/api/slips/${theirs.id}`)).status).to.equal(404)
    expect((await c.call('GET', `/api/workings/slip-value?slip=${theirs.id}`)).status).to.equal(404)
    expect((await c.get<{ rows: unknown[] }>(`/api/items/${rope.id}/movements`)).rows).to.deep.equal([])
    const finds = async (x: Client, q: string) =>
      (await x.get<{ rows: { kind: string; name: string }[] }>(`/api/search?q=${encodeURIComponent(q)}`)).rows.map(
        r => `${r.kind} ${r.name}`,
      )
    expect(await finds(w.c, 'RC-')).to.deep.equal(['slip RC-0002', 'slip RC-0001'])
    expect(await finds(c, 'RC-'), 'nor does searching find it').to.deep.equal(['slip RC-0001'])
    expect(await finds(w.c, 'thol')).to.deep.equal(['slip RC-0002', 'supplier Thole'])
    expect(await finds(c, '100%_')).to.deep.equal([])
    expect((await c.call('GET', '/api/ledger.csv')).status, 'the whole ledger is the whole organisation’s').to.equal(
      403,
    )
    const csv = await c.call('GET', '/api/stock', undefined, { accept: 'text/csv' })
    expect(csv.text).to.include('GLV').and.not.include('ROP')
  })

  it('books and takes back only there; what crosses into another place is refused by name, and so is a draft', async () => {
    // Looks everywhere, keeps the lab alone.
    const c = who.labKeeper!
    const watcher = await person(w, 'watcher', 'keeper', w.lab.id)
    const { rows } = await w.c.get<{ rows: Person[] }>('/api/people')
    const row = rows.find(p => p.name === 'watcher')!
    await w.c.ok('PUT', `/api/people/${row.id}`, {
      ...row,
      password: null,
      grants: [
        { role: 'keeper', place: w.lab.id },
        { role: 'observer', place: null },
      ],
    })
    const own = await c.received(w.lab.id, 'Aster', c.line({ item: gloves.id, typed: '1', price: '2' }))
    const refused = async (content: Parameters<Client['book']>[0]) => {
      const hidden = await c.book(content)
      expect([hidden.status, hidden.body.code], 'what one may not see is not there').to.deep.equal([
        422,
        'unknown_place',
      ])
      const r = await watcher.book(content)
      return [r.status, r.body.code, r.body.fields[0]?.message]
    }
    const not = [422, 'not_your_place', 'You may not book in Shed. Ask a manager, or whoever keeps it.']
    expect(
      await refused({
        kind: 'receipt',
        place: shed.id,
        head: { supplier: 'Aster' },
        lines: [c.line({ item: gloves.id, typed: '1', price: '2' })],
      }),
    ).to.deep.equal(not)
    expect(
      await refused({ kind: 'move', place: w.lab.id, lines: [c.line({ item: gloves.id, typed: '1', to: shed.id })] }),
    ).to.deep.equal(not)
    expect(
      await refused({
        kind: 'count',
        place: shed.id,
        lines: [c.line({ item: rope.id, from: shed.id, counted: 'confirmed' })],
      }),
    ).to.deep.equal(not)
    const draft = await watcher.call('PUT', `/api/slips/${v7()}`, { kind: 'issue', place: shed.id })
    expect([draft.status, draft.body.code]).to.deep.equal([403, 'not_allowed'])
    const theirs = (await w.c.get<{ rows: SlipView[] }>('/api/slips')).rows.find(s => s.title === 'from Thole')!
    expect((await c.call('POST', `/api/slips/${theirs.id}/reversal`, { id: v7() })).status).to.equal(404)
    expect((await who.buyer!.call('POST', `/api/slips/${own.id}/reversal`, { id: v7() })).status).to.equal(403)
    await c.ok('POST', `/api/slips/${own.id}/reversal`, { id: v7() })
  })

  it('whoever manages one place sets levels and bins there, and nothing else', async () => {
    const c = who.labManager!
    await c.ok('PUT', '/api/levels', { item: gloves.id, place: w.lab.id, minimum: '2', target: '5' })
    await c.ok('POST', '/api/places', { name: 'A1', parent: w.lab.id })
    for (const [status, method, path, body] of [
      [422, 'PUT', '/api/levels', { item: gloves.id, place: shed.id, minimum: '2', target: '5' }],
      [403, 'POST', '/api/places', { name: 'Attic', kind: 'area' }],
      [422, 'POST', '/api/places', { name: 'A1', parent: shed.id }],
      [403, 'POST', '/api/items', { code: 'N', name: 'New', unit: 'each' }],
      [403, 'GET', '/api/people', undefined],
    ] as const)
      expect((await c.call(method, path, body)).status, `${method} ${path}`).to.equal(status)
  })

  it('a value is shown to nobody who may not see it: not in any answer, working or export', async () => {
    const c = who.labRequester!
    const keys = (x: unknown): string[] =>
      Array.isArray(x)
        ? x.flatMap(keys)
        : x && typeof x === 'object'
          ? Object.entries(x).flatMap(([k, v]) => [k, ...keys(v)])
          : []
    const item = gloves.id
    const slip = (await c.get<{ rows: { id: string }[] }>('/api/slips')).rows[0]!.id
    for (const path of [
      '/api/stock',
      `/api/items/${item}/stock`,
      `/api/items/${item}/movements`,
      '/api/slips',
      `/api/slips/${slip}`,
      '/api/differences',
      '/api/past?day=2026-11-25&reading=books',
      '/api/short',
    ])
      expect(keys(await c.get(path)), path)
        .to.not.include.members(['value'])
        .and.not.include.members(['cost'])
    for (const figure of ['value', 'unit-cost', 'value-here', 'stock-value', 'slip-value', 'on-the-way'])
      expect((await c.call('GET', `/api/workings/${figure}?item=${item}&slip=${slip}`)).status, figure).to.equal(403)
    expect((await c.call('GET', '/api/stock', undefined, { accept: 'text/csv' })).text.split('\r\n')[1]).to.match(/,$/)
  })

  it('events of places one may not see carry nothing but their number', async () => {
    const stream = await Stream.of(who.labKeeper!)
    for (const place of [shed.id, w.lab.id])
      await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Aster' },
        lines: [w.c.line({ item: gloves.id, typed: '1', price: '2' })],
      })
    await stream.until(heard => heard.length >= 3)
    expect((await stream.stop()).map(e => [e.kind, Object.keys(e.detail).length > 0])).to.deep.equal([
      ['hello', false],
      ['elsewhere', false],
      ['booked', true],
    ])
  })

  it('a tablet changes hands by PIN or badge; a PIN tried too often is locked until the password', async () => {
    const tablet = await person(w, 'mirja', 'keeper', null)
    await tablet.ok('PUT', '/api/session/pin', { password: PASSWORD, pin: '4711' })
    expect((await tablet.call('PUT', '/api/session/pin', { password: 'guessed it', pin: '1' })).status).to.equal(422)
    expect((await tablet.call('PUT', '/api/session/pin', { password: 'guessed it', pin: '1234' })).body.code).to.equal(
      'wrong_password',
    )
    const shared = new Client(w.c.base)
    await shared.ok('POST', '/api/session', { signIn: 'requester', password: PASSWORD })
    const before = shared.cookie
    expect(
      (await new Client(w.c.base).call('POST', '/api/session/hands', { signIn: 'mirja', pin: '4711' })).status,
      'only where somebody is signed in',
    ).to.equal(401)
    expect((await shared.ok<Me>('POST', '/api/session/hands', { signIn: 'mirja', pin: '4711' })).person.name).to.equal(
      'mirja',
    )
    expect(
      (await w.c.call('GET', '/api/session', undefined, { cookie: before })).status,
      'the one before is signed out here',
    ).to.equal(401)
    for (let i = 0; i < 5; i++)
      expect(
        (await shared.call('POST', '/api/session/hands', { signIn: 'mirja', pin: String(1000 + i) })).body.code,
      ).to.equal('wrong_pin')
    expect((await shared.call('POST', '/api/session/hands', { signIn: 'mirja', pin: '4711' })).body.code).to.equal(
      'pin_locked',
    )
    await new Client(w.c.base).ok('POST', '/api/session', { signIn: 'mirja', password: PASSWORD })
    expect((await shared.call('POST', '/api/session/hands', { signIn: 'mirja', pin: '4711' })).status).to.equal(201)
    const people = (await w.c.get<{ rows: Person[] }>('/api/people')).rows
    const buyer = people.find(p => p.signIn === 'buyer')!
    const first = (await w.c.ok<{ badge: string }>('POST', `/api/people/${buyer.id}/badge`)).badge
    const second = (await w.c.ok<{ badge: string }>('POST', `/api/people/${buyer.id}/badge`)).badge
    expect((await shared.call('POST', '/api/session/hands', { badge: first })).body.code).to.equal('unknown_badge')
    expect((await shared.ok<Me>('POST', '/api/session/hands', { badge: second.toLowerCase() })).person.signIn).to.equal(
      'buyer',
    )
  })

  it('sessions are listed and ended from afar; a person taken out of use is out at once; somebody must stay who sets up', async () => {
    const people = async () => (await w.c.get<{ rows: Person[] }>('/api/people')).rows
    const gone = await person(w, 'wren', 'keeper', null)
    const sessions = async (c: Client) =>
      (await c.get<{ rows: { id: string; person: string; current: boolean }[] }>('/api/sessions')).rows
    expect(
      (await sessions(gone)).map(s => s.person),
      'one’s own only',
    ).to.deep.equal(['wren'])
    const stranger = (await sessions(w.c)).find(s => s.person === 'observer')!
    expect((await gone.call('DELETE', `/api/sessions/${stranger.id}`)).status).to.equal(404)
    const stream = await Stream.of(gone)
    await w.c.ok('DELETE', `/api/sessions/${(await sessions(w.c)).find(s => s.person === 'wren')!.id}`)
    await stream.end()
    expect((await gone.call('GET', '/api/session')).status).to.equal(401)
    await gone.ok('POST', '/api/session', { signIn: 'wren', password: PASSWORD })
    const wren = (await people()).find(p => p.signIn === 'wren')!
    const put = (p: Person, more: object) =>
      w.c.call(
        'PUT',
        `/api/people/${p.id}`,
        { name: p.name, active: true, grants: p.grants, ...more },
        { 'if-match': String(p.revision) },
      )
    expect((await put(wren, { active: false })).status).to.equal(200)
    expect((await gone.call('GET', '/api/session')).status).to.equal(401)
    expect((await gone.call('POST', '/api/session', { signIn: 'wren', password: PASSWORD })).body.code).to.equal(
      'wrong_sign_in',
    )
    expect((await put(wren, {})).body.code, 'somebody else changed them meanwhile').to.equal('changed_meanwhile')
    for (const p of (await people()).filter(x => x.signIn === 'manager'))
      expect((await put(p, { grants: [{ role: 'observer', place: null }] })).status).to.equal(200)
    const ines = (await people()).find(p => p.signIn === 'ines')!
    const last = await put(ines, { grants: [{ role: 'manager', place: w.lab.id }] })
    expect([last.status, last.body.code]).to.deep.equal([409, 'last_manager'])
    expect((await people()).find(p => p.signIn === 'ines')!.grants, 'nothing half done').to.deep.equal([
      { role: 'manager', place: null },
    ])
  })
})
