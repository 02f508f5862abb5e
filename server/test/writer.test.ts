import { type ChildProcess, fork } from 'node:child_process'
import { mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import { type Api, api, type Effect, type Item, type Operation, type Place } from '@shelve/contract'
import { compose, DATABASE, type House, verify } from '@shelve/server'
import { perform } from '../src/asked.ts'
import { LogKeeper, logWord, LOOKING } from '../src/ground/index.ts'
import { handlersOf, NOWHERE } from '../src/handlers.ts'
import { Listable } from '../src/rights/index.ts'
import { type FromWriter, startWriter, telling, together } from '../src/writer.ts'
import { Client, newItem, world, type World } from './client.ts'
import { MAIN } from './shipped.ts'

/** Everything that can be asked for without saying of what. */
const LISTS = (Object.keys(api) as (keyof Api)[]).filter(name => {
  const o: Operation = api[name]
  return o.method === 'get' && !o.path.includes(':') && !o.pdf === !o.csv && o.query.safeParse({}).success
})
/** What a house answers to all of it. */
async function told(
  house: House,
  token: string,
  items: readonly string[],
  place: string,
): Promise<Record<string, unknown>> {
  house.moveOn()
  const handlers = handlersOf(house, NOWHERE)
  const out: Record<string, unknown> = {}
  const ask = async (name: keyof Api, params: object, body?: object) => {
    const asked = {
      params,
      query: {},
      body,
      upload: undefined,
      token,
      device: '',
      address: '',
      secure: false,
      ifMatch: undefined,
      key: undefined,
    }
    const { out: o, shown } = await perform(house, api[name] as Operation, handlers[name] as never, {
      ...asked,
      csv: false,
      brief: false,
    })
    const answer = shown(o instanceof Listable ? o.answer : o)
    out[`${name} ${Object.values(params).join()}`] = JSON.parse(JSON.stringify(answer ?? null))
  }
  for (const name of LISTS) await ask(name, {})
  for (const id of items) for (const name of ['item', 'itemLots', 'itemStock'] as const) await ask(name, { id })
  // What booking would do, by the method and the counts that are known.
  const effectiveAt = new Date(house.now() - 1_800_000).toISOString()
  const content = (id: string) => ({ kind: 'issue', place, effectiveAt, lines: [{ id: v7(), item: id, typed: '3' }] })
  for (const id of items) {
    await ask('effect', { id: items[0]! }, content(id))
    const { lines, refusals } = out[`effect ${items[0]}`] as Effect
    out[`effect of ${id}`] = [lines.map(l => ({ ...l, line: '' })), refusals.map(r => r.code)]
  }
  delete out[`effect ${items[0]}`]
  // Counted from when a house was built.
  delete (out['index '] as { revision?: number }).revision
  return out
}

describe('what the thread that writes tells', () => {
  type Step = 'committed' | 'answer' | 'log'
  const cases: readonly [steps: readonly Step[], told: readonly string[], why: string][] = [
    [['committed', 'answer'], ['answer'], 'the answer tells of what was committed'],
    [['committed'], ['moved'], 'nobody asked for it: it is told by itself'],
    [['committed', 'log'], ['log', 'moved'], 'a word for the log tells of nothing else'],
    [['committed', 'committed', 'answer'], ['answer'], 'one word for many'],
    [['committed', 'answer', 'committed'], ['answer', 'moved'], 'what came after the answer is told too'],
    [['answer', 'committed'], ['answer', 'moved'], 'an answer tells of what was before it'],
    [['answer'], ['answer'], 'of nothing there is no word'],
  ]
  for (const [steps, said, why] of cases)
    it(`${steps.join(', ')} → ${said.join(', ')}: ${why}`, async () => {
      const out: string[] = []
      const name = (m: FromWriter) => ('told' in m ? 'log' : 'moved' in m ? 'moved' : 'answer')
      const { tell, committed } = telling(m => out.push(name(m)))
      for (const s of steps)
        if (s === 'committed') committed()
        else tell(s === 'log' ? { told: 'x', detail: {} } : { id: 1, done: null })
      await new Promise(done => setImmediate(done))
      expect(out).to.deep.equal(said)
    })
})

describe('the reading house goes on', () => {
  const turn = () => new Promise(done => setImmediate(done))
  let went = 0
  let waiting = 0
  const { now, soon } = together(
    () => went++,
    () => waiting > 0,
  )
  beforeEach(() => {
    went = 0
    waiting = 0
  })
  it('at once, after whoever waits for that answer, where nobody else waits', async () => {
    soon()
    expect(went).to.equal(0)
    await turn()
    expect(went).to.equal(1)
  })
  it('once for all that is answered while others wait, without anybody doing anything', async () => {
    waiting = 3
    for (; waiting; waiting--) soon()
    expect(went).to.equal(0)
    while (!went) await turn()
    expect(went).to.equal(1)
  })
  it('and is not called again for what it has gone on to by then', async () => {
    waiting = 1
    soon()
    now()
    soon()
    now()
    expect(went).to.equal(2)
    // A timer that was set later, for longer, comes last: none of theirs is left.
    await new Promise(done => setTimeout(done, 40))
    expect(went).to.equal(2)
  })
})

describe('one house writes, another one reads', () => {
  it('whatever is done: what the reading house has kept is what one that begins now reads', async function () {
    this.timeout(600_000)
    const done = new Set<number>()
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(13), fc.nat(2), fc.nat(3)), { minLength: 12, maxLength: 24 }),
        async steps => {
          const w = await world()
          try {
            const places = [
              w.lab.id,
              await w.c.ok<Place>('POST', '/api/places', { name: 'Loft', kind: 'area' }).then(p => p.id),
            ]
            const items = await Promise.all(
              [1, 2, 3].map(n =>
                newItem(w.c, { name: `Thing ${n}`, code: `T${n}`, method: n === 2 ? 'fifo' : 'average' }),
              ),
            )
            await w.c.ok('POST', '/api/cost-centres', { name: 'Research' })
            for (const [i, item] of items.entries())
              for (const place of places)
                await w.c.must({
                  kind: 'receipt',
                  head: { supplier: 'Aster' },
                  place,
                  lines: [w.c.line({ item: item.id, typed: `${9 + i}`, price: '2' })],
                })
            for (const [step, i, n] of steps) {
              const went = await does(w, step, items[i]!, places, n)
              if (went < 300) done.add(step)
              const token = w.c.cookie.replace(/^.*?=/, '')
              const fresh = compose(join(w.directory, DATABASE), {
                now: () => w.clock.now,
                reads: LOOKING,
              })
              try {
                const ids = items.map(x => x.id)
                const both = async () => [
                  await told(w.reading, token, ids, places[0]!),
                  await told(fresh, token, ids, places[0]!),
                ]
                let [kept, read] = await both()
                // That somebody was there is written beside what they asked: it may come between the two.
                for (let n = 0; n < 5 && !isDeepStrictEqual(kept, read); n++) {
                  await new Promise(done => setTimeout(done, 20))
                  ;[kept, read] = await both()
                }
                expect(kept, `after step ${step}`).to.deep.equal(read)
              } finally {
                fresh.close()
              }
            }
          } finally {
            await w.stop()
          }
        },
      ),
      // The first of them does everything once, whatever the others happen to hold. Of what fails no shorter one is looked for: that takes many minutes.
      { numRuns: 6, examples: [[EACH_ONCE]], endOnFailure: true },
    )
    expect(
      [...done].sort((a, b) => a - b),
      'each was done at least once',
    ).to.deep.equal([...Array(STEPS).keys()])
  })
})

/** So many things are there to do. */
const STEPS = 14
/** Each of them with an item and a choice for which it is not refused. */
const EACH_ONCE = [...Array(STEPS).keys()].map((step): [number, number, number] => [step, step % 3, 1])
/** One of the things that change something, as somebody might do it, and how it was answered; what is refused changes nothing. */
async function does(w: World, step: number, item: Item, places: readonly string[], n: number): Promise<number> {
  const { c } = w
  const place = places[n % 2]!
  const line = (more: object) => c.line({ item: item.id, typed: String(n + 1), ...more })
  const book = (content: object) => c.book({ place, ...content } as never)
  const receipt = (head: object) => book({ kind: 'receipt', head, lines: [line({ price: String(n + 1) })] })
  const costCentre = (await c.get<{ rows: { id: string }[] }>('/api/cost-centres')).rows[0]!.id
  w.clock.now += 3_600_000
  const all: (() => Promise<{ status: number }>)[] = [
    () => receipt({ supplier: 'Aster' }),
    () => receipt({ supplier: `Supplier ${n}`, number: String(n) }),
    () => book({ kind: 'issue', head: { costCentre }, lines: [line({ typed: '1' })] }),
    () => book({ kind: 'move', lines: [line({ typed: '1', to: places[(n + 1) % 2]! })] }),
    () =>
      book({ kind: 'count', lines: [line({ counted: 'counted', again: String(n + 1), from: place, unitCost: '2' })] }),
    () => book({ kind: 'method_change', head: { method: n % 2 ? 'fifo' : 'average' }, lines: [line({ typed: '' })] }),
    async () => {
      const { rows } = await c.get<{ rows: { id: string }[] }>('/api/slips')
      return c.call('POST', `/api/slips/${rows[n % rows.length]!.id}/reversal`, { id: v7() })
    },
    async () => {
      const { code, name, unit, ownMethod: method } = await c.get<Item>(`/api/items/${item.id}`)
      return c.call('PUT', `/api/items/${item.id}`, { code, name: `${name} ${n}`, unit, method })
    },
    () => c.call('POST', '/api/places', { name: `Bin ${v7()}`, kind: 'bin', parent: place }),
    () => c.call('PUT', '/api/levels', { item: item.id, place, minimum: String(n), target: String(n + 5) }),
    async () => {
      const id = v7()
      const lines = [{ id: v7(), item: item.id, place, typed: '3' }]
      await c.call('POST', '/api/restock', { id, source: { kind: 'nobody', id: null }, lines })
      const asked = await c.call('POST', `/api/restock/${id}/asking`, { where: 'by telephone' })
      return n === 3 ? c.call('DELETE', `/api/restock/${id}`) : asked
    },
    () => c.call('PUT', '/api/settings', { ...w.me.settings, shortRule: n % 2 ? 'below' : 'at_or_below' }),
    async () => {
      const { rows } = await c.get<{ rows: { id: string }[] }>(`/api/items/${item.id}/lots`)
      return c.call('PUT', `/api/lots/${rows[0]!.id}/state`, { held: n % 2 ? 'usable' : 'held', why: 'looked at' })
    },
    // Nothing but that days go by.
    () => {
      w.clock.now += (n + 1) * 86_400_000
      return c.call('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
    },
  ]
  return (await all[step]!()).status
}

describe('the thread that writes', () => {
  let data: string
  let child: ChildProcess
  let c: Client
  let place: string
  let item: Item
  before(async () => {
    data = mkdtempSync(join(tmpdir(), 'shelve-writer-'))
    child = fork(MAIN, [], {
      env: { ...process.env, SHELVE_PORT: '0', SHELVE_DATA: data, SHELVE_LOG: 'error', SHELVE_SIGN_INS: '1000' },
    })
    const port = await new Promise<number>((ok, no) => {
      child.once('message', m => ok((m as { port: number }).port))
      child.once('exit', code => no(new Error(`ended with ${code}`)))
    })
    c = new Client(`http://127.0.0.1:${port}`)
    await c.ok('POST', '/api/start', {
      organisation: { name: 'X', zone: 'UTC', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
      manager: { name: 'Y', signIn: 'yy', password: 'long enough' },
      area: 'Store',
    })
    place = (await c.get<{ rows: { id: string }[] }>('/api/places')).rows[0]!.id
    item = await newItem(c, { name: 'Thing' })
  })
  after(async () => {
    const gone = new Promise(done => child.once('exit', done))
    child.kill('SIGTERM')
    await gone
    rmSync(data, { recursive: true, force: true })
  })
  const many = (n: number) => ({
    kind: 'receipt' as const,
    place,
    head: { supplier: 'S' },
    lines: Array.from({ length: n }, () => c.line({ item: item.id, typed: '1', price: '2' })),
  })

  it('is no hindrance to whoever reads: beside a long slip others are answered one after the other', async () => {
    let booked = false
    const booking = c.must(many(500)).then(() => (booked = true))
    let answers = 0
    while (!booked) {
      await c.get('/api/health')
      if (!booked) answers++
    }
    await booking
    expect(answers).to.be.greaterThan(8)
  })
  it('what it has answered is there for whoever asks next, also where many ask', async () => {
    await Promise.all(
      Array.from({ length: 8 }, async () => {
        const x = new Client(c.base)
        x.cookie = c.cookie
        for (let i = 0; i < 6; i++) {
          const made = await newItem(x, { name: `Of ${i}` })
          await x.must({ ...many(0), lines: [x.line({ item: made.id, typed: '3', price: '1' })] })
          const is = await x.get<{ places: { levels: { onHand: string } }[] }>(`/api/items/${made.id}/stock`)
          expect(is.places.map(p => p.levels.onHand)).to.deep.equal(['3'])
        }
      }),
    )
  })
  it('goes on while everything is worked out anew beside it', async () => {
    let verified: { ok: boolean } | undefined
    const verifying = c.ok<{ ok: boolean }>('POST', '/api/verification').then(v => (verified = v))
    while (!verified) await c.must(many(3))
    await verifying
    await c.must(many(3))
    expect(verified).to.have.property('ok', true)
  })
  it('writes its log back, however much is written and read meanwhile', async () => {
    const log = () => statSync(join(data, `${DATABASE}-wal`)).size
    const before = log()
    // As much as makes a log that nobody writes back 10 MB longer (measured); one that begins anew keeps the place it has.
    for (let i = 0; i < 40; i++) await Promise.all([c.must(many(150)), c.get('/api/stock'), c.get('/api/slips')])
    expect(log() - before).to.be.lessThan(6_000_000)
    const app = compose(join(data, DATABASE))
    expect(verify(app).faults).to.deep.equal([])
    app.close()
  })
  it('goes on where its log cannot be written back, and never leaves whoever reads waiting', () => {
    for (const fails of ['PASSIVE', 'RESTART']) {
      const log = logWord()
      const asked: string[] = []
      let rows = 7_000_000n
      const client = {
        prepare: () => ({ pluck: () => ({ get: () => rows }) }),
        pragma: (text: string) => {
          asked.push(text)
          if (text.includes(fails)) throw new Error('the disk is full')
          return [{ busy: 0n }]
        },
      }
      // Whoever reads steps aside at once.
      const keeper = new LogKeeper(client as never, log, () => Atomics.store(log, 0, 2))
      const begun = asked.length
      keeper.look()
      expect(asked.length, 'not before anything was written').to.equal(begun)
      rows += 2000n
      keeper.look()
      expect([Atomics.load(log, 0), asked.at(-1)]).to.deep.equal([
        0,
        fails === 'PASSIVE' ? 'wal_checkpoint(PASSIVE)' : 'busy_timeout = 5000',
      ])
      const n = asked.length
      keeper.look()
      expect(asked.length, 'not at every commit').to.equal(n)
      rows += 500n
      keeper.look()
      expect(asked.length, 'but again').to.be.greaterThan(n)
    }
  })
  it('that cannot begin says why', async () => {
    const plan = {
      file: join(data, 'nowhere', DATABASE),
      demonstration: false,
      mail: undefined,
      secure: false,
      ahead: 0,
    }
    const failed = await startWriter(plan, () => undefined).ready.then(
      () => 'it began',
      (e: Error) => e.message,
    )
    expect(failed).to.match(/directory does not exist/)
  })
})
