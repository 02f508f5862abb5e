import { expect } from 'chai'
import { formatDecimal, methodChangeLines, type Refusal } from '@shelve/core'
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

  it('waits while a counted difference is open', () => {
    const w = new World([{ method: 'average', next: 'fifo' }])
    w.receive('10', '20')
    w.must({ kind: 'count', counts: [w.count('8')] })
    expect(code(change(w))).to.equal('differences_open')
    w.must({ kind: 'closing', lines: [{ ...w.line(A.difference + 1, A.loss, '1'), quantity: 0n, tallyId: 1 }] })
    must(w)
    expect(pool(w, 51)).to.deep.equal(['8', '16'])
  })
})
