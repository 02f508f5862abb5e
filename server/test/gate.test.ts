import { expect } from 'chai'
import { v7 } from 'uuid'
import {
  api,
  idsIn,
  schemasIn,
  thingOf,
  type DifferenceView,
  type Item,
  type Operation,
  type Person,
  type Place,
  type SlipContentInput,
  type SlipView,
} from '@shelve/contract'
import { schema } from '@shelve/server'
import type { Role } from '../src/rights/roles.ts'
import { textOf } from './pdf.ts'
import { Client, newItem, sendPicture, world, type World } from './client.ts'
import { Stream } from './stream.ts'

const PASSWORD = 'long enough'
const operations = Object.entries(api as Record<string, Operation>)
/** A price that stands nowhere else: wherever its digits come up, a value was shown. */
const PRICE = '7919.13'

describe('the gate: what one may not see is not there, and what a slip touches is asked for whole', () => {
  let w: World
  let galley: Place
  let flour: Item
  let acid: Item
  let receipt: SlipView
  let count: SlipView
  let same: SlipView
  let difference: DifferenceView
  let job: string
  /** Keeps the galley and looks nowhere else. */
  let cook: Client
  /** Keeps the galley, and may look everywhere. */
  let mate: Client
  async function person(name: string, grants: { role: Role; place: string | null }[]): Promise<Client> {
    const [first] = grants
    await w.c.ok('POST', '/api/people', { name, signIn: name, password: PASSWORD, ...first })
    const row = (await w.c.get<{ rows: Person[] }>('/api/people')).rows.find(p => p.name === name)!
    await w.c.ok('PUT', `/api/people/${row.id}`, { ...row, password: null, grants })
    const c = new Client(w.c.base)
    await c.ok('POST', '/api/session', { signIn: name, password: PASSWORD })
    return c
  }
  const line = (more: object) => w.c.line(more)
  before(async () => {
    w = await world()
    const id = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Galley', kind: 'area' })).id
    galley = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.find(p => p.id === id)!
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Nitrate run' })).id
    flour = await newItem(w.c, { code: 'FLR', name: 'Flour' })
    acid = await newItem(w.c, { code: 'ACD', name: 'Acid', identifiedBy: 'lot' })
    const tick = () => {
      w.clock.now += 60_000
    }
    receipt = await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster', charges: [{ label: 'Freight', amount: '3', basis: 'value' }] },
      lines: [
        line({ item: flour.id, typed: '10', price: '2' }),
        line({ item: acid.id, typed: '4', price: PRICE, lot: { code: 'L1' } }),
      ],
    })
    tick()
    await w.c.received(galley.id, 'Aster', line({ item: flour.id, typed: '5', price: '2' }))
    tick()
    const counted = (typed: string) =>
      w.c.must({
        kind: 'count',
        place: w.lab.id,
        lines: [line({ item: flour.id, from: w.lab.id, counted: 'counted', typed, again: typed })],
      })
    count = await counted('8')
    tick()
    same = await counted('8')
    difference = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows[0]!
    tick()
    cook = await person('cook', [{ role: 'keeper', place: galley.id }])
    mate = await person('mate', [
      { role: 'keeper', place: galley.id },
      { role: 'observer', place: null },
    ])
  })
  after(() => w.stop())

  it('every id in a request says what it names, so that none goes past the gate', () => {
    const bare: string[] = []
    for (const [name, o] of operations)
      for (const part of ['params', 'query', 'body'] as const)
        for (const { schema: s, path } of schemasIn(o[part])) {
          const pattern = (s as { _zod: { def: { checks?: { _zod: { def: { pattern?: RegExp } } }[] } } })._zod.def
            .checks
          const isId = pattern?.some(c => String(c._zod.def.pattern).includes('[0-9a-f]{8}-[0-9a-f]{4}'))
          if (isId && !thingOf(s)) bare.push(`${name} ${part} ${path.join('.')}`)
        }
    expect(bare).to.deep.equal([])
    const body = { kind: 'move', place: galley.id, lines: [{ id: v7(), item: flour.id, to: w.lab.id }] }
    expect(idsIn(api.beginDraft.body, api.beginDraft.body.parse(body)).map(n => n.thing)).to.deep.equal([
      'place',
      'own',
      'item',
      'place',
    ])
  })

  it('whoever keeps the galley corrects nothing of the lab: no price, no invoice, no difference, no count without one', async () => {
    const corrections: [string, SlipContentInput][] = [
      [
        'a price',
        {
          kind: 'correction',
          head: { corrects: receipt.id },
          lines: [line({ ref: receipt.lines[0]!.id, item: flour.id, act: 'price', price: '3' })],
        },
      ],
      [
        'an invoice',
        {
          kind: 'correction',
          head: { corrects: receipt.id },
          lines: [line({ ref: receipt.lines[0]!.id, act: 'invoice', price: '1' })],
        },
      ],
      ['a closing', { kind: 'closing', place: galley.id, lines: [line({ difference: difference.id, act: 'close' })] }],
      [
        'a find',
        {
          kind: 'closing',
          place: galley.id,
          lines: [line({ difference: difference.id, act: 'found', typed: '1', to: galley.id })],
        },
      ],
      [
        'a count',
        {
          kind: 'correction',
          head: { corrects: count.id },
          lines: [line({ ref: count.lines[0]!.id, act: 'take_back' })],
        },
      ],
      [
        'a count without difference',
        {
          kind: 'correction',
          head: { corrects: same.id },
          lines: [line({ ref: same.lines[0]!.id, act: 'take_back' })],
        },
      ],
    ]
    const seq = (await w.c.get<{ seq: number }>('/api/health')).seq
    for (const [what, content] of corrections) {
      const hidden = await cook.book(content)
      expect([hidden.status, hidden.body.code.startsWith('unknown_')], `${what}, unseen`).to.deep.equal([422, true])
      const seen = await mate.book(content)
      expect([seen.status, seen.body.code], `${what}, seen`).to.deep.equal([422, 'not_your_place'])
    }
    expect((await w.c.get<{ seq: number }>('/api/health')).seq, 'nothing was booked').to.equal(seq)
    const whole = await mate.call('POST', `/api/slips/${receipt.id}/reversal`, { id: v7() })
    expect([whole.status, whole.body.code]).to.deep.equal([422, 'not_your_place'])
  })

  it('what goes straight to a user touches no shelf, and is the place’s of its slip all the same', async () => {
    const direct = await w.c.received(
      w.lab.id,
      'Aster',
      line({ item: flour.id, typed: '1', price: '2', direct: { job, costCentre: null, person: '' } }),
    )
    const no = await mate.book({
      kind: 'correction',
      head: { corrects: direct.id },
      lines: [line({ ref: direct.lines[0]!.id, item: flour.id, act: 'price', price: '9' })],
    })
    expect([no.status, no.body.code]).to.deep.equal([422, 'not_your_place'])
    const other = await mate.book({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [line({ item: flour.id, typed: '1', price: '2', direct: { job, costCentre: null, person: '' } })],
    })
    expect([other.status, other.body.code]).to.deep.equal([422, 'not_your_place'])
  })

  it('a lot is held or freed by whoever may book wherever it lies', async () => {
    const [lot] = (await w.c.get<{ rows: { id: string }[] }>(`/api/items/${acid.id}/lots`)).rows
    const ask = (c: Client) => c.call('PUT', `/api/lots/${lot!.id}/state`, { held: 'held', why: 'smells' })
    expect([(await ask(cook)).status, (await ask(mate)).status, (await ask(w.c)).status]).to.deep.equal([404, 403, 200])
    await w.c.ok('PUT', `/api/lots/${lot!.id}/state`, { held: 'usable', why: 'it was the drain' })
  })

  it('a draft of a place one may not book in is neither read, overwritten, tried, thrown away nor booked', async () => {
    const id = v7()
    const content = { kind: 'issue', place: w.lab.id, head: { job }, lines: [line({ item: flour.id, typed: '1' })] }
    await w.c.ok('PUT', `/api/slips/${id}`, content)
    const own = { kind: 'issue', place: galley.id, head: { job }, lines: [line({ item: flour.id, typed: '1' })] }
    const headOf = ({ place, head }: typeof own) => ({ place, head })
    for (const c of [cook, mate]) {
      const said = []
      for (const [method, path, body, more] of [
        ['GET', `/api/slips/${id}/draft`, undefined, {}],
        ['PUT', `/api/slips/${id}`, own, {}],
        ['PATCH', `/api/slips/${id}`, { head: headOf(own), lines: [] }, { 'if-match': '"1"' }],
        ['DELETE', `/api/slips/${id}`, undefined, {}],
        ['POST', `/api/slips/${id}/effect`, own, {}],
        ['POST', `/api/slips/${id}/booking`, { content: own }, {}],
      ] as const)
        said.push((await c.call(method, path, body, more)).status)
      expect(said).to.deep.equal(said.map(() => 404))
    }
    expect((await w.c.get<SlipView>(`/api/slips/${id}`)).content!.place).to.equal(w.lab.id)
    const mine = v7()
    await w.c.ok('PUT', `/api/slips/${mine}`, { kind: 'issue', place: null, lines: [] })
    const taken = await cook.call('PATCH', `/api/slips/${mine}`, { head: headOf(own) }, { 'if-match': '"1"' })
    expect(taken.status, 'nor one that has no place yet').to.equal(404)
  })

  it('before and after of a place one may not see says nothing of it', async () => {
    const content: SlipContentInput = {
      kind: 'move',
      place: galley.id,
      lines: [line({ item: flour.id, typed: '1', to: w.lab.id })],
    }
    expect((await cook.call('POST', `/api/slips/${v7()}/effect`, content)).body.code).to.equal('unknown_place')
    const seen = await mate.effect(content)
    expect(seen.refusals.map(r => r.code)).to.deep.equal(['not_your_place'])
    const short = await cook.effect({
      kind: 'issue',
      place: galley.id,
      head: { job },
      lines: [line({ item: flour.id, typed: '50' })],
    })
    expect(JSON.stringify(short), 'nor where else it lies').to.not.include('Wet lab')
    expect(JSON.stringify(short)).to.not.include(w.lab.id)
  })

  it('a restock slip that also asks for other places is shown without them, and not acted on', async () => {
    const id = v7()
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'nobody', id: null },
      lines: [
        { id: v7(), item: flour.id, place: galley.id, typed: '3' },
        { id: v7(), item: acid.id, place: w.lab.id, typed: '4' },
      ],
    })
    const view = await cook.get<{ lines: { code: string }[] }>(`/api/restock/${id}`)
    expect(view.lines.map(l => l.code)).to.deep.equal(['FLR'])
    expect((await cook.call('GET', `/api/restock/${id}`, undefined, { accept: 'text/csv' })).text).to.not.include('ACD')
    for (const [method, path, body] of [
      ['PATCH', `/api/restock/${id}`, { lines: [] }],
      ['POST', `/api/restock/${id}/asking`, { where: 'by telephone' }],
      ['POST', `/api/restock/${id}/mails`, { to: 'orders@example.org' }],
      ['DELETE', `/api/restock/${id}`, undefined],
    ] as const) {
      const r = await cook.call(method, path, body)
      expect([r.status, r.body.code], `${method} ${path}`).to.deep.equal([403, 'not_all_yours'])
    }
    await w.c.ok('DELETE', `/api/restock/${id}`)
  })

  it('a picture is seen on a slip that shows it, and by naming it on a slip of one’s own never', async () => {
    const picture = ((await (await sendPicture(w.c)).json()) as { id: string }).id
    const shown = v7()
    const delivery = (place: string) => ({
      kind: 'receipt',
      place,
      head: { supplier: 'Aster', pictures: [picture] },
      lines: [line({ item: flour.id, typed: '1', price: '2' })],
    })
    await w.c.ok('PUT', `/api/slips/${shown}`, delivery(w.lab.id))
    const own = v7()
    const r = await cook.call('PUT', `/api/slips/${own}`, delivery(galley.id))
    expect([r.status, r.body.code]).to.deep.equal([422, 'unknown_picture'])
    await cook.ok('PUT', `/api/slips/${own}`, { ...delivery(galley.id), head: { supplier: 'Aster' } })
    expect((await cook.call('GET', `/api/slips/${own}/pictures/${picture}`)).status).to.equal(404)
    expect((await mate.call('GET', `/api/slips/${shown}/pictures/${picture}`)).status).to.equal(200)
  })

  it('codes of slips, lots and places one may not see mean nothing', async () => {
    const kind = async (c: Client, code: string) =>
      (await c.get<{ kind: string }>(`/api/codes/${encodeURIComponent(code)}`)).kind
    const lab = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.find(p => p.id === w.lab.id)!
    for (const [code, what] of [
      [receipt.number!, 'slip'],
      ['L1', 'lot'],
      [lab.own, 'place'],
    ] as const)
      expect([await kind(w.c, code), await kind(cook, code)], code).to.deep.equal([what, 'unknown'])
  })

  it('a stream ends with its session, and follows what its hearer may see now', async () => {
    const c = await person('watch', [{ role: 'observer', place: null }])
    const stream = await Stream.of(c)
    const arrives = (place: string) =>
      w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Aster' },
        lines: [line({ item: flour.id, typed: '1', price: '2' })],
      })
    await stream.until(() => stream.kinds().includes('hello'))
    await arrives(w.lab.id)
    await stream.until(() => stream.kinds().includes('booked'))
    const row = (await w.c.get<{ rows: Person[] }>('/api/people')).rows.find(p => p.name === 'watch')!
    await w.c.ok('PUT', `/api/people/${row.id}`, {
      ...row,
      password: null,
      grants: [{ role: 'observer', place: galley.id }],
    })
    stream.heard.length = 0
    await arrives(w.lab.id)
    await stream.until(heard => heard.some(e => e.kind !== 'setup'))
    expect(stream.kinds().at(-1), 'the grant was narrowed since').to.equal('elsewhere')
    await c.ok('DELETE', '/api/session')
    // At once, not with the next that happens: its other windows hear by it that it is over.
    await stream.end()
    await arrives(galley.id)
    expect(stream.kinds(), 'nothing came after it signed out').to.not.include('booked')
  })

  it('a stream of a session that ran out ends too', async () => {
    const c = await person('sleeper', [{ role: 'observer', place: null }])
    const stream = await Stream.of(c)
    const { session } = schema
    w.app.db
      .update(session)
      .set({ expiresAt: w.clock.now - 1 })
      .run()
    await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    w.app.change('setup', () => undefined)
    await stream.end()
    for (const [name, own] of [
      ['cook', cook],
      ['mate', mate],
    ] as const)
      await own.ok('POST', '/api/session', { signIn: name, password: PASSWORD })
  })

  it('a planted price is in no answer, export, event or paper of any route for whoever may not see values', async () => {
    const requester = await person('asks', [{ role: 'requester', place: null }])
    const own = await person('asks-here', [{ role: 'requester', place: w.lab.id }])
    // Keeps the galley and asks in the lab: sees values here, not there.
    const both = await person('both', [
      { role: 'keeper', place: galley.id },
      { role: 'requester', place: w.lab.id },
    ])
    const lots = (await w.c.get<{ rows: { id: string }[] }>(`/api/items/${acid.id}/lots`)).rows
    const category = (await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Reagents' })).id
    const ids: Record<string, string> = {
      item: acid.id,
      slip: receipt.id,
      draft: receipt.id,
      lot: lots[0]!.id,
      place: w.lab.id,
      category,
      person: (await w.c.get<{ rows: Person[] }>('/api/people')).rows[0]!.id,
    }
    const seen = new Set<string>()
    const ASKED = `?item=${acid.id}&slip=${receipt.id}&place=${w.lab.id}&day=2026-11-25&reading=books&from=2026-11&to=2026-11&by=supplier&flow=received&q=a&sheets=x`
    const digits = PRICE.replace('.', '')
    const search = (what: string, text: string) => {
      const found = text.replace(/[.,\u00a0 ]/g, '').includes(digits)
      expect(found, what).to.equal(false)
    }
    for (const [role, c] of [
      ['requester', requester],
      ['requester of the lab', own],
      ['keeper elsewhere', both],
      ['manager', w.c],
    ] as const)
      for (const [name, o] of operations) {
        if (o.method !== 'get' || o.path === '/api/events') continue
        const idThing = schemasIn(o.params)
          .map(s => thingOf(s.schema))
          .find(t => t)
        if (idThing && !ids[idThing]) continue
        const figures = [
          'on-hand',
          'available',
          'unit-cost',
          'value',
          'value-here',
          'stock-value',
          'slip-value',
          'on-the-way',
        ]
        const paths = o.path.includes(':figure') ? figures.map(f => o.path.replace(':figure', f)) : [o.path]
        for (const p of paths)
          for (const query of ['', ASKED]) {
            const path =
              p
                .replace(':id', ids[idThing ?? ''] ?? '')
                .replace(':code', receipt.number!)
                .replace(':name', 'today') + query
            for (const accept of ['application/json', ...(o.csv ? ['text/csv', 'application/pdf'] : [])]) {
              const r = await fetch(c.base + path, { headers: { cookie: c.cookie, accept } })
              const bytes = new Uint8Array(await r.arrayBuffer())
              const isPdf = r.headers.get('content-type')?.includes('pdf')
              const what = `${role}: ${name} as ${accept}`
              expect(r.status, what).to.be.lessThan(500)
              if (r.status === 200 && o.csv) expect(r.headers.get('content-type'), what).to.include(accept)
              if (role === 'manager') continue
              search(what, isPdf ? (await textOf(bytes)).flat().join('\n') : Buffer.from(bytes).toString())
              if (r.status === 200) seen.add(name)
            }
          }
      }
    expect([...seen], 'and those who asked were answered').to.include.members(['slip', 'slips', 'stock', 'itemStock'])
    const manager = await w.c.get<SlipView>(`/api/slips/${receipt.id}`)
    expect(JSON.stringify(manager), 'whoever may see it does').to.include(PRICE)
    expect(manager.content!.lines[1]!.price).to.equal(PRICE)
    const asked = await requester.get<SlipView>(`/api/slips/${receipt.id}`)
    expect([asked.content!.lines[1]!.price, asked.value, asked.lines[1]!.value]).to.deep.equal([
      undefined,
      undefined,
      undefined,
    ])
    for (const sort of ['value', '-value'])
      expect((await requester.call('GET', `/api/stock?sort=${sort}`)).status, `sorted by ${sort}`).to.equal(403)
  })

  it('the value of another place’s slip, or of all there is, is told by no working under one’s own place', async () => {
    const get = (figure: string, more: string) => cook.call('GET', `/api/workings/${figure}?${more}&place=${galley.id}`)
    expect((await get('slip-value', `slip=${receipt.id}`)).status).to.equal(404)
    for (const figure of ['value', 'unit-cost']) {
      const r = await cook.call<{ figure: string; lines: { amount: string }[] }>(
        'GET',
        `/api/workings/${figure}?item=${flour.id}&place=${galley.id}`,
      )
      const here = await cook.get<{ value: string }>(`/api/items/${flour.id}/stock`)
      expect(r.body.figure, `${figure}: what lies in the galley, no more`).to.equal(here.value)
    }
  })
})
