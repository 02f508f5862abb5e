// Jobs that come again: by the calendar (RFC 5545), or so many days after they are over, with what was used last as a proposal.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { JobRow, JobView, NewJobInput } from '@shelve/contract'
import { comeAgainDue } from '@shelve/server'
import { world, type World } from './client.ts'
import { kitchen } from './kitchen.ts'

type Found = { id: string }
const DAY = 86_400_000
describe('jobs that come again', () => {
  let w: World
  let k: Awaited<ReturnType<typeof kitchen>>
  const begun = Date.UTC(2026, 10, 25, 9)
  beforeEach(async () => {
    w = await world()
    k = await kitchen(w)
    await k.makeAll()
  })
  afterEach(() => w.stop())

  const job = (id: string) => w.c.get<JobView>(`/api/jobs/${id}`)
  const state = (id: string, to: string) => w.c.ok('POST', `/api/jobs/${id}/state`, { state: to })
  const rows = async () => (await w.c.get<{ rows: JobRow[] }>('/api/jobs/planned')).rows
  const save = async (id: string, head: object) => {
    const j = await job(id)
    return w.c.call('PATCH', `/api/jobs/${id}`, { head: { ...j.head, ...head } }, { 'if-match': String(j.revision) })
  }
  const standing = async (more: Partial<NewJobInput>, rule: { repeats?: string; again?: number }) => {
    const { id } = await w.c.ok<Found>('POST', '/api/jobs', { place: w.lab.id, ...more })
    const r = await save(id, rule)
    expect(r.status, r.text).to.equal(200)
    return id
  }
  const due = () => comeAgainDue(w.app)
  const next = async (id: string) => (await job(id)).next

  // A Wednesday, the 25th of November 2026.
  const days: [rule: string, day: string, over: number, right: string][] = [
    ['FREQ=DAILY', '2026-11-25', 0, '2026-11-26'],
    ['FREQ=DAILY;INTERVAL=3', '2026-11-25', 0, '2026-11-28'],
    ['FREQ=WEEKLY', '2026-11-26', 0, '2026-12-03'],
    ['FREQ=WEEKLY;INTERVAL=2;BYDAY=TH', '2026-11-26', 0, '2026-12-10'],
    ['FREQ=WEEKLY;BYDAY=MO,TH', '2026-11-26', 0, '2026-11-30'],
    ['FREQ=MONTHLY;BYMONTHDAY=31', '2026-11-25', 0, '2026-12-31'],
    ['FREQ=MONTHLY', '2026-11-25', 0, '2026-12-25'],
    // Done ten days late: what is past does not come any more, today still does.
    ['FREQ=DAILY', '2026-11-25', 10, '2026-12-05'],
    ['FREQ=WEEKLY', '2026-11-25', 10, '2026-12-09'],
    ['FREQ=WEEKLY', '2026-11-25', 14, '2026-12-09'],
  ]
  /** So many days later somebody signs in anew. */
  const later = async (n: number) => {
    w.clock.now = begun + n * DAY
    await w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
  }
  for (const [rule, day, late, right] of days)
    it(`${rule} from ${day}, done ${late ? `${late} days late` : 'in time'}: again on ${right}`, async () => {
      const id = await standing({ name: 'Round', day }, { repeats: rule })
      expect(await next(id)).to.equal(null)
      if (late) await later(late)
      await state(id, 'done')
      expect((await next(id))?.day).to.equal(right)
      // Opened and done again: it has come already.
      await state(id, 'planned')
      await state(id, 'done')
      expect((await rows()).map(r => [r.name, r.day, r.standing])).to.deep.equal([['Round', right, true]])
    })

  it('so many days after it is over, also where it was dropped; and the next one again', async () => {
    const id = await standing({ name: 'Filters', day: '2026-11-20' }, { again: 10 })
    await state(id, 'dropped')
    const one = (await next(id))!
    expect(one.day).to.equal('2026-12-05')
    await later(12)
    await state(one.id, 'done')
    expect([(await next(one.id))!.day, (await job(one.id)).before?.id]).to.deep.equal(['2026-12-17', id])
  })

  it('its day passes while it is open: the next comes by itself, once; the late one stays', async () => {
    const id = await standing({ name: 'Round', day: '2026-11-25' }, { repeats: 'FREQ=WEEKLY' })
    due()
    expect(await next(id), 'today is not past').to.equal(null)
    await later(1)
    due()
    expect((await next(id))?.day).to.equal('2026-12-02')
    due()
    expect((await rows()).map(r => r.day)).to.deep.equal(['2026-11-25', '2026-12-02'])
    await state(id, 'done')
    expect((await rows()).length, 'it has come already').to.equal(1)
    const after = await standing({ name: 'Filters', day: '2026-11-20' }, { again: 10 })
    due()
    expect(await next(after), 'not by the calendar').to.equal(null)
  })

  it('what stands in the way of one is told, is in no other’s way, and no fault of the server’s', async () => {
    const [one, other] = [
      await standing({ name: 'Round', day: '2026-11-25' }, { repeats: 'FREQ=WEEKLY' }),
      await standing({ name: 'Filters', day: '2026-11-25' }, { repeats: 'FREQ=DAILY' }),
    ]
    await later(1)
    const { client } = w.app.store
    client.exec(
      "create trigger full before insert on job when new.name = 'Round' begin select raise(abort, 'disk full'); end",
    )
    const before = w.app.events.last()
    due()
    expect([await next(one), (await next(other))?.day]).to.deep.equal([null, '2026-11-26'])
    expect(w.app.events.last() - before, 'of what came to nothing no screen is told').to.equal(1)
    client.exec('drop trigger full')
    due()
    expect((await next(one))?.day).to.equal('2026-12-02')
  })

  it('one that comes no more is looked for, and no screen is told of it', async () => {
    const id = await standing({ name: 'Round', day: '2026-11-25' }, { repeats: 'FREQ=DAILY' })
    // A rule that ends can come with data from elsewhere alone: what one may save has no end.
    w.app.store.client.prepare("update job_plan set repeats = 'FREQ=DAILY;COUNT=1'").run()
    await later(1)
    const before = w.app.events.last()
    due()
    expect([await next(id), w.app.events.last() - before]).to.deep.equal([null, 0])
  })

  it('it comes as its template is by then, with what was typed on it, and says what was used the last time', async () => {
    const id = await standing(
      { template: k.ids['DIN']!, typed: '10', day: '2026-11-26', name: 'Thursday dinner' },
      { repeats: 'FREQ=WEEKLY;BYDAY=TH' },
    )
    const first = await job(id)
    const lemon = first.lines.find(l => l.named.name === 'lemon')!
    const put = { id: lemon.id, seen: lemon.revision, line: { item: lemon.item, typed: '6' }, position: lemon.position }
    const add = { id: v7(), seen: 0, line: { item: k.items['onion']!.id, typed: '0.25' }, position: 9_000_000 }
    const r = await w.c.call('PATCH', `/api/jobs/${id}`, { lines: [put, add] })
    expect(r.status, r.text).to.equal(200)
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job: id },
      lines: [w.c.line({ item: lemon.item, typed: '7' }), w.c.line({ item: k.items['foil tray']!.id, typed: '3' })],
    })
    // The template takes butter as well from now on, and no foil trays any more.
    const t = k.recipe(
      'DIN',
      ['dinner', '10'],
      [
        ['fish', '1.8', '', '12'],
        ['lemon', '4'],
        ['butter', '0.1'],
      ],
    )
    await w.c.ok('PUT', `/api/templates/${k.ids['DIN']}`, t, { 'if-match': '1' })
    await state(id, 'done')
    const j = await job((await next(id))!.id)
    expect([j.head.day, j.head.name, j.wanted, j.template?.version, j.head.repeats, j.head.reference]).to.deep.equal([
      '2026-12-03',
      'Thursday dinner',
      '10',
      2,
      'FREQ=WEEKLY;BYDAY=TH',
      '',
    ])
    expect(j.lines.map(l => [l.named.name, l.typed, l.need, l.last])).to.deep.equal([
      ['fish', '', '2.045', '0'],
      ['lemon', '6', '6', '7'],
      ['butter', '', '0.1', '0'],
      ['onion', '0.25', '0.25', '0'],
    ])
    expect((await job(id)).lines[0]!.last, 'the first of them follows on none').to.equal(null)
  })

  it('what is no such rule is refused: nothing is saved', async () => {
    const { id } = await w.c.ok<Found>('POST', '/api/jobs', { place: w.lab.id, name: 'Round', day: '2026-11-26' })
    for (const [rule, field] of [
      [{ repeats: 'every Thursday' }, 'head.repeats'],
      [{ repeats: 'FREQ=YEARLY' }, 'head.repeats'],
      [{ repeats: 'FREQ=WEEKLY;INTERVAL=0' }, 'head.repeats'],
      [{ repeats: 'FREQ=WEEKLY', again: 3 }, 'head.again'],
      [{ repeats: 'FREQ=WEEKLY', day: null }, 'head.day'],
      [{ again: 0 }, 'head.again'],
    ] as const) {
      const r = await save(id, rule)
      expect([r.status, r.body.fields[0]!.field], JSON.stringify(rule)).to.deep.equal([422, field])
    }
    expect((await job(id)).head.repeats).to.equal('')
    // What is made for another job comes with it.
    const dinner = (await w.c.ok<Found>('POST', '/api/jobs', { place: w.lab.id, template: k.ids['DIN']! })).id
    const part = (await job(dinner)).parts[0]!
    const no = await save(part.id, { again: 3 })
    expect([no.status, no.body.code]).to.deep.equal([409, 'follows_its_job'])
  })
})
