// What moved near a tally, by table: worked by hand.
import { expect } from 'chai'
import { expectedAt, type Movement, movedNear, NEAR } from '@shelve/core'

const SHELF = 1
const TEN = Date.UTC(2026, 10, 25, 10)
const MINUTE = 60_000
/** So many minutes from ten o'clock, so much into the shelf, or out of it. */
type Given = readonly [minutes: number, quantity: bigint, more?: Partial<Movement>]
const moved = (given: readonly Given[]): Movement[] =>
  given.map(
    ([minutes, quantity, more], i) =>
      ({
        seq: i + 1,
        slipId: i + 1,
        kind: 'out',
        from: quantity < 0n ? SHELF : 9,
        to: quantity < 0n ? 9 : SHELF,
        quantity: quantity < 0n ? -quantity : quantity,
        effectiveAt: TEN + minutes * MINUTE,
        ...more,
      }) as Movement,
  )

describe('what moved near a count', () => {
  const table: [
    what: string,
    given: Given[],
    near: [minutes: number, delta: bigint, before: boolean, slip: number][],
  ][] = [
    ['nothing', [], []],
    ['before it', [[-2, -2n]], [[-2, -2n, true, 1]]],
    ['at its minute: before it', [[0, 5n]], [[0, 5n, true, 1]]],
    ['after it', [[1, -1n]], [[1, -1n, false, 1]]],
    [
      'by the order in which it happened',
      [
        [4, 1n],
        [-4, -1n],
      ],
      [
        [-4, -1n, true, 2],
        [4, 1n, false, 1],
      ],
    ],
    [
      'half an hour to the minute',
      [
        [-30, 1n],
        [30, 1n],
      ],
      [
        [-30, 1n, true, 1],
        [30, 1n, false, 2],
      ],
    ],
    [
      'a moment more',
      [
        [-30.001, 1n],
        [30.001, 1n],
      ],
      [],
    ],
    [
      'at one instant, together, by the last slip',
      [
        [-3, -2n],
        [-3, -1n],
      ],
      [[-3, -3n, true, 2]],
    ],
    [
      'taken back at its own minute',
      [
        [-3, -2n],
        [-3, 2n, { reverses: 1 }],
      ],
      [],
    ],
    ['revalued', [[-3, 0n, { revalues: 7 }]], []],
    ['what another count put right', [[-3, 4n, { kind: 'difference' }]], []],
    ['found, and put there', [[-3, 4n, { kind: 'found' }]], [[-3, 4n, true, 1]]],
    [
      'of many the three nearest on each side',
      [1, 2, 3, 4, -1, -2, -3, -4].map(m => [m, 1n] as const),
      [
        [-3, 1n, true, 7],
        [-2, 1n, true, 6],
        [-1, 1n, true, 5],
        [1, 1n, false, 1],
        [2, 1n, false, 2],
        [3, 1n, false, 3],
      ],
    ],
    ['elsewhere', [[-3, 4n, { to: 2 }]], []],
    ['from it to itself', [[-3, 4n, { from: SHELF }]], []],
  ]
  for (const [what, given, near] of table)
    it(what, () => {
      const found = movedNear(moved(given), SHELF, TEN)
      expect(found.map(n => [(n.at - TEN) / MINUTE, n.delta, n.before, n.slipId])).to.deep.equal(near)
    })
  it('turned, each of them is on the other side of what is expected, and so is what lies between', () => {
    const all = moved([
      [-20, -3n],
      [-2, -2n],
      [11, -1n],
      [40, 9n],
    ])
    const at = (minute: number) => expectedAt(all, SHELF, minute).figure
    expect(at(TEN)).to.equal(-5n)
    expect(movedNear(all, SHELF, TEN).map(n => at(n.turned))).to.deep.equal([0n, -3n, -6n])
    for (const n of movedNear(all, SHELF, TEN))
      expect(movedNear(all, SHELF, n.turned).find(x => x.at === n.at)!.before).to.equal(!n.before)
    expect(NEAR).to.equal(30 * MINUTE)
  })
})
