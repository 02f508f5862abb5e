import { expect } from 'chai'
import { Costing, emptyPool, ONE, type CostMethod, type Fact, put, putBack, take } from '@shelve/core'
import { AWAY, factOf, SHELF } from './fact.ts'

type More = Partial<Fact>
/** Facts with small whole figures, so that each case can be worked out on paper. */
class Books {
  readonly costing: Costing
  #seq = 0
  readonly events: Fact[] = []
  unpriced = false
  constructor(
    readonly method: CostMethod,
    standard = 0n,
  ) {
    this.costing = new Costing({
      isPlace: a => a === SHELF,
      eventFacts: () => this.events,
      unpricedEvent: () => this.unpriced,
    })
    this.costing.pools.set(1, emptyPool(method, standard))
  }
  get pool() {
    return this.costing.pools.get(1)!
  }
  fact(kind: Fact['kind'], quantity: bigint, more: More = {}): Fact {
    return factOf(kind, quantity, ++this.#seq, more)
  }
  /** What a fact comes to: `value`, with `gap` and *provisional* where there is one; or what is missing. */
  does(kind: Fact['kind'], quantity: bigint, more: More = {}): string {
    const o = this.costing.apply(this.fact(kind, quantity, more))
    if ('short' in o) return `${o.short ? o.code : 'not short'} ${o.missing}`
    return `${o.value}${o.gap ? ` gap ${o.gap}` : ''}${o.provisional ? ' provisional' : ''}`
  }
  receive = (quantity: bigint, goods: bigint | null, more: More = {}) =>
    this.does('receipt', quantity, { goods, ...more })
  back = (quantity: bigint, of: number, part = 0) => this.does('back', quantity, { refCostSeq: of, refPart: part })
  missing = (quantity: bigint, tallyId = 7) => this.does('difference', quantity, { tallyId })
  found = (quantity: bigint, tallyId = 7, more: More = {}) =>
    this.does('found', quantity, { tallyId, from: AWAY, to: SHELF, ...more })
  open = (tallyId = 7) => {
    const { quantity, value } = this.costing.open(tallyId)
    return `${quantity} at ${value}`
  }
  get layers() {
    return this.pool.layers.map(l => `${l.quantity} at ${l.value}`)
  }
  get stands() {
    return `${this.pool.quantity} at ${this.pool.value}`
  }
}

describe('costing, fact by fact', () => {
  it('what is brought back is what was issued, at its share, and no more of it', () => {
    const b = new Books('average')
    b.receive(10n, 100n)
    expect(b.does('out', 3n)).to.equal('30')
    expect(b.back(2n, 2)).to.equal('20')
    expect(b.back(2n, 2), 'one is left of it').to.equal('brought_back 1')
    expect(b.costing.returnable({ costSeq: 2, part: 0 })).to.deep.include({ quantity: 1n, value: 10n })
    expect([b.back(1n, 2), b.stands]).to.deep.equal(['10', '10 at 100'])
    expect(b.back(2n, 99), 'never issued').to.equal('brought_back 2')
    expect(b.costing.returnable({ costSeq: 99, part: 0 })).to.equal(undefined)
  })
  it('what is not there is said, by how much', () => {
    const b = new Books('average')
    b.receive(5n, 50n)
    expect([b.does('out', 8n), b.missing(7n), b.does('return', 6n)]).to.deep.equal([
      'would_have_been_missing 3',
      'would_have_been_missing 2',
      'would_have_been_missing 1',
    ])
    expect(b.stands, 'and nothing moved').to.equal('5 at 50')
    expect(b.does('out', 5n)).to.equal('50')
    expect(() => b.does('out', 1n, { poolId: 2 })).to.throw('pool 2 is not part of this costing')
  })
  it('goes back to the supplier at the method’s cost; what is credited otherwise is a price difference', () => {
    const b = new Books('average')
    b.receive(10n, 100n)
    expect([
      b.does('return', 3n),
      b.does('return', 3n, { goods: 25n }),
      b.does('return', 3n, { goods: 33n }),
    ]).to.deep.equal(['30', '25 gap 5', '33 gap -3'])
    expect(b.back(1n, 2), 'it is no issue').to.equal('brought_back 1')
    expect(b.does('return', 2n, { goods: 1n })).to.equal('would_have_been_missing 1')
  })
  it('a shortage comes back at its share, the last first; beyond it there is a surplus at the pool’s cost', () => {
    const b = new Books('average')
    b.receive(10n, 100n)
    expect([b.missing(4n), b.open()]).to.deep.equal(['40', '4 at 40'])
    expect([b.found(1n), b.open()]).to.deep.equal(['10', '3 at 30'])
    b.receive(1n, 50n)
    // 8 at 120 are there: 3 come back at 30, 2 more at 150 ÷ 11 each.
    expect([b.found(5n), b.open()]).to.deep.equal(['57', '-2 at -27'])
    // One of the surplus gives up 14 (half of 27, to the even), the pool gives 14 (177 ÷ 13).
    expect([b.missing(1n), b.open()]).to.deep.equal(['14', '-1 at -13'])
    expect(b.does('close', 1n, { tallyId: 7 })).to.equal('13')
    expect(b.missing(3n), 'the rest of the surplus, and two that are missing').to.equal('40 gap 1')
    expect(b.open()).to.equal('2 at 27')
    expect(b.does('close', 2n, { tallyId: 7 })).to.equal('27')
    expect([b.open(8), b.does('close', 1n, { tallyId: 8 })], 'nothing is open of another').to.deep.equal([
      '0 at 0',
      '0',
    ])
  })
  it('first in, first out gives back into the layers that were drawn, last taken first', () => {
    const b = new Books('fifo')
    b.receive(3n, 30n)
    b.receive(3n, 60n)
    expect([b.missing(4n), b.layers]).to.deep.equal(['50', ['2 at 40']])
    expect([b.found(2n), b.layers, b.open()]).to.deep.equal(['30', ['1 at 10', '3 at 60'], '2 at 20'])
    expect([b.found(2n), b.layers, b.open()]).to.deep.equal(['20', ['3 at 30', '3 at 60'], '0 at 0'])
    expect([b.does('out', 4n), b.back(1n, 6), b.layers]).to.deep.equal(['50', '20', ['3 at 60']])
    expect([b.back(2n, 6), b.layers]).to.deep.equal(['20', ['2 at 20', '3 at 60']])
    expect(b.back(2n, 6)).to.equal('brought_back 1')
    // Two that went missing one after the other: the later comes back first.
    expect([b.missing(2n), b.missing(1n), b.found(2n), b.open()]).to.deep.equal(['20', '20', '30', '1 at 10'])
  })
  it('of what nothing is known, what is found is worth what is said, or nothing yet', () => {
    const said = new Books('average')
    expect([said.found(3n, 7, { goods: 2n * ONE }), said.pool.tainted]).to.deep.equal(['6', false])
    const silent = new Books('average')
    expect([silent.found(3n), silent.pool.tainted, silent.open()]).to.deep.equal(['0 provisional', true, '-3 at 0'])
    expect(silent.does('out', 3n)).to.equal('0')
    expect([silent.pool.lastOut, silent.pool.tainted], 'a guess is never the last known').to.deep.equal([null, false])
    silent.receive(2n, 8n)
    expect([silent.does('out', 1n), silent.pool.lastOut]).to.deep.equal(['4', { value: 4n, quantity: 1n }])
    expect(silent.receive(1n, null)).to.equal('4 provisional')
    expect([silent.does('out', 1n), silent.pool.tainted, silent.pool.lastOut!.value]).to.deep.equal(['4', true, 4n])
  })
  it('under standard cost what differs from it goes beside the pool, both ways', () => {
    const b = new Books('standard', 10n)
    expect([b.receive(3n * ONE, 36n), b.stands]).to.deep.equal(['36 gap 6', `${3n * ONE} at 30`])
    expect(b.missing(2n * ONE)).to.equal('20')
    expect([b.does('standard', 0n, { goods: 12n }), b.does('standard', 0n)]).to.deep.equal(['2', '0'])
    expect(b.found(ONE), 'it comes back at 10 and is worth 12').to.equal('10 gap -2')
    expect(b.found(2n * ONE), 'one more at 10, and one that is over at 12').to.equal('22 gap -2')
    expect(b.does('standard', 0n, { goods: 9n })).to.equal('-12')
    expect([b.missing(ONE), b.open()], 'the surplus gives up its 12').to.deep.equal(['12 gap -3', '0 at 0'])
    const half = new Books('standard', 1n)
    half.receive(ONE / 2n, 0n)
    expect(half.found(ONE / 2n), 'rounding too').to.equal('0 gap -1')
    const average = new Books('average')
    average.receive(1n, 5n)
    expect([average.does('standard', 0n, { goods: 7n }), average.stands]).to.deep.equal(['0', '1 at 5'])
  })
  it('what comes out of an event shares by weight what went in, and what it cost besides', () => {
    const b = new Books('average')
    b.receive(10n, 100n)
    const used = b.fact('event_out', 6n, { value: 60n })
    const [one, two, none] = [
      b.fact('event_in', 3n, { part: 1, weight: 2n, goods: 3n }),
      b.fact('event_in', 5n, { part: 2 }),
      b.fact('event_in', 0n, { part: 3, weight: 97n, goods: 50n }),
    ]
    b.events.push(used, one, two, none)
    const worth = (f: Fact) => (b.costing.apply(f) as { value: bigint }).value
    expect(worth(used)).to.equal(60n)
    expect([worth(one), b.pool.lastReceipt]).to.deep.equal([42n, { value: 42n, quantity: 3n }])
    expect([worth(two), worth(none), b.stands]).to.deep.equal([21n, 0n, '12 at 103'])
    expect(b.back(1n, used.costSeq), 'what went into an event is not brought back').to.equal('brought_back 1')
    expect([b.does('move', 5n), b.stands]).to.deep.equal(['0', '12 at 103'])
    const standard = new Books('standard', 10n)
    standard.events.push(standard.fact('event_out', ONE, { value: 7n }))
    const made = standard.fact('event_in', ONE)
    standard.events.push(made)
    expect(standard.costing.apply(made)).to.deep.include({ value: 7n, gap: -3n })
    const empty = new Books('average')
    expect(empty.costing.apply(empty.fact('event_in', 1n)), 'of nothing nothing').to.deep.include({ value: 0n })
  })
})

describe('a pool', () => {
  const fifo = (...keys: [number, number][]) => {
    const p = emptyPool('fifo')
    for (const [costSeq, part] of keys) put(p, { costSeq, part }, 1n, BigInt(costSeq * 10 + part))
    return p
  }
  const order = (p: ReturnType<typeof fifo>) => p.layers.map(l => `${l.costSeq}.${l.part}`).join(' ')
  it('keeps layers in the order of costing, whenever they come', () => {
    expect(order(fifo([3, 0], [1, 0], [2, 1], [2, 0], [2, 2]))).to.equal('1.0 2.0 2.1 2.2 3.0')
    expect(order(fifo([1, 1], [2, 0])), 'a later one with a smaller part').to.equal('1.1 2.0')
    expect(order(fifo([2, 0], [1, 1])), 'an earlier one with a larger part').to.equal('1.1 2.0')
    const p = fifo([1, 0], [2, 0], [2, 1])
    putBack(p, [{ costSeq: 2, part: 0, quantity: 2n, value: 5n }])
    expect(
      p.layers.map(l => l.quantity),
      'into its own',
    ).to.deep.equal([1n, 3n, 1n])
    expect([p.quantity, p.value]).to.deep.equal([5n, 56n])
  })
  it('of no quantity, or of another method, makes no layer', () => {
    const p = emptyPool('fifo')
    put(p, { costSeq: 1, part: 0 }, 0n, 5n)
    const average = emptyPool('average')
    put(average, { costSeq: 1, part: 0 }, 1n, 5n)
    expect([p.layers, p.value, average.layers]).to.deep.equal([[], 5n, []])
  })
  it('gives nothing for nothing, and a layer whole where all of it goes', () => {
    const p = fifo([1, 0], [2, 0])
    expect(take(p, 0n)).to.deep.equal({ value: 0n, draws: [] })
    expect(p.lastOut).to.equal(null)
    expect(take(p, 1n)).to.deep.equal({ value: 10n, draws: [{ costSeq: 1, part: 0, quantity: 1n, value: 10n }] })
    expect(order(p)).to.equal('2.0')
    expect(take(p, 2n)).to.equal(undefined)
  })
  it('gives its last with whatever is left of its value', () => {
    const p = emptyPool('average')
    put(p, { costSeq: 1, part: 0 }, 3n, 100n)
    expect([take(p, 1n)!.value, take(p, 1n)!.value, take(p, 1n)!.value, p.value]).to.deep.equal([33n, 34n, 33n, 0n])
  })
})
