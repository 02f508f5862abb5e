import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { shareCommits } from '../src/ground/db/group.ts'
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, ItemStock, SlipRow } from '@shelve/contract'
import { verify } from '@shelve/server'
import { Client, newItem, world, type World } from './client.ts'

describe('many at once', () => {
  let w: World
  let items: Item[]
  let job: string
  let clients: Client[]
  beforeEach(async () => {
    w = await world()
    items = [
      await newItem(w.c, { name: 'Gloves' }),
      await newItem(w.c, { name: 'Filter', method: 'fifo' }),
      await newItem(w.c, { name: 'Bolt', method: 'standard', standardCost: '2' }),
    ]
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    for (const it of items) await w.c.received(w.lab.id, 'S', w.c.line({ item: it.id, typed: '40', price: '2.5' }))
    clients = Array.from({ length: 8 }, () => {
      const c = new Client(w.c.base)
      c.cookie = w.c.cookie
      return c
    })
  })
  afterEach(() => w.stop())
  const left = async (it: Item) => Number((await w.c.get<ItemStock>(`/api/items/${it.id}/stock`)).onHand)
  const issue = (c: Client, it: Item, typed: string) => ({
    kind: 'issue' as const,
    place: w.lab.id,
    head: { job },
    lines: [c.line({ item: it.id, typed })],
  })

  it('one slip sent by everybody is one slip', async () => {
    const id = v7()
    const content = issue(w.c, items[0]!, '3')
    const answers = await Promise.all(clients.map(c => c.book(content, id)))
    expect(new Set(answers.map(a => `${a.status} ${a.body.number}`))).to.deep.equal(new Set(['201 IS-0001']))
    expect(await left(items[0]!)).to.equal(37)
  })
  it('the last of a thing goes to one of them; the others are told what is left', async () => {
    const answers = await Promise.all(clients.map(c => c.book(issue(c, items[1]!, '36'))))
    expect(answers.filter(a => a.status === 201)).to.have.length(1)
    for (const a of answers.filter(x => x.status !== 201))
      expect([a.status, a.body.code, a.body.fields[0]!.detail.there]).to.deep.equal([422, 'insufficient_stock', '4'])
    expect(await left(items[1]!)).to.equal(4)
  })
  it('a refused slip among good ones in one commit leaves the others alone', async () => {
    const good = (c: Client) => c.book(issue(c, items[0]!, '1'))
    const bad = (c: Client) => c.book(issue(c, items[0]!, '500'))
    const answers = await Promise.all(clients.map((c, i) => (i % 2 ? bad(c) : good(c))))
    expect(answers.map(a => a.status)).to.deep.equal([201, 422, 201, 422, 201, 422, 201, 422])
    expect(await left(items[0]!)).to.equal(36)
  })
  it('a slip is taken back once, though two press at the same moment', async () => {
    const slip = await w.c.must(issue(w.c, items[2]!, '5'))
    const answers = await Promise.all(clients.map(c => c.call('POST', `/api/slips/${slip.id}/reversal`, { id: v7() })))
    expect(answers.filter(a => a.status === 201)).to.have.length(1)
    for (const a of answers.filter(x => x.status !== 201)) expect(a.body.code).to.equal('nothing_to_correct')
    expect(await left(items[2]!)).to.equal(40)
  })
  it('a draft that two save at once is kept from one of them, and the other knows', async () => {
    const id = v7()
    await w.c.ok('PUT', `/api/slips/${id}`, issue(w.c, items[0]!, '1'))
    const answers = await Promise.all(
      clients.map((c, n) =>
        c.save(id, { head: { place: w.lab.id, effectiveAt: null, taker: `person ${n}`, head: {} } }, 1),
      ),
    )
    expect(answers.map(a => a.status)).to.deep.equal(clients.map(() => 200))
    const kept = answers.filter(a => a.body.stale.head === null)
    expect(kept).to.have.length(1)
    const { taker } = (await w.c.draft(id)).head
    expect(taker).to.match(/^person \d$/)
    for (const a of answers)
      if (a.body.stale.head) expect(a.body.stale.head.theirs.taker, 'they are told what stands there').to.equal(taker)
  })
  it('everything at once: nothing is lost or doubled, numbers have no gap, the chain holds, every balance is the sum of what was answered', async () => {
    const delta = new Map(items.map(i => [i.id, 40]))
    const done: string[] = []
    await Promise.all(
      clients.map(async (c, n) => {
        for (let k = 0; k < 12; k++) {
          const it = items[(n + k) % 3]!
          const q = 1 + ((n * 5 + k) % 4)
          const kind = (n + k) % 4
          const r =
            kind === 0
              ? await c.book({
                  kind: 'receipt',
                  place: w.lab.id,
                  head: { supplier: `S${n}` },
                  lines: [c.line({ item: it.id, typed: String(q), price: String(1 + k / 4) })],
                })
              : await c.book(issue(c, it, String(q)))
          if (r.status === 201) {
            delta.set(it.id, delta.get(it.id)! + (kind === 0 ? q : -q))
            done.push(r.body.id)
          } else expect(r.body.code).to.equal('insufficient_stock')
          if (k % 5 === 4 && r.status === 201 && kind !== 0) {
            const back = await c.call('POST', `/api/slips/${r.body.id}/reversal`, { id: v7() })
            expect(back.status).to.equal(201)
            delta.set(it.id, delta.get(it.id)! + q)
          }
        }
      }),
    )
    for (const it of items) expect(await left(it), it.name).to.equal(delta.get(it.id))
    const rows = (await w.c.get<{ rows: SlipRow[] }>('/api/slips?state=booked&limit=500')).rows
    expect(done.every(id => rows.some(r => r.id === id))).to.equal(true)
    for (const prefix of ['RC', 'IS', 'CR']) {
      const numbers = rows
        .filter(r => r.number!.startsWith(prefix))
        .map(r => Number(r.number!.slice(3)))
        .sort((a, b) => a - b)
      expect(numbers, prefix).to.deep.equal(numbers.map((_, i) => i + 1))
    }
    expect(verify(w.app)).to.deep.include({ ok: true, faults: [] })
  })
})

describe('shared commits', () => {
  it('take in what waits, up to so many or until one has taken long; in their order, a refused one alone', async () => {
    const directory = mkdtempSync(join(tmpdir(), 'shelve-commits-'))
    const file = join(directory, 'x.sqlite')
    const client = new Database(file)
    client.pragma('journal_mode = WAL')
    client.exec('create table t (n integer)')
    const other = new Database(file, { readonly: true })
    const commit = shareCommits(client, 3)
    const insert = client.prepare('insert into t values (?)')
    const long = () => {
      const until = performance.now() + 30
      while (performance.now() < until);
    }
    const seen: [number, string, unknown][] = []
    await Promise.all(
      [0, 1, 2, 3, 4, 5].map(n =>
        commit(() => {
          insert.run(n)
          if (n === 1) throw new Error('no')
          if (n === 3) long()
        }).then(
          () => seen.push([n, 'booked', other.pragma('data_version', { simple: true })]),
          () => seen.push([n, 'refused', other.pragma('data_version', { simple: true })]),
        ),
      ),
    )
    const commits = [...new Set(seen.map(s => s[2]))]
    expect(seen.map(([n, what, version]) => [n, what, commits.indexOf(version)])).to.deep.equal([
      [0, 'booked', 0],
      [1, 'refused', 0],
      [2, 'booked', 0],
      [3, 'booked', 1],
      [4, 'booked', 2],
      [5, 'booked', 2],
    ])
    expect(other.prepare('select n from t').pluck().all()).to.deep.equal([0, 2, 3, 4, 5])
    client.close()
    other.close()
    rmSync(directory, { recursive: true })
  })
})
