import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect } from 'chai'
import { decimal, formatDecimal } from '@shelve/core'
import { sql } from 'drizzle-orm'
import {
  accountSummary,
  compose,
  type House,
  callerFor,
  DATABASE,
  itemYears,
  todayOf,
  ledgerCsv,
  ledgerJournal,
  ledgerJsonLines,
  schema,
  verify,
} from '@shelve/server'
import { makeDemonstration } from '@shelve/demo'
import { byHledger, byLedger, monthsByHledger } from '../../core/test/reports/programs.ts'

const NOW = Date.UTC(2026, 10, 25, 10)
const ROOT = fileURLToPath(new URL('../..', import.meta.url))
/** Made once for all that tests it; whoever runs these tests alone makes it here. */
const MADE = join(ROOT, '.results', 'demonstration')
interface Line {
  seq: number
  from: string
  to: string
  item: string
  quantity: string
  value: string
}

describe('the demonstration', () => {
  const directory = mkdtempSync(join(tmpdir(), 'shelve-demo-'))
  const clock = { now: NOW }
  let app: House
  let made: Pick<Awaited<ReturnType<typeof makeDemonstration>>, 'slips' | 'refused'>
  before(() => {
    if (!existsSync(MADE)) {
      const make = ['--import', 'tsx', 'demo/src/make.ts', MADE, String(NOW)]
      expect(spawnSync(process.execPath, make, { cwd: ROOT, stdio: 'inherit' }).status).to.equal(0)
    }
    cpSync(MADE, directory, { recursive: true })
    made = JSON.parse(readFileSync(join(directory, 'made.json'), 'utf8')) as typeof made
    app = compose(join(directory, DATABASE), { now: () => clock.now })
  })
  after(() => {
    app.close()
    rmSync(directory, { recursive: true, force: true })
  })
  const count = (sql: string) => Number(app.store.client.prepare(sql).pluck().get())
  // Nothing is booked in these tests: what an independent program makes of the journal is asked for once.
  let text: string
  before(() => {
    text = [...ledgerJournal(app)].join('')
  })
  let changes: Map<string, string> | undefined
  /** Each account's change of value by month, as hledger works it out. */
  const months = () => (changes ??= monthsByHledger(text, '^val:'))

  it('is Gannet Holm: six stockrooms, more than 320 items, 26 months of slips of every kind that can be booked, people of every role', () => {
    expect(app.places.areas().map(a => a.name)).to.have.members([
      'Wet lab',
      'Sick bay',
      'Galley',
      'Boat shed',
      'Launch Petrel',
      'Seal hide',
    ])
    expect(count('select count(*) from item')).to.be.within(320, 350)
    expect(made.slips).to.be.within(8_000, 12_000)
    expect(count('select count(*) from supplier')).to.be.at.least(6)
    expect(new Set(app.store.client.prepare('select role from "grant"').pluck().all())).to.deep.equal(
      new Set(['manager', 'keeper', 'buyer', 'requester', 'observer']),
    )
    expect(made.refused, 'few are refused, as in life').to.be.lessThan(made.slips / 20)
    const kinds = app.store.client.prepare("select distinct kind from slip where state = 'booked'").pluck().all()
    expect(kinds).to.include.members([
      'opening',
      'receipt',
      'issue',
      'bring_back',
      'move',
      'relabel',
      'waste',
      'count',
      'closing',
      'correction',
    ])
    expect(
      new Set(
        app.db
          .select({ m: schema.pool.method })
          .from(schema.pool)
          .all()
          .map(p => p.m),
      ),
    ).to.deep.equal(new Set(['average', 'fifo', 'lot', 'standard']))
    expect(count('select count(*) from code'), 'barcodes of things and packs').to.be.greaterThan(150)
    expect(count('select count(*) from level')).to.be.greaterThan(110)
    expect(count('select count(*) from lot where expiry is not null')).to.be.greaterThan(50)
    expect(count("select count(*) from slip where state = 'draft'"), 'somebody left a slip lying').to.be.greaterThan(0)
  })
  it('verifies clean', () => {
    expect(verify(app)).to.deep.include({ ok: true, faults: [] })
  })
  it('is the same again from the same seed, another from another', async () => {
    const journal = async (name: string, seed: number) => {
      const again = { now: NOW }
      const other = compose(join(directory, name), { now: () => again.now })
      other.store.client.pragma('synchronous = OFF')
      await makeDemonstration(other, again, NOW, { seed, days: 45 })
      const text = [...ledgerJournal(other)].join('')
      other.close()
      return text
    }
    const once = await journal('again.sqlite', 7)
    expect(await journal('once-more.sqlite', 7)).to.equal(once)
    expect(await journal('other.sqlite', 8)).to.not.equal(once)
  })
  it('has seasons, differences that wait and are settled, lots cleared away when they were out of date, and something for each line of Today', async () => {
    const use = (month: string) =>
      count(
        `select count(*) from movement m join account a on a.id = m.to_id where a.kind = 'used' and m.quantity > 0
          and strftime('%Y-%m', m.effective_at / 1000, 'unixepoch') = '${month}'`,
      )
    expect(use('2026-07')).to.be.greaterThan(use('2026-01'))
    const today = await todayOf(
      app,
      callerFor({ id: 1, uid: '', name: '', signIn: '', expiresAt: Infinity, session: '', strong: true }, [
        { role: 'manager', placeId: null },
      ]),
      app.places.scope(),
    )
    expect(new Set(today.waiting.map(x => x.kind))).to.deep.equal(
      new Set(['expiring', 'job', 'short', 'owed', 'transfer', 'count', 'difference', 'unpriced', 'draft']),
    )
    expect(today.waiting.length, 'and not so much that nobody reads it').to.be.lessThan(25)
    expect(today.shelves.every(s => s.value !== '0')).to.equal(true)
  })

  it('ledger and hledger agree with every balance: shelves by quantity, pools by value, all else by both', () => {
    const right: Record<string, bigint> = {}
    const add = (k: string, v: bigint) => {
      right[k] = (right[k] ?? 0n) + v
    }
    const code = new Map(
      app.db
        .select({ id: schema.item.id, code: schema.item.code })
        .from(schema.item)
        .all()
        .map(i => [i.id, i.code]),
    )
    for (const b of app.db.select().from(schema.balance).all())
      add(`qty:place:${app.places.path(b.placeId).replaceAll(': ', ':')}:${code.get(b.itemId)}`, b.quantity)
    for (const p of app.db.select().from(schema.pool).all()) add(`val:stock:${code.get(p.itemId)}`, p.value)
    const kept = Object.fromEntries(
      Object.entries(right)
        .filter(([, v]) => v !== 0n)
        .map(([k, v]) => [k, formatDecimal(v)]),
    )
    const byOne = byLedger(text)
    const byAnother = byHledger(text)
    for (const worked of [byOne, byAnother]) {
      const shelves = Object.fromEntries(
        Object.entries(worked).filter(([k]) => k.startsWith('qty:place:') || k.startsWith('val:stock:')),
      )
      expect(shelves).to.deep.equal(kept)
    }
    expect(byOne, 'and they agree with each other in every account').to.deep.equal(byAnother)
    expect(Object.keys(kept).length).to.be.greaterThan(200)
  })

  it('every month of the charts is what hledger makes of the exported ledger, account by account', async () => {
    await app.flows.ready()
    const kinds = {
      stock: 0n,
      opening: 0n,
      supplier: 0n,
      used: 0n,
      made: 0n,
      waste: 0n,
      difference: 0n,
      loss: 0n,
      gain: 0n,
      'price difference': 0n,
    }
    const byMonth = new Map<string, Record<keyof typeof kinds, bigint>>()
    for (const [key, amount] of months()) {
      const [, kind, month] = /^val:([^:]+)(?::.*)? (\S+)$/.exec(key)!
      const m = byMonth.get(month!) ?? { ...kinds }
      byMonth.set(month!, m)
      m[kind as keyof typeof kinds] += decimal(amount)
    }
    expect(byMonth.size).to.be.greaterThan(26)
    let value = 0n
    for (const [month, said] of [...byMonth].sort(([a], [b]) => (a < b ? -1 : 1))) {
      const c = app.flows.changes(month, () => true)
      const direct = [...app.flows.cells(month)].reduce((s, x) => (x.flow === 'direct' ? s + x.value : s), 0n)
      expect(app.flows.valueBefore(month), `what lay there when ${month} began`).to.equal(value)
      value += said.stock
      expect(
        {
          opening: -c.opening,
          supplier: -c.received - direct,
          used: -c.used + direct,
          made: -c.made,
          waste: -c.wasted,
          differences: -c.differences,
          price: -c.price,
        },
        month,
      ).to.deep.equal({
        opening: said.opening,
        supplier: said.supplier,
        used: said.used,
        made: said.made,
        waste: said.waste,
        differences: said.difference + said.loss + said.gain,
        price: said['price difference'],
      })
    }
  })
  it('the period summary by account code is what hledger makes of the same months: stock by category, waste by reason, all else', async () => {
    await app.flows.ready()
    const area = new Map(
      app.db
        .all<{ code: string; account: string }>(
          sql`select i.code, a.code as account from item i join account_code a on a.kind = 'category' and a.ref_id = i.category_id`,
        )
        .map(r => [r.code, r.account]),
    )
    /** The code of one of the journal's accounts; of use only that it is use, for the journal's values name no place. */
    const codeOf = (path: string): string => {
      const [, kind, ...rest] = path.split(':')
      if (kind === 'stock') return area.get(rest.join(':'))!
      if (kind === 'waste') return rest[0] === 'Expired' ? '5110' : rest[0] === 'Spoiled' ? '5120' : '5100'
      return {
        supplier: '2100',
        opening: '3000',
        used: 'used',
        made: '5400',
        difference: '5200',
        loss: '5200',
        gain: '5200',
        'price difference': '5300',
      }[kind!]!
    }
    for (const [from, to] of [
      ['2026-03', '2026-03'],
      ['2026-01', '2026-10'],
      ['2024-01', '2026-11'],
    ] as const) {
      const right: Record<string, bigint> = {}
      for (const [key, amount] of months()) {
        const month = key.slice(-7)
        if (month >= from && month <= to) {
          const c = codeOf(key.slice(0, -8))
          right[c] = (right[c] ?? 0n) + decimal(amount)
        }
      }
      const said: Record<string, bigint> = {}
      const out = accountSummary(app, { from, to })
      for (const r of out.rows) {
        const c = r.code.startsWith('50') ? 'used' : r.code
        said[c] = (said[c] ?? 0n) + decimal(r.debit) - decimal(r.credit)
      }
      expect(said, `${from} to ${to}`).to.deep.equal(right)
      expect(out.debit).to.equal(out.credit)
    }
    expect(
      accountSummary(app, { from: '2026-03', to: '2026-03' }).rows.filter(r => r.code.startsWith('50')).length,
      'use goes by stockroom and cost centre',
    ).to.be.greaterThan(5)
  })
  it('every item’s months end with what lies there, and each of its prices with the slip it came on', async () => {
    for (const it of app.stock.all().values()) {
      const out = await itemYears(app, true, app.places.scope(), it.uid)
      expect(out.months.at(-1)?.remained ?? '0', it.code).to.equal(formatDecimal(it.quantity))
      for (const p of out.prices!)
        expect(Number(p.cost) > 0 && /^(RC|OP)-/.test(p.slip.number), `${it.code} ${p.cost}`).to.equal(true)
    }
  })
  it('CSV, JSON Lines and the journal tell the same movements', () => {
    const lines = [...ledgerJsonLines(app)].map(l => JSON.parse(l) as Line)
    const csv = [...ledgerCsv(app)].join('').trim().split(/\r?\n/)
    expect(csv.length - 1)
      .to.equal(lines.length)
      .and.equal(count('select count(*) from movement'))
    expect(lines.map(l => l.seq)).to.deep.equal(lines.map((_, i) => i + 1))
    // Conservation, from the export alone: what leaves one account arrives at another.
    const sums = new Map<string, bigint>()
    for (const l of lines) {
      const q = BigInt(Math.round(Number(l.quantity) * 1e6))
      for (const [account, sign] of [
        [l.from, -1n],
        [l.to, 1n],
      ] as const)
        sums.set(`${account} ${l.item}`, (sums.get(`${account} ${l.item}`) ?? 0n) + sign * q)
    }
    const perItem = new Map<string, bigint>()
    for (const [k, q] of sums) {
      const it = k.split(' ').at(-1)!
      perItem.set(it, (perItem.get(it) ?? 0n) + q)
    }
    expect([...perItem.values()].every(q => q === 0n)).to.equal(true)
    expect(csv[0]).to.match(/^seq,cost order,slip,kind,item,/)
    expect(csv.slice(1).every(l => /^\d+,\d+,[A-Z]{2}-\d{4},/.test(l))).to.equal(true)
  })

  it('every figure of every item has a working that adds up', async () => {
    const { workingOf } = await import('../../server/src/position/workings.ts')
    let figures = 0
    const at = (place?: string) => app.places.scope(place === undefined ? undefined : [app.places.id(place)!])
    for (const it of app.db.select({ uid: schema.item.uid, id: schema.item.id }).from(schema.item).all()) {
      for (const place of [undefined, ...app.places.areas().map(a => a.uid)])
        for (const figure of [
          'on-hand',
          'available',
          'state',
          'value-here',
          'bring',
          'days',
          'first-expiry',
        ] as const) {
          const w = await workingOf(app, { here: true, everywhere: true }, at(place), figure, { item: it.uid })
          expect(
            w.lines.reduce((s, l) => s + decimal(l.amount), 0n),
            `${figure} of ${it.uid}`,
          ).to.equal(decimal(w.figure))
          const inside = place === undefined ? undefined : app.places.within(app.places.id(place)!)
          if (figure === 'days')
            expect(decimal(w.figure), 'what the days are worked out of').to.equal(
              [...app.stock.item(it.id)!.used].reduce((s, [p, q]) => (!inside || inside.has(p) ? s + q : s), 0n),
            )
          figures++
        }
      for (const figure of ['value', 'unit-cost'] as const) {
        const w = await workingOf(app, { here: true, everywhere: true }, at(), figure, { item: it.uid })
        expect(w.lines.reduce((s, l) => s + decimal(l.amount), 0n)).to.equal(decimal(w.figure))
        expect(decimal(w.figure), 'and is the figure that lists show').to.equal(app.stock.item(it.id)!.value)
        figures += 1
      }
    }
    for (const place of [undefined, ...app.places.areas().map(a => a.uid)]) {
      const w = await workingOf(app, { here: true, everywhere: true }, at(place), 'stock-value', {})
      expect(w.lines.reduce((s, l) => s + decimal(l.amount), 0n)).to.equal(decimal(w.figure))
      expect(decimal(w.figure)).to.equal(
        [...app.stock.all().values()].reduce((s, it) => s + app.stock.here(it, at(place), app.today()).worth, 0n),
      )
    }
    for (const s of app.db
      .select({ uid: schema.slip.uid, state: schema.slip.state })
      .from(schema.slip)
      .all()
      .filter(x => x.state === 'booked')) {
      const w = await workingOf(app, { here: true, everywhere: true }, at(), 'slip-value', { slip: s.uid })
      expect(w.lines.reduce((sum, l) => sum + decimal(l.amount), 0n)).to.equal(decimal(w.figure))
      figures++
    }
    expect(figures).to.be.greaterThan(10_000)
  })
})
