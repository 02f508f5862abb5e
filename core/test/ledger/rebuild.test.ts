import { expect } from 'chai'
import { decimal, formatDecimal, type Movement, onHand, poolValue, rebuild } from '@shelve/core'
import { A, World } from './world.ts'

const anew = (w: World, movements: readonly Movement[] = w.books.movements) =>
  rebuild(movements, {
    isPlace: a => w.books.accountKind(a) === 'place',
    isPriceDifference: a => a === A.priceDifference,
    poolStart: id => w.books.poolStart(id),
  })

/** Two items, of which one is made of the other; a return below cost; something moved, something brought back. */
function busy() {
  const w = new World([{ method: 'average' }, { method: 'fifo' }, { method: 'standard', standard: '3' }])
  w.receive('10', '20')
  w.must({
    kind: 'make',
    lines: [
      w.line(A.shelf, A.made, '4', { event: 'e' }),
      w.line(A.made, A.bench, '2', { event: 'e', itemId: 2, lotId: 200 }),
    ],
  })
  w.must({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1')] })
  const issued = w.issue('2')
  w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.bench, '1', { ref: issued })] })
  w.must({ kind: 'supplier_return', lines: [w.line(A.shelf, A.supplier, '1', { goods: decimal('1.5') })] })
  w.receive('5', '20', { itemId: 3 })
  return w
}

describe('everything worked out anew from the movements alone', () => {
  it('is what was kept: what lies where, and every pool', () => {
    const w = busy()
    const { balances, pools, faults } = anew(w)
    expect(faults).to.deep.equal([])
    expect(
      new Map(
        [...balances]
          .filter(c => c.quantity !== 0n)
          .map(c => [`${c.itemId}.${c.lotId}.${c.placeId}`, formatDecimal(c.quantity)]),
      ),
    ).to.deep.equal(
      new Map([
        [`1.100.${A.shelf}`, '2'],
        [`1.100.${A.bench}`, '2'],
        [`2.200.${A.bench}`, '2'],
        [`3.300.${A.shelf}`, '5'],
      ]),
    )
    expect([...pools].map(([id, p]) => [id, formatDecimal(p.quantity), formatDecimal(p.value)])).to.have.deep.members([
      [1, '4', '8'],
      [2, '2', '8'],
      [3, '5', '15'],
    ])
  })
  it('in whatever order pools come, and however they are tied: an event that is damaged shows in what came of it', () => {
    const w = busy()
    const input = w.books.movements.find(m => m.kind === 'event_out')!
    const output = w.books.movements.find(m => m.kind === 'event_in')!
    const damaged = w.books.movements.map(m => (m === input || m === output ? { ...m, value: m.value + 1n } : m))
    // The input is worth what its pool says, and so the output what it said before.
    expect(anew(w, damaged).faults).to.deep.equal([
      { check: 'costs', where: `movement ${input.seq}`, kept: '8000001', right: '8000000' },
      { check: 'costs', where: `movement ${output.seq}`, kept: '8000001', right: '8000000' },
    ])
  })
  it('says of each line what it should carry', () => {
    const w = busy()
    for (const kind of ['receipt', 'out', 'back', 'return', 'event_in'] as const) {
      const line = w.books.movements.find(m => m.kind === kind && m.revalues === null)!
      const { faults } = anew(
        w,
        w.books.movements.map(m => (m === line ? { ...m, value: m.value + 7n } : m)),
      )
      expect(faults[0], kind).to.deep.equal({
        check: 'costs',
        where: `movement ${line.seq}`,
        kept: String(line.value + 7n),
        right: String(line.value),
      })
    }
    // What a return took beside its credit, and what a standard cost leaves, are price differences.
    const gaps = w.books.movements.filter(m => m.revalues !== null && m.to === A.priceDifference)
    expect(gaps.map(m => [m.kind, formatDecimal(m.value)])).to.deep.equal([
      ['return', '0.5'],
      ['receipt', '5'],
    ])
    for (const gap of gaps) {
      const { faults } = anew(
        w,
        w.books.movements.map(m => (m === gap ? { ...m, value: m.value - 3n } : m)),
      )
      expect(faults).to.deep.equal([
        {
          check: 'costs',
          where: `price difference of movement ${gap.revalues}`,
          kept: String(gap.value - 3n),
          right: String(gap.value),
        },
      ])
    }
  })
  it('says where a pool could not have given what a line took, and goes on with the others', () => {
    const w = busy()
    const line = w.books.movements.find(m => m.kind === 'out')!
    const { faults, balances } = anew(
      w,
      w.books.movements.map(m => (m === line ? { ...m, quantity: decimal('7') } : m)),
    )
    expect(faults).to.deep.equal([
      { check: 'costs', where: `movement ${line.seq}`, kept: '7000000', right: '1000000 less' },
    ])
    expect(balances.get(1, 100, A.shelf)).to.equal(decimal('-3'))
  })
})

describe('the working of a figure, movement by movement', () => {
  const lines = (of: ReturnType<typeof onHand>) =>
    of.lines.map(l => [l.label, formatDecimal(l.amount), l.ref?.id, l.at])
  it('on hand: what moved there, the earlier ones in one line; nothing that moved elsewhere, or was worth more later', () => {
    const w = new World([{ method: 'average' }])
    const first = w.receive('10', '20')
    w.must({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1')] })
    const issued = w.issue('2')
    w.must({ kind: 'issue', lines: [w.line(A.bench, A.jobA, '1')] })
    w.change({ type: 'price', lineId: 'x', key: first, goods: decimal('30') })
    w.change({ type: 'reverse', lineId: 'x', key: issued })
    const own = w.books.movements
    const at = (slip: number) => own.find(m => m.slipId === slip)!.effectiveAt
    const back = own.find(m => m.reverses !== null)!
    expect(lines(onHand(own, A.shelf))).to.deep.equal([
      ['receipt', '10', 1, at(1)],
      ['move', '-1', 2, at(2)],
      ['out', '-2', 3, at(3)],
      ['taken_back', '2', back.slipId, back.effectiveAt],
    ])
    expect(lines(onHand(own, A.shelf, 2))).to.deep.equal([
      ['before', '9', undefined, undefined],
      ['out', '-2', 3, at(3)],
      ['taken_back', '2', back.slipId, back.effectiveAt],
    ])
    expect(formatDecimal(onHand(own, A.shelf).figure)).to.equal('9')
    const inStock = (a: number) => w.books.accountKind(a) === 'place' || a === A.stock
    expect(lines(poolValue(own, inStock)).map(l => l.slice(0, 3))).to.deep.equal([
      ['receipt', '20', 1],
      ['out', '-4', 3],
      ['out', '-2', 4],
      ['revalued', '10', 5],
      ['revalued', '-2', 5],
      ['revalued', '-1', 5],
      ['taken_back', '6', 6],
    ])
    expect(lines(poolValue(own, inStock, 1)).map(l => l.slice(0, 3))).to.deep.equal([
      ['before', '21', undefined],
      ['taken_back', '6', 6],
    ])
    expect([poolValue(own, inStock).of, onHand(own, A.shelf).of]).to.deep.equal(['value', 'quantity'])
  })
})

describe('where a slip does something', () => {
  it('each of its lines, at each place that it touches, once; never an account', () => {
    const w = new World([{ method: 'average' }])
    const touched = (of: { touched: readonly { lineId: string; placeId: number }[] }) =>
      of.touched.map(t => [t.lineId, t.placeId])
    const line = (lineId: string, from: number, to: number) => w.line(from, to, '1', { lineId, goods: null })
    const received = w.must({
      kind: 'receipt',
      lines: [line('a', A.supplier, A.shelf), line('b', A.supplier, A.shelf), line('c', A.supplier, A.jobA)],
    })
    expect(touched(received)).to.deep.equal([
      ['a', A.shelf],
      ['b', A.shelf],
    ])
    expect(touched(w.must({ kind: 'move', lines: [line('a', A.shelf, A.bench)] }))).to.deep.equal([
      ['a', A.shelf],
      ['a', A.bench],
    ])
    // Of a lot that is split over two lines the place is said once.
    const parts = [line('a', A.shelf, A.jobA), line('a', A.bench, A.jobA)].map(l => ({ ...l, quantity: 100n }))
    expect(touched(w.must({ kind: 'issue', lines: [...parts, { ...parts[0]!, quantity: 200n }] }))).to.deep.equal([
      ['a', A.shelf],
      ['a', A.bench],
    ])
  })
})
