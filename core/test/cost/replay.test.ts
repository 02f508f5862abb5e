import { expect } from 'chai'
import { type CostMethod, emptyPool, type Fact, methodChangeLines, replay, type ReplayBooks } from '@shelve/core'
import { factOf, SHELF } from './fact.ts'

/** Facts as they are kept, each with the value that was written; `tied` by place in the order of costing. */
class Kept {
  readonly asked: number[] = []
  constructor(
    readonly facts: readonly Fact[],
    readonly tied: Readonly<Record<number, readonly number[]>> = {},
    readonly methods: Readonly<Record<number, CostMethod>> = {},
    /** What went into an event at a price that was not known, by pool. */
    readonly unpriced: Readonly<Record<number, readonly string[]>> = {},
  ) {}
  get books(): ReplayBooks {
    return {
      isPlace: a => a === SHELF,
      poolStart: id => emptyPool(this.methods[id] ?? 'average'),
      poolFacts: id => {
        this.asked.push(id)
        return this.facts.filter(f => f.poolId === id)
      },
      // As a database may hand them over: in any order, and each time anew.
      eventFacts: seq =>
        this.facts
          .filter(f => f.costSeq === seq && f.kind.startsWith('event_'))
          .map(f => ({ ...f }))
          .reverse(),
      tied: f => this.tied[f.costSeq] ?? [],
      unpriced: id => new Set(this.unpriced[id]),
    }
  }
  /** What each fact is worth, in the order in which they were valued; or what is missing of which. */
  from(...pools: number[]): string[] {
    this.asked.length = 0
    const r = replay(this.books, pools)
    if (!r.ok) return [`${r.code} ${r.missing} at ${r.fact.costSeq}`]
    for (const id of this.asked) expect(r.pools.get(id), `pool ${id} is told`).to.equal(r.costing.pools.get(id))
    return r.valued.map(
      ({ fact, outcome }) =>
        `${fact.costSeq}.${fact.part} pool ${fact.poolId} ${fact.kind} ${outcome.value}${outcome.provisional ? '?' : ''}`,
    )
  }
}
const fact = (seq: number, kind: Fact['kind'], poolId: number, quantity: bigint, more: Partial<Fact> = {}) =>
  factOf(kind, quantity, seq, { poolId, itemId: poolId, ...more })

describe('values flow forward', () => {
  /** 10 of A for `price`; 4 of it and 2 of C go into 5 of B, of which 1 was there for 3; then both are issued. */
  const making = (price: bigint) =>
    new Kept([
      fact(1, 'receipt', 1, 10n, { goods: price }),
      fact(2, 'receipt', 2, 1n, { goods: 3n, value: 3n }),
      fact(3, 'receipt', 3, 2n, { goods: 6n, value: 6n }),
      fact(4, 'event_out', 1, 4n, { value: 8n }),
      fact(4, 'event_out', 3, 2n, { part: 1, value: 6n }),
      fact(4, 'event_in', 2, 3n, { part: 2, weight: 3n, value: 9n }),
      fact(4, 'event_in', 4, 1n, { part: 3, weight: 2n, value: 5n }),
      fact(5, 'out', 1, 3n, { value: 6n }),
      fact(6, 'out', 2, 4n, { value: 12n }),
    ])
  it('what goes in at the value it had leaves what came out of it alone', () => {
    const kept = making(20n)
    expect(kept.from(1)).to.deep.equal(['1.0 pool 1 receipt 20', '4.0 pool 1 event_out 8', '5.0 pool 1 out 6'])
    expect(kept.asked).to.deep.equal([1])
  })
  it('where it changes, each pool that something came out into joins there, the one order kept; what went in beside it does not', () => {
    const kept = making(40n)
    // 16 of A and 6 of C as kept: 22 by weights 3 and 2, 13.2 and 8.8.
    expect(kept.from(1)).to.deep.equal([
      '1.0 pool 1 receipt 40',
      '4.0 pool 1 event_out 16',
      '2.0 pool 2 receipt 3',
      '4.2 pool 2 event_in 13',
      '4.3 pool 4 event_in 9',
      '5.0 pool 1 out 12',
      '6.0 pool 2 out 16',
    ])
    expect(kept.asked, 'each once').to.have.members([1, 2, 4]).and.have.length(3)
  })
  it('whether it is known goes along like its worth: what was a guess and proves right, what is one as before, what is one now', () => {
    const known = ['1.0 pool 1 receipt 20', '4.0 pool 1 event_out 8', '5.0 pool 1 out 6']
    const made = (sure: '' | '?') => [
      '2.0 pool 2 receipt 3',
      `4.2 pool 2 event_in 8${sure}`,
      `4.3 pool 4 event_in 6${sure}`,
    ]
    const of = (price: bigint | null, unpriced: Record<number, string[]>) => {
      const [bought, ...rest] = making(20n).facts
      return new Kept([{ ...bought!, goods: price, charges: price === null ? 20n : 0n }, ...rest], {}, {}, unpriced)
    }
    // In order of costing: the receipts, the make, then what was issued.
    const joined = (sure: '' | '?') => [
      `1.0 pool 1 receipt 20${sure}`,
      `4.0 pool 1 event_out 8${sure}`,
      ...made(sure),
      '5.0 pool 1 out 6',
      '6.0 pool 2 out 11',
    ]
    expect(of(20n, {}).from(1), 'known before and now').to.deep.equal(known)
    expect(of(20n, { 1: ['4.0'] }).from(1), 'a guess that proves right').to.deep.equal(joined(''))
    expect(of(null, {}).from(1), 'not known any more').to.deep.equal(joined('?'))
    expect(of(null, { 1: ['4.0'] }).from(1), 'a guess as before').to.deep.equal(
      known.map(x => x.replace(/(receipt 20|event_out 8)/, '$1?')),
    )
    expect(of(20n, { 1: ['4.0'], 3: ['4.1'] }).from(1), 'the other input is a guess still').to.deep.equal(
      joined('').map(x => x.replace(/(event_in \d+)/, '$1?')),
    )
    expect(of(20n, { 3: ['4.1'] }).from(2), 'asked of what came out alone: as kept').to.include(
      '4.2 pool 2 event_in 8?',
    )
  })
  it('asked of what came out alone, what went in is worth what is kept', () => {
    expect(making(40n).from(2)).to.deep.equal(['2.0 pool 2 receipt 3', '4.2 pool 2 event_in 8', '6.0 pool 2 out 11'])
  })
  it('several pools at once are one row in the order of costing', () => {
    const kept = making(20n)
    expect(kept.from(3, 1, 3)).to.deep.equal([
      '1.0 pool 1 receipt 20',
      '3.0 pool 3 receipt 6',
      '4.0 pool 1 event_out 8',
      '4.1 pool 3 event_out 6',
      '5.0 pool 1 out 6',
    ])
    expect(kept.asked).to.deep.equal([3, 1])
    expect(kept.from()).to.deep.equal([])
  })
  it('what would have been missing is said with where and how much, and nothing after it is valued', () => {
    const kept = new Kept([
      fact(1, 'receipt', 1, 5n, { goods: 10n }),
      fact(2, 'out', 1, 7n),
      fact(3, 'receipt', 1, 5n, { goods: 10n }),
    ])
    expect(kept.from(1)).to.deep.equal(['would_have_been_missing 2 at 2'])
  })

  /** One item's 6 at 12 go from pool 1 into pool 2, as a change of method does it; 2 of 8 had been issued before. */
  const changed = (tied: Record<number, number[]> = {}) =>
    new Kept(
      [
        fact(1, 'receipt', 1, 8n, { goods: 16n, value: 16n }),
        fact(2, 'out', 1, 2n, { value: 4n }),
        fact(3, 'event_out', 1, 6n, { value: 12n }),
        fact(3, 'event_in', 2, 6n, { itemId: 1, part: 1, weight: 6n, value: 12n }),
        fact(4, 'back', 2, 1n, { itemId: 1, refCostSeq: 2, refPart: 0, value: 2n }),
        fact(5, 'event_out', 2, 2n, { itemId: 1, value: 4n }),
        fact(5, 'event_in', 7, 1n, { part: 1, weight: 1n, value: 4n }),
      ],
      tied,
    )
  it('pools of one item that an event joins are always replayed together, from either side; those of another item are not', () => {
    const all = [
      '1.0 pool 1 receipt 16',
      '2.0 pool 1 out 4',
      '3.0 pool 1 event_out 12',
      '3.1 pool 2 event_in 12',
      '4.0 pool 2 back 2',
      '5.0 pool 2 event_out 4',
    ]
    for (const side of [1, 2]) {
      const kept = changed()
      expect(kept.from(side), `from ${side}`).to.deep.equal(all)
      expect(kept.asked.sort()).to.deep.equal([1, 2])
    }
  })
  it('without anything between them, those that a fact looks into are', () => {
    const facts = changed().facts.filter(f => f.kind === 'receipt' || f.kind === 'out' || f.kind === 'back')
    expect(new Kept(facts).from(2)).to.deep.equal(['brought_back 1 at 4'])
    const kept = new Kept(facts, { 4: [1] })
    expect(kept.from(2)).to.deep.equal(['1.0 pool 1 receipt 16', '2.0 pool 1 out 4', '4.0 pool 2 back 2'])
    expect(kept.asked).to.deep.equal([2, 1])
  })
  it('each pool begins by its own method', () => {
    const facts = [
      fact(1, 'receipt', 1, 1n, { goods: 2n }),
      fact(2, 'receipt', 1, 1n, { goods: 6n }),
      fact(3, 'out', 1, 1n),
    ]
    const last = (method: CostMethod) => new Kept(facts, {}, { 1: method }).from(1).at(-1)
    expect([last('average'), last('fifo')]).to.deep.equal(['3.0 pool 1 out 4', '3.0 pool 1 out 2'])
  })
})

describe('the lines of a change of method', () => {
  it('all that lies anywhere goes out of its pool and into the new one, each old pool an event; of what is not there, nothing', () => {
    const balances = [
      { lotId: 100, placeId: 1, quantity: 4n },
      { lotId: 100, placeId: 2, quantity: 1n },
      { lotId: 101, placeId: 1, quantity: 0n },
      { lotId: 102, placeId: 3, quantity: 7n },
    ]
    const pools = { poolBefore: (lot: number) => lot - 90, poolAfter: (lot: number) => lot - 50 }
    const lines = methodChangeLines(balances as never, { itemId: 5, lineId: 'L', relabel: 77, ...pools })
    const pair = (lotId: number, placeId: number, quantity: bigint) => {
      const line = { lineId: 'L', itemId: 5, lotId, quantity, event: String(lotId - 90) }
      return [
        { ...line, from: placeId, to: 77, poolId: lotId - 90 },
        { ...line, from: 77, to: placeId, poolId: lotId - 50, weight: quantity },
      ]
    }
    expect(lines).to.deep.equal([...pair(100, 1, 4n), ...pair(100, 2, 1n), ...pair(102, 3, 7n)])
  })
})
