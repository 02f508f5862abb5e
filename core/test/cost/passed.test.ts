// What was used is charged to somebody else, or came back spoiled: at its share of the issue (rules 5 and 63), whatever becomes of its cost later.
import { expect } from 'chai'
import { decimal, formatDecimal, type CostMethod } from '@shelve/core'
import { A, World } from '../ledger/world.ts'

const key = (m: { costSeq: number; part: number }) => ({ costSeq: m.costSeq, part: m.part })
const told = (r: ReturnType<World['try']>) => ('movements' in r ? 'booked' : r.map(x => x.code))

describe('what was used is charged to somebody else, or spoiled', () => {
  let w: World
  const values = () => [A.jobA, A.jobB, A.waste].map(a => formatDecimal(w.value(a)))
  const pass = (from: number, to: number, quantity: string, ref: { costSeq: number; part: number }) =>
    w.try({ kind: to === A.waste ? 'bring_back' : 'recharge', lines: [w.line(from, to, quantity, { ref: key(ref) })] })
  /** 10 at 2, then 10 at 5; 12 are issued to A. Gives the issue. */
  const issued = (method: CostMethod) => {
    w = new World([{ method, standard: '3' }])
    w.receive('10', '20')
    w.receive('10', '50')
    return w.issue('12')
  }

  // By hand: average 3.5 each, 42; first in first out 10 × 2 + 2 × 5 = 30, last taken first; standard 3 each.
  const table: [CostMethod, all: string, three: string, one: string, back: string][] = [
    ['average', '42', '10.5', '3.5', '7'],
    ['fifo', '30', '12', '2', '10'],
    ['standard', '36', '9', '3', '6'],
  ]
  for (const [method, all, three, one, back] of table)
    it(`${method}: 3 of 12 to B, 1 spoiled, then 2 brought back from B; the pool hears of the last alone`, () => {
      const issue = issued(method)
      const rest = (...less: string[]) => formatDecimal(less.reduce((s, x) => s - decimal(x), decimal(all)))
      expect(values()).to.deep.equal([all, '0', '0'])
      const passed = pass(A.jobA, A.jobB, '3', issue)
      expect(told(passed)).to.equal('booked')
      expect(values()).to.deep.equal([rest(three), three, '0'])
      expect(told(pass(A.jobA, A.waste, '1', issue))).to.equal('booked')
      expect(values()).to.deep.equal([rest(three, one), three, one])
      const stock = () => w.value(A.stock) + w.value(A.shelf)
      const before = stock()
      const m = 'movements' in passed ? passed.movements[0]! : undefined
      expect(told(w.try({ kind: 'bring_back', lines: [w.line(A.jobB, A.shelf, '2', { ref: key(m!) })] }))).to.equal(
        'booked',
      )
      expect(values()).to.deep.equal([rest(three, one), formatDecimal(decimal(three) - decimal(back)), one])
      expect(formatDecimal(stock() - before)).to.equal(back)
      expect(told(pass(A.jobB, A.jobA, '2', m!)), 'one is left with B').to.deep.equal(['brought_back'])
      expect(told(pass(A.jobA, A.jobB, '9', issue)), 'eight are left with A').to.deep.equal(['brought_back'])
      expect(told(pass(A.jobB, A.waste, '1', issue)), 'the issue went to A').to.deep.equal(['nothing_to_bring_back'])
    })

  it('a price that comes later is charged to whoever has it by now', () => {
    w = new World([{ method: 'average' }])
    const came = w.receive('10', null)
    const issue = w.issue('4')
    pass(A.jobA, A.jobB, '1', issue)
    pass(A.jobA, A.waste, '1', issue)
    expect(values()).to.deep.equal(['0', '0', '0'])
    w.change({ type: 'price', lineId: w.lineId(), key: key(came), goods: decimal('30') })
    expect(values()).to.deep.equal(['6', '3', '3'])
  })

  it('the issue is not taken back while part of it is charged elsewhere; that is taken back first', () => {
    const issue = issued('average')
    const passed = pass(A.jobA, A.jobB, '12', issue)
    const back = () =>
      told(w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: w.lineId(), key: key(issue) }] }))
    expect(back()).to.deep.equal(['brought_back'])
    const m = 'movements' in passed ? passed.movements[0]! : undefined
    w.change({ type: 'reverse', lineId: w.lineId(), key: key(m!) })
    expect(values()).to.deep.equal(['42', '0', '0'])
    expect(back()).to.equal('booked')
    expect(values()).to.deep.equal(['0', '0', '0'])
  })
})
