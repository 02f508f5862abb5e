import { expect } from 'chai'
import { decimal, formatDecimal, formatMoney, lineValue, ratio, readMoney, toMinor } from '@shelve/core'

describe('money by table', () => {
  for (const [text, out] of [
    ['12', '12'],
    [' 12.5 ', '12.5'],
    ['12,5', '12.5'],
    ['.5', '0.5'],
    ['12.', '12'],
    ['0', '0'],
    ['-1', undefined],
    ['', undefined],
    ['1,2,3', undefined],
    ['1.2345678', undefined],
    ['12 5', undefined],
  ] as const)
    it(`“${text}” is ${out ?? 'no price'}`, () => {
      const v = readMoney(text)
      expect(v === undefined ? undefined : formatDecimal(v)).to.equal(out)
    })
  for (const [amount, currency, even, up] of [
    ['1.005', 'EUR', '1', '1.01'],
    ['1.015', 'EUR', '1.02', '1.02'],
    ['-1.005', 'EUR', '-1', '-1.01'],
    ['1.0049', 'EUR', '1', '1'],
    ['0.5', 'JPY', '0', '1'],
    ['1.5', 'JPY', '2', '2'],
    ['-0.5', 'JPY', '0', '-1'],
    ['1.0005', 'KWD', '1', '1.001'],
    ['0', 'EUR', '0', '0'],
  ] as const)
    it(`${amount} ${currency} is ${even}, half to even, and ${up}, half up`, () => {
      const v = decimal(amount)
      expect([toMinor(v, currency), toMinor(v, currency, 'even'), toMinor(v, currency, 'up')].map(x => formatDecimal(x))).to.deep.equal([even, even, up]) // prettier-ignore
    })
  it('is written with the decimals of its currency', () => {
    expect(['EUR', 'JPY', 'KWD', 'CLF'].map(c => formatMoney(decimal('1234.5'), c))).to.deep.equal([
      '1234.50',
      '1234',
      '1234.500',
      '1234.5000',
    ])
  })
  for (const [what, line, out] of [
    ['3 at 2', { price: '2', pack: ratio(1n), quantity: '3' }, '6'],
    ['48 in cases of 24 at 12', { price: '12', pack: ratio(24n), quantity: '48' }, '24'],
    ['1 of packs of a third at 2', { price: '2', pack: ratio(1n, 3n), quantity: '1' }, '6'],
    ['3 at 2 less 1', { price: '2', pack: ratio(1n), quantity: '3', discount: '1' }, '5'],
    [
      '3 at 2 less 1 and 20 % of that',
      { price: '2', pack: ratio(1n), quantity: '3', discount: '1', taxRate: '0.2' },
      '6',
    ],
    ['1 in packs of 3 at 1: rounded once', { price: '1', pack: ratio(3n), quantity: '1' }, '0.333333'],
  ] as const)
    it(`${what} comes to ${out}`, () => {
      const { price, pack, quantity } = line
      expect(
        formatDecimal(
          lineValue({
            price: decimal(price),
            pack,
            quantity: decimal(quantity),
            ...('discount' in line ? { discount: decimal(line.discount) } : {}),
            ...('taxRate' in line ? { taxRate: decimal(line.taxRate) } : {}),
          }),
        ),
      ).to.equal(out)
    })
})
