import { expect } from 'chai'
import type { AccountCodes, AccountSummary, Category, Named } from '@shelve/contract'
import { Client, newItem, world, type World } from './client.ts'
import { textOf } from './pdf.ts'

describe('account codes and lists on paper', () => {
  let w: World
  let galley: string
  let centre: string
  before(async () => {
    w = await world()
    galley = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Galley', kind: 'area' })).id
    const food = (await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Food' })).id
    const dry = (await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Larder', parent: food })).id
    centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Catering', code: 'FOOD' })).id
    const flour = await newItem(w.c, { name: 'Flour', code: 'FLO', unit: 'kg', decimals: 3, category: dry })
    const vial = await newItem(w.c, { name: 'Vial', code: 'VIA' })
    const at = (day: string) => {
      w.clock.now = Date.parse(`${day}T12:00:00Z`)
      return day
    }
    at('2026-09-10')
    await w.c.received(galley, 'Aster', w.c.line({ item: flour.id, typed: '100', price: '2' }))
    at('2026-10-05')
    await w.c.received(w.lab.id, 'Thole', w.c.line({ item: vial.id, typed: '10', price: '3' }))
    await w.c.must({
      kind: 'issue',
      place: galley,
      head: { costCentre: centre },
      lines: [w.c.line({ item: flour.id, typed: '12.5' })],
    })
    const expired = (await w.c.get<{ rows: Named[] }>('/api/waste-reasons')).rows.find(r => r.name === 'Expired')!.id
    await w.c.must({
      kind: 'waste',
      place: galley,
      head: { reason: expired },
      lines: [w.c.line({ item: flour.id, typed: '10' })],
    })
    at('2026-11-25')
  })
  after(() => w.stop())
  const summary = async (from: string, to: string) =>
    await w.c.get<AccountSummary>(`/api/look-back/accounts?from=${from}&to=${to}`)
  const told = (s: AccountSummary) =>
    s.rows.map(r => [r.code, r.party, r.opening, r.debit, r.credit, r.balance].join(' '))

  it('by the codes that everybody has: worked by hand', async () => {
    const s = await summary('2026-10', '2026-10')
    expect(told(s)).to.deep.equal([
      '1400  200 30 45 185',
      '2100   0 30 -30',
      '5000 FOOD Catering  25 0 25',
      '5100   20 0 20',
    ])
    expect([s.debit, s.credit, s.open]).to.deep.equal(['75', '75', ['2026-10']])
  })

  it('a category hands its code down, a place to what is used there, a reason has its own; taken away again the default holds', async () => {
    const { rows } = await w.c.get<{ rows: Category[] }>('/api/categories')
    const codes = await w.c.get<AccountCodes>('/api/account-codes')
    const id = (list: { id: string; name: string }[], name: string) => list.find(x => x.name === name)!.id
    const set = (...list: [string, string | null, string | null][]) =>
      w.c.ok<AccountCodes>('PUT', '/api/account-codes', {
        codes: list.map(([kind, of, code]) => ({ kind, id: of, code })),
      })
    const now = await set(
      ['category', id(rows, 'Food'), '1430'],
      ['place', galley, '5030'],
      ['reason', id(codes.reasons, 'Expired'), '5110'],
      ['received', null, '2105'],
    )
    expect(now.categories.map(c => [c.name, c.code, c.inherited])).to.deep.equal([
      ['Food', '1430', '1400'],
      ['Larder', null, '1430'],
    ])
    expect(told(await summary('2026-10', '2026-10'))).to.deep.equal([
      '1400  0 30 0 30',
      '1430  200 0 45 155',
      '2105   0 30 -30',
      '5030 FOOD Catering  25 0 25',
      '5110   20 0 20',
    ])
    expect((await summary('2026-10', '2026-10')).rows.map(r => r.name)).to.deep.equal([
      'Stock',
      'Stock: Food',
      'Received from suppliers',
      'Used: Galley',
      'Wasted: Expired',
    ])
    await set(['category', id(rows, 'Food'), null], ['received', null, ''])
    expect(told(await summary('2026-10', '2026-10')).slice(0, 2)).to.deep.equal([
      '1400  200 30 45 185',
      '2100   0 30 -30',
    ])
    expect(
      (await w.c.call('PUT', '/api/account-codes', { codes: [{ kind: 'category', id: galley, code: '1' }] })).status,
    ).to.equal(422)
    expect(told(await summary('2020-01', '2020-12')), 'a year without data').to.deep.equal([])
  })

  it('a list on paper: as the organisation writes, with its number, day and whose it is; another program reads the same figures', async () => {
    const pdf = await fetch(`${w.c.base}/api/look-back/accounts?from=2026-10&to=2026-10`, {
      headers: { cookie: w.c.cookie, accept: 'application/pdf' },
    })
    const number = /filename="accounts-2026-10-2026-10-2026-11-25-copy-(\d+)\.pdf"/.exec(
      pdf.headers.get('content-disposition')!,
    )![1]
    const [page] = await textOf(new Uint8Array(await pdf.arrayBuffer()))
    expect(page).to.deep.equal([
      'By account code',
      'Oct 2026',
      'Not closed yet: Oct 2026',
      'Values in EUR',
      'account name cost centre opening debit credit balance',
      '1400 Stock 200.00 30.00 45.00 185.00',
      '2100 Received from suppliers 0.00 30.00 −30.00',
      '5030 Used: Galley FOOD Catering 25.00 0.00 25.00',
      '5110 Wasted: Expired 20.00 0.00 20.00',
      `Test station · copy ${number}, 25 Nov 2026 13:00 by Ines Corrie page 1 of 1`,
    ])
    const stock = await fetch(`${w.c.base}/api/stock`, { headers: { cookie: w.c.cookie, accept: 'application/pdf' } })
    const lines = (await textOf(new Uint8Array(await stock.arrayBuffer())))[0]!
    expect(lines)
      .to.include('FLO Flour Larder everywhere 77.5 77.5 kg in range 155.00')
      .and.include('VIA Vial everywhere 10 10 each in range 30.00')
    const csv = await w.c.call('GET', '/api/stock', undefined, { accept: 'text/csv' })
    expect(csv.headers.get('content-disposition')).to.equal(
      `attachment; filename="stock-2026-11-25-copy-${Number(number) + 2}.csv"`,
    )
    expect(csv.text).to.include('FLO,Flour,Larder,everywhere,77.5,77.5,kg,,,in_range,,155')
  })

  it('who may not see values sees no summary; who keeps one place neither', async () => {
    for (const [signIn, role, place] of [
      ['req', 'requester', null],
      ['kee', 'keeper', galley],
    ] as const) {
      await w.c.ok('POST', '/api/people', { name: signIn, signIn, password: 'long enough', role, place })
      const c = new Client(w.c.base)
      await c.ok('POST', '/api/session', { signIn, password: 'long enough' })
      expect((await c.call('GET', '/api/look-back/accounts?from=2026-10&to=2026-10')).status).to.equal(403)
    }
  })
})
