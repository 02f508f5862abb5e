import { expect } from 'chai'
import fc from 'fast-check'
import {
  decimal,
  divideHalfEven,
  formatDecimal,
  formatFixed,
  formatMoney,
  lineValue,
  minorDigits,
  parseDecimal,
  ratio,
  readMoney,
  readQuantity,
  share,
  split,
  spreadCharges,
  toMinor,
  UNITS,
  conversion,
  unitCalled,
  type Measure,
  type Typed,
} from '@shelve/core'

const big = fc.bigInt({ min: -(10n ** 18n), max: 10n ** 18n })
const q = (t: Typed) => (t.ok ? formatDecimal(t.quantity) : t.code)

describe('exact amounts', () => {
  it('prints and reads back any micro-unit amount, also above 2⁵³', () => {
    fc.assert(
      fc.property(big, x => {
        expect(parseDecimal(formatDecimal(x))).to.equal(x)
      }),
    )
  })
  it('takes nothing for a decimal that is none, on the wire', () => {
    for (const bad of ['', '1e3', '1,5', '1.1234567', '0x1', ' 1', '1.', '.5', '--1', 'NaN', '1_0', '٣'])
      expect(parseDecimal(bad), bad).to.equal(undefined)
  })
  it('rounds half to even (IEEE 754-2019, 4.3.1)', () => {
    expect([5n, 15n, 25n, -5n, -15n, 14n, 16n].map(n => divideHalfEven(n, 10n))).to.deep.equal([
      0n,
      2n,
      2n,
      0n,
      -2n,
      1n,
      2n,
    ])
    fc.assert(
      fc.property(big, fc.bigInt({ min: 1n, max: 10n ** 12n }), (n, d) => {
        const r = divideHalfEven(n, d)
        const off = 2n * (n - r * d)
        expect(off <= d && off >= -d).to.equal(true)
        if (off === d || off === -d) expect(r % 2n === 0n).to.equal(true)
      }),
    )
  })
  it('splits so that the parts add up, each within one tick of its share, ties to the earlier line', () => {
    expect(split(100n, [1n, 1n, 1n])).to.deep.equal([34n, 33n, 33n])
    expect(split(-100n, [1n, 1n, 1n])).to.deep.equal([-34n, -33n, -33n])
    expect(split(5n, [0n, 0n])).to.equal(undefined)
    expect(split(5n, [3n, -1n])).to.equal(undefined)
    fc.assert(
      fc.property(
        big,
        fc
          .array(fc.bigInt({ min: 0n, max: 10n ** 15n }), { minLength: 1, maxLength: 12 })
          .filter(w => w.some(x => x > 0n)),
        (total, weights) => {
          const parts = split(total, weights)!
          const sum = weights.reduce((a, b) => a + b, 0n)
          expect(parts.reduce((a, b) => a + b, 0n)).to.equal(total)
          parts.forEach((p, i) => {
            const off = p * sum - total * weights[i]!
            expect(off < sum && off > -sum).to.equal(true)
          })
        },
      ),
    )
  })
  it('shows money with its currency’s minor digits (ISO 4217; npm currency-codes 2.2)', () => {
    expect(['JPY', 'EUR', 'HUF', 'BHD'].map(minorDigits)).to.deep.equal([0, 2, 2, 3])
    expect(['JPY', 'EUR', 'BHD'].map(c => formatMoney(decimal('1234.5675'), c))).to.deep.equal([
      '1235',
      '1234.57',
      '1234.568',
    ])
    expect(formatFixed(decimal('-0.5'), 0)).to.equal('0')
    expect(['12,5', '.5', '7.', '-1', '1e2'].map(readMoney)).to.deep.equal([
      decimal('12.5'),
      decimal('0.5'),
      decimal('7'),
      undefined,
      undefined,
    ])
  })
  it('tax of 7.75 % on 70.00 is 5.425: 5.42 half to even, 5.43 half up (worked by hand)', () => {
    const tax = share(decimal('70'), 77_500n, 1_000_000n)
    expect(formatDecimal(tax)).to.equal('5.425')
    expect([formatDecimal(toMinor(tax, 'EUR')), formatDecimal(toMinor(tax, 'EUR', 'up'))]).to.deep.equal([
      '5.42',
      '5.43',
    ])
  })
  it('a case of 54 at 0.85 costs 45.90 whether typed as 1 case or as 54 (common practice)', () => {
    expect(formatDecimal(lineValue({ price: decimal('45.90'), pack: ratio(54n), quantity: decimal('54') }))).to.equal(
      '45.9',
    )
    expect(formatDecimal(lineValue({ price: decimal('0.85'), pack: ratio(1n), quantity: decimal('54') }))).to.equal(
      '45.9',
    )
    // Through a rounded unit price three for 10 would lose a tick.
    expect(formatDecimal(lineValue({ price: decimal('10'), pack: ratio(3n), quantity: decimal('3') }))).to.equal('10')
    expect(
      formatDecimal(
        lineValue({
          price: decimal('100'),
          pack: ratio(1n),
          quantity: decimal('1'),
          discount: decimal('30'),
          taxRate: 77_500n,
        }),
      ),
    ).to.equal('75.425')
  })
  it('freight adds up whatever it is spread by, and is refused where there is nothing to go by', () => {
    const line = (goods: string | null, quantity: string, unit = 'kg', weight?: string) => ({
      goods: goods === null ? null : decimal(goods),
      quantity: decimal(quantity),
      unit,
      weight: weight ? decimal(weight) : null,
    })
    const by = (basis: 'value' | 'quantity' | 'weight', ...lines: ReturnType<typeof line>[]) => {
      const r = spreadCharges(lines, [{ amount: decimal('10'), basis }])
      return r.ok ? r.shares.map(s => formatDecimal(s)) : r.code
    }
    expect(by('value', line('20', '1'), line('10', '9'), line(null, '5'))).to.deep.equal(['6.666667', '3.333333', '0'])
    expect(by('quantity', line('20', '1'), line(null, '9'))).to.deep.equal(['1', '9'])
    expect(by('quantity', line('20', '1'), line('1', '9', 'L'))).to.equal('basis_mixed')
    expect(by('weight', line('20', '1', 'kg', '3'), line('1', '9'))).to.equal('basis_unknown')
    expect(by('value', line(null, '1'), line('0', '9'))).to.equal('basis_zero')
  })
})

describe('units', () => {
  it('are exact (NIST SP 811 Appendix B and Handbook 44 Appendix C, from memory; Debian `units` agrees)', () => {
    const sizes: Record<string, string> = {
      in: '25.4',
      ft: '304.8',
      lb: '453.59237',
      oz: '28.349523125',
      gal: '3785.411784',
      'fl oz': '29.5735295625',
      cup: '236.5882365',
      tbsp: '14.78676478125',
      tsp: '4.92892159375',
      'imp gal': '4546.09',
      pt: '473.176473',
      qt: '946.352946',
      'imp pt': '568.26125',
      yd: '914.4',
      t: '1000000',
      hl: '100000',
      dl: '100',
      km: '1000000',
      µl: '0.001',
      µg: '0.000001',
      µm: '0.001',
    }
    for (const [name, size] of Object.entries(sizes)) {
      const u = unitCalled(name)!
      const [whole, frac = ''] = size.split('.')
      expect(u.size, name).to.deep.equal(ratio(BigInt(whole! + frac), 10n ** BigInt(frac.length)))
    }
    expect(new Set(UNITS.map(u => u.code)).size).to.equal(UNITS.length)
    // The sign for a millionth: as it stands for units, as the Greek letter, and as a keyboard has it.
    for (const name of ['\u00b5l', '\u03bcl', 'ul', 'µL', 'UL', 'microlitres'])
      expect(unitCalled(name)?.code, name).to.equal('4G')
    expect(['ug', 'mcg', 'um'].map(n => unitCalled(n)?.code)).to.deep.equal(['MC', 'MC', '4H'])
  })
  it('convert within a dimension, and between mass and volume only by a density', () => {
    const [kg, ml, each] = ['kg', 'ml', 'each'].map(n => unitCalled(n)!) as [
      (typeof UNITS)[number],
      (typeof UNITS)[number],
      (typeof UNITS)[number],
    ]
    expect(conversion(kg, ml)).to.equal(undefined)
    expect(conversion(ml, kg, ratio(789n, 1000n))).to.deep.equal(ratio(789n, 1_000_000n))
    expect(conversion(kg, each)).to.equal(undefined)
    for (const a of UNITS)
      for (const b of UNITS)
        if (a.dimension === b.dimension) {
          const there = conversion(a, b)!
          const back = conversion(b, a)!
          expect(there.n * back.n).to.equal(there.d * back.d)
        }
  })
})

describe('quantities as people type them', () => {
  const bottle: Measure = {
    base: 'bottle',
    decimals: 0,
    packs: [
      { name: 'case', size: ratio(12n) },
      { name: 'box', size: ratio(144n) },
    ],
  }
  const flour: Measure = { base: 'g', decimals: 0, packs: [{ name: 'bag', size: ratio(25_000n) }] }
  const oil: Measure = { base: 'L', decimals: 3, packs: [{ name: 'can', size: ratio(5n) }], density: ratio(9n, 10n) }
  const enzyme: Measure = { base: 'ml', decimals: 3, packs: [{ name: 'Dåse', size: ratio(5n) }] }
  it('reads numbers, packs, sums, products and fractions', () => {
    const cases: [string, Measure, string][] = [
      ['24', bottle, '24'],
      ['2 case + 3', bottle, '27'],
      ['2 cases+3', bottle, '27'],
      ['1 box + 2 case + 1', bottle, '169'],
      ['3*12', bottle, '36'],
      ['2 x 6 case', bottle, '144'],
      ['1/2 case', bottle, '6'],
      ['1.5 kg', flour, '1500'],
      ['1,5 kg', flour, '1500'],
      ['0.25 bag', flour, '6250'],
      ['250 ml', oil, '0.25'],
      ['1 can + 250 ml', oil, '5.25'],
      ['900 g', oil, '1'],
      ['1 gal', oil, '3.785'],
      ['.5', oil, '0.5'],
      ['250 ul + 2 µl', enzyme, '0.252'],
      ['2 dase', enzyme, '10'],
    ]
    for (const [text, measure, expected] of cases) expect(q(readQuantity(text, measure)), text).to.equal(expected)
  })
  it('keeps the number when another unit is chosen: 1 stays 1', () => {
    expect(q(readQuantity('1', bottle, 'case'))).to.equal('12')
    expect(q(readQuantity('1', bottle))).to.equal('1')
  })
  it('asks where a mark before three digits could mean both, and only there', () => {
    const asked = readQuantity('1.500', oil)
    expect(asked).to.deep.include({ ok: false, code: 'ambiguous', choices: ['1.5 L', '1500 L'] })
    expect(q(readQuantity('1,500', flour))).to.equal('1500')
    expect(q(readQuantity('0.500', oil))).to.equal('0.5')
    expect(q(readQuantity('1.5000', oil))).to.equal('1.5')
    expect(q(readQuantity('1.500 kg', flour))).to.equal('ambiguous')
  })
  it('refuses with a reason what is no quantity of the item', () => {
    const cases: [string, Measure, string][] = [
      ['', bottle, 'empty'],
      ['abc', bottle, 'not_a_quantity'],
      ['-3', bottle, 'negative'],
      ['3 + -2', bottle, 'negative'],
      ['2.5', bottle, 'too_many_decimals'],
      ['0', bottle, 'zero'],
      ['3 sack', bottle, 'unknown_unit'],
      ['3 kg', bottle, 'other_dimension'],
      ['1 L', flour, 'other_dimension'],
      ['9999999999999', bottle, 'too_large'],
      ['1/0', bottle, 'not_a_quantity'],
      ['1 +', bottle, 'not_a_quantity'],
      ['1..5', flour, 'not_a_quantity'],
      ['0.1 mg', flour, 'too_many_decimals'],
    ]
    for (const [text, measure, code] of cases) expect(q(readQuantity(text, measure)), text).to.equal(code)
    expect(readQuantity('2.5', bottle)).to.deep.include({ nearest: ['2 bottle', '3 bottle'] })
    expect(q(readQuantity('0', bottle, undefined, true))).to.equal('0')
  })
  it('reads back every quantity it prints, in any decimals', () => {
    fc.assert(
      fc.property(fc.bigInt({ min: 1n, max: 10n ** 14n }), fc.integer({ min: 0, max: 6 }), (n, decimals) => {
        const amount = n * 10n ** BigInt(6 - decimals)
        if (amount > 10n ** 15n) return
        const text = `${formatDecimal(amount)}0000 L`.replace(/^(\d+)0000 L$/, '$1 L')
        expect(q(readQuantity(text, { ...oil, decimals }))).to.equal(formatDecimal(amount))
      }),
    )
  })
  it('never throws, whatever is typed', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.stringMatching(/^[0-9.,+*x/ a-z-]{0,14}$/)), text => {
        readQuantity(text, oil)
      }),
      { numRuns: 500 },
    )
  })
})
