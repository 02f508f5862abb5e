import type { SlipView } from '@shelve/contract'
import { expect } from 'chai'
import { ledgerJournal, verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

/** A booked slip says what it was worth when it was booked and, where later slips changed that, what it is worth now. */
describe('what a slip was worth, and is worth by now', () => {
  let w: World
  let issue: SlipView
  let receipt: SlipView
  const seen = (id: string) => w.c.get<SlipView>(`/api/slips/${id}`)
  const correct = (corrects: string, line: Record<string, unknown>, more: Record<string, unknown> = {}) => {
    w.clock.now += 60_000
    return w.c.must({ kind: 'correction', place: w.lab.id, head: { corrects, ...more }, lines: [w.c.line(line)] })
  }
  let gloves: string
  let job: string
  before(async () => {
    w = await world()
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    gloves = (await newItem(w.c, { name: 'Gloves', method: 'fifo' })).id
    receipt = await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'A:B' },
      lines: [w.c.line({ item: gloves, typed: '10', price: '4' })],
    })
    w.clock.now += 60_000
    issue = await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: gloves, typed: '4' })],
    })
  })
  after(() => w.stop())

  it('nothing changed: as booked, and no more is said', async () => {
    const s = await seen(issue.id)
    expect([s.value, s.now, s.lines[0]!.value, s.lines[0]!.now]).to.deep.equal(['-16', null, '-16', null])
  })
  it('the price of its receipt turns out to be 7: as booked −16, now −28, by the slip that said so', async () => {
    const by = await correct(receipt.id, { ref: receipt.lines[0]!.id, item: gloves, act: 'price', price: '7' })
    const now = { value: '-28', by: [{ id: by.id, number: by.number! }] }
    const s = await seen(issue.id)
    expect([s.value, s.now, s.lines[0]!.value, s.lines[0]!.now]).to.deep.equal(['-16', now, '-16', now])
    const r = await seen(receipt.id)
    expect([r.value, r.now!.value, r.lines[0]!.now!.by.map(b => b.number)]).to.deep.equal(['40', '70', [by.number]])
  })
  it('it turns out to be 3 and not 4: now worth that much less, by both slips; in all, the books hold what the slips are worth', async () => {
    const line = { item: gloves, act: 'replace', typed: '3' }
    const back = await correct(issue.id, { ref: issue.lines[0]!.id, ...line }, { job })
    const s = await seen(issue.id)
    expect([s.value, s.now!.value, s.now!.by.length]).to.deep.equal(['-16', '-21', 2])
    expect(s.now!.by.at(-1)!.id).to.equal(back.id)
    const held = [...w.app.stock.all().values()].reduce((sum, it) => sum + it.value, 0n)
    expect(held, 'what lies there is the receipt less the issue, as they are worth now').to.equal(49_000_000n)
    expect(verify(w.app).faults).to.deep.equal([])
  })
  it('two suppliers whose names the exported journal cannot tell apart keep accounts of their own there', async () => {
    w.clock.now += 60_000
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'A (B)' },
      lines: [w.c.line({ item: gloves, typed: '1', price: '5' })],
    })
    const text = [...ledgerJournal(w.app)].join('')
    expect([...new Set(text.match(/val:supplier:[^:]*/g))]).to.deep.equal(['val:supplier:A B', 'val:supplier:A B 2'])
  })
})
