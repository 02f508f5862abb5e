// What two throw away is not thrown away by one: somebody else shows that they were there, of what the slip says as it is booked.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Effect, Item, SlipContentInput, SlipView } from '@shelve/contract'
import { verify } from '@shelve/server'
import { type Client, newItem, PASSWORD, person, world, type World } from './client.ts'

type Found = { id: string }
type People = { rows: { id: string; signIn: string }[] }
describe('two throw it away', () => {
  let w: World
  let poppy: Item
  let chalk: Item
  let reason: string
  let keeper: Client
  let odd: Client
  let centre: string
  let badge: Record<string, string>
  beforeEach(async () => {
    w = await world()
    poppy = await newItem(w.c, { name: 'Poppy', code: 'POP', witnessed: true })
    chalk = await newItem(w.c, { name: 'Chalk', code: 'CHA' })
    reason = (await w.c.get<{ rows: Found[] }>('/api/waste-reasons')).rows[0]!.id
    centre = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Water', code: 'WAT' })).id
    keeper = await person(w, 'Ilse', 'keeper', w.lab.id)
    odd = await person(w, 'Odd', 'observer')
    const { rows } = await w.c.get<People>('/api/people')
    badge = {}
    for (const p of rows) badge[p.signIn] = (await w.c.ok<{ badge: string }>('POST', `/api/people/${p.id}/badge`)).badge
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [poppy, chalk].map(i => w.c.line({ item: i.id, typed: '20', price: '1' })),
    })
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })
  const waste = (item: Item, typed: string, more: object = {}): SlipContentInput => ({
    kind: 'waste',
    place: w.lab.id,
    head: { reason },
    lines: [w.c.line({ item: item.id, typed })],
    ...more,
  })
  const book = (id: string, content: SlipContentInput, c = keeper) =>
    c.call<SlipView>('POST', `/api/slips/${id}/booking`, { content })
  const show = (id: string, content: SlipContentInput, who: object, c = keeper) =>
    c.call<{ name: string }>('POST', `/api/slips/${id}/witness`, { content, who })

  it('one alone is refused; with somebody else it is booked, stands on the slip and is sealed', async () => {
    const [id, content] = [v7(), waste(poppy, '2')]
    const alone = await book(id, content)
    expect([alone.status, alone.body]).to.deep.include(422)
    expect(alone.text).to.contain('Two throw away Poppy')
    expect((await show(id, content, { badge: badge.odd! })).body).to.deep.equal({ name: 'Odd' })
    const effect = await keeper.ok<Effect>('POST', `/api/slips/${id}/effect`, content)
    expect([effect.ok, effect.witness]).to.deep.equal([true, 'Odd'])
    const booked = await book(id, content)
    expect([booked.status, booked.body.witness]).to.deep.equal([201, 'Odd'])
    expect((await keeper.get<SlipView>(`/api/slips/${id}`)).witness).to.equal('Odd')
    expect(w.app.store.client.prepare('select count(*) from witness').pluck().get(), 'nobody waits any more').to.equal(
      0n,
    )
    expect((await book(id, content)).status, 'the same again is the same').to.equal(201)
  })
  it('what is changed after that wants them once more, and is told so; a draft likewise', async () => {
    const [id, content] = [v7(), waste(poppy, '2')]
    await show(id, content, { badge: badge.odd! })
    const more = { ...content, lines: [{ ...content.lines![0]!, typed: '12' }] }
    expect((await book(id, more)).text).to.contain('says something else since Odd')
    expect((await book(id, content)).status, 'as they saw it').to.equal(201)
  })
  it('a draft is booked as it was shown to them; thrown away, nobody was there', async () => {
    const [id, content] = [v7(), waste(poppy, '1')]
    await keeper.ok('PUT', `/api/slips/${id}`, content)
    const is = await keeper.draft(id)
    await show(id, content, { badge: badge.odd! })
    const booked = await keeper.bookSeen(is)
    expect([booked.status, booked.body.witness], booked.text).to.deep.equal([201, 'Odd'])
    const gone = v7()
    await keeper.ok('PUT', `/api/slips/${gone}`, waste(poppy, '1'))
    await show(gone, waste(poppy, '1'), { badge: badge.odd! })
    await keeper.ok('DELETE', `/api/slips/${gone}`, undefined, { 'if-match': '1' })
    expect(w.app.store.client.prepare('select count(*) from witness').pluck().get()).to.equal(0n)
  })
  it('nobody is their own witness; whoever shows nothing is nobody; a name and PIN do as well as a badge', async () => {
    const [id, content] = [v7(), waste(poppy, '1')]
    expect((await show(id, content, { badge: badge.ilse! })).body).to.deep.include({ code: 'own_witness' })
    expect((await show(id, content, { badge: 'SVB-0000000000000000' })).body).to.deep.include({ code: 'unknown_badge' })
    expect((await show(id, content, { signIn: 'odd', pin: '1234' })).body).to.deep.include({ code: 'wrong_pin' })
    expect((await book(id, content)).status).to.equal(422)
    expect((await show(id, content, { badge: badge.odd! }, await person(w, 'Rut', 'requester'))).status).to.equal(403)
    await odd.ok('PUT', '/api/session/pin', { password: PASSWORD, pin: '4821' })
    expect((await show(id, content, { signIn: 'odd', pin: '4821' })).status).to.equal(201)
    expect((await book(id, content)).status).to.equal(201)
    expect((await show(id, content, { badge: badge.odd! })).body).to.deep.include({ code: 'booked_already' })
  })
  const cases: [string, () => Promise<SlipContentInput> | SlipContentInput, boolean][] = [
    ['what one may throw away', () => waste(chalk, '1'), false],
    [
      'two lines, one of which two throw away',
      () => ({
        ...waste(chalk, '1'),
        lines: [w.c.line({ item: chalk.id, typed: '1' }), w.c.line({ item: poppy.id, typed: '1' })],
      }),
      true,
    ],
    [
      'handed out, not thrown away',
      () => ({ ...waste(poppy, '1'), kind: 'issue', head: { costCentre: centre } }),
      false,
    ],
    [
      'brought back spoiled',
      async () => {
        const issued = await w.c.must({
          kind: 'issue',
          place: w.lab.id,
          head: { costCentre: centre },
          lines: [w.c.line({ item: poppy.id, typed: '3' })],
        })
        return {
          kind: 'bring_back',
          place: w.lab.id,
          lines: [w.c.line({ ref: issued.lines[0]!.id, typed: '1', reason })],
        }
      },
      true,
    ],
    [
      'a slip of waste put right to more',
      async () => {
        const id = v7()
        const content = waste(poppy, '1')
        await show(id, content, { badge: badge.odd! })
        const was = (await book(id, content)).body
        return {
          kind: 'correction',
          place: w.lab.id,
          head: { reason, corrects: was.id },
          lines: [w.c.line({ ...content.lines![0]!, id: v7(), typed: '3', ref: was.lines[0]!.id, act: 'replace' })],
        }
      },
      true,
    ],
    [
      'a slip of waste taken back',
      async () => {
        const id = v7()
        const content = waste(poppy, '1')
        await show(id, content, { badge: badge.odd! })
        const was = (await book(id, content)).body
        return {
          kind: 'correction',
          place: w.lab.id,
          head: { corrects: was.id },
          lines: [w.c.line({ ref: was.lines[0]!.id, act: 'take_back' })],
        }
      },
      false,
    ],
  ]
  for (const [name, of, wanted] of cases)
    it(`${name}: ${wanted ? 'two' : 'one'}`, async () => {
      const [id, content] = [v7(), await of()]
      const alone = await book(id, content, w.c)
      expect([alone.status, alone.text]).to.satisfy(
        ([status, text]: [number, string]) =>
          wanted ? status === 422 && text.includes('Two throw away') : status === 201,
        `${alone.status} ${alone.text}`,
      )
      if (!wanted) return
      await show(id, content, { badge: badge.odd! }, w.c)
      const both = await book(id, content, w.c)
      expect([both.status, both.body.witness], both.text).to.deep.equal([201, 'Odd'])
    })
})
