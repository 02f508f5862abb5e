import { expect } from 'chai'
import fc from 'fast-check'
import { dayNumber, outstanding, stillComing } from '@shelve/core'

describe('what was asked for and has not come', () => {
  it('is filled in the order of asking, by what came since', () => {
    // Worked by hand; common practice.
    expect(
      outstanding(
        [
          { at: 1, quantity: 10n },
          { at: 8, quantity: 5n },
        ],
        [{ at: 9, quantity: 12n }],
      ),
    ).to.deep.equal([0n, 3n])
    expect(
      outstanding(
        [
          { at: 8, quantity: 5n },
          { at: 1, quantity: 10n },
        ],
        [{ at: 9, quantity: 12n }],
      ),
    ).to.deep.equal([3n, 0n])
    expect(
      outstanding(
        [{ at: 8, quantity: 5n }],
        [
          { at: 7, quantity: 12n },
          { at: 8, quantity: 1n },
        ],
      ),
      'what came before was not for it',
    ).to.deep.equal([4n])
    expect(
      outstanding([{ at: 1, quantity: 2n }], [{ at: 2, quantity: 9n }]),
      'more than was asked for fills no more',
    ).to.deep.equal([0n])
  })
  it('arrivals fill in the order they came, whatever the order they are told in; at one instant what was written first', () => {
    const at = (at: number, quantity: bigint) => ({ at, quantity })
    expect(outstanding([at(1, 5n), at(6, 5n)], [at(7, 4n), at(2, 3n)]), 'early ones first').to.deep.equal([0n, 3n])
    expect(outstanding([at(1, 5n), at(6, 5n)], [at(2, 3n), at(7, 4n)])).to.deep.equal([0n, 3n])
    // The late arrival would fill the second line if it were looked at first.
    expect(outstanding([at(5, 5n), at(1, 4n)], [at(6, 5n), at(2, 4n)])).to.deep.equal([0n, 0n])
    expect(outstanding([at(3, 5n), at(3, 5n)], [at(3, 6n)]), 'alike: the first').to.deep.equal([0n, 4n])
    expect(outstanding([at(3, 5n), at(3, 5n)], [at(3, 0n), at(4, -2n)]), 'nothing came').to.deep.equal([5n, 5n])
  })
  it('never below zero nor above what was asked; nothing that came is counted twice; more arrivals never leave more open', () => {
    const list = fc.array(fc.record({ at: fc.nat(20), quantity: fc.bigInt({ min: 0n, max: 50n }) }), { maxLength: 8 })
    fc.assert(
      fc.property(
        list,
        list,
        fc.record({ at: fc.nat(20), quantity: fc.bigInt({ min: 0n, max: 50n }) }),
        (asked, arrivals, more) => {
          const left = outstanding(asked, arrivals)
          const sum = (xs: readonly bigint[]) => xs.reduce((a, b) => a + b, 0n)
          left.forEach((q, i) => expect(q >= 0n && q <= asked[i]!.quantity).to.equal(true))
          expect(sum(asked.map(a => a.quantity)) - sum(left) <= sum(arrivals.map(a => a.quantity))).to.equal(true)
          expect(sum(outstanding(asked, [...arrivals, more])) <= sum(left)).to.equal(true)
        },
      ),
      { numRuns: 600 },
    )
  })
})

describe('what was delivered into another place', () => {
  const [A, B] = ['A', 'B']
  const ask = (at: number, quantity: bigint, place: string) => ({ at, quantity, place })
  const reaches = (a: { place: string }, l: { place: string }) =>
    a.place === '-' ? undefined : a.place === l.place ? ('here' as const) : ('elsewhere' as const)
  for (const [what, asked, came, left] of [
    ['settles what nothing that came here has', [ask(1, 10n, A)], [ask(2, 4n, B)], [6n]],
    ['only after what came here, however late that came', [ask(1, 10n, A)], [ask(2, 8n, B), ask(3, 9n, A)], [0n]],
    ['and what it settles at home first', [ask(1, 5n, A), ask(1, 5n, B)], [ask(2, 7n, B)], [3n, 0n]],
    ['not what was asked for after it came', [ask(3, 5n, A)], [ask(2, 5n, B)], [5n]],
    ['in the same instant it does', [ask(2, 5n, A)], [ask(2, 5n, B)], [0n]],
    ['the first asked first', [ask(2, 5n, A), ask(1, 5n, A)], [ask(3, 6n, B)], [4n, 0n]],
    ['nothing where it has nothing to do with it', [ask(1, 5n, A)], [ask(2, 5n, '-')], [5n]],
  ] as const)
    it(what, () => {
      expect(outstanding(asked, came, reaches)).to.deep.equal(left)
    })
})

describe('how long what was asked for counts as coming', () => {
  for (const [expected, today, patience, counts] of [
    ['2026-11-01', '2026-11-29', 28, true],
    ['2026-11-01', '2026-11-30', 28, false],
    ['2028-02-20', '2028-03-01', 10, true],
    ['2027-02-20', '2027-03-02', 10, true],
    ['2027-02-20', '2027-03-03', 10, false],
    ['2026-12-31', '2026-11-01', 0, true],
    ['2026-11-01', '2026-11-01', 0, true],
    ['2026-11-01', '2026-11-02', 0, false],
  ] as const)
    it(`of ${expected}, ${patience} days long, on ${today}: ${counts ? 'it does' : 'no more'}`, () => {
      expect(stillComing(expected, today, patience)).to.equal(counts)
    })
  it('days are counted as the calendar has them', () => {
    const day = (n: number) => new Date(n * 86_400_000).toISOString().slice(0, 10)
    fc.assert(
      fc.property(fc.integer({ min: -25_000, max: 60_000 }), fc.integer({ min: -800, max: 800 }), (n, d) => {
        expect(dayNumber(day(n + d)) - dayNumber(day(n))).to.equal(d)
      }),
    )
  })
})
