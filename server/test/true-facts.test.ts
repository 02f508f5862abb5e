import { expect } from 'chai'
import type { DifferenceView, Item, ItemStock, SlipContentInput, SlipView } from '@shelve/contract'
import { schema, verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

const HOUR = 3_600_000
type Line = NonNullable<SlipContentInput['lines']>[number]
/** What is true can be written down: rules 47 to 60 and 68 of the design, each by what somebody would do. */
describe('what is true can be written down', () => {
  let w: World
  let job: string
  let other: string
  beforeEach(async () => {
    w = await world()
    const make = (code: string) => w.c.ok<{ id: string }>('POST', '/api/jobs', { code, name: code }).then(r => r.id)
    ;[job, other] = [await make('ONE'), await make('TWO')]
  })
  afterEach(() => w.stop())
  /** Afterwards the books agree. */
  const fact = (what: string, run: () => Promise<void>) =>
    it(what, async () => {
      await run()
      expect(verify(w.app).faults).to.deep.equal([])
    })
  const at = (ms: number) => new Date(ms).toISOString()
  /** A slip is booked an hour after the one before. */
  const slip = (content: object): Promise<SlipView> => {
    w.clock.now += HOUR
    return w.c.must({ place: w.lab.id, ...content } as SlipContentInput)
  }
  const said = async (content: object): Promise<string[]> => {
    w.clock.now += HOUR
    const r = await w.c.book({ place: w.lab.id, ...content } as SlipContentInput)
    return r.status === 201 ? ['booked'] : r.body.fields.length ? r.body.fields.map(f => f.code) : [r.body.code]
  }
  const line = (item: Item, typed: string, more: Partial<Line> = {}) => w.c.line({ item: item.id, typed, ...more })
  const receive = (item: Item, typed: string, price = '1', more: Partial<Line> = {}) =>
    slip({ kind: 'receipt', head: { supplier: 'Aster' }, lines: [line(item, typed, { price, ...more })] })
  const issue = (item: Item, typed: string, more: Partial<Line> = {}) =>
    slip({ kind: 'issue', head: { job }, lines: [line(item, typed, more)] })
  const count = (item: Item, typed: string, more: Partial<Line> = {}) =>
    slip({
      kind: 'count',
      lines: [line(item, typed, { from: w.lab.id, counted: 'counted', again: typed, ...more })],
    })
  /** Puts the first line of a slip right. */
  const correction = (of: SlipView, act: Line['act'], typed = '', more: Partial<Line> = {}, head: object = {}) => ({
    kind: 'correction' as const,
    head: { corrects: of.id, ...head },
    lines: [w.c.line({ item: of.content!.lines[0]!.item!, ref: of.lines[0]!.id, act, typed, ...more })],
  })
  const there = async (item: Item) => {
    const { onHand, value } = await w.c.get<ItemStock>(`/api/items/${item.id}/stock`)
    return [onHand, value]
  }
  const closeMonths = async (...months: string[]) => {
    for (const month of months) await w.c.ok('POST', '/api/months', { month })
  }

  fact('48: a replacement in a closed month keeps the count true', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    const start = Date.UTC(2026, 9, 20, 8)
    w.clock.now = start
    await receive(it1, '20')
    const ten = await receive(it1, '10')
    const one = await receive(it1, '1')
    await count(it1, '28')
    w.clock.now = Date.UTC(2026, 10, 3, 8)
    await closeMonths('2026-10')
    await slip(correction(ten, 'replace', '7', { price: '1' }, { supplier: 'Aster' }))
    expect((await there(it1))[0]).to.equal('28')
    await slip(correction(one, 'take_back'))
    expect((await there(it1))[0]).to.equal('28')
  })
  fact('48: dated after the count instead it counts from there', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    w.clock.now = Date.UTC(2026, 9, 20, 8)
    await receive(it1, '20')
    const ten = await receive(it1, '10')
    const one = await receive(it1, '1')
    await count(it1, '28')
    w.clock.now = Date.UTC(2026, 10, 3, 8)
    await closeMonths('2026-10')
    await slip({
      ...correction(ten, 'replace', '7', { price: '1' }, { supplier: 'Aster' }),
      effectiveAt: at(w.clock.now),
    })
    expect((await there(it1))[0]).to.equal('35')
    await slip(correction(one, 'take_back'))
    expect((await there(it1))[0]).to.equal('35')
  })
  fact('36: a count in a closed month is put right: what lies now is what it says, and what came since', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    w.clock.now = Date.UTC(2026, 9, 20, 8)
    await receive(it1, '10')
    const c = await count(it1, '8')
    await receive(it1, '5')
    w.clock.now = Date.UTC(2026, 10, 3, 8)
    await closeMonths('2026-10')
    await slip(correction(c, 'replace', '9'))
    expect((await there(it1))[0]).to.equal('14')
    const open = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows
    expect(open.map(d => [d.expected, d.open])).to.deep.equal([['10', '-1']])
  })
  for (const [what, typed, to] of [
    ['by four', '4', 'job'],
    ['for another job', '5', 'other'],
  ] as const)
    fact(`49: five received, five issued, the issue is replaced ${what}`, async () => {
      const it1 = await newItem(w.c, { name: 'Gloves' })
      await receive(it1, '5')
      const i = await issue(it1, '5')
      await slip(correction(i, 'replace', typed, {}, { job: to === 'job' ? job : other }))
      expect((await there(it1))[0]).to.equal(String(5 - Number(typed)))
    })
  for (const decimals of [0, 3])
    fact(`47: 100 gal at 10 a gal of an item kept in litres with ${decimals} decimals are 1 000`, async () => {
      const it1 = await newItem(w.c, { name: 'Diesel', unit: 'L', decimals })
      const r = await slip({
        kind: 'receipt',
        head: { supplier: 'Aster' },
        lines: [line(it1, '100 gal', { price: '10', unit: 'gal' })],
      })
      expect((await there(it1))[1]).to.equal('1000')
      expect(r.value).to.equal('1000')
    })
  fact('50: lot A, 4 issued, 3 back, replaced by lot B', async () => {
    const it1 = await newItem(w.c, { name: 'Acid', identifiedBy: 'lot' })
    await receive(it1, '5', '1', { lot: { code: 'A' } })
    await receive(it1, '5', '1', { lot: { code: 'B' } })
    const i = await issue(it1, '4', { lot: { code: 'A' } })
    await slip({ kind: 'bring_back', lines: [w.c.line({ ref: i.lines[0]!.id, item: it1.id, typed: '3' })] })
    const r = await said(correction(i, 'replace', '4', { lot: { code: 'B' } }, { job }))
    expect([r, (await there(it1))[0]]).to.deep.equal([['brought_back'], '9'])
  })
  fact('51: a serial issued, received anew, the issue taken back: never two', async () => {
    const it1 = await newItem(w.c, { name: 'Meter', identifiedBy: 'serial' })
    await receive(it1, '1', '100', { lot: { code: 'S1' } })
    const i = await issue(it1, '1', { lot: { code: 'S1' } })
    const again = await said({
      kind: 'receipt',
      head: { supplier: 'Aster' },
      lines: [line(it1, '1', { price: '90', lot: { code: 'S1' } })],
    })
    const back = await said(correction(i, 'take_back'))
    expect([again, back, (await there(it1))[0]]).to.deep.equal([['booked'], ['serial_already_here'], '1'])
  })
  fact('51: five of a serial cannot be counted', async () => {
    const it1 = await newItem(w.c, { name: 'Meter', identifiedBy: 'serial' })
    await receive(it1, '1', '100', { lot: { code: 'S1' } })
    expect(
      await said({
        kind: 'count',
        lines: [line(it1, '5', { from: w.lab.id, lot: { code: 'S1' }, counted: 'counted', again: '5', unitCost: '1' })],
      }),
    ).to.deep.equal(['serial_is_one'])
  })
  fact('a correction of a count line that says replace replaces; none does nothing', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '10')
    const c = await count(it1, '8')
    const differences = async () =>
      (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows.map(d => [d.expected, d.open])
    expect(await said(correction(c, 'none'))).to.deep.equal(['act_needed'])
    const replaced = await slip(correction(c, 'replace', '9'))
    const told = async (of: SlipView) =>
      (await w.c.get<SlipView>(`/api/slips/${of.id}`)).lines.map(l => [l.quantity, l.state, l.by?.number])
    expect([await told(c), await told(replaced)]).to.deep.equal([
      [['8', 'replaced', replaced.number]],
      [['9', 'stands', undefined]],
    ])
    expect([(await there(it1))[0], await differences()]).to.deep.equal(['9', [['10', '-1']]])
    // The correction can be corrected; taken back, what was counted says nothing any more.
    await slip({ ...correction(replaced, 'replace', '12', { unitCost: '3' }), head: { corrects: replaced.id } })
    expect([(await there(it1))[0], await differences()]).to.deep.equal(['12', [['10', '2']]])
  })
  fact('7: standard without a cost is refused; its cost is set by a slip', async () => {
    const it1 = await newItem(w.c, { name: 'Bolts' })
    await receive(it1, '10', '2')
    const change = (unitCost: string) =>
      said({
        kind: 'method_change',
        place: null,
        head: { method: 'standard' },
        lines: [w.c.line({ item: it1.id, unitCost })],
      })
    expect([await change(''), await change('3'), await there(it1)]).to.deep.equal([
      ['standard_needed'],
      ['booked'],
      ['10', '30'],
    ])
    expect([await change('3.5'), await there(it1)]).to.deep.equal([['booked'], ['10', '35']])
    await issue(it1, '2')
    expect(await there(it1)).to.deep.equal(['8', '28'])
  })
  fact('47: 10 credited for a case over three lots is 10', async () => {
    const it1 = await newItem(w.c, {
      name: 'Acid',
      identifiedBy: 'lot',
      packs: [{ name: 'case', size: '3', codes: [], buying: true, issuing: true, counting: true }],
    })
    for (const code of ['A', 'B', 'C']) await receive(it1, '1', '7', { lot: { code } })
    const r = await slip({
      kind: 'supplier_return',
      head: { supplier: 'Aster' },
      lines: [line(it1, '1', { unit: 'case', price: '10' })],
    })
    expect([r.value, await there(it1)]).to.deep.equal(['-21', ['0', '0']])
    const goods = w.app.db
      .select()
      .from(schema.movement)
      .all()
      .filter(m => m.kind === 'return')
    expect(goods.reduce((sum, m) => sum + (m.goods ?? 0n), 0n)).to.equal(10_000_000n)
  })
  const changeMethod = (item: Item, method: string) =>
    slip({ kind: 'method_change', place: null, head: { method }, lines: [line(item, '')] })
  const settle = (d: DifferenceView, act: 'found' | 'close', typed = '') =>
    slip({ kind: 'closing', lines: [w.c.line({ difference: d.id, act, typed })] })
  fact(
    '50: after a change of method an open difference is found in part and closed, an issue brought back',
    async () => {
      const it1 = await newItem(w.c, { name: 'Gloves' })
      await receive(it1, '10', '2')
      const i = await issue(it1, '4')
      await count(it1, '3')
      await changeMethod(it1, 'fifo')
      const [open] = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows
      await settle(open!, 'found', '1')
      await settle(open!, 'close')
      expect((await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows).to.deep.equal([])
      await slip({ kind: 'bring_back', head: { job }, lines: [line(it1, '2', { ref: i.lines[0]!.id })] })
      expect(await there(it1)).to.deep.equal(['6', '12'])
    },
  )
  fact('50: where nothing lies the method is changed with the item; what is out comes back', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '4', '2')
    await issue(it1, '4')
    const { code, name, unit } = await w.c.get<Item>(`/api/items/${it1.id}`)
    await w.c.ok('PUT', `/api/items/${it1.id}`, { code, name, unit, method: 'fifo' })
    await slip({ kind: 'bring_back', head: { job }, lines: [line(it1, '3')] })
    expect(await there(it1)).to.deep.equal(['3', '6'])
  })
  fact('50: a serial item’s method is changed; each is there once before and after', async () => {
    const it1 = await newItem(w.c, { name: 'Pump', identifiedBy: 'serial' })
    for (const code of ['A', 'B']) await receive(it1, '1', '20', { lot: { id: null, code, expiry: null } })
    await changeMethod(it1, 'lot')
    expect(await there(it1)).to.deep.equal(['2', '40'])
    expect(
      await said({
        kind: 'receipt',
        head: { supplier: 'Aster' },
        lines: [line(it1, '1', { price: '1', lot: { id: null, code: 'A', expiry: null } })],
      }),
    ).to.deep.equal(['serial_already_here'])
  })
  fact('50: what came before an item had lots goes, is counted, found and brought back without one', async () => {
    const it1 = await newItem(w.c, { name: 'Agar' })
    await receive(it1, '10', '2')
    const i = await issue(it1, '4')
    await count(it1, '5')
    const { code, name, unit } = await w.c.get<Item>(`/api/items/${it1.id}`)
    await w.c.ok('PUT', `/api/items/${it1.id}`, { code, name, unit, identifiedBy: 'lot_expiry' })
    const [open] = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows
    await settle(open!, 'found', '1')
    await slip({ kind: 'bring_back', head: { job }, lines: [line(it1, '2', { ref: i.lines[0]!.id })] })
    await issue(it1, '3')
    expect(await there(it1)).to.deep.equal(['5', '10'])
    const { rows } = await w.c.get<{ rows: { id: string; code: string | null }[] }>(`/api/items/${it1.id}/lots`)
    const plain = rows.find(l => !l.code)
    await count(it1, '4', { lot: { id: plain!.id, code: '', expiry: null } })
    expect((await there(it1))[0]).to.equal('4')
    expect(
      await said({ kind: 'receipt', head: { supplier: 'Aster' }, lines: [line(it1, '1', { price: '1' })] }),
    ).to.deep.equal(['lot_needed'])
  })
  fact(
    '7: an item is not costed by a standard without one, when it is made, changed or taken over from its category',
    async () => {
      const fields = { code: 'BLT', name: 'Bolt', unit: 'each', method: 'standard' }
      const wrong = async (method: 'POST' | 'PUT', path: string, body: object) => {
        const r = await w.c.call<{ fields: { field: string; code: string }[] }>(method, path, body)
        return r.status < 300 ? r.status : r.body.fields.map(f => `${f.field} ${f.code}`)[0]
      }
      const needed = 'standardCost standard_needed'
      expect(await wrong('POST', '/api/items', fields)).to.equal(needed)
      expect(await wrong('POST', '/api/items', { ...fields, standardCost: 'dear' })).to.equal(
        'standardCost not_a_price',
      )
      const it1 = await newItem(w.c, { ...fields, standardCost: '2.5' })
      expect(it1.standardCost).to.equal('2.5')
      const put = (more: object) => wrong('PUT', `/api/items/${it1.id}`, { ...fields, ...more })
      // It keeps what it has; before anything moved another one is simply another one.
      expect([await put({}), await put({ standardCost: '3' })]).to.deep.equal([200, 200])
      await receive(it1, '2', '4')
      expect(await there(it1)).to.deep.equal(['2', '6'])
      expect([await put({ standardCost: '3' }), await put({ standardCost: '4' })]).to.deep.equal([
        200,
        'standardCost standard_by_slip',
      ])

      const { id: category } = await w.c.ok<{ id: string }>('POST', '/api/categories', {
        name: 'Fixings',
        method: 'standard',
      })
      const inherits = { code: 'NUT', name: 'Nut', unit: 'each', category }
      expect(await wrong('POST', '/api/items', inherits)).to.equal(needed)
      expect(await wrong('POST', '/api/items', { ...inherits, standardCost: '0' })).to.equal(201)
      const other = await newItem(w.c, { code: 'WSH', name: 'Washer' })
      await receive(other, '1', '1')
      await issue(other, '1')
      const moved = { code: 'WSH', name: 'Washer', unit: 'each', method: 'standard' }
      // Each is told of by itself: what moved of others, and what lies of them, is not about it.
      const told = async (id: string) => {
        const { unitFrozen, methodBySlip } = await w.c.get<Item>(`/api/items/${id}`)
        return [unitFrozen, methodBySlip]
      }
      const fresh = await newItem(w.c, { code: 'NEW', name: 'New' })
      expect([await told(fresh.id), await told(other.id), await told(it1.id)]).to.deep.equal([
        [false, false],
        [true, false],
        [true, true],
      ])
      expect(await wrong('PUT', `/api/items/${other.id}`, moved), 'nothing of it lies').to.equal(needed)
      expect(await wrong('PUT', `/api/items/${other.id}`, { ...moved, standardCost: '1.25' })).to.equal(200)
      await receive(other, '4', '1')
      expect(await there(other)).to.deep.equal(['4', '5'])
    },
  )
  for (const [what, acts, worth] of [
    [
      'invoiced as 25, the price corrected to 3',
      [
        ['invoiced_as', { invoiced: '25' }],
        ['price', { price: '3' }],
      ],
      '25',
    ],
    [
      '5 more invoiced, the price corrected to 3',
      [
        ['invoice', { price: '5' }],
        ['price', { price: '3' }],
      ],
      '35',
    ],
    [
      '5 less invoiced, replaced by as many at 3',
      [
        ['invoice', { price: '-5' }],
        ['replace', { price: '3' }],
      ],
      '25',
    ],
    [
      'replaced by 8, the invoice stated anew',
      [
        ['invoice', { price: '5' }],
        ['replace', { price: '3', invoiced: '26' }, '8'],
      ],
      '26',
    ],
  ] as [string, [Line['act'], Partial<Line>, string?][], string][])
    fact(`52: 10 at 2, ${what}: ${worth}`, async () => {
      const it1 = await newItem(w.c, { name: 'Gloves' })
      let of = await receive(it1, '10', '2')
      for (const [act, more, typed] of acts) {
        const by = await slip(
          correction(of, act, typed ?? (act === 'replace' ? '10' : ''), more, { supplier: 'Aster' }),
        )
        if (act === 'replace') of = by
      }
      expect((await there(it1))[1]).to.equal(worth)
    })
  fact(
    '52: an invoiced line is replaced by another quantity only where both amounts are stated; an invoice of three lots is of all of them',
    async () => {
      const it1 = await newItem(w.c, { name: 'Gloves' })
      const r = await receive(it1, '10', '2')
      await slip(correction(r, 'invoice', '', { price: '5' }))
      const put = (more: Partial<Line>) =>
        said(correction(r, 'replace', '8', { price: '2', ...more }, { supplier: 'Aster' }))
      expect([await put({}), await put({ invoiced: 'five' }), await put({ price: '', invoiced: '18' })]).to.deep.equal([
        ['invoice_needed'],
        ['not_a_price'],
        ['invoice_needed'],
      ])
      expect([await put({ invoiced: '18' }), await there(it1)]).to.deep.equal([['booked'], ['8', '18']])

      const drug = await newItem(w.c, { name: 'Serum', identifiedBy: 'lot' })
      for (const code of ['A', 'B', 'C']) await receive(drug, '1', '4', { lot: { id: null, code, expiry: null } })
      // What goes back to its supplier is of three lots, and credited anew by their paper.
      const back = await slip({
        kind: 'supplier_return',
        head: { supplier: 'Aster' },
        lines: [line(drug, '3', { price: '4' })],
      })
      await slip(correction(back, 'invoiced_as', '', { invoiced: '10' }))
      const now = await w.c.get<SlipView>(`/api/slips/${back.id}`)
      const credited = now.lines[0]!.movements.flatMap(m => (m.revalues ? [] : [m.quantity]))
      expect([credited.length, await there(drug)]).to.deep.equal([3, ['0', '0']])
    },
  )
  fact('54: what a line weighed when it came stays: freight by weight does not move with the item', async () => {
    const [light, heavy] = await Promise.all(
      [
        ['Foam', '100'],
        ['Lead', '300'],
      ].map(([name, mass]) => newItem(w.c, { name, mass })),
    )
    const r = await slip({
      kind: 'receipt',
      head: { supplier: 'Aster', charges: [{ label: 'Freight', amount: '8', basis: 'weight' }] },
      lines: [line(light!, '1', { price: '1' }), line(heavy!, '1', { price: '1' })],
    })
    const { code, name, unit, ownMethod: method } = await w.c.get<Item>(`/api/items/${light!.id}`)
    await w.c.ok('PUT', `/api/items/${light!.id}`, { code, name, unit, method, mass: '900' })
    await slip(correction(r, 'price', '', { price: '5' }))
    expect([(await there(light!))[1], (await there(heavy!))[1]]).to.deep.equal(['7', '7'])
    // What replaces it is of the same goods; what comes anew weighs what the item does now.
    await slip(correction(r, 'replace', '1', { price: '6' }, { supplier: 'Aster' }))
    expect([(await there(light!))[1], (await there(heavy!))[1]]).to.deep.equal(['8', '7'])
  })
  fact('54: a case is as large as it was when it came, whatever a case is now', async () => {
    const packs = (size: string) => ({ packs: [{ name: 'case', size }] })
    const it1 = await newItem(w.c, { name: 'Gloves', ...packs('12') })
    const r = await receive(it1, '2 case', '10', { unit: 'case' })
    expect(await there(it1)).to.deep.equal(['24', '20'])
    const { code, name, unit } = await w.c.get<Item>(`/api/items/${it1.id}`)
    const heap = (typed: string) => line(it1, typed, { from: w.lab.id, counted: 'counted', again: typed })
    const c = await slip({ kind: 'count', lines: [heap('1 case'), heap('12')] })
    w.clock.now += HOUR
    await w.c.ok('PUT', `/api/items/${it1.id}`, { code, name, unit, ...packs('10') })
    const shown = (await w.c.get<SlipView>(`/api/slips/${c.id}`)).lines
    expect(shown.map(l => l.quantity).sort(), 'a heap of one case').to.deep.equal(['12', '24'])
    // Its price is put right by the case that came; what came in truth is counted in those; what comes now in others.
    await slip(correction(r, 'price', '', { price: '15', unit: 'case' }))
    expect(await there(it1)).to.deep.equal(['24', '30'])
    await slip(correction(c, 'take_back'))
    await slip(correction(r, 'replace', '3 case', { price: '15', unit: 'case' }, { supplier: 'Aster' }))
    expect(await there(it1)).to.deep.equal(['36', '45'])
    await receive(it1, '1 case', '10', { unit: 'case' })
    expect(await there(it1)).to.deep.equal(['46', '55'])
  })
  fact('53: two heaps 10 + 15 of 25 are one line; confirmed twice is once', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '25')
    const heap = (typed: string, more: object = {}) => line(it1, typed, { from: w.lab.id, counted: 'counted', ...more })
    const two = await said({ kind: 'count', lines: [heap('10'), heap('15')] })
    const twice = await said({
      kind: 'count',
      lines: [heap('', { counted: 'confirmed' }), heap('', { counted: 'confirmed' })],
    })
    expect([two, twice, (await there(it1))[0]]).to.deep.equal([['booked'], ['booked'], '25'])
  })
  fact('55: milk good until the 26th, issued on the 25th, written on the 28th: booked', async () => {
    const it1 = await newItem(w.c, { name: 'Milk', identifiedBy: 'lot_expiry' })
    await receive(it1, '5', '1', { lot: { code: 'M', expiry: '2026-11-26' } })
    w.clock.now = Date.UTC(2026, 10, 28, 9)
    const content = {
      kind: 'issue',
      head: { job },
      effectiveAt: at(Date.UTC(2026, 10, 25, 16)),
      lines: [line(it1, '2')],
    }
    const lot = { ...content, lines: [line(it1, '1', { lot: { code: 'M' } })] }
    expect([
      await said(content),
      await said(lot),
      await said({ ...content, effectiveAt: null, lines: [line(it1, '1')] }),
    ]).to.deep.equal([['booked'], ['booked'], ['insufficient_stock']])
  })
  fact('replacing a bring-back and a find works or says why', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '10', '2')
    const i = await issue(it1, '5')
    const b = await slip({ kind: 'bring_back', lines: [w.c.line({ ref: i.lines[0]!.id, item: it1.id, typed: '3' })] })
    const more = await said(correction(b, 'replace', '6'))
    expect(more, 'no more than was issued').to.deep.equal(['more_than_issued'])
    const replaced = await said(correction(b, 'replace', '2'))
    await count(it1, '4')
    const { rows } = await w.c.get<{ rows: DifferenceView[] }>('/api/differences')
    const found = await slip({
      kind: 'closing',
      lines: [w.c.line({ difference: rows[0]!.id, act: 'found', item: it1.id, typed: '2', to: w.lab.id })],
    })
    const replacedFind = await said(correction(found, 'replace', '1'))
    expect([replaced, replacedFind, (await there(it1))[0]]).to.deep.equal([['booked'], ['replace_whole'], '6'])
  })
  fact('retired items take back what returns', async () => {
    const it1 = await newItem(w.c, { name: 'Gloves' })
    await receive(it1, '5')
    const i = await issue(it1, '5')
    await w.c.ok('DELETE', `/api/items/${it1.id}`)
    expect(
      await said({ kind: 'bring_back', lines: [w.c.line({ ref: i.lines[0]!.id, item: it1.id, typed: '1' })] }),
    ).to.deep.equal(['booked'])
    expect((await there(it1))[0]).to.equal('1')
    expect(await said({ kind: 'issue', head: { job }, lines: [line(it1, '1')] })).to.deep.equal(['booked'])
    expect(
      await said({ kind: 'receipt', head: { supplier: 'Aster' }, lines: [line(it1, '1', { price: '1' })] }),
    ).to.deep.equal(['item_retired'])
  })
  fact('68: what is a charge is received and charged, never a place or a pool', async () => {
    const it1 = await newItem(w.c, { name: 'Call-out', kept: 'charge' })
    const r = await said({
      kind: 'receipt',
      head: { supplier: 'Aster' },
      lines: [line(it1, '1', { price: '80', direct: { job } })],
    })
    const shelf = await said({ kind: 'receipt', head: { supplier: 'Aster' }, lines: [line(it1, '1', { price: '80' })] })
    expect([r, shelf]).to.deep.equal([['booked'], ['for_whom']])
    expect(await there(it1)).to.deep.equal(['0', '0'])
    const headed = await slip({
      kind: 'receipt',
      head: { supplier: 'Aster', job },
      lines: [line(it1, '2', { price: '5' })],
    })
    expect(headed.lines[0]!.movements.map(m => [m.kind, m.quantity, m.value])).to.deep.equal([['direct', '2', '10']])
  })
})
