import { expect } from 'chai'
import { v7 } from 'uuid'
import { z } from 'zod'
import { api, type Item, type JobRow, type JobView, type Operation } from '@shelve/contract'
import { Client, newItem, person, world, type World } from './client.ts'

// draft-ietf-httpapi-idempotency-key-header: whose answer was lost asks again under the key they asked with.
describe('what is asked again under its key is not done again', () => {
  let w: World
  let gloves: Item
  let jobs: Record<'a' | 'b', string>
  const under = (key: string) => ({ 'idempotency-key': key })
  const post = (path: string, body: object | undefined, key: string, c = w.c) =>
    c.call<{ id: string }>('POST', path, body, under(key))
  /** All that the database holds, but what was answered. */
  const all = (): string => {
    const { client } = w.app.store
    const tables = client
      .prepare<[], { name: string }>(
        `select name from sqlite_schema where type = 'table' and name not like 'sqlite_%' and name not like 'slip_search%' and name <> 'asked_once'`,
      )
      .all()
    return JSON.stringify(
      tables.map(t => client.prepare(`select * from "${t.name}"`).raw().all()),
      (_, v: unknown) => (typeof v === 'bigint' ? String(v) : v),
    )
  }
  const named = async (name: string) =>
    (await w.c.get<{ rows: JobRow[] }>('/api/jobs/planned')).rows.filter(j => j.name === name)
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', unit: 'box' })
    await w.c.must({
      kind: 'opening',
      place: w.lab.id,
      lines: [w.c.line({ item: gloves.id, typed: '40', price: '2' })],
    })
    const job = async () => (await w.c.ok<{ id: string }>('POST', '/api/jobs', { name: 'Survey', place: w.lab.id })).id
    jobs = { a: await job(), b: await job() }
    for (const id of Object.values(jobs))
      await w.c.ok('PATCH', `/api/jobs/${id}`, {
        lines: [{ id: v7(), seen: 0, position: 0, line: { item: gloves.id, typed: '10' } }],
      })
  })
  after(() => w.stop())

  const needOf = async (id: string) => (await w.c.get<JobView>(`/api/jobs/${id}`)).lines[0]!.id
  const asked: Record<string, () => Promise<[path: string, body: object | undefined]>> = {
    'a job': async () => ['/api/jobs', { name: 'Night watch', place: w.lab.id }],
    'jobs of another system': async () => [
      '/api/jobs/brought',
      { text: 'Reference;Name;Item;Quantity\nWO-1;Bilge pump;Gloves;1', place: w.lab.id },
    ],
    'what is kept for a job': async () => [
      `/api/jobs/${jobs.a}/reservations`,
      { need: await needOf(jobs.a), place: w.lab.id, lot: null, typed: '3' },
    ],
    'a slip of what a job needs': async () => [`/api/jobs/${jobs.a}/issue`, { id: v7() }],
    'a list to be picked by': async () => ['/api/picks', { id: v7(), jobs: [jobs.b] }],
    'an item': async () => ['/api/items', { name: 'Wipes', code: 'WIP', unit: 'pack' }],
    'an area': async () => ['/api/places', { kind: 'area', name: 'Annex' }],
    'what is asked for': async () => [
      '/api/restock',
      {
        id: v7(),
        source: { kind: 'nobody', id: null },
        lines: [{ id: v7(), item: gloves.id, place: w.lab.id, typed: '4' }],
      },
    ],
    'sheets to count on': async () => ['/api/sheets', { areas: [w.lab.id], blind: true }],
    'a slip': async () => [
      `/api/slips/${v7()}/booking`,
      {
        content: {
          kind: 'receipt',
          place: w.lab.id,
          head: { supplier: 'Quillfern' },
          lines: [w.c.line({ item: gloves.id, typed: '1', price: '2' })],
        },
        seen: null,
      },
    ],
  }
  for (const [what, of] of Object.entries(asked))
    it(what, async () => {
      const [path, body] = await of()
      const key = v7()
      const was = all()
      const first = await post(path, body, key)
      expect(first.status, first.text).to.be.within(200, 204)
      const then = all()
      expect(then, 'it was done').not.to.equal(was)
      const second = await post(path, body, key)
      expect([second.status, second.text]).to.deep.equal([first.status, first.text])
      expect(all(), 'and was not done again').to.equal(then)
    })

  it('both at once: it is done once, and both are told', async () => {
    const [key, body] = [v7(), { name: 'Both at once', place: w.lab.id }]
    const [a, b] = await Promise.all([post('/api/jobs', body, key), post('/api/jobs', body, `"${key}"`)])
    expect([a!.status, b!.text]).to.deep.equal([201, a!.text])
    expect(await named('Both at once')).to.have.lengthOf(1)
  })
  it('a key stands for what was asked, and for whoever asked it', async () => {
    const key = v7()
    await post('/api/jobs', { name: 'Mine', place: w.lab.id }, key)
    const other = await post('/api/jobs', { name: 'Something else', place: w.lab.id }, key)
    expect([other.status, other.body.code]).to.deep.equal([422, 'key_used'])
    const nobody = new Client(w.c.base)
    expect((await post('/api/jobs', { name: 'Mine', place: w.lab.id }, key, nobody)).status).to.equal(401)
    const c = await person(w, 'Oskar', 'manager')
    expect((await post('/api/jobs', { name: 'Mine', place: w.lab.id }, key, c)).status, 'somebody else').to.equal(201)
    expect(await named('Mine')).to.have.lengthOf(2)
  })
  it('what was refused did nothing, and is tried anew', async () => {
    const [key, body] = [v7(), { name: 'Wipes too', code: 'WIP-2', unit: 'pack' }]
    await w.c.ok('POST', '/api/items', { ...body, name: 'In the way' })
    const first = await post('/api/items', body, key)
    expect(first.status).to.equal(409)
    const way = (await w.c.get<{ rows: Item[] }>('/api/items?q=In the way')).rows[0]!
    await w.c.ok('PUT', `/api/items/${way.id}`, { ...body, name: 'In the way', code: 'WIP-3' }, { 'if-match': '1' })
    expect((await post('/api/items', body, key)).status).to.equal(201)
  })
  it('after a day it is forgotten', async () => {
    const [key, body] = [v7(), { name: 'Each day', place: w.lab.id }]
    const first = await post('/api/jobs', body, key)
    w.clock.now += 86_400_000
    expect((await post('/api/jobs', body, key)).text, 'to the day').to.equal(first.text)
    w.clock.now += 1
    expect((await post('/api/jobs', body, key)).text).not.to.equal(first.text)
    expect(await named('Each day')).to.have.lengthOf(2)
    const kept = w.app.store.client.prepare<[], { n: bigint }>('select count(*) n from asked_once').get()!.n
    expect(kept, 'rows of days that are over').to.equal(1n)
  })
  for (const bad of ['', '  ', '"', '"open', 'clo"sed', 'ü', 'x'.repeat(201)])
    it(`“${bad.slice(0, 12)}” is no key`, async () => {
      const r = await post('/api/jobs', { name: 'Badly', place: w.lab.id }, Buffer.from(bad).toString('latin1'))
      expect([r.status, r.body.code]).to.deep.equal([400, 'bad_key'])
    })
  it('of a change whose revision was seen, too, and of what is taken away', async () => {
    const it = await newItem(w.c, { name: 'Tape', code: 'TAP' })
    const change = (key: string, name: string) =>
      w.c.call('PUT', `/api/items/${it.id}`, { code: 'TAP', name, unit: 'each' }, { 'if-match': '1', ...under(key) })
    const key = v7()
    const [first, again, other] = [
      await change(key, 'Tape, wide'),
      await change(key, 'Tape, wide'),
      await change(v7(), 'X'),
    ]
    expect([first.status, again.text, other.status]).to.deep.equal([200, first.text, 409])
    const gone = () => w.c.call('DELETE', `/api/items/${it.id}`, undefined, { 'if-match': '2', ...under('gone') })
    expect([(await gone()).status, (await gone()).status]).to.deep.equal([204, 204])
    const put = await w.c.call('PUT', `/api/items/${it.id}`, undefined, { 'if-match': '2', ...under('gone') })
    expect(put.body.code, 'another method is something else').to.equal('key_used')
  })
  it('of a secret nothing is kept: a badge is another one each time', async () => {
    const [key, path] = [v7(), `/api/people/${w.me.person.id}/badge`]
    const [a, b] = [await post(path, undefined, key), await post(path, undefined, key)]
    expect([a.status, b.status, a.text === b.text]).to.deep.equal([201, 201, false])
    const rows = w.app.store.client.prepare<[string], { n: bigint }>('select count(*) n from asked_once where key = ?')
    expect(rows.get(key)!.n).to.equal(0n)
  })
  it('nothing that is done once is asked with a secret, or answers one', () => {
    const tells = (schema: z.ZodType) =>
      !(schema instanceof z.ZodUndefined) &&
      /"(password|fresh|pin|badge)":/.test(
        JSON.stringify(z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' })),
      )
    const all = Object.entries(api as Record<string, Operation>).filter(([, o]) => o.method !== 'get')
    const secret = all.filter(([, o]) => tells(o.body) || tells(o.answer))
    expect(secret.length, 'there are some').to.be.greaterThan(8)
    expect(secret.filter(([, o]) => o.once).map(([name]) => name)).to.deep.equal([])
  })

  describe('where the server ends in the midst of it', () => {
    const exec = (sql: string) => w.app.store.client.exec(sql)
    it('that it was asked stands with what was done, or neither does', async () => {
      exec(`create trigger never before insert on asked_once begin select raise(abort, 'the disk is gone'); end`)
      const [was, key] = [all(), v7()]
      for (const [path, body] of [await asked['a job']!(), await asked['a slip']!()])
        expect((await post(path, body, key)).status, path).to.be.at.least(400)
      expect(all(), 'nothing was done').to.equal(was)
      exec('drop trigger never')
    })
    it('where something goes wrong once it is done, it is said that it was done, also when it is asked again', async () => {
      const { events } = w.app
      const { flush } = events
      const [key, body] = [v7(), { name: 'Swabs', code: 'SWB', unit: 'pack' }]
      events.flush = () => {
        throw new Error('nobody can be told of it')
      }
      const first = await post('/api/items', body, key)
      events.flush = flush
      expect([first.status, first.body.code]).to.deep.equal([500, 'not_told'])
      const again = await post('/api/items', body, key)
      expect([again.status, again.body.code]).to.deep.equal([409, 'answer_lost'])
      const { rows } = await w.c.get<{ rows: Item[] }>('/api/items?q=SWB')
      expect(rows.map(r => r.name)).to.deep.equal(['Swabs'])
      const taken = await post('/api/items', { ...body, name: 'Other swabs' }, v7())
      expect(taken.status, 'what was refused is refused').to.equal(409)
    })
    it('what was done before its answer was kept is not done again, and that is said', async () => {
      exec(
        `create trigger lost before update on asked_once when new.status is not null begin select raise(abort, 'the power is gone'); end`,
      )
      const [key, body] = [v7(), { name: 'Done, not told', place: w.lab.id }]
      expect((await post('/api/jobs', body, key)).status, 'whoever still listens is told').to.equal(201)
      exec('drop trigger lost')
      const again = await post('/api/jobs', body, key)
      expect([again.status, again.body.code]).to.deep.equal([409, 'answer_lost'])
      expect(await named('Done, not told')).to.have.lengthOf(1)
    })
  })
})
