import { expect } from 'chai'
import fc from 'fast-check'
import { ACCOUNT_KINDS, FLOWS, flowOf, noChanges, percentOf, runMonths } from '@shelve/core'

describe('value by month', () => {
  it('opening + received + made − used − wasted + differences + price = closing, and the next month begins there', () => {
    // Worked by hand; the identity is that of IAS 2 for what is recognised as an expense.
    const rows = runMonths(100n, [
      { month: '2026-01', changes: { ...noChanges(), received: 50n, used: -30n, wasted: -5n } },
      { month: '2026-02', changes: { ...noChanges(), used: -40n, differences: -3n, price: 1n } },
    ])
    expect(rows.map(r => [r.month, r.opening, r.closing])).to.deep.equal([
      ['2026-01', 100n, 115n],
      ['2026-02', 115n, 73n],
    ])
  })
  it('adds up over any months: the last closing is the first opening and everything between', () => {
    const changes = fc.record(
      Object.fromEntries(FLOWS.map(f => [f, fc.bigInt({ min: -(10n ** 15n), max: 10n ** 15n })])) as Record<
        (typeof FLOWS)[number],
        fc.Arbitrary<bigint>
      >,
    )
    fc.assert(
      fc.property(
        fc.bigInt({ min: 0n, max: 10n ** 18n }),
        fc.array(changes, { minLength: 1, maxLength: 24 }),
        (before, list) => {
          const rows = runMonths(
            before,
            list.map((c, i) => ({ month: String(i), changes: c })),
          )
          expect(rows.at(-1)!.closing).to.equal(list.reduce((s, c) => FLOWS.reduce((t, f) => t + c[f], s), before))
          rows.slice(1).forEach((r, i) => expect(r.opening).to.equal(rows[i]!.closing))
        },
      ),
    )
  })
  it('every counter-account is one flow; what stays within stock is none', () => {
    expect(ACCOUNT_KINDS.filter(k => flowOf(k) === undefined)).to.deep.equal(['place', 'stock'])
  })
  it('a part in per cent of a whole: to a tenth, half to even; of nothing, or less, none', () => {
    const table: [part: bigint, whole: bigint, percent: bigint | null][] = [
      [1n, 3n, 33_300_000n],
      [2n, 3n, 66_700_000n],
      [1n, 2000n, 0n],
      [3n, 2000n, 200_000n],
      [-1n, 4n, -25_000_000n],
      [5n, 4n, 125_000_000n],
      [0n, 1n, 0n],
      [1n, 0n, null],
      [1n, -1n, null],
    ]
    expect(table.map(([part, whole]) => percentOf(part, whole))).to.deep.equal(table.map(([, , percent]) => percent))
  })
})
