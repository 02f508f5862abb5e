import { expect } from 'chai'
import { addTally, grossOf, isHit, netOf, noAccuracy } from '@shelve/core'

describe('how right the books were (rule 29)', () => {
  for (const [what, expected, off, within, hit] of [
    ['as expected', 5n, 0n, true, true],
    ['off, and within tolerance', 5n, -1n, true, true],
    ['off, and beyond it', 5n, -1n, false, false],
    ['over, and within', 5n, 1n, true, true],
    ['nothing where nothing was expected', 0n, 0n, true, true],
    ['found where the books knew of nothing, however little', 0n, 1n, true, false],
    ['gone, within tolerance', 5n, -5n, true, true],
  ] as const)
    it(`${what}: ${hit ? 'a hit' : 'a miss'}`, () => expect(isHit({ expected, off, within })).to.equal(hit))
  it('five lines: hits, what was missing and over, net and gross; worked by hand', () => {
    const sum = noAccuracy()
    addTally(sum, { expected: 10n, off: 0n, within: true, value: 0n })
    addTally(sum, { expected: 10n, off: -1n, within: true, value: -200n })
    addTally(sum, { expected: 10n, off: -4n, within: false, value: -800n })
    addTally(sum, { expected: 0n, off: 3n, within: true, value: 150n })
    // The first was beyond tolerance, a second count agreed with the books: nothing is put right, and it is a miss.
    addTally(sum, { expected: 10n, off: -2n, within: false, value: 0n })
    expect(sum).to.deep.equal({ lines: 5, exact: 1, hits: 2, missing: -1000n, over: 150n })
    expect([netOf(sum), grossOf(sum)]).to.deep.equal([-850n, 1150n])
  })
})
