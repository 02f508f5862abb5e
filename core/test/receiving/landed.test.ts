import { expect } from 'chai'
import fc from 'fast-check'
import { decimal, formatDecimal, spreadCharges, type Basis } from '@shelve/core'

describe('landed cost', () => {
  const line = (goods: string | null, quantity: string, weight: string | null = null, unit = 'each') => ({
    goods: goods === null ? null : decimal(goods),
    quantity: decimal(quantity),
    unit,
    weight: weight === null ? null : decimal(weight),
  })
  const spread = (lines: ReturnType<typeof line>[], ...charges: [string, Basis][]) => {
    const r = spreadCharges(
      lines,
      charges.map(([amount, basis]) => ({ amount: decimal(amount), basis })),
    )
    return r.ok ? r.shares.map(s => formatDecimal(s)) : r.code
  }
  it('freight of 14 over goods of 80 and 60 is 8 and 6 by value; over 1 and 3 pieces 3.50 and 10.50 by quantity (worked by hand)', () => {
    expect(spread([line('80', '20'), line('60', '5')], ['14', 'value'])).to.deep.equal(['8', '6'])
    expect(spread([line('80', '1'), line('60', '3')], ['14', 'quantity'])).to.deep.equal(['3.5', '10.5'])
    expect(spread([line('1', '1', '300'), line('1', '1', '100')], ['8', 'weight'])).to.deep.equal(['6', '2'])
  })
  it('several charges add up line by line, each by its own basis; one of nothing is no charge', () => {
    expect(
      spread(
        [line('90', '1', '1'), line('10', '3', '1')],
        ['10', 'value'],
        ['4', 'quantity'],
        ['2', 'weight'],
        ['0', 'value'],
      ),
    ).to.deep.equal(['11', '5'])
  })
  it('a line without a price has no part by value; a third of ten goes where most is lost (largest remainder)', () => {
    expect(spread([line(null, '5'), line('10', '1')], ['3', 'value'])).to.deep.equal(['0', '3'])
    expect(spread([line('1', '1'), line('1', '1'), line('1', '1')], ['10', 'value'])).to.deep.equal([
      '3.333334',
      '3.333333',
      '3.333333',
    ])
  })
  it('is refused where there is nothing to go by', () => {
    expect(spread([line(null, '5'), line('0', '1')], ['3', 'value'])).to.equal('basis_zero')
    expect(spread([line('1', '5', null, 'L'), line('1', '1', null, 'kg')], ['3', 'quantity'])).to.equal('basis_mixed')
    expect(spread([line('1', '5', '2'), line('1', '1')], ['3', 'weight'])).to.equal('basis_unknown')
  })
  it('adds up exactly, gives no line more than a tick beyond its share, and does not care for order', () => {
    const lines = fc.array(
      fc.record({
        goods: fc.bigInt({ min: 0n, max: 10n ** 15n }),
        quantity: fc.bigInt({ min: 1n, max: 10n ** 12n }),
        weight: fc.bigInt({ min: 1n, max: 10n ** 12n }),
        unit: fc.constant('each'),
      }),
      { minLength: 1, maxLength: 12 },
    )
    fc.assert(
      fc.property(
        lines,
        fc.bigInt({ min: 1n, max: 10n ** 15n }),
        fc.constantFrom<Basis>('value', 'quantity', 'weight'),
        (list, amount, basis) => {
          const r = spreadCharges(list, [{ amount, basis }])
          const weights = list.map(l => (basis === 'value' ? l.goods : basis === 'quantity' ? l.quantity : l.weight))
          const whole = weights.reduce((s, x) => s + x, 0n)
          if (whole === 0n) {
            expect(r).to.deep.include({ ok: false, code: 'basis_zero' })
            return
          }
          if (!r.ok) throw new Error(r.code)
          expect(r.shares.reduce((s, x) => s + x, 0n)).to.equal(amount)
          r.shares.forEach((s, i) => {
            const off = s * whole - amount * weights[i]!
            expect((off < 0n ? -off : off) < whole, `line ${i}`).to.equal(true)
          })
        },
      ),
      { numRuns: 800 },
    )
  })
})
