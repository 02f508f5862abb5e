import { expect } from 'chai'
import { decimal, formatDecimal, type CostMethod } from '@shelve/core'
import { A, World } from '../ledger/world.ts'

/**
 * Nine movements, worked out by an independent script in exact fractions (shared reference figures `cost_methods`,
 * common practice; IAS 2, 21–27, for what the methods are). Each line: what the pool holds afterwards.
 */
const EXPECTED: Record<
  'average' | 'fifo' | 'standard',
  { pool: [string, string][]; A: string; B: string; difference: string }
> = {
  average: {
    pool: [
      ['8', '114'],
      ['12', '183'],
      ['7', '106.75'],
      ['7', '109.083333'],
      ['9', '140.25'],
      ['12', '169.55'],
      ['5', '70.645833'],
      ['12', '169.55'],
      ['0', '0'],
    ],
    A: '46.75',
    B: '169.55',
    difference: '0',
  },
  fifo: {
    pool: [
      ['8', '114'],
      ['12', '183'],
      ['7', '111.75'],
      ['7', '113.25'],
      ['9', '142.75'],
      ['12', '172.05'],
      ['5', '63.8'],
      ['12', '172.05'],
      ['0', '0'],
    ],
    A: '44.25',
    B: '172.05',
    difference: '0',
  },
  standard: {
    pool: [
      ['8', '112'],
      ['12', '168'],
      ['7', '98'],
      ['7', '98'],
      ['9', '126'],
      ['12', '168'],
      ['5', '70'],
      ['12', '168'],
      ['0', '0'],
    ],
    A: '42',
    B: '168',
    difference: '6.3',
  },
}

describe('cost methods, against figures worked out in exact fractions', () => {
  for (const method of ['average', 'fifo', 'standard'] as const satisfies CostMethod[]) {
    it(`${method}: receipts with freight, an issue, a late invoice, a return, a reversal`, () => {
      const w = new World([{ method, standard: '14' }])
      const seen: [string, string][] = []
      const note = () => {
        const p = w.books.pool(1)
        seen.push([formatDecimal(p.quantity), formatDecimal(p.value)])
      }
      const r1 = w.must({
        kind: 'receipt',
        charges: [{ amount: decimal('14'), basis: 'value' }],
        lines: [w.line(A.supplier, A.shelf, '8', { goods: decimal('100') })],
      }).movements[0]!
      note()
      w.receive('4', '69')
      note()
      const i1 = w.issue('5')
      note()
      w.change({ type: 'invoice', lineId: w.lineId(), key: r1, says: 'more', goods: decimal('4') })
      note()
      w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '2', { ref: i1 })] })
      note()
      w.receive('3', '29.30')
      note()
      const i2 = w.issue('7', { to: A.jobB })
      note()
      w.change({ type: 'reverse', lineId: w.lineId(), key: i2 })
      note()
      w.issue('12', { to: A.jobB })
      note()
      expect(seen).to.deep.equal(EXPECTED[method].pool)
      expect(formatDecimal(w.value(A.jobA))).to.equal(EXPECTED[method].A)
      expect(formatDecimal(w.value(A.jobB))).to.equal(EXPECTED[method].B)
      expect(formatDecimal(w.value(A.priceDifference))).to.equal(EXPECTED[method].difference)
    })
  }

  it('a receipt taken back after an issue: 10 at 2 and 10 at 10, 9 issued, the dearer one never came', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const dear = w.receive('10', '100')
    const issue = w.issue('9')
    expect(formatDecimal(issue.value)).to.equal('54')
    w.change({ type: 'reverse', lineId: w.lineId(), key: dear })
    const pool = w.books.pool(1)
    expect([formatDecimal(pool.quantity), formatDecimal(pool.value)]).to.deep.equal(['1', '2'])
    expect(formatDecimal(w.value(A.jobA))).to.equal('18')
  })

  it('actual lot: every issue carries what its own lot cost', () => {
    const w = new World([{ method: 'lot', lots: 2 }])
    w.receive('10', '20', { lotId: 100 })
    w.receive('10', '50', { lotId: 101 })
    expect(formatDecimal(w.issue('4', { lotId: 101 }).value)).to.equal('20')
    expect(formatDecimal(w.issue('4', { lotId: 100 }).value)).to.equal('8')
  })

  it('a provisional receipt takes the known cost, is marked, and its price flows into what was used', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const later = w.receive('10', null)
    expect(formatDecimal(later.value)).to.equal('20')
    w.issue('10')
    w.change({ type: 'price', lineId: w.lineId(), key: later, goods: decimal('60') })
    expect(formatDecimal(w.value(A.jobA))).to.equal('40')
    expect(formatDecimal(w.books.pool(1).value)).to.equal('40')
  })

  it('a late invoice reaches a return at its own share though the pool was empty in between (5 for 10, 5 used, 5 more: 2 back are 6)', () => {
    const w = new World([{ method: 'average' }])
    const r = w.receive('5', '10')
    const i = w.issue('5')
    w.change({ type: 'invoice', lineId: w.lineId(), key: r, says: 'more', goods: decimal('5') })
    const back = w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '2', { ref: i })] }).movements[0]!
    expect(formatDecimal(back.value)).to.equal('6')
  })

  it('goods back to the supplier: what is credited beyond or below their cost is a price difference, and a late invoice goes there too', () => {
    const w = new World([{ method: 'average' }])
    const r = w.receive('10', '100')
    w.must({ kind: 'supplier_return', lines: [w.line(A.shelf, A.supplier, '4', { goods: decimal('36') })] })
    expect(formatDecimal(w.value(A.priceDifference))).to.equal('4')
    w.change({ type: 'invoice', lineId: w.lineId(), key: r, says: 'more', goods: decimal('10') })
    expect(formatDecimal(w.value(A.priceDifference))).to.equal('8')
    expect(formatDecimal(w.books.pool(1).value)).to.equal('66')
  })

  it('a make is worth its inputs and the stated extra cost, shared by ratio; a dearer input reaches what was made of it', () => {
    const w = new World([{ method: 'average' }, { method: 'average' }, { method: 'fifo' }])
    const flour = w.receive('10', '10')
    w.must({
      kind: 'make',
      lines: [
        w.line(A.shelf, A.made, '4', { event: 'm' }),
        w.line(A.made, A.shelf, '8', { itemId: 2, event: 'm', weight: 3n, goods: decimal('2') }),
        w.line(A.made, A.shelf, '1', { itemId: 3, event: 'm', weight: 1n }),
      ],
    })
    expect(formatDecimal(w.books.pool(2).value)).to.equal('4.5')
    expect(formatDecimal(w.books.pool(3).value)).to.equal('1.5')
    const eaten = w.issue('4', { itemId: 2 })
    expect(formatDecimal(eaten.value)).to.equal('2.25')
    w.change({ type: 'invoice', lineId: w.lineId(), key: flour, says: 'more', goods: decimal('10') })
    expect(formatDecimal(w.books.pool(2).value)).to.equal('3.75')
    expect(formatDecimal(w.value(A.jobA))).to.equal('3.75')
    expect(formatDecimal(w.books.pool(3).value)).to.equal('2.5')
  })

  it('the standard cost set anew revalues what is there at once; what was used stays', () => {
    const w = new World([{ method: 'standard', standard: '2' }])
    w.receive('10', '20')
    w.issue('4')
    w.change({ type: 'standard', lineId: w.lineId(), itemId: 1, lotId: 100, cost: decimal('3') })
    expect(formatDecimal(w.books.pool(1).value)).to.equal('18')
    expect(formatDecimal(w.value(A.jobA))).to.equal('8')
    expect(formatDecimal(w.value(A.priceDifference))).to.equal('-6')
  })
})
