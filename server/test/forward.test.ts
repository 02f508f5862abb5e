import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import {
  copyFileSync,
  cpSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import Database from 'better-sqlite3'
import { expect } from 'chai'
import { backup, compose, DATABASE, openStore, schema } from '@shelve/server'
import { bringForward } from '../src/ground/db/forward.ts'
import { UnusableDatabase } from '../src/ground/db/open.ts'
import { Backups, backupsIn } from '../src/ground/db/schedule.ts'
import { restore } from '../src/ground/db/backup.ts'
import { verify, verifyLedger } from '../src/ledger/verify.ts'
import { newItem, world } from './client.ts'

const NOW = Date.UTC(2026, 10, 25, 9)
const DRIZZLE = fileURLToPath(new URL('../drizzle', import.meta.url))
const FORWARD = fileURLToPath(new URL('forward-killed.ts', import.meta.url))
const hashOf = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex')

/** The schema that this version knows, and the one of a version to come. */
const KNOWN = 5
const NEXT = KNOWN + 1
/** The steps of a version to come: ours, and one more that nobody has planned. */
function nextVersion(step: string): string {
  const steps = mkdtempSync(join(tmpdir(), 'shelve-steps-'))
  cpSync(DRIZZLE, steps, { recursive: true })
  const journal = join(steps, 'meta/_journal.json')
  const all = JSON.parse(readFileSync(journal, 'utf8')) as { entries: object[] }
  writeFileSync(journal, JSON.stringify({ ...all, entries: [...all.entries, { idx: KNOWN - 1, tag: '9999_next' }] }))
  writeFileSync(join(steps, '9999_next.sql'), step)
  return steps
}
/** An item's table rebuilt with a column more, as a step of the schema does it. */
const STEP = `
  ALTER TABLE item ADD COLUMN colour text;
  UPDATE item SET colour = 'none';
  CREATE TABLE category_next (id integer PRIMARY KEY NOT NULL, name text NOT NULL) STRICT;
`
const state = (file: string) => {
  const client = new Database(file, { readonly: true })
  const out = [
    Number(client.pragma('user_version', { simple: true })),
    client.prepare('select count(*) from movement').pluck().get(),
    client.prepare("select count(*) from pragma_table_info('item') where name = 'colour'").pluck().get(),
    client.pragma('integrity_check', { simple: true }),
  ]
  client.close()
  return out
}

describe('a database of an older version', () => {
  let directory: string
  let steps: string
  const live = () => join(directory, DATABASE)
  const verifyNext = async (file: string) => {
    const app = compose(file, { steps })
    const faults = [...verifyLedger(app).faults]
    app.close()
    return { faults }
  }
  beforeEach(async () => {
    const w = await world()
    const it = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    await w.c.received(w.lab.id, 'S', w.c.line({ item: it.id, typed: '10', price: '1' }))
    directory = mkdtempSync(join(tmpdir(), 'shelve-older-'))
    await backup(w.directory, live())
    rmSync(`${live()}.sha256`)
    await w.stop()
    steps = nextVersion(STEP)
  })
  afterEach(() => {
    for (const d of [directory, steps]) rmSync(d, { recursive: true })
  })

  it('is backed up, migrated as a copy, verified, and put in its place', async () => {
    const before = hashOf(live())
    const kept = await bringForward(directory, NOW, verifyNext, { steps })
    expect(state(live())).to.deep.equal([NEXT, 1, 1, 'ok'])
    expect(readFileSync(`${kept}.sha256`, 'utf8').trim()).to.equal(hashOf(kept!))
    expect([state(kept!), hashOf(kept!)], 'the backup is what it was').to.deep.equal([[KNOWN, 1, 0, 'ok'], before])
    expect(readdirSync(directory).filter(f => f.includes('forward'))).to.deep.equal([])
    expect(await bringForward(directory, NOW, verifyNext, { steps }), 'and then there is nothing to do').to.equal(null)
    expect(() => openStore(live()), 'and this version refuses it').to.throw(
      UnusableDatabase,
      new RegExp(`its schema is ${NEXT}, this version knows ${KNOWN}`),
    )
  })
  for (const [what, step] of [
    ['a step that fails halfway', `${STEP} CREATE TABLE item (x integer);`],
    ['a step that leaves rows that refer to nothing', `${STEP} DELETE FROM account;`],
    ['a step that spoils what is kept', `${STEP} UPDATE balance SET quantity = quantity + 1;`],
  ] as const)
    it(`that cannot be brought up (${what}) stays untouched; the message says where its backup is`, async () => {
      rmSync(steps, { recursive: true })
      steps = nextVersion(step)
      const was = hashOf(live())
      const failed = await bringForward(directory, NOW, verifyNext, { steps }).catch((e: unknown) => e)
      expect(failed).to.be.instanceOf(UnusableDatabase)
      expect((failed as Error).message).to.match(
        new RegExp(
          `could not be brought up to this version: .*It was not touched; a backup of it is .*before-schema-${NEXT}`,
          's',
        ),
      )
      expect(hashOf(live())).to.equal(was)
      expect(readdirSync(directory).filter(f => f.includes('forward'))).to.deep.equal([])
    })
  it('killed at any moment it is as it was, or done; and the next start ends it', async () => {
    const moments: string[] = []
    await bringForward(directory, NOW, verifyNext, { steps, at: m => moments.push(m) })
    expect(moments.length).to.be.greaterThan(6)
    const kept = join(directory, 'kept.sqlite')
    renameSync(
      join(
        directory,
        'backups',
        readdirSync(join(directory, 'backups')).find(f => f.endsWith('.sqlite'))!,
      ),
      kept,
    )
    for (const moment of moments) {
      for (const f of readdirSync(directory)) if (f !== 'kept.sqlite') rmSync(join(directory, f), { recursive: true })
      copyFileSync(kept, live())
      const killed = spawnSync(process.execPath, ['--import', 'tsx', FORWARD, directory, steps, moment], {
        encoding: 'utf8',
      })
      expect(killed.signal, `${moment}: ${killed.stderr}`).to.equal('SIGKILL')
      expect(state(live()), moment).to.deep.equal(moment === 'in its place' ? [NEXT, 1, 1, 'ok'] : [KNOWN, 1, 0, 'ok'])
      await bringForward(directory, NOW, verifyNext, { steps })
      expect(state(live()), `${moment}, then started again`).to.deep.equal([NEXT, 1, 1, 'ok'])
      expect((await verifyNext(live())).faults).to.deep.equal([])
    }
  })
  it('that schema 2 wrote is brought to this version’s by its own step, with all that is in it', async () => {
    const raw = new Database(live())
    for (const [table, columns] of [
      ['category', ['tolerance_quantity', 'tolerance_percent', 'tolerance_value']],
      ['item', ['tolerance_quantity', 'tolerance_percent', 'tolerance_value']],
      ['organisation', ['tolerance_value']],
      ['tally', ['first_off', 'first_within']],
    ] as const)
      for (const column of columns) raw.exec(`alter table ${table} drop column ${column}`)
    raw.exec('drop index tally_counted; drop table asked_once; pragma user_version = 2')
    const noted = raw.prepare('select * from audit order by id').all()
    expect(noted).to.not.deep.equal([])
    const slip = raw.prepare('select json_group_array(json_array(seq, quantity, value)) from movement').pluck().get()
    raw.close()
    await bringForward(directory, NOW, async file => {
      const app = compose(file)
      const { faults } = verifyLedger(app)
      app.close()
      return { faults: [...faults] }
    })
    expect(state(live())).to.deep.equal([KNOWN, 1, 0, 'ok'])
    const is = new Database(live(), { readonly: true })
    expect(
      is.prepare('select json_group_array(json_array(seq, quantity, value)) from movement').pluck().get(),
    ).to.deep.equal(slip)
    expect(is.prepare('select count(*) from asked_once').pluck().get()).to.equal(0)
    is.close()
    // What was noted stands as it did, and is as little to be changed as before.
    const bare = new Database(live())
    const audit = () => bare.prepare('select * from audit order by id').all()
    expect(audit()).to.deep.equal(noted)
    for (const change of [
      'delete from audit',
      "update audit set what = 'pin'",
      'replace into audit select * from audit',
    ])
      expect(() => bare.exec(change), change).to.throw(/what was noted is never/)
    bare.close()
  })
  it('of before the first schema that was handed out is refused in words, and so is what is none of ours', async () => {
    for (const [number, why] of [
      [0, /never handed out \(its schema is 1/],
      [1, /never handed out \(its schema is 1/],
    ] as const) {
      const raw = new Database(live())
      raw.pragma(`user_version = ${number}`)
      raw.close()
      const was = hashOf(live())
      expect(await bringForward(directory, NOW, verifyNext, { steps })).to.equal(null)
      expect(() => openStore(live())).to.throw(UnusableDatabase, why)
      expect(hashOf(live())).to.equal(was)
    }
  })
  it('where there is none, nothing is made', async () => {
    const nothing = mkdtempSync(join(tmpdir(), 'shelve-none-'))
    expect(await bringForward(nothing, NOW, verifyNext)).to.equal(null)
    expect(readdirSync(nothing)).to.deep.equal([])
    rmSync(nothing, { recursive: true })
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
    const receive = () => w.c.received(w.lab.id, 'S', w.c.line({ item: it.id, typed: '1', price: '1' }))
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
