import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { AuditEntry, Me } from '@shelve/contract'
import { backup, compose, DATABASE, restore } from '@shelve/server'
import { iso } from '../src/ground/index.ts'
import { auditPage } from '../src/people/audit.ts'
import { Client, newItem, person, type World, world } from './client.ts'

describe('who changed what of rights and settings', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())
  const entries = async (q = '') => (await w.c.get<{ rows: AuditEntry[] }>(`/api/audit?${q}`)).rows
  /** What was noted since, the oldest first, as `what: subject: before → after`. */
  const noted = async (does: () => Promise<unknown>) => {
    const before = (await entries('limit=500')).length
    await does()
    const rows = await entries('limit=500')
    return rows
      .slice(0, rows.length - before)
      .reverse()
      .map(r => `${r.what}: ${r.subject}: ${r.before} → ${r.after}`)
  }

  it('is noted with everything that changes it, in words, by whom, when and from where', async () => {
    expect((await entries()).map(r => r.what)).to.deep.equal(['begun', 'person_added'])
    let id = ''
    expect(
      await noted(async () => {
        id = (
          await w.c.ok<{ id: string }>('POST', '/api/people', {
            name: 'Hale',
            signIn: 'hale',
            password: 'long enough words',
            role: 'keeper',
            place: w.lab.id,
          })
        ).id
      }),
    ).to.deep.equal(['person_added: Hale:  → keeper in Wet lab'])
    const put = (body: object) =>
      w.c.ok('PUT', `/api/people/${id}`, {
        name: 'Hale',
        active: true,
        grants: [{ role: 'keeper', place: w.lab.id }],
        ...body,
      })
    expect(
      await noted(() =>
        put({
          name: 'Hale Roe',
          grants: [
            { role: 'observer', place: null },
            { role: 'keeper', place: w.lab.id },
          ],
          password: 'other long words',
        }),
      ),
    ).to.deep.equal([
      'person_renamed: Hale Roe: Hale → Hale Roe',
      'roles: Hale Roe: keeper in Wet lab → keeper in Wet lab, observer everywhere',
      'password_reset: Hale Roe:  → ',
    ])
    expect(await noted(() => put({ active: false }))).to.deep.equal([
      'person_renamed: Hale: Hale Roe → Hale',
      'person_out_of_use: Hale:  → ',
      'roles: Hale: keeper in Wet lab, observer everywhere → keeper in Wet lab',
    ])
    expect(await noted(() => put({}))).to.deep.equal(['person_in_use: Hale:  → '])
    expect(await noted(() => put({})), 'what stays is not noted').to.deep.equal([])
    const badge = (await w.c.ok<{ badge: string }>('POST', `/api/people/${id}/badge`)).badge
    const all = JSON.stringify(await entries('limit=500'))
    expect(all).to.contain('"what":"badge"')
    expect(all, 'no secret is noted').to.not.match(new RegExp(`${badge}|long words|long enough`, 'i'))

    const me = await w.c.get<Me>('/api/session')
    expect(
      await noted(() => w.c.ok('PUT', '/api/settings', { ...me.settings, patienceDays: 30, shortRule: 'below' })),
    ).to.deep.equal(['setting: shortRule: at_or_below → below', 'setting: patienceDays: 28 → 30'])
    const hale = await signedIn('hale', 'other long words')
    expect(
      await noted(() => hale.ok('PUT', '/api/session/pin', { password: 'other long words', pin: '4711' })),
    ).to.deep.equal(['pin: Hale:  → set'])
    expect(
      await noted(() =>
        hale.ok('PUT', '/api/session/password', { password: 'other long words', fresh: 'third long words' }),
      ),
    ).to.deep.equal(['password: Hale:  → '])
    const theirs = (await hale.get<{ rows: { id: string; current: boolean }[] }>('/api/sessions')).rows.find(
      s => s.current,
    )!
    expect(await noted(() => w.c.ok('DELETE', `/api/sessions/${theirs.id}`))).to.deep.equal(['signed_out: Hale:  → '])
    const [last] = await entries()
    expect(last).to.include({ by: me.person.name, what: 'signed_out' })
    expect(last!.address).to.match(/127\.0\.0\.1$/)
    expect(Date.parse(last!.at)).to.equal(w.clock.now)
  })
  const signedIn = async (name: string, password: string) => {
    const c = new Client(w.c.base)
    await c.ok('POST', '/api/session', { signIn: name, password })
    return c
  }
  it('also whoever was not let in, and account codes by the names they are of', async () => {
    const c = new Client(w.c.base)
    expect(await noted(() => c.call('POST', '/api/session', { signIn: 'Hale', password: 'no' }))).to.deep.equal([
      'sign_in_refused: hale:  → wrong_sign_in',
    ])
    expect((await entries())[0]).to.include({ by: null })
    expect(await noted(() => w.c.call('POST', '/api/session/hands', { badge: 'SVB-0000000000000000' }))).to.deep.equal([
      'hands_refused: a badge:  → unknown_badge',
    ])
    expect(
      await noted(() =>
        w.c.ok('PUT', '/api/account-codes', {
          codes: [
            { kind: 'stock', id: null, code: '1401' },
            { kind: 'place', id: w.lab.id, code: '77' },
          ],
        }),
      ),
    ).to.deep.equal(['account_code: stock:  → 1401', 'account_code: Wet lab:  → 77'])
  })
  it('a month that is closed', async () => {
    const item = await newItem(w.c, { name: 'Cotton wool' })
    const booked = await w.c.book({
      kind: 'opening',
      place: w.lab.id,
      effectiveAt: '2026-10-10T09:00:00.000Z',
      lines: [w.c.line({ item: item.id, to: w.lab.id, typed: '5', price: '1' })],
    })
    expect(booked.status, booked.text).to.equal(201)
    expect(await noted(() => w.c.ok('POST', '/api/months', { month: '2026-10' }))).to.deep.equal([
      'month_closed: 2026-10:  → ',
    ])
  })
  it('a backup that is put in place: which one, and up to when it and what it replaced know', async () => {
    const file = join(w.directory, 'kept', 'evening.sqlite')
    await backup(w.directory, file)
    const until = iso(w.clock.now)
    const there = join(w.directory, 'there')
    const put = async (): Promise<AuditEntry[]> => {
      w.clock.now += 60_000
      await restore(there, file, w.clock.now)
      const app = compose(join(there, DATABASE), { now: () => w.clock.now })
      const { rows } = auditPage(app, { what: 'put_back' })
      app.close()
      return rows
    }
    const noted = { what: 'put_back', subject: 'evening.sqlite', by: null, after: until, address: '', device: '' }
    expect(await put(), 'where nothing was').to.deep.equal([{ ...noted, at: iso(w.clock.now), before: '' }])
    const first = iso(w.clock.now)
    expect(await put(), 'the one before knew that it had been put in place').to.deep.equal([
      { ...noted, at: iso(w.clock.now), before: first },
    ])
    writeFileSync(join(there, DATABASE), 'no database any more')
    expect((await put())[0]!.before, 'it cannot be read any more').to.equal('')
  })
  it('is shown to whoever sets up everything, by page, sort and word, and taken out as a file; nobody changes it', async () => {
    const keeper = await person(w, 'Keeps', 'keeper', null)
    expect((await keeper.call('GET', '/api/audit')).status).to.equal(403)
    const here = await person(w, 'Here', 'manager', w.lab.id)
    expect((await here.call('GET', '/api/audit')).status, 'a manager of one place').to.equal(403)
    const whole = await entries('limit=500')
    const paged: AuditEntry[] = []
    for (let cursor: string | null = ''; cursor !== null;) {
      const p: { rows: AuditEntry[]; next: string | null } = await w.c.get(
        `/api/audit?limit=3${cursor && `&cursor=${cursor}`}`,
      )
      paged.push(...p.rows)
      cursor = p.next
    }
    expect(paged).to.deep.equal(whole)
    expect((await entries('what=badge')).map(r => r.what)).to.deep.equal(['badge'])
    expect((await entries('q=hale&what=pin')).length).to.equal(1)
    const csv = (await w.c.call('GET', '/api/audit', undefined, { accept: 'text/csv' })).text
    expect(csv.split('\r\n').length).to.equal(whole.length + 2)
    const { client } = w.app.store
    client.pragma('recursive_triggers = OFF')
    for (const sql of [
      "update audit set after = ''",
      'delete from audit',
      'insert or replace into audit select * from audit',
    ])
      expect(() => client.exec(sql), sql).to.throw(/what was noted is never/)
  })
  it('where the change fails nothing is noted', async () => {
    const me = await w.c.get<Me>('/api/session')
    const id = (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/people')).rows.find(
      p => p.name === me.person.name,
    )!.id
    expect(
      await noted(() =>
        w.c.call('PUT', `/api/people/${id}`, { name: 'X', active: true, grants: [{ role: 'keeper', place: null }] }),
      ),
    ).to.deep.equal([])
  })
})

describe('guessing', () => {
  it('ends by name after ten wrong tries, from whatever address, before anything is hashed; it begins anew later', async () => {
    const w = await world()
    const c = new Client(w.c.base)
    const me = (await w.c.get<Me>('/api/session')).person.signIn
    const signIn = (password: string, name = me) => c.call('POST', '/api/session', { signIn: name, password })
    // Beside each other, so that none waits for another's answer.
    const tries = await Promise.all(Array.from({ length: 12 }, () => signIn('wrong')))
    expect(tries.map(t => t.status).sort()).to.deep.equal([...Array<number>(10).fill(401), 429, 429])
    const refused = await signIn('long enough', ` ${me.toUpperCase()} `)
    expect(refused.body).to.include({ code: 'too_many_attempts' })
    expect(refused.body.detail).to.match(/15 minutes/)
    expect((await signIn('wrong', 'somebody.else')).status, 'another name').to.equal(401)
    const noted = (await w.c.get<{ rows: AuditEntry[] }>('/api/audit?what=sign_in_refused')).rows
    expect(noted.length, 'a flood of refused tries fills no table').to.equal(11)
    w.clock.now += 15 * 60_000
    expect((await signIn('wrong')).status).to.equal(401)
    w.clock.now += 1
    expect((await signIn('correct horse')).status, 'and the right one').to.equal(201)
    for (let i = 0; i < 9; i++)
      expect((await signIn('wrong')).status, 'what came right forgot those before').to.equal(401)
    // One's own password is guessed on a session that somebody left open: the same.
    const own = (password: string) => w.c.call('PUT', '/api/session/pin', { password, pin: null })
    for (let i = 0; i < 10; i++) expect((await own(`wrong ${v7()}`)).status).to.equal(403)
    expect((await own('correct horse')).status).to.equal(429)
    await w.stop()
  })
})
