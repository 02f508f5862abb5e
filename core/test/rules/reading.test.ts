import { expect } from 'chai'
import fc from 'fast-check'
import {
  conversion,
  csvField,
  decimal,
  firstToGo,
  forOne,
  gs1Date,
  GS,
  isGtin,
  isSscc,
  formatDecimal,
  lastOfMonth,
  measured,
  MOST,
  ONE,
  leastOf,
  plainly,
  ratio,
  type Ratio,
  readDay,
  readGs1,
  readQuantity,
  readTime,
  unitCalled,
  type Measure,
} from '@shelve/core'

const TODAY = '2026-11-25'
const GTIN = '09521041500218'
const show = (x: unknown) => JSON.stringify(x).replaceAll('\\u001d', '⟨GS⟩')

describe('codes on packages by table (GS1 General Specifications 3 and 7, from memory)', () => {
  const read = (text: string, lost = false) => {
    const r = readGs1(text, TODAY, lost)
    return r.ok ? r.reading.elements.map(e => [e.ai, e.value]) : [r.code, r.at]
  }
  for (const [text, out] of [
    [`]C1${GS}10AB`, [['10', 'AB']]],
    ['10AB', [['10', 'AB']]],
    [`10AB${GS}21C`, [['10', 'AB'], ['21', 'C']]], // prettier-ignore
    [`10AB${GS}${GS}21C`, ['unknown_ai', `${GS}21C`]],
    [`10${GS}21C`, ['too_short', '10']],
    ['10', ['too_short', '10']],
    [`10A${GS}10B`, ['unknown_ai', '10']],
    [`(10)A(21)B`, [['10', 'A'], ['21', 'B']]], // prettier-ignore
    ['(99)A', ['unknown_ai', '99']],
    ['(17)2703', ['too_short', '17']],
    ['(17)27033100', ['too_long', '17']],
    ['(17)27O331', ['wrong_character', '17']],
    ['(30)12x', ['wrong_character', '30']],
    ['(30)x12', ['wrong_character', '30']],
    ['(30)123456789', ['too_long', '30']],
    ['(10)a b', ['wrong_character', '10']],
    ['(10)', ['too_short', '10']],
    ['(x', ['not_gs1', '(x']],
    ['(123456789', ['not_gs1', '(1234567']],
    ['AB10', ['not_gs1', 'AB10']],
    ['A234567890', ['not_gs1', 'A2345678']],
    ['98765432', ['unknown_ai', '9876']],
    [`(00)376104250021234568`, ['wrong_check_digit', '00']],
    [`(02)${GTIN}(37)12`, [['02', GTIN], ['37', '12']]], // prettier-ignore
    [`(01)${GTIN.slice(0, -1)}4`, ['wrong_check_digit', '01']],
  ] as [string, unknown][])
    it(`${show(text)}: ${show(out)}`, () => {
      expect(read(text)).to.deep.equal(out)
    })
  it('what it says stands under its own name, and what it does not say is not there', () => {
    const sense = (text: string) => {
      const r = readGs1(text, TODAY)
      if (!r.ok) throw new Error(r.code)
      const { elements: _, ...said } = r.reading
      return said
    }
    expect(sense(`(241)X(240)Y(400)PO-1(21)S(10)L`)).to.deep.equal({ order: 'PO-1', serial: 'S', lot: 'L' })
    expect(sense('(15)270331(11)260101')).to.deep.equal({ expiry: '2027-03-31' })
    expect(sense('(15)270331(17)270401')).to.deep.equal({ expiry: '2027-04-01' })
    expect(sense('(11)260101(20)01')).to.deep.equal({})
    expect(sense('(3102)000125')).to.deep.equal({ weight: decimal('1.25') })
    expect(sense('(3100)000125')).to.deep.equal({ weight: decimal('125') })
    expect(sense('(3105)000125')).to.deep.equal({ weight: decimal('0.00125') })
    expect(sense('(3113)001500')).to.deep.equal({ length: decimal('1.5') })
    expect(sense('(3150)000007')).to.deep.equal({ volume: decimal('7') })
    expect(sense('(3153)001500')).to.deep.equal({ volume: decimal('1.5') })
    expect(sense('(3200)000001')).to.deep.equal({ weight: decimal('0.453592') })
    expect(sense('(410)1234567890128(414)1234567890128')).to.deep.equal({})
  })
  for (const [text, today, out] of [
    ['000229', '2026-01-01', '2000-02-29'],
    ['000229', '2060-01-01', undefined],
    ['240229', TODAY, '2024-02-29'],
    ['230229', TODAY, undefined],
    ['260431', TODAY, undefined],
    ['260430', TODAY, '2026-04-30'],
    ['261301', TODAY, undefined],
    ['260001', TODAY, undefined],
    ['260200', TODAY, '2026-02-28'],
    ['241200', TODAY, '2024-12-31'],
    ['760101', TODAY, '2076-01-01'],
    ['770101', TODAY, '1977-01-01'],
    ['490101', '2099-01-01', '2149-01-01'],
    ['500101', '2099-01-01', '2050-01-01'],
  ] as const)
    it(`a date ${text} in ${today.slice(0, 4)}: ${out ?? 'none'}`, () => {
      expect(gs1Date(text, today)).to.equal(out)
    })
  it('a trade number has 8, 12, 13 or 14 digits and no more, a container 18; each with its check digit', () => {
    const ok = ['96385074', '614141999996', '9521041500218', GTIN]
    expect(ok.map(isGtin)).to.deep.equal(ok.map(() => true))
    const no = [
      '9638507',
      '963850741',
      'x96385074',
      '96385074x',
      '00000000009521041500218',
      'ABCDEFGH',
      '0',
      '96385075',
    ]
    expect(no.map(isGtin)).to.deep.equal(no.map(() => false))
    expect(
      ['376104250021234569', '376104250021234560', '76104250021234569', 'x376104250021234569', '0'].map(isSscc),
    ).to.deep.equal([true, false, false, false, false])
  })
})

describe('dates and times as they are typed, by table', () => {
  for (const [text, order, out] of [
    ['31.04.27', 'dmy', undefined],
    ['30.04.27', 'dmy', '2027-04-30'],
    ['30.04.1900', 'dmy', '1900-04-30'],
    ['30.04.1899', 'dmy', undefined],
    ['30.04.027', 'dmy', undefined],
    ['30.04.2', 'dmy', undefined],
    ['00.04.27', 'dmy', undefined],
    ['30.00.27', 'dmy', undefined],
    ['30.13.27', 'dmy', undefined],
    ['29 2 2100', 'dmy', undefined],
    ['29 2 2000', 'dmy', '2000-02-29'],
    ['  30 , 4 , 27 ', 'dmy', '2027-04-30'],
    ['1 2 3 4', 'dmy', undefined],
    ['27', 'dmy', undefined],
    ['x30 4 27', 'dmy', undefined],
    ['30x 4 27', 'dmy', undefined],
    ['30 foo 27', 'dmy', undefined],
    ['30 june7 27', 'dmy', undefined],
    ['30 7june 27', 'dmy', undefined],
    ['30 4 12345', 'dmy', undefined],
    ['2027 4', 'dmy', '2027-04-30'],
    ['4 2027', 'ymd', '2027-04-30'],
    ['27 4', 'ymd', '2027-04-30'],
    ['27 4 30', 'ymd', '2027-04-30'],
    ['2027 jun 30', 'dmy', '2027-06-30'],
    ['jun 27', 'ymd', '2027-06-30'],
    ['300427', 'dmy', '2027-04-30'],
    ['3004270', 'dmy', undefined],
    ['20270430', 'ymd', '2027-04-30'],
    ['270430', 'ymd', '2027-04-30'],
    ['0430270', 'mdy', undefined],
    ['043027', 'mdy', '2027-04-30'],
  ] as const)
    it(`“${text}” in the order ${order}: ${out ?? 'no date'}`, () => {
      expect(readDay(text, order)).to.equal(out)
    })
  it('where the year goes without saying, two short numbers are day and month of it; a named month with a day too', () => {
    expect([
      readDay('5 11', 'dmy', 2026),
      readDay('11 5', 'mdy', 2026),
      readDay('11 5', 'ymd', 2026),
      readDay('5 nov', 'dmy', 2026),
      readDay('nov 5', 'dmy', 2026),
      readDay('nov 2027', 'dmy', 2026),
      readDay('11 2027', 'dmy', 2026),
    ]).to.deep.equal(['2026-11-05', '2026-11-05', '2026-11-05', '2026-11-05', '2026-11-05', '2027-11-30', '2027-11-30'])
    expect([lastOfMonth(2100, 2), lastOfMonth(2000, 2), lastOfMonth(2024, 2), lastOfMonth(2023, 2)]).to.deep.equal([
      28, 29, 29, 28,
    ])
  })
  for (const [text, out] of [
    ['9', [9, 0]],
    ['23:59', [23, 59]],
    ['24:00', undefined],
    ['23:60', undefined],
    ['0905', [9, 5]],
    ['x9', undefined],
    ['9:5', undefined],
  ] as const)
    it(`“${text}” is ${out ? out.join(' h ') : 'no time'}`, () => {
      const t = readTime(text)
      expect(t && [t.hours, t.minutes]).to.deep.equal(out)
    })
})

describe('quantities as they are typed, by table', () => {
  const item: Measure = {
    base: 'each',
    decimals: 0,
    packs: [{ name: 'case', size: ratio(24n) }, { name: 'box', size: ratio(1n, 3n) }], // prettier-ignore
  } as unknown as Measure
  const litre: Measure = { base: 'L', decimals: 3, packs: [] } as unknown as Measure
  const read = (text: string, m: Measure = item, unit?: string, zero = false) => {
    const r = readQuantity(text, m, unit, zero)
    return r.ok ? [r.quantity, r.rounded] : r.code
  }
  for (const [text, out] of [
    ['  ', 'empty'],
    ['1000000000', [MOST, false]],
    ['1000000001', 'too_large'],
    ['0', 'zero'],
    ['- 5', 'negative'],
    ['5 * x', 'not_a_quantity'],
    ['1/0', 'not_a_quantity'],
    ['3 boxes', [ONE, false]],
    ['1 box', 'too_many_decimals'],
    ['2 CASES', [48n * ONE, false]],
    ['1 case.', [24n * ONE, false]],
    ['1.5 case', [36n * ONE, false]],
    ['1 bag', 'unknown_unit'],
    ['1 kg', 'other_dimension'],
    ['1.500', [1500n * ONE, false]],
    ['3*1.500 + 1', [4501n * ONE, false]],
    ['1.500,00', [1500n * ONE, false]],
    ['1,500.25', 'too_many_decimals'],
    ['1,000,000', [1_000_000n * ONE, false]],
    ['1,00,000', 'not_a_quantity'],
    ['1.500.00', 'not_a_quantity'],
    ['0,500.5', 'not_a_quantity'],
    ['2 x 1,500.0 case', [72_000n * ONE, false]],
    ['2 + 1.5', 'too_many_decimals'],
  ] as const)
    it(`“${text}” of an item in pieces: ${typeof out === 'string' ? out : `${out[0] / ONE}`}`, () => {
      expect(read(text)).to.deep.equal(out)
    })
  it('is rounded only where a unit outside the metric system makes it necessary', () => {
    expect(read('1 gal', litre)).to.deep.equal([3_785_000n, true])
    expect(read('1.0005 l', litre)).to.equal('too_many_decimals')
    expect(read('500 ml', litre)).to.deep.equal([500_000n, false])
    expect(read('2', litre, 'gal')).to.deep.equal([7_571_000n, true])
    expect(read('0', litre, undefined, true)).to.deep.equal([0n, false])
  })
  it('what it cannot read it says word by word, and what would be possible', () => {
    expect(readQuantity('2 +  x y ', item)).to.deep.equal({ ok: false, code: 'not_a_quantity', at: 'x y' })
    expect(readQuantity('2 + - 3 ', item)).to.deep.equal({ ok: false, code: 'negative', at: '- 3' })
    expect(readQuantity('1 bag', item)).to.deep.equal({
      ok: false,
      code: 'unknown_unit',
      unit: 'bag',
      known: ['each', 'case', 'box'],
    })
    expect(readQuantity('1.0005', litre)).to.deep.equal({
      ok: false,
      code: 'too_many_decimals',
      decimals: 3,
      nearest: ['1 L', '1.001 L'],
    })
    expect(readQuantity('1.500 + 1', litre), 'of two meanings it asks which').to.deep.equal({
      ok: false,
      code: 'ambiguous',
      choices: ['2.5 L', '1501 L'],
      quantities: [2_500_000n, 1501n * ONE],
    })
  })
  it('58: with both marks, or one more than once, a number has one reading; with four digits before the mark, or none, too', () => {
    for (const [text, micro] of [
      ['1.250,5', 1_250_500_000n],
      ['1,250.500', 1_250_500_000n],
      ['12.345.678', 12_345_678n * ONE],
      ['1250.125', 1_250_125_000n],
      ['0,125', 125_000n],
      ['.125', 125_000n],
      ['1.2500', 1_250_000n],
    ] as const)
      expect(read(text, litre), text).to.deep.equal([micro, false])
    for (const text of ['1,250', '12.345 l', '999,999']) expect(read(text, litre), text).to.equal('ambiguous')
    expect(read('1000.125.5', litre)).to.equal('not_a_quantity')
  })
  it('what one costs is told by its unit, and of single pieces without one', () => {
    expect(['each', 'box', 'L'].map(forOne)).to.deep.equal(['each', 'a box', 'a L'])
  })
  it('mass and volume meet by density only, each way; a count never', () => {
    const [kg, l, each] = ['kg', 'L', 'each'].map(u => unitCalled(u)!) as [never, never, never]
    const heavy = ratio(2n)
    expect([conversion(l, kg, heavy), conversion(kg, l, heavy), conversion(l, kg)]).to.deep.equal([
      ratio(2n),
      ratio(1n, 2n),
      undefined,
    ])
    expect([
      conversion(each, kg, heavy),
      conversion(kg, each, heavy),
      conversion(each, l, heavy),
      conversion(l, each, heavy),
    ]).to.deep.equal([undefined, undefined, undefined, undefined])
  })
})

describe('fields of a CSV by table (RFC 4180)', () => {
  for (const [value, out] of [
    ['=1+1', "'=1+1"],
    ['a=1', 'a=1'],
    ['+1', "'+1"],
    ['@x', "'@x"],
    ['-5', '-5'],
    ['-5.25', '-5.25'],
    ['-12', '-12'],
    ['-5x', "'-5x"],
    ['-5.', "'-5."],
    ['a-b', 'a-b'],
    ['a,b', '"a,b"'],
    ['a"b', '"a""b"'],
    ['a\nb', '"a\nb"'],
    [-5, '-5'],
    [5n, '5'],
    [null, ''],
    [undefined, ''],
  ] as const)
    it(`${String(value)} is ${out || 'empty'}`, () => {
      expect(csvField(value)).to.equal(out)
    })
})

describe('which lot goes first', () => {
  const lot = (id: number, expiry: string | null, received: number, opened = false) =>
    ({ id, expiry, received, opened, held: 'usable' }) as const
  it('the earliest to expire, none last; then an opened one, the oldest, the one that was written first', () => {
    const lots = [
      lot(1, null, 1),
      lot(2, '2027-01-02', 1),
      lot(3, '2027-01-01', 9),
      lot(4, '2027-01-01', 2),
      lot(5, '2027-01-01', 3, true),
      lot(6, '2027-01-01', 2),
      lot(7, null, 0),
    ]
    expect(lots.sort(firstToGo).map(l => l.id)).to.deep.equal([5, 4, 6, 3, 2, 7, 1])
  })
})

// Rule 58: what a scanner says is never ambiguous, and is converted into the item's own unit.
describe('58: what a weighed or measured label says of an item', () => {
  for (const [label, base, decimals, out, more] of [
    [{ weight: '1.25' }, 'kg', 3, '1.25'],
    [{ weight: '1.25' }, 'g', 0, '1250'],
    [{ weight: '0.0005' }, 'g', 0, '0'],
    [{ weight: '0.0015' }, 'g', 0, '2'],
    [{ weight: '0.0025' }, 'g', 0, '2'],
    [{ weight: '1' }, 'lb', 3, '2.205'],
    [{ volume: '0.75' }, 'ml', 0, '750'],
    [{ volume: '0.75' }, 'L', 2, '0.75'],
    [{ length: '2.5' }, 'cm', 0, '250'],
    [{ weight: '1.25' }, 'each', 0, undefined],
    [{ weight: '1.25' }, 'L', 2, undefined],
    [{ weight: '1.25' }, 'L', 2, '1', { density: ratio(125n, 100n) }],
    [{ weight: '1.25', volume: '1' }, 'L', 2, '1'],
    [{}, 'kg', 3, undefined],
  ] as [Record<string, string>, string, number, string | undefined, { density: Ratio }?][])
    it(`${JSON.stringify(label)} of an item in ${base} with ${decimals} decimals${more ? ' and a density' : ''}: ${out ?? 'nothing'}`, () => {
      const said = Object.fromEntries(Object.entries(label).map(([k, v]) => [k, decimal(v)]))
      const q = measured(said, { base, decimals, packs: [], ...more })
      expect(q === undefined ? undefined : formatDecimal(q)).to.equal(out)
    })
  it('is written so that it reads as itself', () => {
    for (const [given, out] of [
      ['1.118', '1.1180'],
      ['999.999', '999.9990'],
      ['0.118', '0.118'],
      ['1000.118', '1000.118'],
      ['1.25', '1.25'],
      ['1118', '1118'],
      ['1.1181', '1.1181'],
    ] as const)
      expect([plainly(decimal(given)), leastOf(out)]).to.deep.equal([out, given])
    // As a figure is shown; what is no figure stays as it is.
    expect(['12.5', '0.3000', '7', 'two', ''].map(leastOf)).to.deep.equal(['12.5', '0.3', '7', 'two', ''])
    const kg = { base: 'kg', decimals: 3, packs: [] }
    fc.assert(
      fc.property(fc.bigInt({ min: 1n, max: 10n ** 9n }), n => {
        const q = n * 1000n
        expect(readQuantity(plainly(q), kg)).to.deep.include({ ok: true, quantity: q })
      }),
    )
  })
})
