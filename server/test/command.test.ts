import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { expect } from 'chai'
import { DATABASE } from '@shelve/server'
import { newItem, world } from './client.ts'
import { CLI } from './shipped.ts'

/** The command as a person would give it: `shelve …`, in a data directory. */
describe('the command', () => {
  const kept = mkdtempSync(join(tmpdir(), 'shelve-command-'))
  let data: string
  let stop: () => Promise<void>
  const shelve = (args: string[], directory = data) => {
    const r = spawnSync(process.execPath, [CLI, ...args], {
      encoding: 'utf8',
      env: { ...process.env, SHELVE_DATA: directory, SHELVE_HERE: kept },
    })
    return { code: r.status, out: r.stdout, said: r.stderr }
  }
  before(async () => {
    const w = await world()
    ;({ directory: data, stop } = w)
    const gloves = await newItem(w.c, { code: 'GLV', name: 'Gloves' })
    await w.c.received(w.lab.id, 'S', w.c.line({ item: gloves.id, typed: '5', price: '2' }))
  })
  after(async () => {
    await stop()
    rmSync(kept, { recursive: true })
  })

  it('without sense says how it is used', () => {
    for (const args of [[], ['nonsense'], ['backup'], ['export', 'spreadsheet', 'x']]) {
      const r = shelve(args)
      expect([r.code, /shelve verify/.test(r.said)], args.join(' ')).to.deep.equal([2, true])
    }
  })
  it('verify: beside the running server, clean or not, in its exit code too', () => {
    const r = shelve(['verify'])
    expect([r.code, r.out]).to.deep.equal([
      0,
      r.out.match(
        /^1 movements in [\d.]+ s, the ledger in [\d.]+ s: everything agrees\nhead hash [0-9a-f]{64}\n$/,
      )?.[0],
    ])
  })
  it('backup while the server runs, restore elsewhere, verify there; then one row is changed', () => {
    const file = join(kept, 'monday.sqlite')
    expect(shelve(['backup', 'monday.sqlite']).out).to.contain(file)
    expect(readFileSync(`${file}.sha256`, 'utf8')).to.match(/^[0-9a-f]{64}\n$/)
    const other = join(kept, 'other')
    expect(shelve(['restore', file], other).code).to.equal(0)
    expect(shelve(['verify'], other).out).to.contain('everything agrees')
    const raw = new Database(join(other, DATABASE))
    raw.exec('update balance set quantity = quantity + 1000000')
    raw.close()
    const found = shelve(['verify'], other)
    expect(found.code).to.equal(1)
    expect(found.out).to.match(/^balances: item \d+, lot \d+, Wet lab: kept 6000000, right 5000000\n.*1 faults/)
    expect(shelve(['restore', file], other).out, 'what was there is kept').to.match(
      /is in place; what was there is kept as .*before-/,
    )
    expect(shelve(['verify'], other).code).to.equal(0)
  })
  it('refuses a backup that was cut short, and leaves what is there', () => {
    const file = join(kept, 'tuesday.sqlite')
    shelve(['backup', file])
    truncateSync(file, 8192)
    const other = join(kept, 'other')
    const r = shelve(['restore', file], other)
    expect([r.code, r.said]).to.deep.equal([
      2,
      `${file} does not fit its checksum: it was damaged or cut short. Nothing was changed. Take another backup.\n`,
    ])
    expect(shelve(['verify'], other).code).to.equal(0)
    expect(shelve(['restore', 'nowhere.sqlite'], other).said).to.match(/there is no backup at/)
  })
  it('exports the ledger in three open formats', () => {
    for (const [format, like] of [
      ['csv', /^seq,cost order,slip/],
      ['jsonl', /^{"seq":1,/],
      ['journal', /^; The ledger of Test station/],
    ] as const) {
      const file = join(kept, `ledger.${format}`)
      expect(shelve(['export', format, file]).code).to.equal(0)
      expect(readFileSync(file, 'utf8')).to.match(like)
    }
  })
  it('makes no database by asking about one, and touches none that it does not know', () => {
    const empty = join(kept, 'empty')
    const r = shelve(['verify'], empty)
    expect([r.code, r.said]).to.deep.equal([
      2,
      `There is no database in ${empty}. Set SHELVE_DATA to the data directory.\n`,
    ])
    expect(existsSync(join(empty, DATABASE))).to.equal(false)
    const odd = mkdtempSync(join(kept, 'odd-'))
    writeFileSync(join(odd, DATABASE), 'this is no database, but somebody’s letter')
    expect(shelve(['verify'], odd)).to.deep.include({ code: 2 })
    expect(readFileSync(join(odd, DATABASE), 'utf8')).to.contain('letter')
  })
})
