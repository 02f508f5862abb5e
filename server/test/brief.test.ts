import { expect } from 'chai'
import { v7 } from 'uuid'
import type { BookedSlip, Item, SlipContentInput, SlipView } from '@shelve/contract'
import { Client, newItem, world, type World } from './client.ts'

// RFC 7240: whoever prefers `return=minimal` is told little, and that it was so meant; what happens is the same.
describe('a slip that is booked is told back as briefly as is preferred', () => {
  let w: World
  let gloves: Item
  let wipes: Item
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', unit: 'box' })
    wipes = await newItem(w.c, { name: 'Wipes', unit: 'pack' })
  })
  after(() => w.stop())
  const delivery = (): SlipContentInput => ({
    kind: 'receipt',
    place: w.lab.id,
    head: { supplier: 'Quillfern' },
    lines: [gloves, wipes].map(i => w.c.line({ item: i.id, typed: '5', price: '2' })),
  })
  const books = (content: SlipContentInput, prefer: string | undefined, id = v7(), c = w.c) =>
    c.call<Omit<BookedSlip, 'lines'> & { lines: unknown }>(
      'POST',
      `/api/slips/${id}/booking`,
      { content },
      prefer === undefined ? {} : { prefer },
    )

  // The field's grammar and its examples: RFC 7240, 2 and 4.2.
  const preferences: [said: string | undefined, brief: boolean][] = [
    [undefined, false],
    ['', false],
    ['return=minimal', true],
    ['return = "minimal"', true],
    ['Return=Minimal; foo="some value"', true],
    ['respond-async, wait=100, return=minimal', true],
    ['return=minimal, return=representation', true],
    ['return=representation, return=minimal', false],
    ['return=representation', false],
    ['return', false],
    ['return=minimally', false],
    ['handling=lenient', false],
  ]
  for (const [said, brief] of preferences)
    it(`${said === undefined ? 'nothing preferred' : `“${said}”`}: ${brief ? 'briefly' : 'whole'}`, async () => {
      const r = await books(delivery(), said)
      expect([r.status, r.headers.get('preference-applied')]).to.deep.equal([201, brief ? 'return=minimal' : null])
      if (!brief) return void expect(r.body.lines).to.have.lengthOf(2)
      const whole = await w.c.get<SlipView>(`/api/slips/${r.body.id}`)
      const { id, kind, number, title, place, bookedAt } = whole
      expect(r.body).to.deep.equal({ id, kind, number, title, place, bookedAt, lines: 2 })
    })

  it('the same again is answered the same, and what takes it back says its number', async () => {
    const [id, content] = [v7(), delivery()]
    const first = await books(content, 'return=minimal', id)
    expect((await books(content, 'return=minimal', id)).body).to.deep.equal(first.body)
    const back = await w.c.call<BookedSlip>(
      'POST',
      `/api/slips/${id}/reversal`,
      { id: v7() },
      { prefer: 'return=minimal' },
    )
    expect([back.status, back.headers.get('preference-applied')]).to.deep.equal([201, 'return=minimal'])
    expect([back.body.kind, back.body.lines]).to.deep.equal(['correction', 2])
    expect((await w.c.get<SlipView>(`/api/slips/${back.body.id}`)).number).to.equal(back.body.number)
  })
  it('what is refused says all that is wrong, however little is preferred; what knows no brief answer gives its own', async () => {
    const content = { ...delivery(), head: {} }
    const [brief, whole] = [await books(content, 'return=minimal'), await books(content, undefined)]
    expect(brief.body).to.deep.equal(whole.body)
    expect([brief.body.code, brief.headers.get('preference-applied')]).to.deep.equal(['supplier_needed', null])
    const me = await w.c.call('GET', '/api/session', undefined, { prefer: 'return=minimal' })
    expect(me.headers.get('preference-applied')).to.equal(null)
  })
  it('it is no way round: who may not book there is refused, and learns no number', async () => {
    const booked = await books(delivery(), 'return=minimal')
    const asks = { signIn: 'asks', password: 'long enough' }
    await w.c.ok('POST', '/api/people', { name: 'Who asks', ...asks, role: 'requester' })
    const other = new Client(w.c.base)
    await other.ok('POST', '/api/session', asks)
    const r = await books(delivery(), 'return=minimal', booked.body.id, other)
    expect([r.status, r.body.number]).to.deep.equal([403, undefined])
  })
})
