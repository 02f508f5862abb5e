import { expect } from 'chai'
import { decimal, formatDecimal, type Booked, type Refusal } from '@shelve/core'
import { A, MINUTE, T0, World } from '../ledger/world.ts'

const codes = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r.map(x => x.code).join())
const open = (w: World, account: number) =>
  w.books.movements.reduce(
    (s, m) => s + (m.to === account ? m.quantity : 0n) - (m.from === account ? m.quantity : 0n),
    0n,
  )

describe('counts: a booked tally is the truth at its minute (common practice)', () => {
  it('a shortage waits as an open difference, is found again, and cost does not change', () => {
    const w = new World([{ method: 'average' }])
    w.receive('12', '120')
    const t = w.must({ kind: 'count', counts: [w.count('9')] }).tallies[0]!
    expect(formatDecimal(open(w, t.differenceAccount))).to.equal('3')
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.bench, '3', { tallyId: t.id })] })
    expect(formatDecimal(open(w, t.differenceAccount))).to.equal('0')
    expect(formatDecimal(w.books.pool(1).value)).to.equal('120')
    expect(formatDecimal(w.onHand(A.bench))).to.equal('3')
  })

  it('a slip booked later but dated before the count changes what was expected, not what is there', () => {
    const w = new World([{ method: 'average' }])
    w.receive('12', '120')
    const before = w.now
    w.now += 10 * MINUTE
    const t = w.must({ kind: 'count', counts: [w.count('9')] }).tallies[0]!
    w.now += 10 * MINUTE
    w.must({ kind: 'issue', effectiveAt: before + 3 * MINUTE, lines: [w.line(A.shelf, A.jobA, '3')] })
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('9')
    expect(formatDecimal(open(w, t.differenceAccount))).to.equal('0')
    expect(formatDecimal(w.value(A.jobA))).to.equal('30')
  })

  it('not counted stays as it is, counted 0 takes all, confirmed leaves an empty difference of its own', () => {
    const w = new World([{ method: 'average' }, { method: 'average' }, { method: 'average' }])
    for (const itemId of [1, 2, 3]) w.receive('5', '5', { itemId })
    const booked = w.must({ kind: 'count', counts: [w.count('0', { itemId: 2 }), w.count('5', { itemId: 3 })] })
    expect([1, 2, 3].map(i => formatDecimal(w.onHand(A.shelf, i)))).to.deep.equal(['5', '0', '5'])
    expect(booked.movements.filter(m => m.kind === 'difference').map(m => formatDecimal(m.quantity))).to.deep.equal([
      '5',
      '0',
    ])
  })

  it('a tally that found what was expected is taken back by a movement of its own, which moves nothing; it can be counted again', () => {
    const w = new World([{ method: 'average' }])
    w.receive('5', '5')
    const counted = w.must({ kind: 'count', counts: [w.count('5')] })
    const back = w.change({ type: 'reverse_tally', lineId: 'x', tallyId: counted.tallies[0]!.id })
    expect(back.movements.map(m => [m.kind, formatDecimal(m.quantity), m.reverses])).to.deep.equal([
      ['difference', '0', counted.movements[0]!.seq],
    ])
    expect(
      codes(
        w.try({
          kind: 'correction',
          changes: [{ type: 'reverse_tally', lineId: 'y', tallyId: counted.tallies[0]!.id }],
        }),
      ),
    ).to.equal('nothing_to_correct')
    expect(
      w.must({ kind: 'count', counts: [w.count('4')] }).movements.map(m => formatDecimal(m.quantity)),
    ).to.deep.equal(['1'])
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('4')
  })

  it('a late slip beneath a closed difference goes to where it was closed; a correction rewrites the closing', () => {
    const w = new World([{ method: 'average' }])
    const r = w.receive('12', '120')
    const early = w.now
    w.now += 10 * MINUTE
    const t = w.must({ kind: 'count', counts: [w.count('9')] }).tallies[0]!
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.loss, '0', { tallyId: t.id })] })
    expect(formatDecimal(w.value(A.loss))).to.equal('30')
    expect(
      codes(w.try({ kind: 'closing', lines: [w.line(t.differenceAccount, A.bench, '1', { tallyId: t.id })] })),
    ).to.equal('already_closed')
    w.must({ kind: 'issue', effectiveAt: early + MINUTE, lines: [w.line(A.shelf, A.jobA, '1')] })
    expect(formatDecimal(w.value(A.loss))).to.equal('20')
    // The delivery was really 11 for 110: then 2 were missing at the count, and 1 of them was the issue.
    w.change({
      type: 'replace',
      lineId: 'x',
      key: r,
      effectiveAt: r.effectiveAt,
      by: [w.line(A.supplier, A.shelf, '11', { goods: decimal('110') })],
    })
    expect([
      formatDecimal(w.value(A.loss)),
      formatDecimal(open(w, t.differenceAccount)),
      formatDecimal(w.onHand(A.shelf)),
    ]).to.deep.equal(['10', '0', '9'])
  })

  it('a late receipt of 5 for 10 above a count that found 5 too many: the pool keeps its cost, the gap is a price difference', () => {
    const w = new World([{ method: 'average' }])
    w.receive('1', '10')
    w.issue('1')
    const early = w.now
    w.now += 5 * MINUTE
    const t = w.must({ kind: 'count', counts: [w.count('5')] }).tallies[0]!
    expect(formatDecimal(-w.value(t.differenceAccount))).to.equal('50')
    w.issue('5')
    w.now += MINUTE
    w.must({ kind: 'receipt', effectiveAt: early, lines: [w.line(A.supplier, A.shelf, '5', { goods: decimal('10') })] })
    const pool = w.books.pool(1)
    expect([formatDecimal(pool.quantity), formatDecimal(pool.value)]).to.deep.equal(['0', '0'])
    expect([formatDecimal(w.value(t.differenceAccount)), formatDecimal(w.value(A.priceDifference))]).to.deep.equal([
      '0',
      '-40',
    ])
  })

  it('a mistaken delivery in a closed month can still be taken back after a count', () => {
    const w = new World([{ method: 'average' }])
    const wrong = w.receive('10', '20')
    w.now += MINUTE
    w.must({ kind: 'count', counts: [w.count('0')] })
    w.books.closedUntil = w.now + 60 * MINUTE
    w.now += 90 * MINUTE
    const undone = w.change({ type: 'reverse', lineId: 'x', key: wrong })
    expect(undone.movements.every(m => m.effectiveAt >= w.books.closedUntil)).to.equal(true)
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('0')
    expect(formatDecimal(w.value(A.supplier))).to.equal('0')
  })

  it('a count that would take the shelf below zero now goes back for a fresh tally', () => {
    const w = new World([{ method: 'average' }])
    w.receive('5', '5')
    const at = w.now
    w.now += 5 * MINUTE
    w.issue('4')
    expect(codes(w.try({ kind: 'count', counts: [w.count('2', { countedAt: at })] }))).to.equal('count_again')
  })

  it('a surplus of which no cost is known is asked for it', () => {
    const w = new World([{ method: 'average' }])
    expect(codes(w.try({ kind: 'count', counts: [w.count('2')] }))).to.equal('cost_asked')
    w.must({ kind: 'count', counts: [w.count('2', { unitCost: decimal('1.5') })] })
    expect(formatDecimal(w.books.pool(1).value)).to.equal('3')
  })
})

describe('refusals name the line, what there is, and what would fit', () => {
  const cases: [string, (w: World) => Booked | readonly Refusal[]][] = [
    ['insufficient_stock', w => w.try({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '6')] })],
    ['not_positive', w => w.try({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '0')] })],
    ['too_large', w => w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.shelf, '2000000000')] })],
    ['too_many_decimals', w => w.try({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '0.5')] })],
    ['wrong_accounts', w => w.try({ kind: 'issue', lines: [w.line(A.supplier, A.shelf, '1')] })],
    ['same_place', w => w.try({ kind: 'move', lines: [w.line(A.shelf, A.shelf, '1')] })],
    ['lot_of_another_item', w => w.try({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '1', { lotId: 200 })] })],
    ['unknown_item', w => w.try({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '1', { itemId: 9, lotId: 900 })] })],
    [
      'in_the_future',
      w => w.try({ kind: 'issue', effectiveAt: w.now + 60 * MINUTE, lines: [w.line(A.shelf, A.jobA, '1')] }),
    ],
    [
      'month_closed',
      w => {
        w.books.closedUntil = w.now + 10
        w.now += MINUTE
        return w.try({ kind: 'issue', effectiveAt: T0, lines: [w.line(A.shelf, A.jobA, '1')] })
      },
    ],
    ['no_lines', w => w.try({ kind: 'issue' })],
    ['price_out_of_range', w => w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.shelf, '1', { goods: -1n })] })],
    ['credit_needed', w => w.try({ kind: 'supplier_return', lines: [w.line(A.shelf, A.supplier, '1')] })],
    [
      'brought_back',
      w => {
        const i = w.issue('2')
        return w.try({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '3', { ref: i })] })
      },
    ],
    [
      'nothing_to_correct',
      w => w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: 'x', key: { costSeq: 999, part: 0 } }] }),
    ],
    [
      'would_have_been_missing',
      w => {
        const r = w.receive('5', '5', { to: A.bench })
        w.must({ kind: 'move', lines: [w.line(A.bench, A.shelf, '5')] })
        w.issue('10')
        w.receive('9', '9', { to: A.bench })
        return w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: 'x', key: r }] })
      },
    ],
  ]
  for (const [code, attempt] of cases)
    it(code, () => {
      const w = new World([{ method: 'average', decimals: 0 }, { method: 'average' }])
      w.receive('5', '5')
      const before = w.books.movements.length
      const r = attempt(w)
      expect(codes(r)).to.equal(code)
      if (!['brought_back', 'would_have_been_missing'].includes(code)) expect(w.books.movements.length).to.equal(before)
    })

  it('insufficient stock tells what is there, where else, and the earliest minute that fits', () => {
    const w = new World([{ method: 'average' }])
    const start = w.now
    w.now += 10 * MINUTE
    w.receive('5', '5')
    const came = w.now
    w.receive('3', '3', { to: A.bench })
    const r = w.try({ kind: 'issue', effectiveAt: start + MINUTE, lines: [w.line(A.shelf, A.jobA, '4')] })
    expect(r).to.have.length(1)
    expect((r as readonly Refusal[])[0]!.detail).to.deep.include({
      asked: '4',
      there: '0',
      now: '5',
      earliest: Math.floor(came / MINUTE) * MINUTE,
      elsewhere: [{ place: A.bench, lot: 100, quantity: '3' }],
    })
  })

  it('a serial number that is already here names the place; found elsewhere it is a move', () => {
    const w = new World([{ method: 'average', identifiedBy: 'serial', lots: 2, decimals: 0 }])
    w.receive('1', '9')
    const r = w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.bench, '1', { goods: 9n })] })
    expect((r as readonly Refusal[])[0]).to.deep.include({
      code: 'serial_already_here',
      detail: { serial: 'L0', place: A.shelf },
    })
    expect(
      codes(w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.bench, '2', { goods: 9n, lotId: 101 })] })),
    ).to.equal('serial_is_one')
    expect(codes(w.try({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1')] }))).to.equal('booked')
  })
})
