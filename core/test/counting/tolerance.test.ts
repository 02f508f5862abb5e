import { expect } from 'chai'
import { decimal, isWithin, nearestTolerance, readMoney, type Tolerance } from '@shelve/core'

const said = (quantity: string | null, percent: string | null, value: string | null): Tolerance => ({
  quantity: quantity === null ? null : decimal(quantity),
  percent: percent === null ? null : decimal(percent),
  value: value === null ? null : readMoney(value)!,
})
/** One costs 2.50. */
const worth = (q: bigint) => (q * 5n) / 2n

type Limits = Parameters<typeof said>
const TABLE: readonly (readonly [Limits, string, string, boolean])[] = [
  // Of one limit: equal is within, on either side, and one beyond it is not.
  [['2', null, null], '98', '100', true],
  [['2', null, null], '102', '100', true],
  [['2', null, null], '97.999999', '100', false],
  [['2', null, null], '102.000001', '100', false],
  [[null, '5', null], '95', '100', true],
  [[null, '5', null], '105', '100', true],
  [[null, '5', null], '94.999999', '100', false],
  [[null, '5', null], '105.000001', '100', false],
  [[null, '0.2', null], '499', '500', true],
  [[null, '0.2', null], '498.999999', '500', false],
  [[null, null, '5'], '98', '100', true],
  [[null, null, '5'], '102', '100', true],
  [[null, null, '5'], '97', '100', false],
  // Of several each holds.
  [['2', '1', null], '98', '100', false],
  [['1', '2', null], '98', '100', false],
  [['2', '2', '5'], '98', '100', true],
  [['2', '2', '4.99'], '98', '100', false],
  // Of nothing expected any per cent is passed; a quantity or a value is not.
  [[null, '100', null], '1', '0', false],
  [['1', null, null], '1', '0', true],
  [[null, null, '2.50'], '1', '0', true],
  [['1', '100', null], '1', '0', false],
  // All of what was expected is not there: that is 100 per cent of it.
  [[null, '100', null], '0', '7', true],
  [[null, '99.999999', null], '0', '7', false],
  // What agrees is within, whatever is set; a limit of nothing lets nothing else by; without any, all is.
  [['0', '0', '0'], '7', '7', true],
  [[null, '100', null], '0', '0', true],
  [['0', null, null], '7.000001', '7', false],
  [[null, '0', null], '6.999999', '7', false],
  [[null, null, '0'], '6', '7', false],
  [[null, null, null], '0', '1000', true],
]

describe('whether a count is within tolerance (rule 26)', () => {
  for (const [limits, counted, expected, within] of TABLE)
    it(`${limits.map(l => l ?? '–').join(', ')}: ${counted} of ${expected} is ${within ? 'within' : 'beyond'}`, () =>
      expect(isWithin(said(...limits), { counted: decimal(counted), expected: decimal(expected), worth })).to.equal(
        within,
      ))
  it('is said by the nearest that says anything, all three limits together', () => {
    const [none, some, more] = [said(null, null, null), said('1', null, null), said(null, '5', '10')]
    expect(nearestTolerance([none, some, more])).to.equal(some)
    expect(nearestTolerance([none, none, more])).to.equal(more)
    for (const one of [said('0', null, null), said(null, '0', null), said(null, null, '0')])
      expect(nearestTolerance([one, more])).to.equal(one)
    expect(nearestTolerance([none])).to.deep.equal(none)
  })
})
