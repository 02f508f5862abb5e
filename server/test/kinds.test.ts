import { expect } from 'chai'
import { v7 } from 'uuid'
import { decimal, forOne, formatDecimal } from '@shelve/core'
import type {
  DifferenceView,
  Effect,
  Item,
  ItemStock,
  LotView,
  SlipContentInput,
  SlipView,
  WorkingView,
} from '@shelve/contract'
import { ledgerJsonLines, verify } from '@shelve/server'
import { Client, newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('each kind of slip, by what it does to shelves, pools and accounts', () => {
  let w: World
  let job: string
  let shed: string
  const tick = () => {
    w.clock.now += 60_000
  }
  beforeEach(async () => {
    w = await world()
    job = (await w.c.ok<Found>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
  })
  afterEach(() => w.stop())

  /** Value on an account, worked out from the exported ledger alone. */
  function value(account: RegExp): string {
    let sum = 0n
    for (const l of ledgerJsonLines(w.app)) {
      const m = JSON.parse(l) as { from: string; to: string; value: string }
      if (account.test(m.to)) sum += decimal(m.value)
      if (account.test(m.from)) sum -= decimal(m.value)
    }
    return formatDecimal(sum)
  }
  const stock = async (it: Item) => {
    const s = await w.c.get<ItemStock>(`/api/items/${it.id}/stock`)
    return [s.onHand, s.value]
  }
  /** Before it is booked: every figure of *before → after* opens a working that adds up to it, whatever kind of slip it is. */
  async function workingsAgree(content: SlipContentInput): Promise<void> {
    const effect = await w.c.effect(content)
    const ask = async (
      line: string | null,
      figure: string,
      side: string,
      shown: string | null | undefined,
      from = false,
    ) => {
      const r = await w.c.call<WorkingView>('POST', `/api/slips/${v7()}/effect/working`, {
        content,
        line,
        figure,
        side,
        from,
      })
      if (shown === null || shown === undefined) return
      expect(r.status, `${figure} ${side}: ${r.text}`).to.equal(200)
      expect(r.body.figure, `${figure} ${side} of ${content.kind}`).to.equal(shown)
      expect(
        formatDecimal(r.body.lines.reduce((s, l) => s + decimal(l.amount), 0n)),
        `${figure} ${side} adds up`,
      ).to.equal(shown)
    }
    const note = async (line: string, figure: string, side: string, says: string) => {
      const r = await w.c.call<WorkingView>('POST', `/api/slips/${v7()}/effect/working`, {
        content,
        line,
        figure,
        side,
      })
      expect(r.body.note, `${figure} ${side} of ${content.kind}`).to.include(says)
    }
    const rows = () => w.app.store.client.prepare('select max(rowid) from event').pluck().get()
    const before = [rows(), w.app.store.client.prepare('select total_changes()').pluck().get()]
    for (const l of effect.lines) {
      for (const side of ['before', 'after'] as const) {
        await ask(l.line, 'on-hand', side, l[side].onHand)
        await ask(l.line, 'state', side, l[side].available)
        if (l[side].days !== null) await note(l.line, 'days', side, `= ${l[side].days} whole days`)
        await ask(l.line, 'on-hand', side, l.from?.[side].onHand, true)
        await ask(l.line, 'state', side, l.from?.[side].available, true)
        const cost = l.cost?.[side]
        if (cost != null && l[side].onHand !== '0') await note(l.line, 'unit-cost', side, `= ${cost} ${forOne(l.unit)}`)
      }
      await ask(l.line, 'expected', 'after', l.expected)
      await ask(l.line, 'difference', 'after', l.difference)
      // What goes straight to the user is worth something on its line and changes no stock.
      if (l.before.onHand !== l.after.onHand) await ask(l.line, 'value', 'after', l.value)
    }
    await ask(null, 'value', 'after', effect.value)
    const after = [rows(), w.app.store.client.prepare('select total_changes()').pluck().get()]
    expect(after, 'nothing was written by asking').to.deep.equal(before)
  }
  const receive = (it: Item, typed: string, price: string, more: object = {}, head: object = {}) => {
    tick()
    return w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster', ...head },
      lines: [w.c.line({ item: it.id, typed, price, ...more })],
    })
  }
  const slip = async (content: SlipContentInput) => {
    tick()
    await workingsAgree(content)
    return w.c.must(content)
  }
  const forJob = (kind: 'issue' | 'bring_back', ...lines: Parameters<Client['line']>[0][]) =>
    slip({ kind, place: w.lab.id, head: { job }, lines: lines.map(l => w.c.line(l)) })

  it('opening: what lay there, at what it is worth, against the opening account', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await slip({ kind: 'opening', place: w.lab.id, lines: [w.c.line({ item: it1.id, typed: '12', price: '2.50' })] })
    expect(await stock(it1)).to.deep.equal(['12', '30'])
    expect(value(/^opening$/)).to.equal('-30')
  })

  it('receipt: discount off the line, freight by quantity and by weight, several lots, each to its own bin', async () => {
    const acid = await newItem(w.c, { name: 'Acid', unit: 'L', decimals: 2, identifiedBy: 'lot_expiry', mass: '1200' })
    const salt = await newItem(w.c, { name: 'Salt', unit: 'L', decimals: 2, mass: '400' })
    const bin = (await w.c.ok<Found>('POST', '/api/places', { name: 'B1', parent: w.lab.id })).id
    const r = await slip({
      kind: 'receipt',
      place: w.lab.id,
      head: {
        supplier: 'Aster',
        charges: [
          { label: 'Freight', amount: '8', basis: 'weight' },
          { label: 'Fee', amount: '4', basis: 'quantity' },
        ],
      },
      lines: [
        w.c.line({ item: acid.id, typed: '2', price: '10', discount: '5', lot: { code: 'A1', expiry: '2027-01-31' } }),
        w.c.line({ item: acid.id, typed: '1', price: '10', lot: { code: 'A2', expiry: '2027-06-30' }, to: bin }),
        w.c.line({ item: salt.id, typed: '3', price: '4' }),
      ],
    })
    // Weight: 2400 + 1200 + 1200 g of 8 → 4, 2, 2. Quantity: 2, 1, 3 of 4 → 1.333333, 0.666667, 2 (largest remainder).
    expect(r.lines.map(l => l.value)).to.deep.equal(['20.333333', '12.666667', '16'])
    expect(r.lines[1]!.movements[0]!.to).to.equal('Wet lab, B1')
    const lots = (await w.c.get<{ rows: LotView[] }>(`/api/items/${acid.id}/lots`)).rows
    expect(lots.map(l => [l.code, l.expiry, l.quantity])).to.deep.equal([
      ['A1', '2027-01-31', '2'],
      ['A2', '2027-06-30', '1'],
    ])
    expect(value(/^supplier:Aster$/)).to.equal('-49')
  })

  it('before → after says what one costs then: by average, by first in first out, and after a change of method', async () => {
    const cost = async (content: SlipContentInput) => {
      const c = (await w.c.effect(content)).lines[0]!.cost!
      return [c.before, c.after]
    }
    for (const [method, next, after] of [
      ['average', 'fifo', '3'],
      ['fifo', 'lot', '3'],
      ['lot', 'average', '3'],
    ] as const) {
      const it1 = await newItem(w.c, { name: method, method, identifiedBy: 'lot' })
      const content: SlipContentInput = {
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Aster' },
        lines: [w.c.line({ item: it1.id, typed: '10', price: '4', lot: { code: 'B' } })],
      }
      await receive(it1, '10', '2', { lot: { code: 'A' } })
      expect(await cost(content), `${method}: 10 at 2, then 10 at 4`).to.deep.equal(['2', after])
      expect(
        await cost({ kind: 'method_change', head: { method: next }, lines: [w.c.line({ item: it1.id })] }),
        `${method} to ${next}`,
      ).to.deep.equal(['2', '2'])
    }
  })
  it('issue: first expired first out over bins, a chosen lot, and what it is worth by each cost method', async () => {
    const of = (method: string) => newItem(w.c, { name: method, method, identifiedBy: 'lot_expiry' })
    const worth: string[] = []
    for (const method of ['average', 'fifo', 'lot']) {
      const it1 = await of(method)
      // The lot that came later expires sooner: it goes first, but is costed as its method says.
      await receive(it1, '10', '2', { lot: { code: 'LATE', expiry: '2027-12-31' } })
      await receive(it1, '10', '5', { lot: { code: 'SOON', expiry: '2027-01-31' } })
      const issued = await forJob('issue', { item: it1.id, typed: '4' })
      expect(issued.lines[0]!.movements.map(m => m.lot)).to.deep.equal(['SOON'])
      worth.push(issued.value!)
    }
    expect(worth).to.deep.equal(['-14', '-8', '-20'])
  })

  it('receipt: what is bought for someone goes straight to them, freight and all, and lies nowhere', async () => {
    const lamp = await newItem(w.c, { name: 'Lamp', kept: 'bought_for' })
    const content = (head: object) => ({
      kind: 'receipt' as const,
      place: w.lab.id,
      head: { supplier: 'Aster', charges: [{ label: 'Freight', amount: '6', basis: 'value' as const }], ...head },
      lines: [w.c.line({ item: lamp.id, typed: '2', price: '15' })],
    })
    tick()
    expect((await w.c.book(content({}))).body.code).to.equal('for_whom')
    await slip(content({ job }))
    expect([await stock(lamp), value(/^used:/), value(/^supplier:/)]).to.deep.equal([['0', '0'], '36', '-36'])
    expect((await w.c.effect(content({ job }))).lines[0]!.after.onHand).to.equal('0')
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('move: quantity goes, value stays in the pool; within one place it is refused', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '10', '3')
    const move: SlipContentInput = {
      kind: 'move',
      place: w.lab.id,
      lines: [w.c.line({ item: it1.id, typed: '4', to: shed })],
    }
    // One shelf is not filled by emptying another unseen.
    const { from, placeName, ...there } = (await w.c.effect(move)).lines[0]!
    expect([placeName, there.before.onHand, there.after.onHand]).to.deep.equal(['Shed', '0', '4'])
    expect([from?.placeName, from?.before.onHand, from?.after.onHand]).to.deep.equal(['Wet lab', '10', '6'])
    const moved = await slip(move)
    expect(moved.value).to.equal('0')
    const s = await w.c.get<ItemStock>(`/api/items/${it1.id}/stock`)
    expect(s.places.map(p => [p.name, p.levels.onHand, p.value])).to.deep.equal([
      ['Wet lab', '6', '18'],
      ['Shed', '4', '12'],
    ])
    const same = await w.c.book({
      kind: 'move',
      place: w.lab.id,
      lines: [w.c.line({ item: it1.id, typed: '1', from: shed, to: shed })],
    })
    expect([same.status, same.body.code, same.body.detail]).to.deep.equal([
      422,
      'already_there',
      '4 each lie in Shed already, none outside it. Choose another place, or less.',
    ])
  })

  it('bring back: at what it was issued for, named or latest first, never more than is out', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves', method: 'fifo' })
    await receive(it1, '5', '2')
    await receive(it1, '5', '4')
    const first = await forJob('issue', { item: it1.id, typed: '5' })
    const second = await forJob('issue', { item: it1.id, typed: '3' })
    expect([first.value, second.value]).to.deep.equal(['-10', '-12'])
    expect(
      (await slip({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref: first.lines[0]!.id, typed: '2' })] }))
        .value,
      'named: of the first, at 2',
    ).to.equal('4')
    expect((await forJob('bring_back', { item: it1.id, typed: '4' })).value, 'latest first: 3 at 4, 1 at 2').to.equal(
      '14',
    )
    const more = await w.c.book({
      kind: 'bring_back',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: it1.id, typed: '3' })],
    })
    expect([more.body.code, more.body.fields[0]!.detail.free]).to.deep.equal(['more_than_issued', '2'])
  })

  it('recharge, and brought back spoiled: from whoever has it, at what it is worth, never over a shelf; a later price follows', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    const reason = (await w.c.ok<Found>('POST', '/api/waste-reasons', { name: 'Torn' })).id
    const centre = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Clinic' })).id
    await receive(it1, '10', '')
    const issue = await forJob('issue', { item: it1.id, typed: '4' })
    const ref = issue.lines[0]!.id
    const charge = (typed: string, more: object = {}): SlipContentInput => ({
      kind: 'recharge',
      place: w.lab.id,
      head: { costCentre: centre },
      lines: [w.c.line({ ref, typed, item: it1.id })],
      ...more,
    })
    const price = {
      kind: 'correction' as const,
      head: { corrects: (await w.c.get<{ rows: Found[] }>('/api/slips?kind=receipt')).rows[0]!.id },
    }
    const of = (await w.c.get<SlipView>(`/api/slips/${price.head.corrects}`)).lines[0]!.id
    await slip({ ...price, lines: [w.c.line({ ref: of, item: it1.id, act: 'price', price: '3' })] })
    const effect = await w.c.effect(charge('1'))
    expect(effect.lines.map(l => [l.value, l.before.onHand, l.after.onHand])).to.deep.equal([['3', '6', '6']])
    await workingsAgree(charge('1'))
    const moved = await slip(charge('1'))
    expect([moved.number, moved.title, moved.value]).to.deep.equal(['CH-0001', 'to Clinic', '0'])
    expect([value(/Job/), value(/Clinic/), (await stock(it1))[1]]).to.deep.equal(['9', '3', '18'])
    // Two are torn when they come back: wasted, of the job that had them.
    const torn = await forJob('bring_back', { item: it1.id, typed: '2', reason }, { item: it1.id, typed: '1' })
    expect([value(/Job/), value(/Clinic/), value(/Torn/), await stock(it1)]).to.deep.equal(['0', '3', '6', ['7', '21']])
    const refused = async (content: SlipContentInput, c = w.c) => (await c.book(content)).body.code
    expect(await refused(charge('1')), 'all of it has gone on').to.equal('more_than_issued')
    expect(
      await refused(charge('1', { lines: [w.c.line({ ref: moved.lines[0]!.id, typed: '1', item: it1.id })] })),
    ).to.equal('charged_there')
    expect(await refused(charge('1', { place: shed })), 'where it was handed out').to.equal('issued_elsewhere')
    expect(await refused(charge('1', { head: {} }))).to.equal('for_whom')
    const mirja = await person(w, 'Mirja', 'keeper', shed)
    expect(await refused(charge('1'), mirja), 'the place is not hers to see').to.equal('unknown_place')
    // What it cost turns out otherwise: whoever has it by now bears it.
    await slip({ ...price, lines: [w.c.line({ ref: of, item: it1.id, act: 'price', price: '4' })] })
    expect([value(/Job/), value(/Clinic/), value(/Torn/), (await stock(it1))[1]]).to.deep.equal(['0', '4', '8', '28'])
    const by = async (q: string) =>
      (
        await w.c.get<{ rows: { name: string; value: string }[] }>(`/api/look-back/by?from=2026-11&to=2026-11&${q}`)
      ).rows.map(r => [r.name, r.value])
    expect(await by('by=cost_centre&flow=used')).to.deep.equal([
      ['Clinic', '4'],
      ['none named', '0'],
    ])
    expect(await by('by=reason&flow=wasted')).to.deep.equal([['Torn', '8']])
    expect(await by('by=place&flow=wasted')).to.deep.equal([['Wet lab', '8']])
    const behind = async (flow: string) =>
      (await w.c.get<{ rows: { number: string }[] }>(`/api/slips?state=booked&flow=${flow}`)).rows.map(r => r.number)
    expect(await behind('wasted')).to.include('BB-0001')
    expect(await behind('used')).to.include('CH-0001')
    // Taken back, each stands where it stood.
    for (const s of [torn, moved]) await w.c.ok('POST', `/api/slips/${s.id}/reversal`, { id: v7() })
    expect([value(/Job/), value(/Clinic/), value(/Torn/), await stock(it1)]).to.deep.equal([
      '16',
      '0',
      '0',
      ['6', '24'],
    ])
    expect(await by('by=reason&flow=wasted')).to.deep.equal([['Torn', '0']])
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('make: two lots of one thing and a by-product, of a lot and of what has none, something spoiled of both sides', async () => {
    const acid = await newItem(w.c, { name: 'Acid', unit: 'L', decimals: 3, identifiedBy: 'lot_expiry', method: 'lot' })
    const salt = await newItem(w.c, { name: 'Salt', unit: 'kg', decimals: 3, method: 'fifo' })
    const mix = await newItem(w.c, { name: 'Mix', unit: 'L', decimals: 3, identifiedBy: 'lot' })
    const rest = await newItem(w.c, { name: 'Rest', unit: 'kg', decimals: 3 })
    const spilt = (await w.c.ok<Found>('POST', '/api/waste-reasons', { name: 'Spilt' })).id
    await receive(acid, '2', '10', { lot: { code: 'A1', expiry: '2027-01-31' } })
    await receive(salt, '1', '4')
    await receive(salt, '5', '6')
    const made = await slip({
      kind: 'make',
      place: w.lab.id,
      head: { extra: '1.5' },
      lines: [
        w.c.line({ item: mix.id, typed: '3', side: 'out', lot: { code: 'X1' }, share: '9' }),
        w.c.line({ item: mix.id, typed: '1', side: 'out', lot: { code: 'X2' } }),
        w.c.line({ item: rest.id, typed: '0.5', side: 'out', share: '1' }),
        w.c.line({ item: acid.id, typed: '1' }),
        w.c.line({ item: salt.id, typed: '2' }),
        w.c.line({ item: salt.id, typed: '0.5', reason: spilt }),
        w.c.line({ item: mix.id, typed: '0.5', side: 'out', lot: { code: 'X1' }, reason: spilt }),
      ],
    })
    // In it: 10 of acid, salt 1 at 4 and 1 at 6, 1.5 beside: 21.5, a tenth of it the rest's; then 0.5 of the salt spoils, at 6.
    expect(made.lines.map(l => l.value)).to.deep.equal(['12.9', '4.3', '2.15', '-10', '-10', '-3', '0'])
    expect([await stock(mix), await stock(rest), await stock(acid), await stock(salt)]).to.deep.equal([
      ['4', '17.2'],
      ['0.5', '2.15'],
      ['1', '10'],
      ['3.5', '21'],
    ])
    expect([value(/^made$/), value(/^waste/)]).to.deep.equal(['-1.5', '5.15'])
  })

  it('waste: any lot may go, also an expired or held one; its value stands on the reason', async () => {
    const milk = await newItem(w.c, { name: 'Milk', unit: 'L', decimals: 1, identifiedBy: 'lot_expiry' })
    await receive(milk, '4', '1.5', { lot: { code: 'M1', expiry: '2026-11-20' } })
    const reason = (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
      r => r.name === 'Expired',
    )!.id
    const [lot] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${milk.id}/lots`)).rows
    expect(lot!.state).to.equal('expired')
    await slip({ kind: 'waste', place: w.lab.id, head: { reason }, lines: [w.c.line({ item: milk.id, typed: '4' })] })
    expect([await stock(milk), value(/^waste:Expired$/)]).to.deep.equal([['0', '0'], '6'])
  })

  it('back to the supplier: the credit is theirs, the gap is a price difference, what stays keeps its cost', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '10', '3')
    const none = await w.c.book({
      kind: 'supplier_return',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: it1.id, typed: '2' })],
    })
    expect(none.body.code).to.equal('credit_needed')
    await slip({
      kind: 'supplier_return',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [w.c.line({ item: it1.id, typed: '2', price: '2.5' })],
    })
    expect([await stock(it1), value(/^supplier:Aster$/), value(/^price difference$/)]).to.deep.equal([
      ['8', '24'],
      '-25',
      '1',
    ])
  })

  it('correction: a price, an invoice that names more, a replaced line, a line and a slip taken back', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    const r = await receive(it1, '10', '3')
    await slip({ kind: 'issue', place: w.lab.id, head: { job }, lines: [w.c.line({ item: it1.id, typed: '4' })] })
    const correct = (act: 'price' | 'invoice' | 'replace' | 'take_back', more: object) =>
      slip({
        kind: 'correction',
        place: w.lab.id,
        head: { corrects: r.id, why: 'x', supplier: 'Aster' },
        lines: [w.c.line({ ref: r.lines[0]!.id, act, item: it1.id, ...more })],
      })
    await correct('price', { price: '5' })
    expect([await stock(it1), value(/^used:/)]).to.deep.equal([['6', '30'], '20'])
    await correct('invoice', { price: '10' })
    expect([await stock(it1), value(/^used:/)], '10 more over 10').to.deep.equal([['6', '36'], '24'])
    const early = await w.c.book({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: r.id },
      lines: [w.c.line({ ref: r.lines[0]!.id, act: 'take_back', item: it1.id })],
    })
    expect(early.body.code, 'four of them are used').to.equal('would_have_been_missing')
    expect(early.body.detail).to.match(/IS-0001/)
  })
  it('correction: one line of an issue is replaced at its own place in the costing', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves', method: 'fifo' })
    await receive(it1, '10', '1')
    const a = await forJob('issue', { item: it1.id, typed: '4' })
    await receive(it1, '10', '9')
    const b = await forJob('issue', { item: it1.id, typed: '8' })
    expect([a.value, b.value]).to.deep.equal(['-4', '-24'])
    await slip({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: a.id, job },
      lines: [w.c.line({ ref: a.lines[0]!.id, act: 'replace', item: it1.id, typed: '1' })],
    })
    // The first issue takes one at 1; the second then has nine at 1 left: eight at 1.
    expect([await stock(it1), value(/^used:/)]).to.deep.equal([['11', '91'], '9'])
  })

  it('change of cost method: what lies there keeps its value, prices of before still flow through, quantities of before stay', async () => {
    const it1 = await newItem(w.c, { name: 'Flour', unit: 'kg', identifiedBy: 'lot' })
    const r = await receive(it1, '10', '2', { lot: { code: 'A' } })
    await receive(it1, '10', '4', { lot: { code: 'B' } })
    const issue = await forJob('issue', { item: it1.id, typed: '4' })
    expect([await stock(it1), issue.value]).to.deep.equal([['16', '48'], '-12'])
    const edit = await w.c.call('PUT', `/api/items/${it1.id}`, { code: it1.code, name: 'Flour', method: 'lot' })
    expect([edit.status, edit.body.code], 'not by the way').to.deep.equal([409, 'method_by_slip'])
    const change = await slip({ kind: 'method_change', head: { method: 'lot' }, lines: [w.c.line({ item: it1.id })] })
    expect([change.number, change.value, await stock(it1)]).to.deep.equal(['CM-0001', '0', ['16', '48']])
    // Lot A has 6 of the 16 at 3 each; the pools of the lots are apart from here on.
    const a = await forJob('issue', { item: it1.id, typed: '6', lot: { code: 'A' } })
    expect(a.value).to.equal('-18')
    // An invoice for the first delivery: 20 more over 20, so 1 more on each: on the 4 used before, on the 6 since, on the 10 left.
    await slip({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: r.id, supplier: 'Aster' },
      lines: [w.c.line({ ref: r.lines[0]!.id, act: 'invoice', item: it1.id, price: '20' })],
    })
    expect([await stock(it1), value(/^used:/)]).to.deep.equal([['10', '40'], '40'])
    const early = await w.c.book({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: issue.id },
      lines: [w.c.line({ ref: issue.lines[0]!.id, act: 'take_back', item: it1.id })],
    })
    expect(early.body.code).to.equal('before_method_change')
    await slip({
      kind: 'bring_back',
      place: w.lab.id,
      lines: [w.c.line({ ref: issue.lines[0]!.id, item: it1.id, typed: '1' })],
    })
    expect([await stock(it1), value(/^used:/)], 'goods that come back come at what they were issued for').to.deep.equal(
      [['11', '44'], '36'],
    )
    await w.c.ok('POST', '/api/people', { name: 'Ruben', signIn: 'ruben', password: 'correct horse', role: 'keeper' })
    const keeper = new Client(w.c.base)
    await keeper.ok('POST', '/api/session', { signIn: 'ruben', password: 'correct horse' })
    expect(
      (await keeper.book({ kind: 'method_change', head: { method: 'fifo' }, lines: [w.c.line({ item: it1.id })] }))
        .status,
    ).to.equal(403)
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('count: found too many asks what one is worth where nobody knows; taking the count back undoes all of it', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    const count = (more: object) => ({
      kind: 'count' as const,
      place: w.lab.id,
      lines: [w.c.line({ item: it1.id, from: w.lab.id, counted: 'counted' as const, typed: '6', again: '6', ...more })],
    })
    tick()
    expect((await w.c.book(count({}))).body.code).to.equal('cost_asked')
    const booked = await slip(count({ unitCost: '2' }))
    expect([await stock(it1), value(/^difference:/)]).to.deep.equal([['6', '12'], '-12'])
    const [d] = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows
    expect([d!.open, d!.value]).to.deep.equal(['6', '12'])
    await slip({ kind: 'closing', place: w.lab.id, lines: [w.c.line({ difference: d!.id, act: 'close' })] })
    expect([value(/^difference:/), value(/^(gain|loss)$/)]).to.deep.equal(['0', '-12'])
    const early = await w.c.call('POST', `/api/slips/${booked.id}/reversal`, { id: v7() })
    expect(early.status, 'its closing comes first').to.equal(422)
    const closing = (await w.c.get<{ rows: { id: string }[] }>('/api/slips?kind=closing')).rows[0]!
    for (const [corrects, whole] of [
      [booked.id, 'already_closed'],
      [closing.id, 'replace_whole'],
    ] as const)
      for (const [act, code] of [
        ['replace', whole],
        ['none', 'act_needed'],
        ['found', 'act_needed'],
      ] as const) {
        const ref = (await w.c.get<SlipView>(`/api/slips/${corrects}`)).lines[0]!.id
        const line = w.c.line({ ref, act, item: it1.id, typed: '1' })
        const r = await w.c.book({ kind: 'correction', place: w.lab.id, head: { corrects }, lines: [line] })
        expect(
          [r.status, r.body.code],
          `${act} of a closed count or a closing: the closing is taken back first, and whole`,
        ).to.deep.equal([...[422, code]])
      }
    await w.c.ok('POST', `/api/slips/${closing.id}/reversal`, { id: v7() })
    await w.c.ok('POST', `/api/slips/${booked.id}/reversal`, { id: v7() })
    expect([await stock(it1), value(/^difference:/)]).to.deep.equal([['0', '0'], '0'])
  })
  it('count: not counted, confirmed and zero are three things', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    const it2 = await newItem(w.c, { name: 'Masks' })
    const it3 = await newItem(w.c, { name: 'Caps' })
    for (const i of [it1, it2, it3]) await receive(i, '5', '1')
    await slip({
      kind: 'count',
      place: w.lab.id,
      lines: [
        w.c.line({ item: it1.id, from: w.lab.id, counted: 'not' }),
        w.c.line({ item: it2.id, from: w.lab.id, counted: 'confirmed' }),
        w.c.line({ item: it3.id, from: w.lab.id, counted: 'counted', typed: '0', again: '0' }),
      ],
    })
    expect([await stock(it1), await stock(it2), await stock(it3)].map(s => s[0])).to.deep.equal(['5', '5', '0'])
    expect(
      Number(w.app.store.client.prepare('select count(*) from tally').pluck().get()),
      'what was not counted has no tally',
    ).to.equal(2)
  })
  it('count: blind, the effect tells nothing of what was expected until two counts agree', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '50', '1')
    const ask = (blind: boolean, again: string) =>
      w.c.effect({
        kind: 'count',
        place: w.lab.id,
        head: { blind },
        lines: [w.c.line({ item: it1.id, from: w.lab.id, counted: 'counted', typed: '40', again })],
      })
    const told = (e: Effect) => [e.ok, e.lines[0]?.expected, e.lines[0]?.difference]
    expect(told(await ask(true, ''))).to.deep.equal([false, null, null])
    const line = w.c.line({ item: it1.id, from: w.lab.id, counted: 'counted', typed: '40' })
    const hidden = await w.c.call('POST', `/api/slips/${v7()}/effect/working`, {
      content: { kind: 'count', place: w.lab.id, lines: [line] },
      line: line.id,
      figure: 'expected',
    })
    expect([hidden.status, hidden.body.code], 'nor does a working').to.deep.equal([403, 'not_shown'])
    expect(told(await ask(false, ''))).to.deep.equal([false, '50', '-10'])
    expect(told(await ask(true, '40'))).to.deep.equal([true, '50', '-10'])
  })

  it('a held or recalled lot is refused for a job, and its change of state has a history', async () => {
    const it1 = await newItem(w.c, { name: 'Reagent', identifiedBy: 'lot' })
    await receive(it1, '5', '1', { lot: { code: 'R1' } })
    const [lot] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${it1.id}/lots`)).rows
    await w.c.ok('PUT', `/api/lots/${lot!.id}/state`, { held: 'recalled', why: 'its maker says so' })
    const issue = {
      kind: 'issue' as const,
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: it1.id, typed: '1' })],
    }
    const r = await w.c.book(issue)
    expect([r.body.code, r.body.fields[0]!.detail.unusable]).to.deep.equal(['insufficient_stock', '5'])
    await w.c.ok('PUT', `/api/lots/${lot!.id}/state`, { held: 'usable', why: 'it was another lot' })
    await slip(issue)
    expect(w.app.store.client.prepare('select held, why from lot_state order by rowid').all()).to.deep.equal([
      { held: 'recalled', why: 'its maker says so' },
      { held: 'usable', why: 'it was another lot' },
    ])
  })
  it('serial numbers: one of each, moved and brought back as themselves', async () => {
    const probe = await newItem(w.c, { name: 'Probe', identifiedBy: 'serial' })
    await slip({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: ['P1', 'P2'].map(code => w.c.line({ item: probe.id, typed: '1', price: '90', lot: { code } })),
    })
    const twice = await w.c.book({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: ['P3', 'P3'].map(code => w.c.line({ item: probe.id, typed: '1', price: '90', lot: { code } })),
    })
    expect(twice.body.code).to.equal('serial_twice')
    const out = await forJob('issue', { item: probe.id, typed: '1', lot: { code: 'P2' } })
    expect(out.lines[0]!.movements[0]!.lot).to.equal('P2')
    const back = await forJob('bring_back', { item: probe.id, typed: '1' })
    expect((await w.c.get<SlipView>(`/api/slips/${back.id}`)).lines[0]!.movements[0]!.lot).to.equal('P2')
  })
})
