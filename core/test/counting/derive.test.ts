import { expect } from 'chai'
import fc from 'fast-check'
import { balanceAt, deriveDifferences, earliestFor, lowestSince, minuteOf, type Step } from '@shelve/core'

const MINUTE = 60_000
interface Happening {
  readonly tally: boolean
  readonly minute: number
  readonly amount: number
}
const happening: fc.Arbitrary<Happening> = fc.record({
  tally: fc.boolean(),
  minute: fc.nat(12),
  amount: fc.integer({ min: 0, max: 20 }),
})

/** Lines and tallies of one shelf, in the order they were written; when they happened is another matter. */
function laid(list: readonly Happening[]) {
  const lines = list.flatMap((h, i) =>
    h.tally ? [] : [{ costSeq: i + 1, part: 0, effectiveAt: h.minute * MINUTE, delta: BigInt(h.amount - 8) }],
  )
  const tallies = list.flatMap((h, i) =>
    h.tally
      ? [
          {
            id: i + 1,
            costSeq: i + 1,
            part: 0,
            countedAt: h.minute * MINUTE,
            counted: BigInt(h.amount),
            account: 1000 + i,
          },
        ]
      : [],
  )
  return { lines, tallies }
}
const all = (lines: ReturnType<typeof laid>['lines'], derived: ReturnType<typeof deriveDifferences>): Step[] => [
  ...lines.map(l => ({ at: l.effectiveAt, delta: l.delta })),
  ...derived.map(d => ({ at: d.at, delta: d.delta })),
]

describe('differences derived from what was counted', () => {
  it('a tally is the truth at its minute, whatever was written before or after it', () => {
    fc.assert(
      fc.property(fc.array(happening, { minLength: 1, maxLength: 14 }), list => {
        const { lines, tallies } = laid(list)
        const steps = all(lines, deriveDifferences(lines, tallies))
        for (const t of tallies) {
          // Of two counts at one minute the one that was written later stands.
          const last = tallies.filter(x => x.countedAt === t.countedAt).at(-1)!
          expect(balanceAt(steps, t.countedAt), `tally ${t.id}`).to.equal(last.counted)
        }
      }),
      { numRuns: 2000 },
    )
  })
  it('what lies there now is the last count and what happened after it, in whatever order it was written', () => {
    fc.assert(
      fc.property(fc.array(happening, { minLength: 1, maxLength: 12 }), fc.infiniteStream(fc.nat()), (list, stream) => {
        const minutes = new Set<number>()
        const once = list.filter(h => !h.tally || (!minutes.has(h.minute) && minutes.add(h.minute)))
        const now = (order: readonly Happening[]) => {
          const { lines, tallies } = laid(order)
          return balanceAt(all(lines, deriveDifferences(lines, tallies)), 100 * MINUTE)
        }
        const shuffled = once
          .map(h => ({ h, k: stream.next().value }))
          .sort((a, b) => a.k - b.k)
          .map(x => x.h)
        const counted = once
          .filter(h => h.tally)
          .sort((a, b) => a.minute - b.minute)
          .at(-1)
        const after = once
          .filter(h => !h.tally && (!counted || h.minute > counted.minute))
          .reduce((s, h) => s + BigInt(h.amount - 8), 0n)
        expect(now(once)).to.equal((counted ? BigInt(counted.amount) : 0n) + after)
        expect(now(shuffled)).to.equal(now(once))
      }),
      { numRuns: 1500 },
    )
  })
  it('every line that was written before its count moves nothing by itself; each later one is set against one count only', () => {
    fc.assert(
      fc.property(fc.array(happening, { minLength: 1, maxLength: 14 }), list => {
        const { lines, tallies } = laid(list)
        const derived = deriveDifferences(lines, tallies)
        expect(derived.filter(d => d.own).map(d => d.tallyId)).to.deep.equal(tallies.map(t => t.id))
        for (const d of derived.filter(x => !x.own)) {
          const cause = lines.find(l => l.costSeq === d.costSeq)
          const target = tallies.find(t => t.id === d.tallyId)!
          expect(target.costSeq, 'only what is written after the count is set against it').to.be.lessThan(d.costSeq)
          if (cause) {
            expect(cause.effectiveAt).to.be.at.most(target.countedAt)
            expect(d.delta).to.equal(-cause.delta)
          }
        }
        const causes = derived.filter(x => !x.own).map(d => d.costSeq)
        expect(new Set(causes).size).to.equal(causes.length)
      }),
      { numRuns: 1500 },
    )
  })
})

describe('the timeline of a shelf', () => {
  const step = fc.record({
    at: fc.integer({ min: 0, max: 20 * MINUTE }),
    delta: fc.integer({ min: -9, max: 9 }).map(BigInt),
  })
  /** The plain definition: the balance at the end of every minute, one after the other. */
  const byHand = (steps: readonly Step[], from: number) =>
    Array.from({ length: 25 }, (_, n) => n + minuteOf(from)).map(m => ({
      m,
      q: steps.filter(s => minuteOf(s.at) <= m).reduce((sum, s) => sum + s.delta, 0n),
    }))

  it('its lowest point since a minute is the lowest of all minutes since', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 15 }), fc.nat(20 * MINUTE), (steps, from) => {
        const right = byHand(steps, from).reduce((low, x) => (x.q < low.q ? x : low))
        expect(lowestSince(steps, from)).to.deep.equal({ quantity: right.q, minute: right.m })
      }),
      { numRuns: 1500 },
    )
  })
  it('the earliest minute that fits is the first from which it is there at every minute', () => {
    fc.assert(
      fc.property(
        fc.array(step, { maxLength: 15 }),
        fc.nat(20 * MINUTE),
        fc.integer({ min: 1, max: 12 }).map(BigInt),
        (steps, from, wanted) => {
          const list = byHand(steps, from)
          const right = list.find(x => list.filter(y => y.m >= x.m).every(y => y.q >= wanted))
          expect(earliestFor(steps, from, wanted)).to.equal(right === undefined ? undefined : right.m * MINUTE)
        },
      ),
      { numRuns: 1500 },
    )
  })
})
