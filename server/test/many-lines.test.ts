// What would take more lines than a slip has: refused in words before anything is done, or as much as fits, and the rest is
// still there once that is booked.
import { expect } from 'chai'
import { v7 } from 'uuid'
import { verify } from '@shelve/server'
import {
  type Item,
  type JobView,
  MOST_LINES,
  type PickView,
  type PrintedSheet,
  type TransferView,
} from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

type Found = { id: string }
type Problem = { code: string; detail: string }
describe('more lines than a slip has', () => {
  const MORE = 5
  const LOTS = MOST_LINES + MORE
  let w: World
  let loft: string
  let shed: string
  let rod: Item
  /** Each lot of it one: whoever takes so many takes so many lots. */
  before(async () => {
    w = await world()
    const area = async (name: string) => (await w.c.ok<Found>('POST', '/api/places', { name, kind: 'area' })).id
    ;[loft, shed] = [await area('Loft'), await area('Shed')]
    rod = await newItem(w.c, { name: 'Rod', code: 'ROD', identifiedBy: 'lot' })
    const lines = (from: number, many: number) =>
      Array.from({ length: many }, (_, n) =>
        w.c.line({ item: rod.id, typed: '1', price: '2', lot: { code: `R${from + n}` } }),
      )
    for (const [from, many] of [
      [0, MOST_LINES],
      [MOST_LINES, MORE],
    ] as const)
      await w.c.must({ kind: 'receipt', place: loft, head: { supplier: 'Fallow' }, lines: lines(from, many) })
  })
  after(() => w.stop())
  const plan = async (name: string, typed: string) =>
    (
      await w.c.ok<Found>('POST', '/api/jobs', {
        place: loft,
        name,
        day: '2026-11-27',
        lines: [{ id: v7(), item: rod.id, typed }],
      })
    ).id
  const refused = async (path: string, body: object): Promise<string> => {
    const r = await w.c.call<Problem>('POST', path, body)
    expect([r.status, r.body.code], r.text).to.deep.equal([422, 'too_many_lines'])
    return r.body.detail
  }

  it('a sheet that could not be entered is not printed; one of just so many lines is, and is entered', async () => {
    const asked = { areas: [loft], blind: true, extra: 0 }
    const said = 'Loft has more than 500 lines; a count has at most 500. Print it in parts, as groups of items.'
    expect([await refused('/api/sheets', asked), await refused('/api/sheet-preview', asked)]).to.deep.equal([
      said,
      said,
    ])
    expect((await w.c.get<{ sheets: unknown[] }>('/api/count-areas')).sheets).to.deep.equal([])
    const out = await w.c.must({
      kind: 'move',
      place: loft,
      lines: [w.c.line({ item: rod.id, typed: String(MORE), to: shed })],
    })
    const { rows } = await w.c.ok<{ rows: PrintedSheet[] }>('POST', '/api/sheets', asked)
    const { id } = await w.c.ok<Found>('POST', `/api/sheets/${rows[0]!.id}/entry`, { id: v7() })
    expect((await w.c.draft(id)).lines.length).to.equal(MOST_LINES)
    await w.c.ok('POST', `/api/slips/${out.id}/reversal`, { id: v7() })
  })

  it('a list for several jobs is refused; for one it has what fits, says what is here beside that, and takes no more', async () => {
    const [bridge, boat] = [await plan('Bridge', '300'), await plan('Boat', String(LOTS - 300))]
    expect(await refused('/api/picks', { id: v7(), jobs: [bridge, boat] })).to.equal(
      'That would be 505 lines; a slip has at most 500. Take fewer jobs at once.',
    )
    expect((await w.c.get<JobView>(`/api/jobs/${bridge}`)).state, 'nothing was begun').to.equal('planned')
    for (const id of [bridge, boat]) await w.c.ok('POST', `/api/jobs/${id}/state`, { state: 'dropped' })
    const pier = await plan('Pier', String(LOTS))
    const list = v7()
    await w.c.ok('POST', '/api/picks', { id: list, jobs: [pier] })
    const pick = await w.c.get<PickView>(`/api/picks/${list}`)
    expect([pick.lines, pick.more]).to.deep.equal([MOST_LINES, ['Rod']])
    expect(await refused(`/api/picks/${list}/more`, {})).to.equal(
      'That would be 505 lines; a slip has at most 500. Put this list down, and make another for the rest.',
    )
    const issue = await w.c.ok<Found>('POST', `/api/jobs/${pier}/issue`, { id: v7() })
    expect((await w.c.draft(issue.id)).lines.length, 'one line, whatever lots it takes').to.equal(1)
    await w.c.ok('POST', `/api/jobs/${pier}/state`, { state: 'dropped' })
  })

  it('what was sent in more lots arrives in two slips, and is not lost at once', async () => {
    const sent = await w.c.must({
      kind: 'dispatch',
      place: loft,
      head: { towards: shed },
      lines: [w.c.line({ item: rod.id, typed: String(LOTS) })],
    })
    expect(await refused(`/api/transfers/${sent.id}/loss`, { id: v7(), why: 'it sank' })).to.equal(
      'That would be 505 lines; a slip has at most 500. Say of fewer lines at once that they are lost.',
    )
    const arrival = async () => {
      const id = v7()
      await w.c.ok('POST', `/api/transfers/${sent.id}/arrival`, { id })
      const { lines } = await w.c.draft(id)
      const changes = lines.map(({ id, revision, position, line }) => ({
        id,
        seen: revision,
        position,
        line: { ...line!, typed: line!.asked },
      }))
      const saved = await w.c.save(id, { lines: changes })
      expect(saved.status, saved.text).to.equal(200)
      await w.c.bookSeen(await w.c.draft(id))
      return lines.length
    }
    expect([await arrival(), await arrival()]).to.deep.equal([MOST_LINES, MORE])
    const { lines } = await w.c.get<TransferView>(`/api/transfers/${sent.id}`)
    expect(lines.every(l => l.left === '0')).to.equal(true)
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('of jobs from elsewhere so many come at once', async () => {
    const text = ['reference,name', ...Array.from({ length: 501 }, (_, n) => `W${n},Job ${n}`)].join('\n')
    const r = await w.c.call<Problem>('POST', '/api/jobs/brought', { text, place: loft })
    expect([r.status, r.body.detail]).to.deep.equal([
      422,
      'These are 501 jobs; at most 500 come at once. Send them in several files. Nothing was taken.',
    ])
  })
})
