import { fork, type ChildProcess } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { expect } from 'chai'
import { v7 } from 'uuid'
import { compose, DATABASE, openStore, UnusableDatabase, verify } from '@shelve/server'
import { Client, newItem, world } from './client.ts'
import { Stream } from './stream.ts'
import { MAIN } from './shipped.ts'

async function start(data: string): Promise<{ child: ChildProcess; base: string }> {
  const child = fork(MAIN, [], {
    silent: true,
    env: { ...process.env, SHELVE_PORT: '0', SHELVE_DATA: data, SHELVE_LOG: 'error', SHELVE_SIGN_INS: '1000' },
  })
  let said = ''
  child.stderr!.on('data', d => {
    said += d
  })
  const port = await new Promise<number>((ok, no) => {
    child.once('message', m => ok((m as { port: number }).port))
    child.once('exit', code => no(new Error(`ended with ${code}: ${said}`)))
  })
  return { child, base: `http://127.0.0.1:${port}` }
}
const ended = (child: ChildProcess) => new Promise<number | null>(done => child.once('exit', code => done(code)))

describe('killed under load, and started again', () => {
  it('nothing acknowledged is lost or doubled, nothing is half booked, verify is clean', async () => {
    const data = mkdtempSync(join(tmpdir(), 'shelve-crash-'))
    let { child, base } = await start(data)
    const c = new Client(base)
    await c.ok('POST', '/api/start', {
      organisation: { name: 'X', zone: 'UTC', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
      manager: { name: 'Y', signIn: 'yy', password: 'long enough' },
      area: 'Store',
    })
    const place = (await c.get<{ rows: { id: string }[] }>('/api/places')).rows[0]!.id
    const items = await Promise.all(
      [1, 2, 3].map(n => newItem(c, { name: `Thing ${n}`, method: n === 2 ? 'fifo' : 'average' })),
    )
    const acknowledged = new Map<string, string>()
    let asked = 0
    for (let cycle = 0; cycle < 4; cycle++) {
      const clients = Array.from({ length: 6 }, () => {
        const x = new Client(base)
        x.cookie = c.cookie
        return x
      })
      let stop = false
      const work = clients.map(async (x, n) => {
        while (!stop) {
          const id = v7()
          asked++
          const content = {
            kind: 'receipt' as const,
            place,
            head: { supplier: 'S' },
            lines: items.map(i => x.line({ item: i.id, typed: String(1 + (asked % 5)), price: String(1 + n) })),
          }
          try {
            const r = await x.book(content, id)
            if (r.status === 201) acknowledged.set(id, r.body.number!)
          } catch {
            return
          }
        }
      })
      // In the midst of it, however slow the machine is: each time a little later.
      const enough = acknowledged.size + 11 + cycle * 3
      while (acknowledged.size < enough) await new Promise(done => setTimeout(done, 3))
      child.kill('SIGKILL')
      await ended(child)
      stop = true
      await Promise.all(work)
      const app = compose(join(data, DATABASE))
      expect(verify(app).faults).to.deep.equal([])
      // Argon2id as OWASP has it at the least: 19 MiB, 2 passes (from memory).
      expect(app.store.client.prepare('select password_hash from person').pluck().get()).to.match(
        /^\$argon2id\$v=19\$m=19456,t=2,p=1\$/,
      )
      const kept = app.store.client
        .prepare(
          "select uid, number, (select count(*) from movement m where m.slip_id = slip.id) as n from slip where state = 'booked'",
        )
        .all() as { uid: string; number: string; n: bigint }[]
      const byId = new Map(kept.map(k => [k.uid, k]))
      for (const [id, number] of acknowledged)
        expect(byId.get(id)?.number, `slip ${id} was acknowledged`).to.equal(number)
      expect(new Set(kept.map(k => k.number)).size).to.equal(kept.length)
      for (const k of kept) expect(Number(k.n), 'all lines or none').to.equal(3)
      app.close()
      ;({ child, base } = await start(data))
    }
    expect(acknowledged.size).to.be.greaterThan(40)
    // A lost answer that is sent again finds the slip it made.
    const [id] = acknowledged.keys()
    expect(
      (
        await (() => {
          const x = new Client(base)
          x.cookie = c.cookie
          return x
        })().get<{ number: string }>(`/api/slips/${id}`)
      ).number,
    ).to.equal(acknowledged.get(id!))
    child.kill('SIGTERM')
    expect(await ended(child), 'a clean stop').to.equal(0)
    rmSync(data, { recursive: true, force: true })
  })
})

describe('the database', () => {
  it('is STRICT in every table, with its triggers; movements and booked slips cannot be changed', async () => {
    const w = await world()
    const { client } = w.app.store
    const tables = client
      .prepare(
        `select name, strict from pragma_table_list where schema = 'main' and type = 'table'
          and name not like 'sqlite%' and name not like 'slip\\_search\\_%' escape '\\'`,
      )
      .all() as { name: string; strict: bigint }[]
    expect(tables.length).to.be.greaterThan(25)
    expect(tables.filter(t => Number(t.strict) !== 1)).to.deep.equal([])
    expect(client.pragma('synchronous', { simple: true }), 'FULL').to.equal(2n)
    const item = await newItem(w.c, { name: 'Gloves' })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      effectiveAt: '2026-09-15T09:00:00.000Z',
      head: { supplier: 'S', charges: [{ label: 'Freight', amount: '1', basis: 'value' }] },
      lines: [w.c.line({ item: item.id, typed: '1', price: '1' })],
    })
    const counted = await w.c.must({
      kind: 'count',
      place: w.lab.id,
      lines: [w.c.line({ item: item.id, from: w.lab.id, counted: 'confirmed' })],
    })
    await w.c.ok('POST', `/api/slips/${counted.id}/reversal`, { id: '01a21000-0000-7000-8000-000000000001' })
    await w.c.ok('POST', '/api/months', { month: '2026-09' })
    await w.c.ok('PUT', '/api/slips/01a21000-0000-7000-8000-000000000003', {
      kind: 'issue',
      place: w.lab.id,
      lines: [w.c.line({ item: item.id, typed: '1' })],
    })
    // As anybody would who opens the file without asking the server.
    client.pragma('recursive_triggers = OFF')
    for (const [sql, why] of [
      ['update movement set value = 0', 'never changed'],
      ['delete from movement', 'never deleted'],
      ["update slip set title = 'x'", 'never changed'],
      ['delete from slip', 'never deleted'],
      ['insert or replace into movement select * from movement', 'never replaced'],
      ['insert or replace into slip select * from slip', 'never replaced'],
      [
        `insert or replace into slip (uid, kind, state, revision, version, created_at, created_by, saved_at, saved_by, taker,
          title, head) select uid, 'waste', 'draft', 1, 1, 0, 1, 0, 1, '', '', '{}' from slip`,
        'never replaced',
      ],
      [
        "update or replace slip set number = (select number from slip where state = 'booked') where state = 'draft'",
        'never replaced',
      ],
      ["update slip_line set content = '{}'", 'never changed'],
      ['delete from slip_line', 'never deleted'],
      ['insert or replace into slip_line select * from slip_line', 'never replaced'],
      [
        `insert into slip_line (uid, slip_id, position, revision, saved_by, content)
          select 'x', id, 9, 1, 1, '{}' from slip where state = 'booked'`,
        'none is added',
      ],
      [
        'update or replace slip_line set uid = (select min(uid) from slip_line where slip_id = 1) where slip_id <> 1',
        'never replaced',
      ],
      ["update sealed_bytes set bytes = x'00'", 'never changed'],
      ['insert or replace into sealed_bytes select * from sealed_bytes', 'never replaced'],
      ['delete from sealed_bytes', 'never deleted'],
      ['update charge set amount = 0', 'never changed'],
      ['insert or replace into charge select * from charge', 'never replaced'],
      ['delete from charge', 'never deleted'],
      ['update tally set counted = 0', 'never changed'],
      ['insert or replace into tally select * from tally', 'never replaced'],
      ['delete from tally', 'never deleted'],
      ['update tally_reversal set slip_id = 1', 'never changed'],
      ['insert or replace into tally_reversal select * from tally_reversal', 'never replaced'],
      ['delete from tally_reversal', 'never deleted'],
      ['update month set last_seq = 0', 'never changed'],
      ['insert or replace into month select * from month', 'never replaced'],
      ['delete from month', 'never deleted'],
      ["update item set unit = 'kg'", 'frozen'],
      ["update organisation set currency = 'USD'", 'frozen'],
    ] as const) {
      expect(() => client.exec(sql), sql).to.throw(why)
    }
    await w.stop()
  })
  it('guards what is booked by keys: no guard reads more where there is more', async () => {
    const w = await world()
    const { client } = w.app.store
    const guards = client.prepare("select name, sql from sqlite_master where type = 'trigger'").all() as {
      name: string
      sql: string
    }[]
    const asked = guards.flatMap(g =>
      [...g.sql.matchAll(/\((SELECT .*? FROM [^;]*?)\)(?= BEGIN| OR| =)/g)].map(m => [g.name, m[1]!]),
    )
    expect(asked.length, 'guards that ask a table').to.be.at.least(15)
    for (const [name, select] of asked) {
      const plan = client.prepare(`explain query plan ${select!.replace(/\b(new|old)\.\w+/g, '1')}`).all() as {
        detail: string
      }[]
      for (const { detail } of plan.filter(p => /^(SCAN|SEARCH)/.test(p.detail)))
        // A condition on the whole table, as of the currency, is content with the first row.
        if (!/^SCAN movement/.test(detail))
          expect(`${name}: ${detail}`).to.match(/PRIMARY KEY|_unique|autoindex|movement_item/)
    }
    await w.stop()
  })
  it('of a newer version is refused by name, and left as it is', () => {
    const dir = mkdtempSync(join(tmpdir(), 'shelve-newer-'))
    const file = join(dir, DATABASE)
    openStore(file).client.close()
    const raw = new Database(file)
    raw.pragma('user_version = 6')
    raw.close()
    expect(() => openStore(file)).to.throw(UnusableDatabase, /newer version of Shelve/)
    rmSync(dir, { recursive: true })
  })
  it('that is full says so; nothing is half done, and it goes on when there is room again', async () => {
    const w = await world()
    const item = await newItem(w.c, { name: 'Gloves' })
    const content = (n: number) => ({
      kind: 'receipt' as const,
      place: w.lab.id,
      head: { supplier: 'S' },
      lines: Array.from({ length: n }, () =>
        w.c.line({ item: item.id, typed: '1', price: '1', note: 'x'.repeat(150) }),
      ),
    })
    const pages = Number(w.app.store.client.pragma('page_count', { simple: true }))
    w.app.store.client.pragma(`max_page_count = ${pages}`)
    const r = await w.c.book(content(300))
    expect([r.status, r.body.code]).to.deep.equal([507, 'disk_full'])
    expect(verify(w.app)).to.deep.include({ ok: true, movements: 0 })
    w.app.store.client.pragma('max_page_count = 1000000')
    expect((await w.c.book(content(300))).status).to.equal(201)
    await w.stop()
  })
  it('in a directory that cannot be written stops at once with what to do', async function () {
    const dir = mkdtempSync(join(tmpdir(), 'shelve-readonly-'))
    chmodSync(dir, 0o500)
    // Root may write anywhere: there the same is shown by a file in the directory's place.
    const data = process.getuid?.() === 0 ? join(fileURLToPath(import.meta.url), 'data') : dir
    const message = await start(data).then(
      () => 'started',
      (e: Error) => e.message,
    )
    expect(message).to.match(/ended with 2: The data directory .* cannot be written to/)
    chmodSync(dir, 0o700)
    rmSync(dir, { recursive: true })
  })
  it('with a wrong configuration does not start', async () => {
    const child = fork(MAIN, [], {
      silent: true,
      env: { ...process.env, SHELVE_PORT: 'eighty' },
    })
    let said = ''
    child.stderr!.on('data', d => {
      said += d
    })
    expect(await ended(child)).to.equal(2)
    expect(said).to.contain('SHELVE_PORT')
  })
  it('a clock that jumps back refuses what lies in its future, and loses nothing', async () => {
    const w = await world()
    const item = await newItem(w.c, { name: 'Gloves' })
    await w.c.received(w.lab.id, 'S', w.c.line({ item: item.id, typed: '5', price: '1' }))
    w.clock.now -= 3_600_000
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    const r = await w.c.book({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: item.id, typed: '1' })],
    })
    expect(r.body.code, 'an hour before the delivery nothing was there').to.equal('insufficient_stock')
    w.clock.now += 3_660_000
    expect(verify(w.app).ok).to.equal(true)
    await w.stop()
  })
})

describe('events', () => {
  it('tell every stream what was booked, and a stream resumes where it was', async () => {
    const w = await world()
    const item = await newItem(w.c, { name: 'Gloves' })
    const stream = await Stream.of(w.c)
    await stream.until(heard => heard.some(e => e.kind === 'hello'))
    await w.c.received(w.lab.id, 'S', w.c.line({ item: item.id, typed: '1', price: '1' }))
    await stream.until(() => stream.kinds().includes('booked'))
    const seen = await stream.stop()
    const hello = seen.find(e => e.kind === 'hello')!
    expect(seen.at(-1)!.kind).to.equal('booked')
    await w.c.received(w.lab.id, 'S', w.c.line({ item: item.id, typed: '1', price: '1' }))
    const again = await Stream.of(w.c, `/api/events?after=${hello.seq}`)
    await again.until(heard => heard.filter(e => e.kind === 'booked').length === 2)
    const resumed = await again.stop()
    expect(resumed[0]!.kind, 'what was missed comes before the greeting, whose number is newer').to.equal('booked')
    expect(resumed.filter(e => e.kind === 'booked').map(e => e.seq)).to.deep.equal([hello.seq + 1, hello.seq + 2])
    await w.stop()
  })
})
