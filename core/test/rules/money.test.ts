import { expect } from 'chai'
import { decimal, formatDecimal, formatMoney, lineValue, moneyTyped, ratio, readMoney, toMinor } from '@shelve/core'

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
  for (const [text, out] of [
    ['1.250', ['1.25', '1250']],
    ['1,250', ['1.25', '1250']],
    [' 999.999 ', ['999.999', '999999']],
    ['1.25', '1.25'],
    ['1.2500', '1.25'],
    ['0.125', '0.125'],
    [',125', '0.125'],
    ['1250.125', '1250.125'],
    ['1.250,5', '1250.5'],
    ['1,250.50', '1250.5'],
    ['1.250.000', '1250000'],
    ['1.250,5.5', 'not_a_price'],
    ['-1.250', 'not_a_price'],
    ['12 EUR', 'not_a_price'],
    ['', 'not_a_price'],
  ] as const)
    it(`58: a price “${text}”, as somebody types it, is ${typeof out === 'string' ? out : `asked: ${out.join(' or ')}`}`, () => {
      const read = moneyTyped(text)
      expect(read.ok ? formatDecimal(read.value) : read.code === 'ambiguous' ? read.choices : read.code).to.deep.equal(
        out,
      )
    })
  it('58: a file that says it is never asked: 1.250 is one and a quarter', () => {
    expect(['1.250', '1,250', '999.999'].map(readMoney)).to.deep.equal(['1.25', '1.25', '999.999'].map(decimal))
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
