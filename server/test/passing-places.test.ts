// Jobs and what is sent add places all day long: how the tree of places grows with them, and goes on with tens of thousands.
import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import type { Item, JobView, Place, PickView } from '@shelve/contract'
import { type House } from '@shelve/server'
import { createPlace, createTransit, dueAnew, nameTransit, PlaceTree, updatePlace } from '../src/places/index.ts'
import { type Client, newItem, person, world, type World } from './client.ts'

/** All that a tree says of its places. */
function said(tree: PlaceTree) {
  const ids = [...tree.rows.keys()].sort((a, b) => a - b)
  const byWalk = [...ids].sort((a, b) => tree.order(a) - tree.order(b) || a - b)
  return {
    rows: ids.map(id => ({ ...tree.row(id)!, found: tree.id(tree.row(id)!.uid) })),
    walk: byWalk.map(id => tree.path(id)),
    within: ids.map(id => [id, ...[...tree.within(id)].sort((a, b) => a - b)]),
    reach: ids.map(id => [...tree.reach([id]).within!].sort((a, b) => a - b)),
    areas: tree.areas().map(a => a.name),
    area: ids.map(id => tree.area(id)),
    transits: [...tree.transits().values()].map(t => [t, tree.sentBy(t.slipId)]),
  }
}

describe('the tree of places', () => {
  let w: World
  let slip: number
  before(async () => {
    w = await world()
    const it = await newItem(w.c, {})
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: it.id, typed: '1' }))
    slip = Number(w.app.store.client.prepare('select max(id) from slip').pluck().get())
  })
  after(() => w.stop())

  /** What is done to places, within a transaction; what it changes for whoever keeps them. */
  const steps: Record<string, (house: House, n: number) => 'everything' | 'passing' | 'places'> = {
    area: (house, n) => (createPlace(house, { name: `Area ${n}`, kind: 'area', walk: n % 3 }), 'everything'),
    bin: (house, n) => (createPlace(house, { name: `Bin ${n}`, parent: w.lab.id, walk: n % 5 }), 'everything'),
    renamed: (house, n) => (updatePlace(house, w.lab.id, { name: `Lab ${n}`, kind: 'area' }, undefined), 'everything'),
    crate: (house, n) => (createPlace(house, { name: `With ${n}`, kind: 'with_job', parent: w.lab.id }), 'passing'),
    way: (house, n) => {
      const id = 1_000_000 + n
      const lab = house.places.id(w.lab.id)!
      // One slip sends once: each way of the test has a draft of its own.
      const own = Number(
        house.store.client
          .prepare(
            `insert into slip (uid, kind, state, revision, version, saved_at, saved_by, created_at, created_by, taker, title, head)
            select ?, 'dispatch', 'draft', 1, 1, 1, 1, 1, 1, '', '', '{}' where ? is not null`,
          )
          .run(v7(), slip).lastInsertRowid,
      )
      createTransit(house, { id, uid: v7(), slipId: own, fromId: lab, toId: lab, dueOn: null })
      void house.places.rows
      nameTransit(house, id, `SE-${n}`)
      return 'passing'
    },
    due: (house, n) => {
      for (const t of house.places.transits().values()) dueAnew(house, t.placeId, `2026-12-${10 + (n % 20)}`)
      return 'places'
    },
  }
  const kinds = Object.keys(steps)

  it('is the one that is read anew, for whoever writes and whoever reads, after whatever was added, changed or came to nothing', () => {
    let n = 0
    const step = fc.record({ what: fc.constantFrom(...kinds), fails: fc.boolean(), looks: fc.boolean() })
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), fc.boolean(), (all, known) => {
        // One that was never read yet as well.
        if (!known) w.app.forget('places')
        for (const { what, fails, looks } of all) {
          n++
          const run = () => {
            const touched = steps[what]!(w.app, n)
            // What is looked at within the transaction is kept by nobody where that comes to nothing.
            if (looks) said(w.app.places)
            if (fails) throw new Error('no')
            return touched
          }
          const change = () => w.app.change('places', run, setUp => ({ setUp }))
          if (fails) expect(change).to.throw('no')
          else change()
          const right = said(new PlaceTree(w.app))
          expect(said(w.app.places), what).to.deep.equal(right)
          w.reading.moveOn()
          expect(said(w.reading.places), `${what}, read`).to.deep.equal(right)
        }
      }),
      { numRuns: 40 },
    )
  })
})

describe('jobs for which things were picked', () => {
  let w: World
  let rope: Item
  let mate: Client
  const plan = async (name: string) =>
    (
      await w.c.ok<{ id: string }>('POST', '/api/jobs', {
        name,
        place: w.lab.id,
        lines: [{ id: v7(), item: rope.id, typed: '2' }],
      })
    ).id
  const pick = (job: string, id = v7()) => w.c.call<{ id: string }>('POST', '/api/picks', { id, jobs: [job] })
  const receive = () =>
    w.c.received(w.lab.id, 'Aster', w.c.line({ item: rope.id, typed: '10', price: '1', lot: { code: 'L1' } }))
  before(async () => {
    w = await world()
    rope = await newItem(w.c, { name: 'Rope', code: 'ROPE', identifiedBy: 'lot' })
    mate = await person(w, 'mate', 'keeper', w.lab.id)
  })
  after(() => w.stop())
  const crates = async (c: Client) =>
    (await c.get<{ rows: Place[] }>('/api/places')).rows.filter(p => p.kind === 'with_job').map(p => p.path)

  it('are set up by nobody: a place that lies on its way, or with a job, comes with what makes it', async () => {
    for (const kind of ['transit', 'with_job'])
      expect((await w.c.call('POST', '/api/places', { name: 'Nowhere', kind })).status, kind).to.equal(422)
  })

  it('what was refused since nothing is there is picked once it came', async () => {
    const job = await plan('Mooring')
    expect((await pick(job)).body.code).to.equal('nothing_here')
    expect((await pick(job)).body.code).to.equal('nothing_here')
    await receive()
    expect((await pick(job)).status).to.equal(201)
  })

  it('a screen knows where something lies with a job, and no others: while it goes on, and what is left of it', async () => {
    await receive()
    const [a, b] = [await plan('Left'), await plan('Empty')]
    const lists = [v7(), v7()]
    expect((await pick(a, lists[0])).status).to.equal(201)
    expect((await pick(b, lists[1])).status).to.equal(201)
    const codes = await Promise.all([a, b].map(async id => (await w.c.get<JobView>(`/api/jobs/${id}`)).head.code))
    const inLab = (code: string) => `Wet lab, With ${code}`
    expect(await crates(mate)).to.include.members(codes.map(inLab))
    const { lines } = await w.c.draft(lists[0]!)
    await w.c.save(lists[0]!, {
      lines: lines.map(l => ({ ...l, seen: l.revision, line: { ...l.line!, typed: '2' } })),
    })
    const r = await w.c.bookSeen(await w.c.draft(lists[0]!))
    expect(r.status, r.text).to.equal(201)
    const out = await w.c.ok<{ id: string }>('POST', `/api/jobs/${a}/issue`, { id: v7() })
    const used = (await w.c.bookSeen(await w.c.draft(out.id))).body
    for (const id of [a, b]) await w.c.ok('POST', `/api/jobs/${id}/state`, { state: 'done' })
    expect(await crates(mate)).not.to.include.members(codes.map(inLab))
    // What was said to be used was not: it lies there still.
    const taken = w.c.line({ ref: used.lines[0]!.id, act: 'take_back' })
    await w.c.must({ kind: 'correction', place: w.lab.id, head: { corrects: used.id }, lines: [taken] })
    expect(await crates(mate))
      .to.include(inLab(codes[0]!))
      .and.not.include(inLab(codes[1]!))
    expect((await w.c.get<PickView>(`/api/picks/${lists[0]!}`)).places.map(p => p.name)).to.deep.equal([
      inLab(codes[0]!),
    ])
  })

  it('are more than a statement has parameters: whatever one place is asked, it answers', async () => {
    const { client } = w.app.store
    const lab = w.app.places.id(w.lab.id)!
    client.transaction(() => {
      const account = client.prepare(`insert into account (kind, name) values ('place', ?)`)
      const place = client.prepare(
        `insert into place (id, uid, parent_id, kind, name, walk, active, revision, open_shelf) values (?, ?, ?, 'with_job', ?, ?, 1, 1, 0)`,
      )
      const within = client.prepare('insert into place_within (ancestor_id, place_id) values (?, ?)')
      for (let n = 0; n < 33_000; n++) {
        const name = `With W-${n}`
        const id = Number(account.run(name).lastInsertRowid)
        place.run(id, v7(), lab, name, 1000 + n)
        within.run(id, id)
        within.run(lab, id)
      }
    })()
    w.app.change(
      'places',
      () => undefined,
      () => ({ setUp: 'passing' }),
    )
    const at = `place=${w.lab.id}`
    const lot = client.prepare('select uid from lot where code is not null').pluck().get() as string
    const day = 'day=2026-11-24'
    const questions = [
      ...['places', 'transfers/goals', 'search?q=rope', `sheets?${at}`, `often?kind=issue&${at}`, 'jobs/over'],
      ...[
        'stock',
        'lots',
        'today',
        'short',
        'expiring',
        'restock',
        'transfers',
        'picks',
        'count-areas',
        'differences',
        'slips',
      ].flatMap(q => [q, `${q}?${at}`]),
      ...['used', 'wasted', 'received', 'any'].map(flow => `slips?state=booked&flow=${flow}&${at}`),
      ...['', '/stock', '/movements', '/years', '/lots', '/needs'].map(x => `items/${rope.id}${x}?${at}`),
      ...['on-hand', 'available', 'unit-cost', 'value', 'days', 'state'].map(
        f => `workings/${f}?item=${rope.id}&${at}`,
      ),
      ...['was', 'books'].map(reading => `past?reading=${reading}&${day}&${at}`),
      ...['waste', 'disposal', 'trimmed', 'activity'].map(x => `look-back/${x}?from=2026-11&to=2026-11&${at}`),
      ...[`workings/stock-value?${at}`, 'jobs/planned', `lots/${lot}`, `lots/${lot}/trace`],
    ]
    const bad: string[] = []
    for (const q of questions) {
      const r = await mate.call('GET', `/api/${q}`)
      if (r.status !== 200) bad.push(`${q}: ${r.status} ${r.text.slice(0, 120)}`)
    }
    expect(bad).to.deep.equal([])
    expect((await crates(mate)).length, 'of which a screen knows').to.be.below(10)
    const job = await plan('One more')
    await receive()
    expect((await pick(job)).status).to.equal(201)
  }).timeout(120_000)
})
