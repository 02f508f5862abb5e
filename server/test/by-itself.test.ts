// What runs by itself, or goes wrong in the midst of an answer, neither ends the server nor passes for whole.
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect } from 'chai'
import { v7 } from 'uuid'
import { Backups } from '../src/ground/index.ts'
import { newItem, world, type World } from './client.ts'

describe('what runs by itself', () => {
  it('backups: where their folder cannot be looked through, that is told, again and again', async () => {
    const directory = mkdtempSync(join(tmpdir(), 'shelve-by-itself-'))
    writeFileSync(join(directory, 'backups'), 'no folder')
    const told: string[] = []
    const backups = await new Promise<Backups>(ok => {
      const it = new Backups(directory, { hours: 1, keep: 1 }, Date.now, message => {
        if (told.push(message) === 3) ok(it)
      })
      it.start(2)
    })
    backups.stop()
    expect(told).to.deep.equal(Array.from({ length: 3 }, () => 'the backup could not be written'))
    rmSync(directory, { recursive: true })
  })
})

describe('a server that cannot answer any more', () => {
  it('since it is being stopped, says so to whoever waits, and is no fault that the log tells of', async () => {
    const w = await world()
    w.reading.store.client.close()
    const { status, body } = await w.c.call('GET', '/api/today')
    expect([status, body.code]).to.deep.equal([503, 'stopping'])
    await w.stop()
  })
  it('what was done by then is not refused: that it was done is said', async () => {
    const w = await world()
    const flour = await newItem(w.c, { name: 'Flour' })
    const { client } = w.app.store
    const booked = () =>
      (client.prepare('select state from slip where uid = ?').get(id) as { state: string } | undefined)?.state
    // Whoever reads the answer cannot look up any more who asked.
    const { caller } = w.reading.rows
    const get = caller.get.bind(caller)
    caller.get = of => {
      if (booked() === 'booked') throw new Error('cannot be read')
      return get(of)
    }
    const id = v7()
    const line = w.c.line({ item: flour.id, typed: '1', price: '2' })
    const r = await w.c.book({ kind: 'receipt', place: w.lab.id, head: { supplier: 'Aster' }, lines: [line] }, id)
    expect([r.status, r.body.code, r.body.detail]).to.deep.equal([
      500,
      'not_told',
      'This was done; what came of it could not be read just now. Look at what is there before you ask for it anew.',
    ])
    expect(booked()).to.equal('booked')
    await w.stop()
  })
})

describe('an answer that goes wrong in the midst', () => {
  let w: World
  before(async () => {
    w = await world()
    const flour = (await newItem(w.c, { name: 'Flour' })).id
    for (const supplier of ['Aster', 'Aster', 'Aster', 'Aster', 'Aster', 'Zinnia'])
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier },
        lines: Array.from({ length: 400 }, () => w.c.line({ item: flour, typed: '1', price: '2' })),
      })
  })
  after(() => w.stop())

  /** While the row that says who somebody is cannot be found, as in a damaged database. */
  async function without<T>(supplier: string, does: () => Promise<T>): Promise<T> {
    const { client } = w.app.store
    const of = 'from account where name = ?'
    const row = client.prepare(`select * ${of}`).get(supplier) as Record<string, unknown>
    client.pragma('foreign_keys = off')
    client.prepare(`delete ${of}`).run(supplier)
    try {
      return await does()
    } finally {
      const names = Object.keys(row)
      client.prepare(`insert into account (${names.join()}) values (${names.map(n => `:${n}`).join()})`).run(row)
      client.pragma('foreign_keys = on')
    }
  }
  for (const path of ['ledger.csv', 'ledger.jsonl', 'ledger.journal'])
    it(`${path} is refused where nothing was sent yet, else broken off: no part of it passes for all`, async () => {
      const asked = () =>
        fetch(`${w.c.base}/api/${path}`, {
          headers: { cookie: w.c.cookie, accept: 'text/csv', 'accept-encoding': 'identity' },
        })
      const whole = await (await asked()).text()
      expect(whole.length).to.be.greaterThan(200_000)
      const early = await without('Aster', asked)
      expect([early.status, ((await early.json()) as { code: string }).code]).to.deep.equal([500, 'unforeseen'])
      const late = await without('Zinnia', async () => {
        const r = await asked()
        return [r.status, await r.text().catch((e: Error) => e.message)]
      })
      expect(late).to.deep.equal([200, 'terminated'])
      expect(await (await asked()).text(), 'and afterwards all is well').to.equal(whole)
    })
})
