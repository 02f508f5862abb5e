import { expect } from 'chai'
import { type Booked, type Change, decimal, formatDecimal, type Refusal } from '@shelve/core'
import { A, MINUTE, World } from '../ledger/world.ts'

const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r)
const key = (m: { costSeq: number; part: number }) => ({ costSeq: m.costSeq, part: m.part })
const no = (code: string, field: string, detail: object = {}) => [{ code, lineId: 'x', field, detail }]
const correct = (w: World, ...changes: Change[]) => said(w.try({ kind: 'correction', changes }))

/** 10 for 20 received, 4 given to a job. */
function given() {
  const w = new World([{ method: 'average' }])
  const received = w.receive('10', '20')
  const issued = w.issue('4')
  const at = key(received)
  const of = key(issued)
  const back = (quantity: string) =>
    w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, quantity, { ref: of })] }).movements[0]!
  const take = (k = at, quantity?: string): Change => ({
    type: 'reverse',
    lineId: 'x',
    key: k,
    ...(quantity === undefined ? {} : { quantity: decimal(quantity) }),
  })
  const put = (k: typeof at, ...by: ReturnType<World['line']>[]): Change => ({
    type: 'replace',
    lineId: 'x',
    key: k,
    effectiveAt: null,
    by: by.map(l => ({ ...l, lineId: 'x' })),
  })
  const invoice = (goods: string, k = at, says: 'more' | 'amount' = 'more'): Change => ({
    type: 'invoice',
    lineId: 'x',
    key: k,
    says,
    goods: decimal(goods),
  })
  const price = (goods: string, k = at): Change => ({ type: 'price', lineId: 'x', key: k, goods: decimal(goods) })
  return { w, received, issued, at, of, back, take, put, invoice, price }
}
type Given = ReturnType<typeof given>

describe('what a correction is refused for, and where', () => {
  for (const [what, does, refused] of [
    [
      'a line that is not there',
      (g: Given) => g.take({ costSeq: 99, part: 0 }),
      no('nothing_to_correct', 'line', { costSeq: 99 }),
    ],
    [
      'a part that is not there',
      (g: Given) => g.take({ ...g.at, part: 1 }),
      no('nothing_to_correct', 'line', { costSeq: 1 }),
    ],
    [
      'a line that was taken back',
      (g: Given) => (g.w.change(g.take(g.of)), g.take(g.of)),
      no('nothing_to_correct', 'line', { costSeq: 2 }),
    ],
    [
      'more than was booked',
      (g: Given) => g.take(g.of, '4.000001'),
      no('more_than_booked', 'quantity', { given: '4.000001', free: '4' }),
    ],
    ['all that was booked', (g: Given) => g.take(g.of, '4'), 'booked'],
    ['nothing', (g: Given) => g.take(g.of, '0'), no('not_positive', 'quantity')],
    [
      'what was brought back since',
      (g: Given) => (g.back('1'), g.take(g.of)),
      no('brought_back', 'quantity', { given: '4', free: '3' }),
    ],
    ['the rest of it', (g: Given) => (g.back('1'), g.take(g.of, '3')), 'booked'],
    [
      'more than the rest',
      (g: Given) => (g.back('1'), g.take(g.of, '3.5')),
      no('brought_back', 'quantity', { given: '3.5', free: '3' }),
    ],
    [
      'a part of what was invoiced',
      (g: Given) => (g.w.change(g.invoice('5')), g.take(g.at, '1')),
      no('invoiced', 'quantity'),
    ],
    ['all of what was invoiced', (g: Given) => (g.w.change(g.take(g.of), g.invoice('5')), g.take()), 'booked'],
    ['nothing instead', (g: Given) => g.put(g.of), no('nothing_instead', 'line')],
    ['what no slip does', (g: Given) => g.put(g.of, g.w.line(A.jobA, A.supplier, '1')), no('wrong_accounts', 'to')],
    [
      'for another job, though some came back',
      (g: Given) => (g.back('1'), g.put(g.of, g.w.line(A.shelf, A.jobB, '4'))),
      no('brought_back', 'quantity', { free: '3' }),
    ],
    [
      'less than came back',
      (g: Given) => (g.back('1'), g.put(g.of, g.w.line(A.shelf, A.jobA, '0.9'))),
      no('brought_back', 'quantity', { free: '3' }),
    ],
    ['as much as came back', (g: Given) => (g.back('1'), g.put(g.of, g.w.line(A.shelf, A.jobA, '1'))), 'booked'],
    [
      'as waste, though some came back',
      (g: Given) => (g.back('1'), g.put(g.of, g.w.line(A.shelf, A.waste, '4'))),
      no('brought_back', 'quantity', { free: '3' }),
    ],
    ['as waste', (g: Given) => g.put(g.of, g.w.line(A.shelf, A.waste, '4')), 'booked'],
    [
      'from a later issue',
      (g: Given) => g.put(key(g.back('1')), g.w.line(A.jobA, A.shelf, '1', { ref: key(g.w.issue('2')) })),
      no('refers_to_later', 'ref'),
    ],
    ['an issue has no price', (g: Given) => g.price('5', g.of), no('has_no_price', 'price', { kind: 'out' })],
    ['nor an invoice', (g: Given) => g.invoice('5', g.of), no('has_no_price', 'price', { kind: 'out' })],
    [
      'nor freight',
      (g: Given) => ({ type: 'charges', lineId: 'x', key: g.of, charges: [] }),
      no('has_no_price', 'charges'),
    ],
    [
      'less than nothing by invoice',
      (g: Given) => g.invoice('-20.000001'),
      no('price_out_of_range', 'price', { given: '-0.000001' }),
    ],
    ['nothing by invoice', (g: Given) => g.invoice('-20'), 'booked'],
    ['as much as can be', (g: Given) => g.price('1000000000'), 'booked'],
    [
      'more than can be',
      (g: Given) => g.price('1000000000.000001'),
      no('price_out_of_range', 'price', { given: '1000000000.000001' }),
    ],
    [
      'a standard cost below nothing',
      () => ({ type: 'standard', lineId: 'x', itemId: 1, lotId: 100, cost: decimal('-1') }),
      no('price_out_of_range', 'price', { given: '-1' }),
    ],
    [
      'a standard cost of nothing',
      () => ({ type: 'standard', lineId: 'x', itemId: 1, lotId: 100, cost: 0n }),
      'booked',
    ],
    [
      'a count that is not there',
      () => ({ type: 'reverse_tally', lineId: 'x', tallyId: 9 }),
      no('nothing_to_correct', 'line'),
    ],
  ] as [string, (g: Given) => Change, unknown][])
    it(what, () => {
      const g = given()
      expect(correct(g.w, does(g))).to.deep.equal(refused)
    })

  /** 10 there, 8 counted. */
  const counted = () => {
    const { w } = given()
    const t = w.must({ kind: 'count', counts: [w.count('4')] }).tallies[0]!
    const settle = (to: number, quantity: string) =>
      w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, to, quantity, { tallyId: t.id })] }).movements[0]!
    return { w, t, settle, back: { type: 'reverse_tally' as const, lineId: 'x', tallyId: t.id } }
  }
  it('a count of which something was found again, or whose difference is closed: that comes first', () => {
    for (const [to, quantity, code] of [
      [A.bench, '1', 'found_again'],
      [A.loss, '0', 'already_closed'],
    ] as const) {
      const { w, settle, back } = counted()
      const by = settle(to, quantity)
      expect(correct(w, back)).to.deep.equal(no(code, 'line', { slipId: by.slipId }))
      expect(correct(w, { type: 'reverse', lineId: 'x', key: key(by) })).to.equal('booked')
      expect(correct(w, back)).to.equal('booked')
    }
  })
  it('a closing is taken back whole, and never replaced', () => {
    const { w, t, settle } = counted()
    const by = settle(A.loss, '0')
    const put: Change = {
      type: 'replace',
      lineId: 'x',
      key: key(by),
      effectiveAt: null,
      by: [w.line(t.differenceAccount, A.loss, '1', { tallyId: t.id })],
    }
    expect(correct(w, put)).to.deep.equal(no('replace_whole', 'line', { kind: 'close' }))
  })
  it('in a closed month nothing is dated, whatever stood there; without a minute of its own it is dated in the open one', () => {
    const { w, of, put } = given()
    const before = w.now
    w.books.closedUntil = w.now + 5 * MINUTE
    w.now += 10 * MINUTE
    const right = put(of, w.line(A.shelf, A.jobA, '3')) as Extract<Change, { type: 'replace' }>
    expect(correct(w, { ...right, effectiveAt: before })).to.deep.equal([
      {
        code: 'month_closed',
        lineId: 'x',
        field: 'effectiveAt',
        detail: { given: before, openFrom: w.books.closedUntil },
      },
    ])
    const booked = w.change(right)
    expect(booked.movements.map(m => [m.effectiveAt, formatDecimal(m.quantity)])).to.deep.equal([
      [w.books.closedUntil, '4'],
      [w.books.closedUntil, '3'],
    ])
  })
  it('after a change of method no quantity of before is corrected, nor what its count found; its price is', () => {
    const w = new World([{ method: 'average', next: 'fifo' }])
    const received = w.receive('10', '20')
    const t = w.must({ kind: 'count', counts: [w.count('9')] }).tallies[0]!
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.loss, '0', { tallyId: t.id })] })
    w.changedOver(1)
    const since = { since: w.now }
    const take: Change = { type: 'reverse', lineId: 'x', key: key(received) }
    expect(correct(w, take)).to.deep.equal(no('before_method_change', 'line', since))
    expect(correct(w, { type: 'reverse_tally', lineId: 'x', tallyId: t.id })).to.deep.equal(
      no('before_method_change', 'line', since),
    )
    expect(correct(w, { type: 'price', lineId: 'x', key: key(received), goods: decimal('30') })).to.equal('booked')
  })
})
