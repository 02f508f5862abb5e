import { expect } from 'chai'
import fc from 'fast-check'
import { earliestFor, lowestSince, type Step } from '@shelve/core'

const MINUTE = 60_000
const steps = fc.array(
  fc.record({ at: fc.integer({ min: 0, max: 40 }).map(m => m * 30_000), delta: fc.bigInt({ min: -9n, max: 9n }) }),
  { maxLength: 12 },
)

describe('the timeline of a place', () => {
  it('the earliest minute that fits is the first from which the lowest balance covers it (the plain definition)', () => {
    fc.assert(
      fc.property(steps, fc.integer({ min: 0, max: 30 }), fc.bigInt({ min: 0n, max: 12n }), (of: Step[], m, wanted) => {
        const from = m * 30_000
        const minutes = [Math.floor(from / MINUTE), ...of.map(s => Math.floor(s.at / MINUTE))]
          .filter(x => x >= Math.floor(from / MINUTE))
          .sort((a, b) => a - b)
        const plain = minutes.map(x => x * MINUTE).find(t => lowestSince(of, t).quantity >= wanted)
        expect(earliestFor(of, from, wanted)).to.equal(plain)
      }),
      { numRuns: 500 },
    )
  })
  it('by table: equal is enough, one above is not; movements of one minute are netted', () => {
    const at = (minute: number, delta: bigint, seconds = 0): Step => ({ at: minute * MINUTE + seconds * 1000, delta })
    const of = [at(1, 5n), at(3, -2n), at(5, 4n), at(5, -4n, 30), at(8, 6n)]
    for (const [wanted, from, minute] of [
      [3n, 0, 1],
      [4n, 0, 8],
      [9n, 0, 8],
      [10n, 0, undefined],
      [3n, 4, 4],
      [0n, 0, 0],
    ] as const)
      expect(earliestFor(of, from * MINUTE, wanted), `${wanted} from ${from}`).to.equal(
        minute === undefined ? undefined : minute * MINUTE,
      )
  })
})
