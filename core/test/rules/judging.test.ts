import { expect } from 'chai'
import {
  type AccountKind,
  type Booked,
  type DraftLine,
  formatDecimal,
  type ItemRule,
  type LotRule,
  type Refusal,
  type SlipKind,
} from '@shelve/core'
import { factKind, judgeLine, judgeSince, judgeTime } from '../../src/ledger/judge.ts'
import { A, MINUTE, World } from '../ledger/world.ts'

const MOST = 10n ** 15n
const key = (m: { costSeq: number; part: number }) => ({ costSeq: m.costSeq, part: m.part })
/** A refusal in one line: what, at which line and field, and every detail. */
const told = (r: readonly Refusal[]) =>
  r.map(x => [x.code, x.lineId, x.field, JSON.parse(JSON.stringify(x.detail)) as unknown])
const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : told(r))

const NAMED = {
  place: A.shelf,
  place2: A.bench,
  supplier: A.supplier,
  used: A.jobA,
  used2: A.jobB,
  waste: A.waste,
  opening: A.opening,
  made: A.made,
  relabel: A.relabel,
  loss: A.loss,
  gain: A.gain,
  difference: A.difference + 1,
  stock: A.stock,
  price_difference: A.priceDifference,
} as const
type Name = keyof typeof NAMED
const kindOf = (n: Name): AccountKind => (n === 'place2' ? 'place' : n === 'used2' ? 'used' : n)

describe('which accounts a line runs between, by kind of slip', () => {
  // All that may be, each with how a line between such accounts is valued.
  const lines: Record<string, [from: Name, to: Name, valued: string][]> = {
    opening: [['opening', 'place', 'receipt']],
    receipt: [
      ['supplier', 'place', 'receipt'],
      ['supplier', 'used', 'direct'],
    ],
    issue: [
      ['place', 'used', 'out'],
      ['place', 'waste', 'out'],
    ],
    bring_back: [
      ['used', 'place', 'back'],
      ['used', 'waste', 'spoil'],
    ],
    recharge: [['used', 'used2', 'recharge']],
    move: [['place', 'place2', 'move']],
    dispatch: [['place', 'place2', 'move']],
    arrival: [['place', 'place2', 'move']],
    waste: [['place', 'waste', 'out']],
    relabel: [
      ['place', 'relabel', 'event_out'],
      ['relabel', 'place', 'event_in'],
    ],
    method_change: [
      ['place', 'relabel', 'event_out'],
      ['relabel', 'place', 'event_in'],
    ],
    make: [
      ['place', 'made', 'event_out'],
      ['made', 'place', 'event_in'],
      ['place', 'waste', 'out'],
    ],
    supplier_return: [['place', 'supplier', 'return']],
    closing: [
      ['difference', 'place', 'found'],
      ['difference', 'loss', 'close'],
      ['gain', 'difference', 'close'],
    ],
    count: [],
    correction: [],
  }
  const w = new World([{ method: 'average' }])
  for (const [kind, right] of Object.entries(lines))
    it(`${kind}: ${right.map(([f, t]) => `${f} → ${t}`).join(', ') || 'none'}, and no other`, () => {
      for (const from of Object.keys(NAMED) as Name[])
        for (const to of Object.keys(NAMED) as Name[]) {
          if (from === to) continue
          const goods = kind === 'supplier_return' ? 1n : null
          const line = w.line(NAMED[from], NAMED[to], '1', { lineId: 'x', goods })
          const fits = right.some(([f, t]) => kindOf(f) === kindOf(from) && kindOf(t) === kindOf(to))
          expect(told(judgeLine(w.books, w.context, kind as SlipKind, line, w.now)), `${from} → ${to}`).to.deep.equal(
            fits ? [] : [['wrong_accounts', 'x', 'to', { kind, from: kindOf(from), to: kindOf(to) }]],
          )
        }
    })
  it('how such a line is valued; between any other accounts there is no line', () => {
    const valued = new Map(
      Object.values(lines).flatMap(l => l.map(([f, t, v]) => [`${kindOf(f)} → ${kindOf(t)}`, v] as const)),
    )
    for (const from of Object.keys(NAMED) as Name[])
      for (const to of Object.keys(NAMED) as Name[])
        expect(factKind(kindOf(from), kindOf(to)), `${from} → ${to}`).to.equal(
          valued.get(`${kindOf(from)} → ${kindOf(to)}`),
        )
  })
})

describe('a line by itself, each refusal and each boundary', () => {
  interface Given {
    readonly kind?: SlipKind
    readonly line?: Partial<DraftLine>
    readonly item?: Partial<ItemRule>
    readonly lot?: Partial<LotRule>
  }
  /** A delivery of one; its lot is L0 where the item has lots. */
  const judged = ({ kind = 'receipt', line = {}, item = {}, lot = {} }: Given) => {
    const w = new World([{ method: 'average', lots: 1, identifiedBy: 'quantity', decimals: 2 }, { method: 'average' }])
    Object.assign(w.books.lot(100)!, { code: null, ...lot })
    Object.assign(w.books.item(1)!, item)
    const base = w.line(A.supplier, A.shelf, '1', { lineId: 'x', goods: null })
    return told(judgeLine(w.books, w.context, kind, { ...base, ...line }, w.now))
  }
  const no = (code: string, field: string, detail: object = {}) => [[code, 'x', field, detail]]
  const issue = { kind: 'issue' as const, line: { from: A.shelf, to: A.jobA } }
  const day = '2026-01-05'
  for (const [what, given, refused] of [
    ['as it should be', {}, []],
    ['of nothing known', { line: { itemId: 99 } }, no('unknown_item', 'item', { item: 99 })],
    ['from nowhere known', { line: { from: 999_999 } }, no('unknown_account', 'from')],
    ['to nowhere known', { line: { to: 999_999 } }, no('unknown_account', 'to')],
    ['from and to nowhere known', { line: { from: 999_998, to: 999_999 } }, no('unknown_account', 'from')],
    ['to where it is', { kind: 'move', line: { from: A.shelf } }, no('same_place', 'to')],
    ['of nothing', { line: { quantity: 0n } }, no('not_positive', 'quantity', { given: '0' })],
    ['of less than nothing', { line: { quantity: -1_000_000n } }, no('not_positive', 'quantity', { given: '-1' })],
    ['of the most there is', { line: { quantity: MOST } }, []],
    [
      'of more',
      { line: { quantity: MOST + 10_000n } },
      no('too_large', 'quantity', { given: '1000000000.01', most: '1000000000' }),
    ],
    ['of as fine as is kept', { line: { quantity: 10_000n } }, []],
    ['of finer', { line: { quantity: 1000n } }, no('too_many_decimals', 'quantity', { given: '0.001', decimals: 2 })],
    ['a closing of nothing', { kind: 'closing', line: { from: A.difference + 1, to: A.loss, quantity: 0n } }, []],
    [
      'a closing of less',
      { kind: 'closing', line: { from: A.difference + 1, to: A.loss, quantity: -1_000_000n } },
      no('not_positive', 'quantity', { given: '-1' }),
    ],
    [
      'a find of nothing',
      { kind: 'closing', line: { from: A.difference + 1, quantity: 0n } },
      no('not_positive', 'quantity', { given: '0' }),
    ],
    ['a charge onto a shelf', { item: { kept: 'charge' } }, no('not_stocked', 'to')],
    ['a charge to whoever is charged', { item: { kept: 'charge' }, line: { to: A.jobA } }, []],
    ['what is bought for someone, onto a shelf', { item: { kept: 'bought_for' } }, no('bought_for_someone', 'to')],
    [
      'what is bought for someone, off a shelf',
      { ...issue, item: { kept: 'bought_for' } },
      no('bought_for_someone', 'to'),
    ],
    ['for nothing', { line: { goods: 0n } }, []],
    ['for the most there is', { line: { goods: MOST } }, []],
    ['for less than nothing', { line: { goods: -1n } }, no('price_out_of_range', 'price', { given: '-0.000001' })],
    ['for more', { line: { goods: MOST + 1n } }, no('price_out_of_range', 'price', { given: '1000000000.000001' })],
    [
      'back to the supplier for nothing said',
      { kind: 'supplier_return', line: { from: A.shelf, to: A.supplier } },
      no('credit_needed', 'price'),
    ],
    [
      'back to the supplier for nothing',
      { kind: 'supplier_return', line: { from: A.shelf, to: A.supplier, goods: 0n } },
      [],
    ],
    ['of a lot of another item', { line: { lotId: 200 } }, no('lot_of_another_item', 'lot')],
    ['of a lot nobody knows', { line: { lotId: 999 } }, no('lot_of_another_item', 'lot')],
    ['with a lot that it has not', { lot: { code: 'L0' } }, no('item_without_lots', 'lot', { lot: 'L0' })],
    ['off a shelf with one that it had', { ...issue, lot: { code: 'L0' } }, []],
    ['without a lot that it has', { item: { identifiedBy: 'lot' } }, no('lot_needed', 'lot', { identifiedBy: 'lot' })],
    [
      'without its lot and day',
      { item: { identifiedBy: 'lot_expiry' } },
      no('lot_needed', 'lot', { identifiedBy: 'lot_expiry' }),
    ],
    ['without its day', { item: { identifiedBy: 'lot_expiry' }, lot: { code: 'L0' } }, no('expiry_needed', 'expiry')],
    ['with lot and day', { item: { identifiedBy: 'lot_expiry' }, lot: { code: 'L0', expiry: day } }, []],
    ['with a lot, no day wanted', { item: { identifiedBy: 'lot' }, lot: { code: 'L0' } }, []],
    ['off a shelf as it came, before it had lots', { ...issue, item: { identifiedBy: 'lot_expiry' } }, []],
    ['used on its last day', { ...issue, lot: { expiry: day } }, []],
    [
      'used the day after',
      { ...issue, lot: { expiry: '2026-01-04' } },
      no('lot_not_usable', 'lot', { lot: null, state: 'expired', expiry: '2026-01-04' }),
    ],
    [
      'used though held',
      { ...issue, lot: { held: 'held' } },
      no('lot_not_usable', 'lot', { lot: null, state: 'held', expiry: null }),
    ],
    [
      'used though recalled',
      { ...issue, lot: { code: 'L0', held: 'recalled' } },
      no('lot_not_usable', 'lot', { lot: 'L0', state: 'recalled', expiry: null }),
    ],
    ['used on somebody’s word', { kind: 'issue', line: { ...issue.line, override: true }, lot: { held: 'held' } }, []],
    [
      'made into something though held',
      { kind: 'make', line: { from: A.shelf, to: A.made }, lot: { held: 'held' } },
      no('lot_not_usable', 'lot', { lot: null, state: 'held', expiry: null }),
    ],
    [
      'spoiled while something is made',
      { kind: 'make', line: { from: A.shelf, to: A.waste }, lot: { held: 'held' } },
      [],
    ],
    ['spoiled at a job', { kind: 'issue', line: { from: A.shelf, to: A.waste }, lot: { expiry: '2025-01-01' } }, []],
    ['made from something', { kind: 'make', line: { from: A.made }, lot: { held: 'held' } }, []],
    ['wasted though held', { kind: 'waste', line: { from: A.shelf, to: A.waste }, lot: { held: 'held' } }, []],
    ['moved though out of date', { kind: 'move', line: { from: A.bench }, lot: { expiry: '2025-01-01' } }, []],
    [
      'two of a serial number',
      { item: { identifiedBy: 'serial' }, lot: { code: 'S' }, line: { quantity: 2_000_000n } },
      no('serial_is_one', 'quantity'),
    ],
    [
      'half of one',
      { item: { identifiedBy: 'serial' }, lot: { code: 'S' }, line: { quantity: 500_000n } },
      no('serial_is_one', 'quantity'),
    ],
    ['one', { item: { identifiedBy: 'serial' }, lot: { code: 'S' } }, []],
    [
      'too much, too dear and without its lot: all of it is said',
      { item: { identifiedBy: 'lot' }, line: { quantity: 0n, goods: -1n } },
      [
        ...no('not_positive', 'quantity', { given: '0' }),
        ...no('price_out_of_range', 'price', { given: '-0.000001' }),
        ...no('lot_needed', 'lot', { identifiedBy: 'lot' }),
      ],
    ],
  ] as [string, Given, unknown][])
    it(what, () => {
      expect(judged(given)).to.deep.equal(refused)
    })

  it('a serial number that lies somewhere comes from nowhere, but goes and is moved', () => {
    const w = new World([{ method: 'average', identifiedBy: 'serial', lots: 2 }])
    w.receive('1', '20')
    const line = (from: number, to: number, lotId = 100) => w.line(from, to, '1', { lineId: 'x', lotId })
    const judge = (kind: SlipKind, l: DraftLine) => told(judgeLine(w.books, w.context, kind, l, w.now))
    const here = [['serial_already_here', 'x', 'lot', { serial: 'L0', place: A.shelf }]]
    expect(judge('receipt', line(A.supplier, A.bench))).to.deep.equal(here)
    expect(judge('bring_back', line(A.jobA, A.bench))).to.deep.equal(here)
    expect(judge('receipt', line(A.supplier, A.bench, 101))).to.deep.equal([])
    expect(judge('move', line(A.shelf, A.bench))).to.deep.equal([])
    expect(judge('issue', line(A.shelf, A.jobA))).to.deep.equal([])
    const twice = [line(A.supplier, A.shelf, 101), line(A.supplier, A.bench, 101)]
    expect(said(w.try({ kind: 'receipt', lines: twice }))).to.deep.include([
      'serial_twice',
      'x',
      'lot',
      { serial: 'L1' },
    ])
  })

  it('a minute: none of the future, none of a closed month, none before the cost method was changed', () => {
    const w = new World([{ method: 'average', next: 'fifo' }])
    w.books.closedUntil = w.now - MINUTE
    const at = (ms: number) => told(judgeTime(w.books, w.context, ms, 'x'))
    expect([at(w.now + 120_000), at(w.now - MINUTE), at(w.now)]).to.deep.equal([[], [], []])
    expect(at(w.now + 120_001)).to.deep.equal([
      ['in_the_future', 'x', 'effectiveAt', { given: w.now + 120_001, now: w.now }],
    ])
    expect(at(w.now - MINUTE - 1)).to.deep.equal([
      ['month_closed', 'x', 'effectiveAt', { given: w.now - MINUTE - 1, openFrom: w.now - MINUTE }],
    ])
    expect([NaN, Infinity, 1.5].map(ms => at(ms))).to.deep.equal(
      Array(3).fill([['not_a_time', 'x', 'effectiveAt', {}]]),
    )
    const since = { at: w.now, costSeq: 7 }
    Object.assign(w.books.item(1)!, { costedSince: since })
    const changed = (ms: number, costSeq?: number) => told(judgeSince(w.books, 1, ms, 'x', costSeq))
    const before = (given: number) => [['before_method_change', 'x', 'effectiveAt', { given, since: since.at }]]
    expect([
      changed(w.now),
      changed(w.now, 7),
      changed(w.now - 1),
      changed(w.now, 6),
      changed(w.now - 1, 9),
    ]).to.deep.equal([[], [], before(w.now - 1), before(w.now), before(w.now - 1)])
  })
})

describe('a slip as a whole', () => {
  it('is about something; a clock that is a little ahead is now', () => {
    const w = new World([{ method: 'average' }])
    expect(said(w.try({ kind: 'issue', lines: [] }))).to.deep.equal([['no_lines', null, 'lines', {}]])
    const line = () => w.line(A.supplier, A.shelf, '1', { goods: 1n })
    const at = (ahead: number) =>
      w.must({ kind: 'receipt', effectiveAt: w.now + MINUTE + ahead, lines: [line()] }).effectiveAt - w.now
    expect([at(-1), at(0), at(1), at(120_000)]).to.deep.equal([-1, 0, 0, 0])
  })
  it('counts: of nothing less than nothing, one of a serial number, a lot of its own, once', () => {
    const w = new World([{ method: 'average' }, { method: 'average', identifiedBy: 'serial', lots: 2 }])
    const count = (counted: string, more = {}) => ({ ...w.count(counted, more), lineId: 'x' })
    const tried = (...counts: ReturnType<World['count']>[]) => said(w.try({ kind: 'count', counts }))
    expect(tried({ ...count('0'), counted: -1n })).to.deep.equal([['not_positive', 'x', 'counted', {}]])
    expect(tried(count('2', { itemId: 2 }))).to.deep.equal([['serial_is_one', 'x', 'counted', {}]])
    expect(tried(count('1', { lotId: 200 }))).to.deep.equal([['lot_of_another_item', 'x', 'lot', {}]])
    expect(tried(count('1', { countedAt: w.now + 10 * MINUTE }))).to.deep.equal([
      ['in_the_future', 'x', 'effectiveAt', { given: w.now + 9 * MINUTE, now: w.now }],
    ])
    expect(tried(count('1', { unitCost: 1n }), count('1', { unitCost: 1n }))).to.deep.equal([
      ['counted_twice', 'x', 'counted', {}],
    ])
    // Otherwise where any of item, lot, place and minute is another one.
    const one = { unitCost: 1n }
    expect(
      tried(
        count('1', one),
        count('1', { ...one, placeId: A.bench }),
        count('1', { ...one, countedAt: w.now - 1 }),
        count('1', { ...one, itemId: 2 }),
        count('1', { ...one, itemId: 2, lotId: 201, placeId: A.bench }),
      ),
    ).to.equal('booked')
  })
  it('more than was ever found needs a cost; nothing asks where one is known', () => {
    const w = new World([{ method: 'average' }])
    const count = () => w.try({ kind: 'count', counts: [{ ...w.count('3'), lineId: 'x' }] })
    expect(said(count())).to.deep.equal([['cost_asked', 'x', 'unitCost', {}]])
    w.receive('1', '2')
    expect(said(count())).to.equal('booked')
    expect(formatDecimal(w.books.pool(1).value)).to.equal('6')
  })
})

describe('an open difference is found in part or whole, or closed', () => {
  const open = () => {
    const w = new World([{ method: 'average', lots: 2 }, { method: 'average' }])
    w.receive('10', '20')
    const t = w.must({ kind: 'count', counts: [w.count('7')] }).tallies[0]!
    const settle = (to: number, quantity: string, more: Partial<DraftLine> = {}) =>
      said(
        w.try({
          kind: 'closing',
          lines: [w.line(t.differenceAccount, to, quantity, { tallyId: t.id, lineId: 'x', ...more })],
        }),
      )
    return { w, t, settle }
  }
  it('the one that is meant, of that item and lot', () => {
    const { w, t, settle } = open()
    const none = [['no_such_difference', 'x', 'difference', {}]]
    for (const more of [{ tallyId: 99 }, { tallyId: undefined }, { lotId: 101 }, { itemId: 2, lotId: 200 }])
      expect(settle(A.shelf, '1', more as Partial<DraftLine>), JSON.stringify(more)).to.deep.equal(none)
    expect(settle(A.loss, '0', { lotId: 101 })).to.deep.equal(none)
    w.change({ type: 'reverse_tally', lineId: 'y', tallyId: t.id })
    expect(settle(A.shelf, '1')).to.deep.equal(none)
  })
  it('no more than is open of it; nothing where nothing is', () => {
    const { settle } = open()
    const more = (given: string, left: string) => [['more_than_open', 'x', 'quantity', { given, open: left }]]
    expect(settle(A.shelf, '3.000001')).to.deep.equal(more('3.000001', '3'))
    expect(settle(A.shelf, '2')).to.equal('booked')
    expect(settle(A.shelf, '1.5')).to.deep.equal(more('1.5', '1'))
    expect(settle(A.shelf, '1')).to.equal('booked')
    expect(settle(A.shelf, '0.000001')).to.deep.equal(more('0.000001', '0'))
    expect(settle(A.loss, '0')).to.deep.equal([['nothing_open', 'x', 'difference', {}]])
  })
  it('of too much nothing is found; it is closed, once', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const t = w.must({ kind: 'count', counts: [w.count('12')] }).tallies[0]!
    const settle = (to: number, quantity: string) =>
      said(
        w.try({ kind: 'closing', lines: [w.line(t.differenceAccount, to, quantity, { tallyId: t.id, lineId: 'x' })] }),
      )
    expect(settle(A.shelf, '1')).to.deep.equal([['more_than_open', 'x', 'quantity', { given: '1', open: '0' }]])
    expect(settle(A.loss, '0')).to.equal('booked')
    expect(settle(A.loss, '0')).to.deep.equal([['already_closed', 'x', 'difference', {}]])
    expect(settle(A.shelf, '1')).to.deep.equal([['already_closed', 'x', 'difference', {}]])
  })
})

describe('nothing below zero, now or at any minute since, and who is told what', () => {
  const world = () => new World([{ method: 'average', lots: 2 }])
  it('more than lies there: how much, what is missing, and where else it lies', () => {
    const w = world()
    w.receive('5', '10')
    w.receive('2', '4', { lotId: 101 })
    w.must({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1')] })
    const lines = [w.line(A.shelf, A.jobA, '3', { lineId: 'x' }), w.line(A.shelf, A.jobB, '2', { lineId: 'y' })]
    expect(said(w.try({ kind: 'issue', lines }))).to.deep.equal([
      [
        'insufficient_stock',
        'y',
        'quantity',
        {
          item: 1,
          lot: 100,
          place: A.shelf,
          asked: '5',
          there: '4',
          now: '4',
          missing: '1',
          elsewhere: [
            { place: A.shelf, lot: 101, quantity: '2' },
            { place: A.bench, lot: 100, quantity: '1' },
          ],
        },
      ],
    ])
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('6')
  })
  it('written late for when there was less: from when on it could be', () => {
    const w = world()
    w.receive('2', '4')
    const first = w.now
    w.now += 10 * MINUTE
    w.receive('3', '6')
    const second = w.now
    w.now += 10 * MINUTE
    const late = (quantity: string, effectiveAt: number) =>
      w.try({ kind: 'issue', effectiveAt, lines: [w.line(A.shelf, A.jobA, quantity, { lineId: 'x' })] })
    expect(said(late('4', first + MINUTE))).to.deep.equal([
      [
        'insufficient_stock',
        'x',
        'quantity',
        {
          item: 1,
          lot: 100,
          place: A.shelf,
          asked: '4',
          there: '2',
          now: '5',
          missing: '2',
          earliest: second,
          elsewhere: [],
        },
      ],
    ])
    // More than there ever was could be at no minute.
    const never = said(late('6', first + MINUTE)) as [string, string, string, object][]
    expect(never[0]![3]).to.not.have.property('earliest')
    expect(said(late('4', second))).to.equal('booked')
  })
  it('taken back though it was used since: who used it is named, the last one', () => {
    const w = world()
    const first = w.receive('5', '10')
    w.issue('2')
    const used = w.issue('2')
    const take = w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: 'x', key: key(first) }] })
    expect(said(take)).to.deep.equal([
      ['would_have_been_missing', 'x', 'line', { item: 1, lot: 100, place: A.shelf, slip: used.slipId, missing: '4' }],
    ])
    // What was taken back itself used nothing.
    w.change({ type: 'reverse', lineId: 'y', key: key(used) })
    const again = w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: 'x', key: key(first) }] })
    expect((said(again) as unknown[][])[0]![3]).to.include({ missing: '2' })
  })
  it('no figure is larger than the books can hold: it is said, at the line', () => {
    const w = new World([{ method: 'average' }])
    const most = 10n ** 15n
    const receive = () =>
      w.try({
        kind: 'receipt',
        lines: [{ ...w.line(A.supplier, A.shelf, '1', { lineId: 'x', goods: most }), quantity: most }],
      })
    let n = 0
    while ('movements' in receive()) n++
    // 2⁶³ − 1 holds 9 223 times as much.
    expect([n, said(receive())]).to.deep.equal([9223, [['too_large', 'x', 'quantity', { given: 'That' }]]])
  }).timeout(60_000)
})

describe('what is shared out among several', () => {
  const issue = (w: World, ...parts: [to: number, quantity: string, more?: object][]) =>
    w.try({
      kind: 'issue',
      lines: parts.map(([to, q, more]) => w.line(A.shelf, to, q, { lineId: 'x', shared: true, ...more })),
    })
  const boxes = () => {
    const w = new World([{ method: 'average', decimals: 0, lots: 2 }])
    w.receive('10', '20')
    return w
  }
  it('is whole at its shelf, lot by lot, whatever the parts; each is charged its own', () => {
    const w = boxes()
    const r = issue(w, [A.jobA, '0.75'], [A.jobB, '0.25'])
    expect(
      'movements' in r && r.movements.map(m => [m.to, formatDecimal(m.quantity), formatDecimal(m.value)]),
    ).to.deep.equal([
      [A.jobA, '0.75', '1.5'],
      [A.jobB, '0.25', '0.5'],
    ])
  })
  for (const [what, parts] of [
    [
      'not whole together',
      [
        [A.jobA, '0.75'],
        [A.jobB, '0.26'],
      ],
    ],
    [
      'whole together, on two lines',
      [
        [A.jobA, '0.75'],
        [A.jobB, '0.25', { lineId: 'y' }],
      ],
    ],
    [
      'whole together, of two lots',
      [
        [A.jobA, '0.75'],
        [A.jobB, '0.25', { lotId: 101 }],
      ],
    ],
    [
      'whole together, one of them no part',
      [
        [A.jobA, '0.75'],
        [A.jobB, '0.25', { shared: false }],
      ],
    ],
  ] as const)
    it(`is refused: ${what}`, () => {
      const r = issue(boxes(), ...(parts as unknown as [number, string, object?][]))
      expect('movements' in r ? [] : r.map(x => x.code)).to.include('too_many_decimals')
    })
})
describe('what is made or relabelled', () => {
  it('stands at one place in the order of costing, what goes in before what comes out, in whatever order it is written', () => {
    const w = new World([{ method: 'average' }, { method: 'average' }])
    w.receive('10', '20')
    const event = { event: 'e' }
    const lines = [
      w.line(A.made, A.bench, '4', { ...event, itemId: 2, lotId: 200, lineId: 'out' }),
      w.line(A.shelf, A.made, '3', { ...event, lineId: 'in' }),
      w.line(A.shelf, A.made, '1', { ...event, lineId: 'too' }),
    ]
    const made = w.must({ kind: 'make', lines })
    const [first] = made.movements
    expect(
      made.movements.map(m => [m.lineId, m.costSeq === first!.costSeq, m.part, formatDecimal(m.value)]),
    ).to.deep.equal([
      ['in', true, 0, '6'],
      ['too', true, 1, '2'],
      ['out', true, 2, '8'],
    ])
    expect(made.movements.map(m => m.seq)).to.deep.equal([first!.seq, first!.seq + 1, first!.seq + 2])
  })
  it('a relabel within one pool moves no value; into another one it does', () => {
    const relabel = (w: World) =>
      w
        .must({
          kind: 'relabel',
          lines: [
            w.line(A.shelf, A.relabel, '4', { event: 'e' }),
            w.line(A.relabel, A.shelf, '4', { event: 'e', lotId: 101 }),
          ],
        })
        .movements.map(m => [m.kind, formatDecimal(m.value)])
    const one = new World([{ method: 'average', lots: 2 }])
    one.receive('10', '20')
    expect(relabel(one)).to.deep.equal([
      ['move', '0'],
      ['move', '0'],
    ])
    const each = new World([{ method: 'lot', lots: 2 }])
    each.receive('10', '20')
    expect(relabel(each)).to.deep.equal([
      ['event_out', '8'],
      ['event_in', '8'],
    ])
  })
})
