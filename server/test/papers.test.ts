import { expect } from 'chai'
import { v7 } from 'uuid'
import {
  api,
  type Item,
  type RestockSaved,
  type RestockView,
  SlipContent,
  type SlipContentInput,
  SlipKind,
} from '@shelve/contract'
import { type Action, MAY } from '../src/rights/roles.ts'
import { Client, newItem, person, world, type World } from './client.ts'

describe('two people on one paper', () => {
  let w: World
  let tova: Client
  let flour: Item
  let salt: Item
  let job: string

  before(async () => {
    w = await world()
    flour = await newItem(w.c, { code: 'FLR', name: 'Flour', unit: 'kg' })
    salt = await newItem(w.c, { code: 'SLT', name: 'Salt', unit: 'kg' })
    const centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Galley', code: 'GAL' })).id
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { name: 'Bread', code: 'BRD', costCentre: centre })).id
    tova = await person(w, 'Tova', 'keeper')
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [flour, salt].map(i => line({ item: i.id, typed: '50', price: '100' })),
    })
    w.clock.now += 60_000
  })
  after(() => w.stop())

  const line = (more: object) => w.c.line(more)
  const { id: _, ...blank } = { id: '', typed: '1' }
  const issue = (...lines: SlipContentInput['lines'] & object[]): SlipContentInput => ({
    kind: 'issue',
    place: w.lab.id,
    head: { job },
    lines,
  })
  /** A draft with a line of flour and one of salt, 1 of each. */
  async function draft() {
    const id = v7()
    const [a, b] = [line({ item: flour.id, typed: '1' }), line({ item: salt.id, typed: '1' })]
    await w.c.ok('PUT', `/api/slips/${id}`, issue(a, b))
    const change = (l: typeof a, typed: string | null, seen = 1) => ({
      id: l.id,
      seen,
      position: l === a ? 1 : 2,
      line: typed === null ? null : { ...blank, item: l.item, typed },
    })
    return { id, a, b, change }
  }
  const typed = async (id: string) => (await w.c.draft(id)).lines.map(l => l.line!.typed)

  it('each saves lines of their own: nothing is lost, and each version says what was saved since', async () => {
    const { id, a, b, change } = await draft()
    const first = await w.c.save(id, { lines: [change(a, '3')] })
    expect(first.body).to.deep.include({ version: 2, revision: 1 })
    expect(first.body.lines.map(l => l.revision)).to.deep.equal([2])
    const second = await tova.save(id, { lines: [change(b, '4')] })
    expect([second.body.version, second.body.stale]).to.deep.equal([3, { head: null, lines: [] }])
    expect(await typed(id)).to.deep.equal(['3', '4'])
    const news = await w.c.draft(id, 2)
    expect(news.lines.map(l => [l.id, l.line?.typed, l.by])).to.deep.equal([[b.id, '4', 'Tova']])
    const none = await w.c.save(id, { lines: [change(b, '4', 1)] })
    expect(none.body.version, 'what stands there already makes no version').to.equal(3)
  })

  it('the same line: the later one is told both versions, her other lines are saved, and nothing is written over', async () => {
    const { id, a, b, change } = await draft()
    await w.c.save(id, { lines: [change(a, '3')] })
    const late = await tova.save(id, { lines: [change(a, '7'), change(b, '8')] })
    expect(late.status).to.equal(200)
    expect(late.body.lines.map(l => l.id)).to.deep.equal([b.id])
    expect(late.body.stale.lines.map(l => [l.id, l.revision, l.by, l.yours?.typed, l.theirs?.typed])).to.deep.equal([
      [a.id, 2, 'Ines Corrie', '7', '3'],
    ])
    expect(await typed(id)).to.deep.equal(['3', '8'])
    const settled = await tova.save(id, { lines: [change(a, '7', 2)] })
    expect(settled.body.stale.lines).to.deep.equal([])
    expect(await typed(id)).to.deep.equal(['7', '8'])
  })

  it('a line that was taken off stays as a marker: who still has it is told, and puts it back only knowingly', async () => {
    const { id, a, b, change } = await draft()
    await w.c.save(id, { lines: [change(a, null)] })
    const late = await tova.save(id, { lines: [change(a, '7')] })
    expect(late.body.stale.lines.map(l => [l.theirs, l.revision, l.by])).to.deep.equal([[null, 2, 'Ines Corrie']])
    const again = await tova.save(id, { lines: [change(a, '1', 0)] })
    expect(again.body.stale.lines, 'nor by what was sent before and arrives late').to.have.length(1)
    expect((await w.c.draft(id, 1)).lines.map(l => [l.id, l.line])).to.deep.equal([[a.id, null]])
    expect((await w.c.draft(id)).lines.map(l => l.id)).to.deep.equal([b.id])
    await tova.save(id, { lines: [change(a, '7', 2)] })
    expect(await typed(id)).to.deep.equal(['7', '1'])
    const gone = await w.c.save(id, { lines: [change(a, null, 1)] })
    expect(gone.body.stale.lines.map(l => [l.yours, l.theirs?.typed])).to.deep.equal([[null, '7']])
    await w.c.ok('DELETE', `/api/slips/${id}`)
    const { n } = w.app.store.client.prepare('select count(*) as n from taken_off').get() as { n: bigint }
    expect(n, 'what is thrown away leaves no marker').to.equal(0n)
  })

  it('the head has a revision of its own', async () => {
    const { id, a, change } = await draft()
    const head = (taker: string) => ({ place: w.lab.id, effectiveAt: null, taker, head: { job } })
    await w.c.save(id, { lines: [change(a, '2')] })
    expect(
      (await tova.save(id, { head: head('Mirja') }, 1)).body,
      'a line that was saved is no other head',
    ).to.deep.include({
      version: 3,
      revision: 3,
    })
    const late = await w.c.save(id, { head: head('Sal'), lines: [change(a, '5', 2)] }, 1)
    expect([late.body.stale.head?.by, late.body.stale.head?.theirs.taker, late.body.lines.length]).to.deep.equal([
      'Tova',
      'Mirja',
      1,
    ])
    expect((await w.c.save(id, { head: head('Mirja') }, 1)).body.stale.head, 'the same is no other').to.equal(null)
    expect((await w.c.save(id, { head: head('Sal') })).body.stale.head?.theirs.taker, 'unseen').to.equal('Mirja')
    expect((await w.c.save(id, { head: head('Sal') }, late.body.stale.head!.revision)).body.stale.head).to.equal(null)
  })

  it('is booked as it was seen: head and each line; what somebody added, changed or took off since is not', async () => {
    const { id, a, b, change } = await draft()
    const seen = await w.c.draft(id)
    const c = line({ item: flour.id, typed: '9' })
    const steps: [string, () => Promise<unknown>][] = [
      ['a line changed', () => tova.save(id, { lines: [change(a, '3')] })],
      [
        'a line added',
        () => tova.save(id, { lines: [{ id: c.id, seen: 0, position: 9, line: { ...blank, item: flour.id } }] }),
      ],
      ['a line taken off', () => tova.save(id, { lines: [change(b, null)] })],
      ['the head', () => tova.save(id, { head: { place: w.lab.id, taker: 'Sal', head: { job } } }, 1)],
    ]
    let before = seen
    for (const [what, step] of steps) {
      await step()
      const r = await w.c.bookSeen(before)
      expect([r.status, r.body.code], what).to.deep.equal([409, 'saved_meanwhile'])
      before = await w.c.draft(id)
    }
    const r = await w.c.book(issue(a, b), id)
    expect([r.status, r.body.code], 'nor by its content, which says something else').to.deep.equal([
      409,
      'saved_meanwhile',
    ])
    const booked = await w.c.bookSeen(before)
    expect([booked.status, booked.body.lines.map(l => l.quantity)]).to.deep.equal([201, ['3', '1']])
    expect((await w.c.bookSeen(before)).body.number, 'again is the same answer').to.equal(booked.body.number)
    expect((await tova.bookSeen(seen)).body.code).to.equal('booked_otherwise')
    expect((await tova.save(id, { lines: [change(a, '5', 2)] })).body.detail).to.equal(
      `This slip is booked already as ${booked.body.number}.`,
    )
  })

  it('is not thrown away while somebody else writes on it', async () => {
    const { id, a, change } = await draft()
    await tova.save(id, { lines: [change(a, '3')] })
    const drop = (version: number) => w.c.call('DELETE', `/api/slips/${id}`, undefined, { 'if-match': String(version) })
    expect((await drop(1)).body.code).to.equal('changed_meanwhile')
    expect((await drop(2)).status).to.equal(204)
    const gone = await tova.save(id, { lines: [change(a, '4', 2)] })
    expect([gone.status, gone.body.code]).to.deep.equal([404, 'not_found'])
  })

  it('says what names nothing, and what is too much, and saves nothing of it', async () => {
    const { id, a, b, change } = await draft()
    const other = await draft()
    const unknown = await w.c.save(id, {
      lines: [{ ...change(a, '3'), line: { ...blank, item: v7() } }, change(b, '2')],
    })
    expect([unknown.status, unknown.body.fields[0]!.line]).to.deep.equal([422, a.id])
    const foreign = await w.c.save(id, { lines: [change(b, '2'), { ...change(other.a, '3', 0) }] })
    expect([foreign.status, foreign.body.code]).to.deep.equal([409, 'line_of_another_slip'])
    const many = Array.from({ length: 499 }, (_, i) => ({ id: v7(), seen: 0, position: i, line: blank }))
    const tooMany = await w.c.save(id, { lines: many })
    expect([tooMany.status, tooMany.body.code]).to.deep.equal([422, 'too_many_lines'])
    expect(await typed(id)).to.deep.equal(['1', '1'])
    const never = await w.c.save(id, { lines: [{ id: v7(), seen: 0, position: 0, line: null }] })
    expect(
      never.body.lines.map(l => l.revision),
      'what never was is not there',
    ).to.deep.equal([0])
    expect(api.saveDraft.answer.safeParse(never.body).success).to.equal(true)
    const twice = await w.c.save(id, { lines: [change(a, '2'), change(a, '3')] })
    expect(twice.status).to.equal(422)
    expect((await w.c.save(id, { head: { place: w.lab.id }, lines: [] }, -1)).body.code).to.equal('bad_if_match')
  })

  it('whose prices one may not see keeps them when somebody else saves it, and takes none from them', async () => {
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const id = v7()
    const l = line({ item: flour.id, typed: '2', price: '7', discount: '1' })
    const head = { supplier: 'Aster', charges: [{ label: 'freight', amount: '3', basis: 'value' as const }] }
    await w.c.ok('PUT', `/api/slips/${id}`, { kind: 'receipt', place: shed, head, lines: [l] })
    const sal = await person(w, 'Sal', 'keeper', shed)
    // No role there is books without seeing values; one to come may.
    const may = MAY as Record<'keeper', readonly Action[]>
    const { keeper } = may
    may.keeper = ['read', 'book']
    try {
      const seen = await sal.draft(id)
      expect(JSON.stringify(seen)).to.not.match(/"price"|"discount"|"amount"/)
      const { id: __, ...own } = l
      const change = (more: object) => ({ lines: [{ id: l.id, seen: 1, position: 1, line: { ...own, ...more } }] })
      const { taker: ___, ...rest } = seen.head
      const set = await sal.save(id, change({ price: '0.01', discount: undefined }))
      expect([set.status, set.body.fields.map(f => [f.line, f.field])]).to.deep.equal([403, [[l.id, 'price']]])
      const blind = {
        ...change({ typed: '3', price: undefined, discount: undefined }),
        head: { ...rest, taker: 'Mirja' },
      }
      expect((await sal.save(id, blind, 1)).body.stale).to.deep.equal({ head: null, lines: [] })
      const more = { id: v7(), seen: 0, position: 9, line: { ...blank, item: flour.id, price: '5' } }
      expect((await sal.save(id, { lines: [more] })).body.code).to.equal('value_not_yours')
      const begun = await sal.call('PUT', `/api/slips/${v7()}`, {
        kind: 'receipt',
        place: shed,
        lines: [line({ price: '1' })],
      })
      expect(begun.body.code).to.equal('value_not_yours')
    } finally {
      may.keeper = keeper
    }
    const is = await w.c.draft(id)
    expect([
      is.head.taker,
      is.head.head.charges[0]!.amount,
      is.lines.map(x => [x.line!.typed, x.line!.price, x.line!.discount]),
    ]).to.deep.equal(['Mirja', '3', [['3', '7', '1']]])
  })

  it('a count: a line is an item, a lot, a place and whoever counted it; both entries stand until two agree', async () => {
    const id = v7()
    const [a, b] = [flour, salt].map(i => line({ item: i.id, from: w.lab.id }))
    await w.c.ok('PUT', `/api/slips/${id}`, { kind: 'count', place: w.lab.id, head: { blind: false }, lines: [a, b] })
    const entry = (l: typeof a, typed: string, seen: number, more: object = {}) => {
      const { id: of, ...rest } = l!
      const said = { ...rest, counted: 'counted' as const, typed, countedAt: new Date(w.clock.now).toISOString() }
      return { id: of!, seen, position: of === a!.id ? 1 : 2, line: { ...said, ...more } }
    }
    const people = (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/people')).rows
    const [ines, her] = ['Ines Corrie', 'Tova'].map(n => people.find(p => p.name === n)!.id)
    await w.c.save(id, { lines: [entry(a, '40', 1)] })
    const late = await tova.save(id, { lines: [entry(a, '41', 1), entry(b, '49', 1)] })
    expect(late.body.stale.lines, 'her entry is no quarrel with another’s').to.deep.equal([])
    const own = late.body.lines.find(l => l.was === a!.id)!
    expect(own.id, 'it comes after the one that was there').to.match(new RegExp(`^${a!.id.slice(0, 13)}-8`))
    const again = await tova.save(id, { lines: [entry(a, '41', 1)] })
    expect(again.body.lines, 'sent twice it is one entry').to.deep.equal([own])
    const is = await w.c.draft(id)
    expect(is.lines.map(l => [l.line!.item, l.line!.typed, l.line!.counter])).to.deep.equal([
      [flour.id, '40', ines],
      [flour.id, '41', her],
      [salt.id, '49', her],
    ])
    const no = await w.c.bookSeen(is)
    expect(no.body.fields.map(f => [f.line, f.code])).to.deep.include.members([
      [a!.id, 'counters_differ'],
      [own.id, 'counters_differ'],
    ])
    expect(no.body.fields.find(f => f.line === own.id)!.message).to.equal(
      'Ines Corrie counted 40, Tova counted 41. One more count settles it, or take off the one that is wrong.',
    )
    // A figure changed by its own counter is the same entry; a second figure and a note are no other counter's.
    await tova.save(id, { lines: [{ ...entry(a, '40', own.revision), id: own.id }] })
    const note = await tova.save(id, { lines: [entry(a, '40', 2, { note: 'torn bags', again: '40' })] })
    expect(note.body.lines.map(l => [l.id, l.was])).to.deep.equal([[a!.id, null]])
    const agreed = await w.c.draft(id)
    expect(agreed.lines.map(l => [l.line!.typed, l.line!.counter, l.line!.note])).to.deep.equal([
      ['40', ines, 'torn bags'],
      ['40', her, ''],
      ['49', her, ''],
    ])
    const forged = [ines, her].map(counter =>
      line({ item: flour.id, from: w.lab.id, counted: 'counted', typed: '3', counter }),
    )
    const whole: SlipContentInput = { kind: 'count', place: w.lab.id, lines: forged }
    expect(
      (await tova.book(whole)).body.fields.map(f => f.code),
      'nobody agrees with oneself',
    ).to.deep.equal(['count_twice'])
    const begun = v7()
    await tova.ok('PUT', `/api/slips/${begun}`, { ...whole, lines: forged.map(l => ({ ...l, id: v7() })) })
    expect((await tova.draft(begun)).lines.map(l => l.line!.counter)).to.deep.equal([her, her])
    // Salt is off by one of fifty, which is the tolerance.
    const booked = await w.c.bookSeen(agreed)
    expect([booked.status, booked.body.lines.map(l => l.quantity)], booked.text.slice(0, 300)).to.deep.equal([
      201,
      ['40', '40', '49'],
    ])
    const { n } = w.app.store.client.prepare('select count(*) as n from tally').get() as { n: bigint }
    expect(n, 'one tally for each line, however many counted it').to.equal(2n)
  })

  it('says what its kind has, and nothing else: neither handed in, begun, nor saved on a draft', async () => {
    const said: Record<string, unknown> = {
      lot: { code: 'A' },
      from: w.lab.id,
      to: w.lab.id,
      price: '1',
      discount: '1',
      counted: 'counted',
      again: '3',
      override: true,
      direct: { job },
      act: 'close',
      side: 'out',
      share: '2',
      reason: v7(),
      opened: { code: 'A/1' },
      leaves: '2',
    }
    const has: Record<string, string> = {
      receipt: 'lot from to price discount direct',
      opening: 'lot from to price discount',
      supplier_return: 'lot from price',
      issue: 'lot from override direct reason leaves',
      make: 'lot from to override side share reason',
      bring_back: 'lot to reason',
      recharge: '',
      dispatch: 'lot from',
      arrival: 'lot to',
      move: 'lot from to override',
      relabel: 'lot from to opened',
      waste: 'lot from override reason',
      count: 'lot from counted again',
      closing: 'to act',
      correction: Object.keys(said).join(' '),
      method_change: '',
    }
    expect(Object.keys(has).sort()).to.deep.equal([...SlipKind.options].sort())
    for (const [kind, fields] of Object.entries(has)) {
      const takes = Object.keys(said).filter(
        field => SlipContent.safeParse({ kind, lines: [{ id: v7(), [field]: said[field] }] }).success,
      )
      expect(takes.join(' '), kind).to.equal(fields)
    }
    for (const [kind, head] of [
      ['issue', { supplier: 'Aster' }],
      ['receipt', { reason: v7() }],
      ['count', { job }],
      ['waste', { blind: false }],
    ] as const)
      expect(SlipContent.safeParse({ kind, head }).success, `${kind} ${Object.keys(head)[0]}`).to.equal(false)
    const { id, a, change } = await draft()
    const strange = { ...change(a, '2'), line: { ...blank, item: flour.id, price: '3' } }
    const no = await w.c.save(id, { lines: [strange] })
    expect([no.status, no.body.fields.map(f => [f.line, f.field])]).to.deep.equal([422, [[a.id, 'price']]])
    const head = { place: w.lab.id, head: { job, supplier: 'Aster' } }
    expect((await w.c.save(id, { head }, 1)).body.fields[0]!.field).to.equal('supplier')
    const begun = await w.c.call('PUT', `/api/slips/${v7()}`, issue(line({ counted: 'counted' })))
    expect([begun.status, begun.body.fields[0]!.field]).to.deep.equal([422, 'lines.0.counted'])
    expect(await typed(id)).to.deep.equal(['1', '1'])
  })

  it('a restock slip: lines of their own, the same line, the same item put on twice, and asking for what was seen', async () => {
    const id = v7()
    const [a, b] = [v7(), v7()]
    const put = (item: Item, typed: string) => ({ item: item.id, place: w.lab.id, typed })
    await w.c.ok('POST', '/api/restock', {
      id,
      source: { kind: 'nobody' },
      lines: [{ id: a, ...put(flour, '5') }],
    })
    const save = (c: Client, lines: object[], head?: object, seen?: number) =>
      c.ok<RestockSaved>(
        'PATCH',
        `/api/restock/${id}`,
        { lines, ...(head ? { head } : {}) },
        seen === undefined ? {} : { 'if-match': String(seen) },
      )
    const view = () => w.c.get<RestockView>(`/api/restock/${id}`)
    expect(await tova.get<RestockView>(`/api/restock/${id}`)).to.include({ mine: false, may: true })
    await save(tova, [{ id: b, seen: 0, position: 2, line: put(salt, '3') }])
    await save(w.c, [{ id: a, seen: 1, position: 1, line: put(flour, '6') }])
    expect((await view()).lines.map(l => l.typed)).to.deep.equal(['6', '3'])
    const late = await save(tova, [{ id: a, seen: 1, position: 1, line: put(flour, '9') }])
    expect(late.stale.lines.map(l => [l.id, l.by, l.yours?.typed, l.theirs?.typed])).to.deep.equal([
      [a, 'Ines Corrie', '9', '6'],
    ])
    const twin = v7()
    const twice = await save(w.c, [{ id: twin, seen: 0, position: 9, line: put(salt, '4') }])
    expect(
      twice.stale.lines.map(l => [l.id, l.was, l.theirs?.typed]),
      'it is asked for once',
    ).to.deep.equal([[b, twin, '3']])
    const same = await save(w.c, [{ id: twin, seen: 0, position: 9, line: put(salt, '3') }])
    expect(same.lines.map(l => [l.id, l.was, l.revision])).to.deep.equal([[b, twin, 2]])
    const shop = (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/suppliers')).rows[0]!
    const head = (note: string) => ({ source: { kind: 'supplier', id: shop.id }, note })
    expect((await save(w.c, [], head('soon'), 1)).revision).to.equal(4)
    const other = await save(tova, [], head('later'), 1)
    expect([other.stale.head?.by, other.stale.head?.theirs.note]).to.deep.equal(['Ines Corrie', 'soon'])
    const { version } = await view()
    await save(tova, [{ id: b, seen: 2, position: 2, line: null }])
    const ask = (seen: number) =>
      w.c.call<RestockView>(
        'POST',
        `/api/restock/${id}/asking`,
        { where: 'by telephone' },
        { 'if-match': String(seen) },
      )
    expect((await ask(version)).body.code).to.equal('saved_meanwhile')
    expect((await ask(version + 1)).body.lines.map(l => [l.code, l.owed])).to.deep.equal([['FLR', '6']])
    const { n } = w.app.store.client.prepare('select count(*) as n from restock_taken_off').get() as { n: bigint }
    expect(n).to.equal(0n)
  })
})
