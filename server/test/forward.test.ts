import { createHash } from 'node:crypto'
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { expect } from 'chai'
import { drizzle } from 'drizzle-orm/better-sqlite3'
import { migrate } from 'drizzle-orm/better-sqlite3/migrator'
import { compose, DATABASE, schema } from '@shelve/server'
import { bringForward } from '../src/ground/db/forward.ts'
import { stepsOf, UnusableDatabase } from '../src/ground/db/open.ts'
import { Backups, backupsIn } from '../src/ground/db/schedule.ts'
import { restore } from '../src/ground/db/backup.ts'
import { verify } from '../src/ledger/verify.ts'
import { verifyApart } from '../src/ledger/verify-apart.ts'
import { newItem, world } from './client.ts'

const NOW = Date.UTC(2026, 10, 25, 9)
const DRIZZLE = fileURLToPath(new URL('../drizzle', import.meta.url))
const hashOf = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex')

/** A data directory as an earlier version left it: with the first steps of the schema only. */
function older(steps: number): string {
  const directory = mkdtempSync(join(tmpdir(), 'shelve-older-'))
  const migrations = join(directory, 'migrations')
  cpSync(DRIZZLE, migrations, { recursive: true })
  const journal = join(migrations, 'meta/_journal.json')
  const all = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] }
  writeFileSync(journal, JSON.stringify({ ...all, entries: all.entries.slice(0, steps) }))
  const client = new Database(join(directory, DATABASE))
  client.pragma('journal_mode = WAL')
  migrate(drizzle({ client }), { migrationsFolder: migrations })
  client.exec(
    "insert into organisation values (1, 'Old station', 'Europe/Paris', 'EUR', '.', 'dmy', 'at_or_below', 'average', 5000000, 0); insert into person (id, uid, name, sign_in, password_hash, active, created_at) values (1, 'p', 'Ines', 'ines', 'x', 1, 0)",
  )
  client.close()
  rmSync(migrations, { recursive: true })
  return directory
}

describe('a database of an older version', () => {
  it('is backed up, migrated as a copy, verified, and put in its place', async () => {
    const directory = older(3)
    const kept = await bringForward(directory, NOW, verifyApart)
    const live = new Database(join(directory, DATABASE))
    const { applied, known } = stepsOf(live)
    expect([
      applied,
      live.prepare('select name from organisation').pluck().get(),
      live.prepare('select pin_wrong from person').pluck().get(),
    ]).to.deep.equal([known, 'Old station', 0])
    expect(
      live
        .prepare(
          "select count(*) from sqlite_master where type = 'table' and sql not like '%STRICT%' and name not like 'sqlite%' and name not like '\\_\\_%' escape '\\'",
        )
        .pluck()
        .get(),
      'every table is STRICT still',
    ).to.equal(0)
    expect(live.prepare("select count(*) from sqlite_master where type = 'trigger'").pluck().get()).to.be.greaterThan(1)
    live.close()
    expect(readFileSync(`${kept}.sha256`, 'utf8').trim()).to.equal(hashOf(kept!))
    const before = new Database(kept!, { readonly: true })
    expect(stepsOf(before).applied, 'the backup is what it was').to.equal(3)
    before.close()
    expect(readdirSync(directory).filter(f => f.includes('forward'))).to.deep.equal([])
    expect(await bringForward(directory, NOW, verifyApart), 'and then there is nothing to do').to.equal(null)
    rmSync(directory, { recursive: true })
  })
  it('that cannot be brought up stays untouched; the message says where its backup is', async () => {
    const directory = older(3)
    const live = join(directory, DATABASE)
    const raw = new Database(live)
    // Something in the way of a later step.
    raw.exec('create table preference (x integer) strict')
    raw.pragma('wal_checkpoint(TRUNCATE)')
    raw.close()
    const was = hashOf(live)
    const failed = await bringForward(directory, NOW, verifyApart).catch((e: unknown) => e)
    expect(failed).to.be.instanceOf(UnusableDatabase)
    expect((failed as Error).message).to.match(
      /could not be brought up to this version: .*It was not touched; a backup of it is .*before-step/s,
    )
    expect(hashOf(live)).to.equal(was)
    expect(readdirSync(directory).filter(f => f.includes('forward'))).to.deep.equal([])
    rmSync(directory, { recursive: true })
  })
  it('where there is none, nothing is made', async () => {
    const directory = mkdtempSync(join(tmpdir(), 'shelve-none-'))
    expect(await bringForward(directory, NOW, verifyApart)).to.equal(null)
    expect(readdirSync(directory)).to.deep.equal([])
    rmSync(directory, { recursive: true })
  })
})

describe('backups', () => {
  it('are taken when due, kept so many, and restored to the same; one cut short is refused', async () => {
    const w = await world()
    let now = NOW
    const backups = new Backups(w.directory, { hours: 24, keep: 3 }, () => now)
    expect(backups.due()).to.equal(true)
    for (let i = 0; i < 5; i++) {
      now += 86_400_000
      await backups.take()
    }
    expect(backupsIn(w.directory).length, 'the oldest go').to.equal(3)
    expect(backups.due()).to.equal(false)
    for (const b of backupsIn(w.directory)) {
      const at = b.at / 1000 - 90_000
      utimesSync(join(w.directory, 'backups', b.name), at, at)
    }
    expect(backups.due(), 'a day later one is due again').to.equal(true)
    const last = join(w.directory, 'backups', (await backups.take()).name)
    const fresh = mkdtempSync(join(tmpdir(), 'shelve-restored-'))
    await restore(fresh, last, now)
    const app = compose(join(fresh, DATABASE))
    expect([app.organisation!.name, verify(app).ok]).to.deep.equal(['Test station', true])
    app.close()
    writeFileSync(last, readFileSync(last).subarray(0, 20_000))
    const cut = await restore(fresh, last, now).catch((e: unknown) => e)
    expect((cut as Error).message).to.match(/damaged or cut short. Nothing was changed/)
    rmSync(fresh, { recursive: true })
    await w.stop()
  })
  it('come to their end while slips are booked all the time, each of them whole', async () => {
    const w = await world()
    const it = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    const receive = () =>
      w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'S' },
        lines: [w.c.line({ item: it.id, typed: '1', price: '1' })],
      })
    // Large enough that it cannot be copied between two bookings.
    w.app.store.client.exec(
      `with recursive n(i) as (select 1 union all select i + 1 from n where i < 100000) insert into event (at, kind, detail) select 0, 'test', printf('{"x":"%0300d"}', i) from n`,
    )
    const backups = new Backups(w.directory, { hours: 24, keep: 1 }, () => w.clock.now)
    let name = ''
    const taking = backups.take().then(b => {
      name = b.name
    })
    let booked = 0
    // A backup that began anew with every booking would outlast them all.
    while (!name && booked < 300) {
      await receive()
      booked++
    }
    expect(name, `after ${booked} slips`).not.to.equal('')
    await taking
    const fresh = mkdtempSync(join(tmpdir(), 'shelve-restored-'))
    await restore(fresh, join(w.directory, 'backups', name), w.clock.now)
    const app = compose(join(fresh, DATABASE))
    const slips = app.db.select({ id: schema.slip.id }).from(schema.slip).all().length
    expect([verify(app).ok, slips <= booked]).to.deep.equal([true, true])
    app.close()
    rmSync(fresh, { recursive: true })
    await w.stop()
  })
  it('that cannot be written say so, and are tried again', async () => {
    const directory = mkdtempSync(join(tmpdir(), 'shelve-nobackup-'))
    const told: string[] = []
    const backups = new Backups(
      directory,
      { hours: 1, keep: 2 },
      () => NOW,
      (m, e) => told.push(e ? `${m}: ${e.message}` : m),
    )
    backups.start(20)
    for (let i = 0; i < 200 && told.length < 2; i++) await new Promise(r => setTimeout(r, 50))
    backups.stop()
    expect(told.length).to.be.greaterThan(1)
    expect(told[0]).to.match(/could not be written: there is no database/)
    expect(backups.lastTrouble).to.match(/there is no database/)
    expect(existsSync(join(directory, 'backups')) && backupsIn(directory).length).to.be.oneOf([false, 0])
    rmSync(directory, { recursive: true })
  })
})
