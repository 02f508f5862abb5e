import { expect } from 'chai'
import { formatDecimal, methodChangeLines, rebuild, type Refusal } from '@shelve/core'
import { A, World } from '../ledger/world.ts'

/** Worked by hand; the rules are design decisions of this ledger (docs/decisions/9-method-change.md). */
describe('a change of cost method', () => {
  const change = (w: World) =>
    w.try({
      kind: 'method_change',
      lines: methodChangeLines(w.books.lotBalances(1), {
        itemId: 1,
        lineId: w.lineId(),
        relabel: A.relabel,
        poolBefore: l => w.poolOf(1, l, false),
        poolAfter: l => w.poolOf(1, l, true),
      }),
    })
  const must = (w: World) => {
    const r = change(w)
    expect(
      'movements' in r,
      JSON.stringify(r, (_, v) => (typeof v === 'bigint' ? String(v) : v)),
    ).to.equal(true)
    w.changedOver(1)
  }
  const pool = (w: World, id: number) => {
    const p = w.books.pool(id)
    return [formatDecimal(p.quantity), formatDecimal(p.value)]
  }
  const code = (r: ReturnType<World['try']>) => (r as readonly Refusal[])[0]?.code

  it('from moving average to first in, first out: what lies there is one layer at its average', () => {
    const w = new World([{ method: 'average', next: 'fifo' }])
    const first = w.receive('10', '20')
    w.receive('10', '40')
    const issued = w.issue('4')
    must(w)
    expect([pool(w, 1), pool(w, 51)], '16 at 3').to.deep.equal([
      ['0', '0'],
      ['16', '48'],
    ])
    w.receive('5', '50')
    const later = w.issue('18')
    expect(formatDecimal(later.value), '16 at 3, then 2 of the 5 at 10').to.equal('68')
    // 16 more over the first delivery is 0.8 on each of the 20: 3.2 on what was used before, 12.8 on the layer and what took it.
    w.change({ type: 'invoice', lineId: w.lineId(), key: first, says: 'more', goods: 16_000_000n })
    expect([formatDecimal(w.value(A.jobA)), pool(w, 51)]).to.deep.equal(['96', ['3', '30']])
    w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '1', { ref: issued })] })
    expect(pool(w, 51), 'back at what it was issued for: 15.2 ÷ 4').to.deep.equal(['4', '33.8'])
    expect(
      code(w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: w.lineId(), key: first }] })),
    ).to.equal('before_method_change')
    expect(
      code(w.try({ kind: 'issue', effectiveAt: w.now - 600_000, lines: [w.line(A.shelf, A.jobA, '1')] })),
    ).to.equal('before_method_change')
  })

  it('from actual lot to one pool: the lots’ values add up; from average to standard the gap is a price difference', () => {
    const lots = new World([{ method: 'lot', lots: 2, next: 'average' }])
    lots.receive('4', '8')
    lots.receive('6', '42', { lotId: 101 })
    must(lots)
    expect(pool(lots, 51)).to.deep.equal(['10', '50'])
    expect(formatDecimal(lots.issue('5', { lotId: 101 }).value), 'a lot costs what the item costs now').to.equal('25')
    const standard = new World([{ method: 'average', next: 'standard', standard: '7' }])
    standard.receive('10', '50')
    must(standard)
    expect([pool(standard, 51), formatDecimal(standard.value(A.priceDifference))]).to.deep.equal([['10', '70'], '-20'])
  })

  /** Worked out anew from the movements alone it is the same. */
  const agrees = (w: World) => {
    const anew = rebuild(w.books.movements, {
      isPlace: a => w.books.accountKind(a) === 'place',
      isPriceDifference: a => a === A.priceDifference,
      poolStart: id => w.books.poolStart(id),
    })
    expect(anew.faults).to.deep.equal([])
    for (const [id, p] of anew.pools)
      expect([id, p.quantity, p.value]).to.deep.equal([id, w.books.pool(id).quantity, w.books.pool(id).value])
  }

  /** Rule 50: what was open, or out, before the change, worked by hand. */
  const methods = [
    ['fifo', '0'],
    ['lot', '0'],
    ['standard', '3'],
  ] as const
  for (const [next, standard] of methods) {
    const before = () => new World([{ method: 'average', next, standard }])
    const now = (w: World) => pool(w, next === 'lot' ? 100 : 51)
    /** What so many are worth by the new method, where they came in for so much. */
    const worth = (quantity: number, value: string) => (next === 'standard' ? String(quantity * 3) : value)
    it(`to ${next}: what was missing is found again at what it left with, the rest of it closed`, () => {
      const w = before()
      const first = w.receive('10', '20')
      const t = w.must({ kind: 'count', counts: [w.count('7')] }).tallies[0]!
      must(w)
      const settle = (to: number, quantity: string) =>
        w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, to, quantity, { tallyId: t.id })] })
      settle(A.shelf, '1')
      expect(now(w)).to.deep.equal(['8', worth(8, '16')])
      settle(A.loss, '0')
      expect([formatDecimal(w.value(A.loss)), formatDecimal(w.value(t.differenceAccount))]).to.deep.equal(['4', '0'])
      // What it cost is put right: what was found and what was lost with it.
      w.change({ type: 'price', lineId: w.lineId(), key: first, goods: 40_000_000n })
      expect([now(w), formatDecimal(w.value(A.loss)), formatDecimal(w.value(t.differenceAccount))]).to.deep.equal([
        ['8', worth(8, '32')],
        '8',
        '0',
      ])
      expect(
        code(w.try({ kind: 'closing', lines: [w.line(t.differenceAccount, A.shelf, '1', { tallyId: t.id })] })),
      ).to.equal('already_closed')
      agrees(w)
      expect(
        code(w.try({ kind: 'correction', changes: [{ type: 'reverse_tally', lineId: 'x', tallyId: t.id }] })),
      ).to.equal('before_method_change')
    })
    it(`to ${next}: what was too much is closed; what was out is brought back at what it was issued for`, () => {
      const w = before()
      const first = w.receive('10', '20')
      const issued = w.issue('4')
      const t = w.must({ kind: 'count', counts: [w.count('8')] }).tallies[0]!
      must(w)
      w.must({ kind: 'closing', lines: [w.line(A.gain, t.differenceAccount, '0', { tallyId: t.id })] })
      expect(formatDecimal(w.value(A.gain))).to.equal('-4')
      w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '3', { ref: issued })] })
      expect([now(w), formatDecimal(w.value(A.jobA))]).to.deep.equal([['11', worth(11, '22')], '2'])
      w.change({ type: 'price', lineId: w.lineId(), key: first, goods: 40_000_000n })
      expect([now(w), formatDecimal(w.value(A.jobA)), formatDecimal(w.value(A.gain))]).to.deep.equal([
        ['11', worth(11, '44')],
        '4',
        '-8',
      ])
      expect(code(w.try({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '2', { ref: issued })] }))).to.equal(
        'brought_back',
      )
    })
  }
  it('of a lot of which nothing lay when the item was changed, and so went into nothing: found, closed and brought back all the same', () => {
    const w = new World([{ method: 'lot', lots: 3, next: 'average' }])
    w.receive('4', '8')
    const missing = w.receive('2', '6', { lotId: 101 })
    const t = w.must({ kind: 'count', counts: [w.count('0', { lotId: 101 })] }).tallies[0]!
    w.receive('5', '50', { lotId: 102 })
    const issued = w.issue('5', { lotId: 102 })
    must(w)
    expect(pool(w, 51)).to.deep.equal(['4', '8'])
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.shelf, '1', { lotId: 101, tallyId: t.id })] })
    w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '2', { lotId: 102, ref: issued })] })
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.loss, '0', { lotId: 101, tallyId: t.id })] })
    expect([pool(w, 51), formatDecimal(w.value(A.loss)), formatDecimal(w.value(A.jobA))]).to.deep.equal([
      ['7', '31'],
      '3',
      '30',
    ])
    w.change({ type: 'price', lineId: w.lineId(), key: missing, goods: 10_000_000n })
    agrees(w)
    expect([pool(w, 51), formatDecimal(w.value(A.loss))]).to.deep.equal([['7', '33'], '5'])
    expect(formatDecimal(w.issue('7', { lotId: 100, quantity: 4_000_000n }).value), '4 of 7 for 33').to.equal(
      '18.857143',
    )
  })
  it('where nothing lay at all the pools alone are others: what is out comes back, also over two changes', () => {
    const w = new World([{ method: 'average', next: 'fifo' }])
    const first = w.receive('4', '8')
    const issued = w.issue('4')
    w.changedOver(1)
    w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '3', { ref: issued })] })
    expect([pool(w, 51), formatDecimal(w.value(A.jobA))]).to.deep.equal([['3', '6'], '2'])
    w.change({ type: 'price', lineId: w.lineId(), key: first, goods: 12_000_000n })
    agrees(w)
    expect([pool(w, 51), formatDecimal(w.value(A.jobA))]).to.deep.equal([['3', '9'], '3'])
  })
  it('of serial numbers too: each is there once before and after', () => {
    const w = new World([{ method: 'average', identifiedBy: 'serial', lots: 2, next: 'lot' }])
    w.receive('1', '20')
    w.receive('1', '30', { lotId: 101 })
    must(w)
    expect([pool(w, 100), pool(w, 101)]).to.deep.equal([
      ['1', '25'],
      ['1', '25'],
    ])
    expect(code(w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.shelf, '1', { goods: 1n })] }))).to.equal(
      'serial_already_here',
    )
  })

  it('how an item is identified may change likewise: what came without a lot goes and comes back without one', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const issued = w.issue('4')
    const t = w.must({ kind: 'count', counts: [w.count('5')] }).tallies[0]!
    Object.assign(w.books.item(1)!, { identifiedBy: 'lot_expiry' })
    w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '2', { ref: issued })] })
    w.must({ kind: 'closing', lines: [w.line(t.differenceAccount, A.shelf, '1', { tallyId: t.id })] })
    w.must({ kind: 'issue', lines: [w.line(A.shelf, A.jobA, '3')] })
    expect(pool(w, 1)).to.deep.equal(['5', '10'])
    expect(code(w.try({ kind: 'receipt', lines: [w.line(A.supplier, A.shelf, '1', { goods: 1n })] }))).to.equal(
      'lot_needed',
    )
  })
})
