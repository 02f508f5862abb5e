import { rmSync } from 'node:fs'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { expect } from 'chai'
import type { SlipView } from '@shelve/contract'
import { canonical, CHAIN_VERSION } from '@shelve/core'
import { compose, backup, DATABASE, ledgerJournal, restore, verify } from '@shelve/server'
import { unpacked } from '../src/ledger/sealed.ts'
import { movementColumns } from '../src/ledger/statements.ts'
import { newItem, sendPicture, world, type World } from './client.ts'

/** One organisation with something of everything: layers, a count, a correction. Each test damages its own copy. */
describe('verify finds what was damaged', () => {
  let w: World
  let copy: string
  before(async () => {
    w = await world({ checkpointEvery: 2 })
    const { c, lab } = w
    const fifo = await newItem(c, { name: 'Filter', method: 'fifo' })
    const plain = await newItem(c, { name: 'Gloves' })
    const needs = [{ id: '01a21000-0000-7000-8000-000000000003', item: plain.id, typed: '4' }]
    const job = (
      await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job', place: lab.id, lines: needs })
    ).id
    for (const price of ['2', '3']) {
      w.clock.now += 60_000
      await c.received(
        lab.id,
        'S',
        c.line({ item: fifo.id, typed: '10', price }),
        c.line({ item: plain.id, typed: '10', price }),
      )
    }
    await sendPicture(c)
    w.clock.now += 60_000
    const issue = await c.must({
      kind: 'issue',
      place: lab.id,
      head: { job },
      lines: [c.line({ item: fifo.id, typed: '3' }), c.line({ item: plain.id, typed: '3' })],
    })
    w.clock.now += 60_000
    await c.must({
      kind: 'count',
      place: lab.id,
      lines: [c.line({ item: plain.id, from: lab.id, counted: 'counted', typed: '15', again: '15' })],
    })
    w.clock.now += 60_000
    const again = await c.must({
      kind: 'count',
      place: lab.id,
      lines: [c.line({ item: fifo.id, from: lab.id, counted: 'confirmed' })],
    })
    w.clock.now += 60_000
    await c.ok('POST', `/api/slips/${again.id}/reversal`, { id: '01a21000-0000-7000-8000-000000000002' })
    w.clock.now += 60_000
    await c.ok('POST', `/api/slips/${issue.id}/reversal`, {
      id: '01a21000-0000-7000-8000-000000000001',
      lines: [issue.lines[1]!.id],
    })
    const probe = await newItem(c, { name: 'Probe', identifiedBy: 'serial' })
    await c.must({
      kind: 'receipt',
      place: lab.id,
      effectiveAt: '2026-09-15T09:00:00.000Z',
      head: { supplier: 'S', charges: [{ label: 'Freight', amount: '4', basis: 'value' }] },
      lines: ['P1', 'P2'].map(code => c.line({ item: probe.id, typed: '1', price: '90', lot: { code } })),
    })
    const late = (await c.get<{ rows: { id: string }[] }>('/api/slips?kind=receipt&limit=9')).rows.at(-1)!
    const of = (await c.get<SlipView>(`/api/slips/${late.id}`)).lines[0]!
    await c.must({
      kind: 'correction',
      place: lab.id,
      head: { corrects: late.id, charges: [{ label: 'Freight', amount: '2', basis: 'value' }] },
      lines: [c.line({ ref: of.id, item: of.item!.id, act: 'charges' })],
    })
    // Something is on its way to another area.
    const shed = (await c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    await c.must({
      kind: 'dispatch',
      place: lab.id,
      head: { towards: shed },
      lines: [c.line({ item: plain.id, typed: '1' })],
    })
    // Something is made for the job of what it needs, and a little of it is wasted.
    const kit = await newItem(c, { name: 'Kit' })
    const burnt = (await c.ok<{ id: string }>('POST', '/api/waste-reasons', { name: 'Burnt' })).id
    await c.must({
      kind: 'make',
      place: lab.id,
      head: { job, goesOn: true },
      lines: [
        c.line({ item: kit.id, typed: '2', side: 'out' }),
        c.line({ item: plain.id, typed: '1' }),
        c.line({ item: fifo.id, typed: '1', reason: burnt }),
      ],
    })
    for (const month of ['2026-09', '2026-10']) await c.ok('POST', '/api/months', { month })
    copy = join(w.directory, 'copy.sqlite')
  })
  after(() => w.stop())

  async function damaged(sql: string): Promise<Set<string>> {
    for (const end of ['', '-wal', '-shm', '.sha256']) rmSync(copy + end, { force: true })
    await backup(w.directory, copy)
    const raw = new Database(copy)
    raw.pragma('foreign_keys = OFF')
    raw.pragma('ignore_check_constraints = ON')
    for (const t of raw.prepare("select name from sqlite_master where type = 'trigger'").pluck().all() as string[])
      raw.exec(`drop trigger ${t}`)
    raw.exec(sql)
    raw.close()
    const app = compose(copy)
    const found = verify(app)
    app.close()
    expect(found.ok).to.equal(sql === 'select 1')
    return new Set(found.faults.map(f => f.check))
  }
  it('what a slip is hashed over is written out for speed, and is canonical all the same: each movement whole', () => {
    const raw = new Database(join(w.directory, DATABASE), { readonly: true })
    const rows = raw.prepare('select bytes from sealed_bytes').all() as { bytes: Buffer }[]
    raw.close()
    // All that a movement is, but for the numbers of its slip and line, which the slip's own id stands for.
    const parts = Object.keys(movementColumns)
      .filter(k => k !== 'slipId' && k !== 'lineId')
      .sort()
    let movements = 0
    let answering = 0
    let made = 0
    for (const r of rows) {
      const text = unpacked(r.bytes, CHAIN_VERSION)!
      const slip = JSON.parse(text) as { movements: Record<string, unknown>[] }
      expect(canonical(slip)).to.equal(text)
      // That it answers no need, or is of no job, is not said.
      const silent = (m: object) => (p: string) => (p === 'needId' || p === 'jobId') && !(p in m)
      for (const m of slip.movements) expect(Object.keys(m)).to.deep.equal(parts.filter(p => !silent(m)(p)))
      movements += slip.movements.length
      answering += slip.movements.filter(m => 'needId' in m).length
      made += slip.movements.filter(m => 'jobId' in m).length
    }
    expect([rows.length > 7, movements > 15, answering, made]).to.deep.equal([true, true, 3, 3])
  })
  it('and finds nothing where nothing was', async () => {
    expect([...(await damaged('select 1'))]).to.deep.equal([])
  })

  const faults: [string, string][] = [
    ['database', 'update movement set part = 0, ord = 7 where seq = 1'],
    ['references', 'update layer set pool_id = 9999 where cost_seq = (select min(cost_seq) from layer)'],
    ['hashes', 'update sealed_bytes set bytes = (select bytes from sealed_bytes where slip_id = 2) where slip_id = 1'],
    ['hashes', 'update sealed_bytes set bytes = substr(bytes, 2) where slip_id = 1'],
    ['hashes', 'delete from sealed_bytes where slip_id = 1'],
    ['hashes', "update slip set hash = substr(hash, 2) || '0' where number = 'IS-0001'"],
    ['sealed', 'update movement set effective_at = effective_at + 1 where seq = (select max(seq) from movement)'],
    ['sealed', 'delete from movement where seq = (select max(seq) from movement)'],
    ['sealed', "update slip set witness_id = 1 where number = 'IS-0001'"],
    ['costs', "update movement set value = value + 1 where seq = (select min(seq) from movement where kind = 'out')"],
    [
      'conservation',
      "update movement set value = value + 1 where seq = (select min(seq) from movement where kind = 'receipt')",
    ],
    ['balances', 'update balance set quantity = quantity + 1 where item_id = (select min(item_id) from balance)'],
    [
      'balances',
      'delete from balance where (item_id, lot_id, place_id) = (select item_id, lot_id, place_id from balance where quantity <> 0)',
    ],
    ['below zero', 'update balance set quantity = -1 where item_id = (select min(item_id) from balance)'],
    ['pools', 'update pool set value = value + 1 where id = (select min(pool_id) from movement)'],
    ['pools', 'update pool set tainted = 1 - tainted where id = (select min(pool_id) from movement)'],
    ['pools', 'update pool set last_receipt_value = last_receipt_value + 1 where last_receipt_value is not null'],
    ['unpriced', 'insert into unpriced select pool_id, cost_seq, part from movement limit 1'],
    ['layers', 'update layer set value = value + 1 where cost_seq = (select min(cost_seq) from layer)'],
    ['tallies', 'update tally set counted = counted + 1'],
    ['sealed', "update slip set chain_version = 9 where number = 'RC-0001'"],
    ['content', "update slip_line set content = json_set(content, '$.note', 'other') where id = 1"],
    ['content', 'update slip_line set content = substr(content, 2) where id = 1'],
    ['content', `update slip_line set content = content || '],["x",' || content where id = 1`],
    ['sealed', "update slip set first_seq = last_seq where number = 'IS-0001'"],
    ['sealed', "update slip set last_seq = first_seq - 1 where number = 'IS-0001'"],
    ['content', "update slip set head = replace(head, '\"S\"', '\"T\"') where number = 'RC-0001'"],
    ['content', 'delete from slip_line where id = (select max(id) from slip_line)'],
    ['charges', 'update charge set amount = amount + 1'],
    ['charges', 'update charge set amount = amount + 1 where by_id <> slip_id'],
    ['charges', 'delete from charge'],
    ['months', "delete from month where name = '2026-09'"],
    ['months', "delete from month where name = '2026-10'"],
    ['months', "update month set head_hash = substr(head_hash, 2) || 'g' where name = '2026-10'"],
    ['months', "update month set starts_at = starts_at + 1 where name = '2026-10'"],
    ['expected', 'update tally set expected = expected + 1'],
    ['confirmed', 'update tally set confirmed = 1 - confirmed'],
    // The month of the count is closed: nothing is dated there any more, and what lies now must be right.
    ['since it was counted', 'update month set ends_at = ends_at + 4000000000; update tally set counted = counted + 1'],
    ['taken back', 'delete from tally_reversal'],
    ['needs', "update need set item_id = (select id from item where name = 'Filter')"],
    ['needs', "update account set job_id = null where kind = 'used'"],
    ['needs', 'update slip set job_id = null where job_id is not null'],
    ['needs', "update slip set job_id = (select id from job) where kind = 'count'"],
    ['needs', "update movement set job_id = null where kind = 'event_out'"],
    ['transits', "update transit set slip_id = (select min(id) from slip where kind = 'receipt')"],
    ['transits', "update place set kind = 'bin' where kind = 'transit'"],
    ['sealed', 'update movement set need_id = null where need_id is not null'],
    ['sealed', "update movement set job_id = null where kind = 'event_in'"],
    ['kinds', "update movement set kind = 'out' where seq = (select min(seq) from movement where kind = 'receipt')"],
    [
      'taken back',
      "insert into tally_reversal select min(t.id), (select max(id) from slip where kind = 'correction') from tally t",
    ],
    ['serials', "update item set identified_by = 'serial' where name = 'Gloves'"],
    [
      'serials',
      "update movement set quantity = quantity * 2 where seq = (select max(seq) from movement where kind = 'receipt' and quantity > 0)",
    ],
    [
      'left behind',
      `update pool set current = 0 where item_id = (select item_id from tally order by id limit 1);
      insert into pool (item_id, method, first_standard, current, quantity, value, standard, tainted)
        select item_id, method, first_standard, 1, 0, 0, standard, tainted from pool where item_id = (select item_id from tally order by id limit 1)`,
    ],
    ['pictures', "update picture set hash = substr(hash, 2) || '0'"],
    ['checkpoints', 'update checkpoint_balance set quantity = quantity + 1 where checkpoint_id = 1'],
    [
      'checkpoints',
      'delete from checkpoint_balance where (checkpoint_id, item_id, lot_id, place_id) = (select checkpoint_id, item_id, lot_id, place_id from checkpoint_balance limit 1)',
    ],
    [
      'checkpoints',
      'delete from checkpoint_pool where (checkpoint_id, pool_id) = (select checkpoint_id, pool_id from checkpoint_pool limit 1)',
    ],
    ['checkpoints', 'update checkpoint_pool set value = value + 1 where checkpoint_id = 1'],
    ['checkpoints', 'update checkpoint set latest_effective_at = latest_effective_at - 1'],
  ]
  for (const [check, sql] of faults)
    it(`${check}: ${sql.slice(0, 60)} …`, async () => {
      expect([...(await damaged(sql))]).to.include(check)
    })

  it('a restored backup verifies alike and exports the same ledger; a damaged one is refused', async () => {
    const file = join(w.directory, 'kept', 'b.sqlite')
    await backup(w.directory, file)
    const elsewhere = join(w.directory, 'elsewhere')
    const journal = [...ledgerJournal(w.app)].join('')
    const head = verify(w.app).headHash
    await restore(elsewhere, file, w.clock.now)
    const app = compose(join(elsewhere, DATABASE))
    expect([...ledgerJournal(app)].join('')).to.equal(journal)
    expect(verify(app), 'its pictures too').to.deep.include({ ok: true, headHash: head })
    app.close()
    const { kept } = await restore(elsewhere, file, w.clock.now)
    expect(kept, 'what was there is kept beside it').to.match(/before-/)
    const { truncateSync, statSync, unlinkSync } = await import('node:fs')
    truncateSync(file, statSync(file).size - 4096)
    const refused = await restore(elsewhere, file, w.clock.now).then(
      () => '',
      (e: Error) => e.message,
    )
    expect(refused).to.match(/does not fit its checksum.*Nothing was changed/)
    unlinkSync(`${file}.sha256`)
    expect(
      await restore(elsewhere, file, w.clock.now).then(
        () => '',
        (e: Error) => e.message,
      ),
    ).to.match(/checksum/)
  })
})

describe('what no number of JavaScript holds is read exactly', () => {
  // 2⁵³ + 1 is the first whole number that a double leaves out (IEEE 754): 9007199254.740993 in millionths, ten dear lines together.
  it('an issue worth 2⁵³ + 1 millionths, put right by one more, its checkpoints, and all that is worked out anew', async () => {
    const w = await world({ checkpointEvery: 1 })
    const { c, lab } = w
    try {
      const gold = await newItem(c, { name: 'Gold leaf', unit: 'g', method: 'fifo' })
      const head = { job: (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id }
      const price = '900719925.474099'
      const dear = c.line({ item: gold.id, typed: '1', price: '900719925.474102' })
      const lines = [dear, ...Array.from({ length: 9 }, () => c.line({ item: gold.id, typed: '1', price }))]
      const delivery = await c.must({ kind: 'receipt', place: lab.id, head: { supplier: 'S' }, lines })
      w.clock.now += 60_000
      const issue = await c.must({
        kind: 'issue',
        place: lab.id,
        head,
        lines: [c.line({ item: gold.id, typed: '10' })],
      })
      expect(issue.value).to.equal('-9007199254.740993')
      w.clock.now += 60_000
      await c.must({
        kind: 'correction',
        place: lab.id,
        head: { corrects: delivery.id },
        lines: [c.line({ ref: dear.id!, item: gold.id, act: 'price', price: '900719925.474103' })],
      })
      const now = (await c.get<SlipView>(`/api/slips/${issue.id}`)).now
      expect(now?.value).to.equal('-9007199254.740994')
      expect(verify(w.app).faults).to.deep.equal([])
      expect([...ledgerJournal(w.app)].join('')).to.include('9007199254.740993')
    } finally {
      await w.stop()
    }
  })
})
