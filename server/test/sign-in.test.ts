// What a badge, a PIN and a password open, and what of them is kept.
import { expect } from 'chai'
import type { CodeMeaning, Me, Person } from '@shelve/contract'
import { Client, PASSWORD, person, world, type World } from './client.ts'

describe('signing in', () => {
  let w: World
  beforeEach(async () => {
    w = await world()
  })
  afterEach(() => w.stop())
  const people = async () => (await w.c.get<{ rows: Person[] }>('/api/people')).rows
  const idOf = async (signIn: string) => (await people()).find(p => p.signIn === signIn)!
  const badgeOf = async (signIn: string) =>
    (await w.c.ok<{ badge: string }>('POST', `/api/people/${(await idOf(signIn)).id}/badge`)).badge

  it('by badge or PIN alone a manager works as keeper, and is told what the password is for', async () => {
    const tablet = await person(w, 'Ruben', 'keeper')
    await person(w, 'Tova', 'manager')
    const me = await tablet.ok<Me>('POST', '/api/session/hands', { badge: await badgeOf('tova') })
    expect([me.person.role, me.lowered, me.may.set_up, me.may.book]).to.deep.equal([
      'keeper',
      true,
      undefined,
      'everywhere',
    ])
    for (const [method, path, body] of [
      ['GET', '/api/people', undefined],
      ['POST', '/api/places', { name: 'Shed', kind: 'area' }],
      ['POST', '/api/categories', { name: 'Larder' }],
    ] as const) {
      const r = await tablet.call(method, path, body)
      expect([r.status, r.body.code], path).to.deep.equal([403, 'password_needed'])
    }
    const proven = await tablet.ok<Me>('POST', '/api/session', { signIn: 'tova', password: PASSWORD })
    expect([proven.person.role, proven.lowered, proven.may.set_up]).to.deep.equal(['manager', false, 'everywhere'])
    await tablet.ok('PUT', '/api/session/pin', { password: PASSWORD, pin: '4711' })
    expect((await tablet.ok<Me>('POST', '/api/session/hands', { signIn: 'tova', pin: '4711' })).lowered).to.equal(true)
    // A keeper has nothing to lose by it.
    expect((await tablet.ok<Me>('POST', '/api/session/hands', { badge: await badgeOf('ruben') })).lowered).to.equal(
      false,
    )
  })

  it('whose badge it is, is told to whoever may book, and to nobody else; one that nobody has is noted', async () => {
    await person(w, 'Ruben', 'keeper')
    const badge = await badgeOf('ruben')
    const ask = (c: Client, b = badge) => c.call<{ name: string }>('POST', '/api/session/badge', { badge: b })
    expect((await ask(w.c)).body.name).to.equal('Ruben')
    expect((await ask(w.c, badge.toLowerCase())).body.name, 'as a scanner may send it').to.equal('Ruben')
    const observer = await person(w, 'Linnea', 'observer', w.lab.id)
    expect([(await ask(observer)).status, (await ask(new Client(w.c.base))).status]).to.deep.equal([403, 401])
    expect((await ask(w.c, 'SVB-0000000000000000')).body.code).to.equal('unknown_badge')
    // An older badge says nothing any more.
    const next = await badgeOf('ruben')
    expect([(await ask(w.c)).status, (await ask(w.c, next)).body.name]).to.deep.equal([403, 'Ruben'])
  })
  it('a badge is kept as a hash, and is the code of nothing', async () => {
    await person(w, 'Ruben', 'keeper')
    const badge = await badgeOf('ruben')
    const kept = w.app.store.client.prepare("select normal, scanned from code where kind = 'person'").all()
    expect(kept).to.have.length(1)
    expect(JSON.stringify(kept).toUpperCase()).to.not.include(badge)
    expect(JSON.stringify(kept).toUpperCase()).to.not.include(badge.slice(4))
    expect((await w.c.get<CodeMeaning>(`/api/codes/${badge}`)).kind).to.equal('unknown')
    // What stands in the database opens nothing.
    const { normal } = kept[0] as { normal: string }
    for (const said of [normal, normal.slice(6)])
      expect((await w.c.call('POST', '/api/session/hands', { badge: said })).status).to.be.oneOf([403, 422])
  })

  it('a reset of the password ends PIN, badge and every session; one’s own change leaves this one', async () => {
    const ruben = await person(w, 'Ruben', 'keeper')
    await ruben.ok('PUT', '/api/session/pin', { password: PASSWORD, pin: '4711' })
    const badge = await badgeOf('ruben')
    const row = await idOf('ruben')
    expect([row.hasPin, row.hasBadge]).to.deep.equal([true, true])

    // By oneself: only with the password there is; elsewhere one is signed out, here not.
    const other = new Client(w.c.base)
    await other.ok('POST', '/api/session', { signIn: 'ruben', password: PASSWORD })
    const change = (password: string, fresh: string) => ruben.call('PUT', '/api/session/password', { password, fresh })
    expect((await change('not it at all', 'a new one of mine')).body.fields?.[0]?.code).to.equal('wrong_password')
    expect((await change(PASSWORD, 'seven77')).status).to.equal(422)
    expect((await change(PASSWORD, 'Password1')).body.fields?.map(f => [f.field, f.code])).to.deep.equal([
      ['fresh', 'password_weak'],
    ])
    expect((await change(PASSWORD, 'ruben1234')).body.fields?.[0]?.code).to.equal('password_weak')
    expect((await change(PASSWORD, 'a new one of mine')).status).to.equal(204)
    expect((await other.call('GET', '/api/session')).status).to.equal(401)
    expect((await ruben.call('GET', '/api/session')).status).to.equal(200)
    expect((await other.call('POST', '/api/session', { signIn: 'ruben', password: PASSWORD })).status).to.equal(401)
    expect((await idOf('ruben')).hasPin, 'the PIN is still one’s own').to.equal(true)

    // By a manager.
    const { id: _, hasPin: __, hasBadge: ___, ...is } = await idOf('ruben')
    await w.c.ok('PUT', `/api/people/${row.id}`, { ...is, password: 'what the manager said' })
    const now = await idOf('ruben')
    expect([now.hasPin, now.hasBadge]).to.deep.equal([false, false])
    expect((await ruben.call('GET', '/api/session')).status).to.equal(401)
    expect((await w.c.call('POST', '/api/session/hands', { badge })).body.code).to.equal('unknown_badge')
  })

  it('a common password is refused where somebody is made, and where an organisation begins', async () => {
    const made = (password: string) =>
      w.c.call('POST', '/api/people', { name: 'Mia', signIn: 'mia', password, role: 'observer' })
    for (const password of ['password', '12345678', 'QWERTYUIOP', 'mia12345'])
      expect(
        (await made(password)).body.fields?.map(f => f.code),
        password,
      ).to.deep.equal(['password_weak'])
    expect((await people()).map(p => p.signIn)).to.deep.equal(['ines'])
    expect((await made('plovers on the slip')).status).to.equal(201)
  })
})
