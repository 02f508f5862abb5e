// What is open of a difference: worked by hand; missing is positive, too much negative.
import { expect } from 'chai'
import { openOf } from '../../src/counting/open.ts'

const [SHELF, OTHER, DIFFERENCE, LOSS] = [1, 2, 30, 40]
type Given = readonly [kind: 'difference' | 'found' | 'close', to: number, quantity: bigint]

describe('what is open of a difference', () => {
  const table: [what: string, facts: Given[], open: bigint][] = [
    ['nothing happened', [], 0n],
    ['three are missing', [['difference', DIFFERENCE, 3n]], 3n],
    [
      '… two of them turn up, elsewhere',
      [
        ['difference', DIFFERENCE, 3n],
        ['found', OTHER, 2n],
      ],
      1n,
    ],
    [
      '… the last is closed as lost',
      [
        ['difference', DIFFERENCE, 3n],
        ['found', OTHER, 2n],
        ['close', LOSS, 1n],
      ],
      0n,
    ],
    ['two too many', [['difference', SHELF, 2n]], -2n],
    [
      '… closed as gained: it comes to the difference',
      [
        ['difference', SHELF, 2n],
        ['close', DIFFERENCE, 2n],
      ],
      0n,
    ],
    [
      '… and one of them issued late',
      [
        ['difference', SHELF, 2n],
        ['close', DIFFERENCE, 2n],
        ['difference', DIFFERENCE, 1n],
      ],
      1n,
    ],
    [
      'closed as lost, and found after that',
      [
        ['difference', DIFFERENCE, 3n],
        ['close', LOSS, 3n],
        ['found', SHELF, 3n],
      ],
      -3n,
    ],
  ]
  for (const [what, facts, open] of table)
    it(what, () => {
      const found = openOf(
        facts.map(([kind, to, quantity]) => ({ kind, to, quantity })),
        account => account === SHELF || account === OTHER,
        LOSS,
      )
      expect(found).to.equal(open)
    })
})
