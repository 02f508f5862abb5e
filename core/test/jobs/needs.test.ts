import { expect } from 'chai'
import {
  circleFrom,
  couldMake,
  decimal,
  dilution,
  explode,
  formatDecimal,
  formatExact,
  makingOrder,
  needsOf,
  ONE,
  ratio,
  ratioOf,
  readLoss,
  readYield,
  split,
  type Formula,
  written,
} from '@shelve/core'

/**
 * Formulas, and what they come to: worked out beforehand by an independent program with Python's fractions, by the rules
 * of needs. What is made is written as `name: base, yield, decimals, batch, lines of (item, amount, fixed, loss in %)`.
 */
type Line = readonly [item: string, amount: string, fixed?: string, loss?: string]
const MADE: Record<
  string,
  readonly [base: string, yields: string, decimals: number, batch: string | null, lines: Line[]]
> = {
  stock: [
    '5',
    '0.9',
    3,
    null,
    [
      ['onion', '0.6', '0', '10'],
      ['carrot', '0.4', '0', '15'],
      ['stock cube', '3'],
    ],
  ],
  sauce: [
    '2',
    '0.95',
    3,
    '0.5',
    [
      ['stock', '1.5'],
      ['butter', '0.25', '0.02'],
      ['flour', '0.2'],
    ],
  ],
  dinner: [
    '10',
    '1',
    0,
    null,
    [
      ['fish', '1.8', '0', '12'],
      ['sauce', '0.9', '0.1'],
      ['lemon', '4'],
      ['foil tray', '2', '1'],
    ],
  ],
  fixative: [
    '1',
    '1',
    3,
    '1',
    [
      ['ethanol', '0.7', '0', '2'],
      ['pure water', '0.3'],
      ['dye', '0.0015'],
    ],
  ],
  crumble: [
    '1',
    '1',
    0,
    null,
    [
      ['flour', '0.1'],
      ['butter', '0.05', '0.01', '5'],
      ['flour', '0.02', '0.03', '10'],
    ],
  ],
  glaze: ['5', '1', 0, '5', [['lemon', '2.5']]],
  tart: ['1', '1', 0, null, [['glaze', '2']]],
  'party plate': [
    '1',
    '1',
    0,
    null,
    [
      ['tart', '1'],
      ['glaze', '1'],
    ],
  ],
  'sample kit': [
    '4',
    '1',
    0,
    null,
    [
      ['bottle', '4', '0', '5'],
      ['filter', '8', '1'],
      ['fixative', '0.12', '0.01'],
    ],
  ],
}
const WHOLE = ['stock cube', 'lemon', 'foil tray', 'filter', 'bottle']
const COST: Record<string, string> = {
  onion: '1.20',
  carrot: '0.90',
  'stock cube': '0.15',
  butter: '7.40',
  flour: '0.85',
  fish: '14.00',
  lemon: '0.35',
  'foil tray': '0.22',
  ethanol: '4.26',
  'pure water': '0.05',
  filter: '1.10',
  bottle: '0.80',
  dye: '95.00',
}
const NAMES = [...Object.keys(MADE), ...Object.keys(COST)]
const id = (name: string) => NAMES.indexOf(name) + 1
const nameOf = (item: number) => NAMES[item - 1]!
const decimals = (item: number): number => {
  const name = nameOf(item)
  return MADE[name]?.[2] ?? (WHOLE.includes(name) ? 0 : name === 'dye' ? 4 : 3)
}
const formulasOf = (made: typeof MADE, turned = false) =>
  new Map(
    Object.entries(made).map(([name, [base, yields, , batch, lines]]): [number, Formula] => [
      id(name),
      {
        output: id(name),
        base: decimal(base),
        yields: ratioOf(yields),
        batch: batch === null ? null : decimal(batch),
        lines: (turned ? [...lines].reverse() : lines).map(([item, amount, fixed = '0', loss = '0']) => ({
          item: id(item),
          amount: decimal(amount),
          fixed: decimal(fixed),
          loss: ratio(decimal(loss), 100n * ONE),
        })),
      },
    ]),
  )
const FORMULAS = formulasOf(MADE)
const there = (have: Record<string, string>) => (item: number) => decimal(have[nameOf(item)] ?? '0')
const told = (of: ReadonlyMap<number, bigint>, inOrder = true) => {
  const said = [...of].map(([item, q]) => `${nameOf(item)} ${formatDecimal(q)}`)
  return (inOrder ? said.sort() : said).join(', ')
}
const costOf = (take: ReadonlyMap<number, bigint>) =>
  formatDecimal([...take].reduce((sum, [item, q]) => sum + (q * decimal(COST[nameOf(item)] ?? '0')) / ONE, 0n))

describe('what a make needs', () => {
  const cases: [string, string, string, Record<string, string>, string, string, string][] = [
    ['5 of stock', 'stock', '5', {}, 'stock 5', 'carrot 0.523, onion 0.741, stock cube 4', '1.9599'],
    [
      '2 of sauce, its stock made for it',
      'sauce',
      '2',
      {},
      'sauce 2, stock 1.579',
      'butter 0.283, carrot 0.165, flour 0.211, onion 0.234, stock cube 2',
      '3.00285',
    ],
    [
      'dinner for 26, nothing made yet',
      'dinner',
      '26',
      {},
      'dinner 26, sauce 2.5, stock 1.974',
      'butter 0.349, carrot 0.206, fish 5.318, flour 0.263, foil tray 7, lemon 11, onion 0.292, stock cube 2',
      '83.48395',
    ],
    [
      'dinner for 26, with sauce and stock that are there',
      'dinner',
      '26',
      { sauce: '1.2', stock: '3' },
      'dinner 26, sauce 1.5',
      'butter 0.217, fish 5.318, flour 0.158, foil tray 7, lemon 11, sauce 1.2, stock 1.184',
      '81.5821',
    ],
    [
      '50 kits',
      'sample kit',
      '50',
      {},
      'sample kit 50, fixative 2',
      'bottle 53, dye 0.003, ethanol 1.429, filter 101, pure water 0.6',
      '159.90254',
    ],
    [
      '50 kits, with a little fixative there',
      'sample kit',
      '50',
      { fixative: '0.4' },
      'sample kit 50, fixative 2',
      'bottle 53, dye 0.003, ethanol 1.429, filter 101, fixative 0.4, pure water 0.6',
      '159.90254',
    ],
    [
      'an item on two lines, with fixed amounts and loss',
      'crumble',
      '7',
      {},
      'crumble 7',
      'butter 0.379, flour 0.889',
      '3.56025',
    ],
    ['a part of two levels, in batches', 'party plate', '3', {}, 'party plate 3, tart 3, glaze 10', 'lemon 5', '1.75'],
  ]
  for (const [what, output, wanted, have, make, take, cost] of cases)
    it(`${what}: ${take}`, () => {
      for (const turned of [false, true]) {
        const made = explode(formulasOf(MADE, turned), id(output), decimal(wanted), there(have), decimals)
        expect([told(made.make, false), told(made.take), costOf(made.take)]).to.deep.equal([make, take, cost])
      }
    })

  it('lemons for one party plate to six, and how many there could be of nine', () => {
    const lemons = [1n, 2n, 3n, 4n, 5n, 6n].map(n =>
      formatDecimal(explode(FORMULAS, id('party plate'), n * ONE, there({}), decimals).take.get(id('lemon'))!),
    )
    expect(lemons).to.deep.equal(['3', '5', '5', '8', '8', '10'])
    const could = couldMake(FORMULAS, id('party plate'), there({ lemon: '9' }), decimals)
    expect([formatDecimal(could.quantity), told(could.short)]).to.deep.equal(['5', 'lemon 1'])
  })
  it('how many could be made of what is there, and what is short at one more', () => {
    const stock = {
      fish: '9.5',
      lemon: '18',
      'foil tray': '11',
      butter: '0.6',
      flour: '0.9',
      onion: '2',
      carrot: '1.5',
      'stock cube': '6',
      sauce: '0.7',
    }
    const dinners = couldMake(FORMULAS, id('dinner'), there(stock), decimals)
    expect([formatDecimal(dinners.quantity), told(dinners.short)]).to.deep.equal(['45', 'lemon 1'])
    const kits = couldMake(
      FORMULAS,
      id('sample kit'),
      there({ bottle: '60', filter: '99', ethanol: '2', 'pure water': '5', dye: '0.0041', fixative: '0.25' }),
      decimals,
    )
    expect([formatDecimal(kits.quantity), told(kits.short)]).to.deep.equal(['49', 'filter 2'])
    expect(couldMake(FORMULAS, id('dinner'), there({}), decimals).quantity, 'of nothing').to.equal(0n)
    const endless: Formula = { output: 1, base: ONE, yields: ratio(1n), batch: null, lines: [] }
    expect(
      couldMake(
        new Map([[1, endless]]),
        1,
        () => 0n,
        () => 0,
        40n * ONE,
      ),
      'where nothing can run out',
    ).to.deep.equal({
      quantity: 40n * ONE,
      short: new Map(),
    })
  })
  it('a need is written up to the whole unit, half to even where it is measured, and never as nothing', () => {
    const cases: [string, number, string][] = [
      ['2', 0, '2'],
      ['2.000001', 0, '3'],
      ['0.0004', 3, '0.001'],
      ['0.0005', 3, '0.001'],
      ['0.0015', 3, '0.002'],
      ['0.0025', 3, '0.002'],
      ['0', 3, '0'],
      ['0', 0, '0'],
      ['0.000001', 6, '0.000001'],
    ]
    for (const [exact, places, is] of cases)
      expect(formatDecimal(written(ratio(decimal(exact)), places)), `${exact}, ${places}`).to.equal(is)
  })
  it('a fixed amount counts once for each make, however many batches; what was not rounded is told', () => {
    const need = needsOf(FORMULAS.get(id('sauce'))!, decimal('5'), decimals).get(id('butter'))!
    // 0.25 × 5 ÷ (2 × 0.95) + 0.02 = 0.677894736…
    expect(need.exact).to.deep.equal(ratio(12_880_000n, 19n))
    expect(formatDecimal(need.quantity)).to.equal('0.678')
  })
  it('a part is met once from what is there, and what is made comes in whole batches, the output too', () => {
    const glaze = explode(FORMULAS, id('glaze'), 6n * ONE, there({ glaze: '100' }), decimals)
    expect([told(glaze.make), told(glaze.take)], 'its own stock is not taken for it').to.deep.equal([
      'glaze 10',
      'lemon 5',
    ])
    const enough = explode(FORMULAS, id('party plate'), 3n * ONE, there({ glaze: '9' }), decimals)
    expect([told(enough.make, false), told(enough.take)]).to.deep.equal(['party plate 3, tart 3', 'glaze 9'])
  })
  it('shares are read in per cent, within what is sensible; what was not rounded is told to nine decimals', () => {
    const cases: [typeof readLoss, string, string | undefined][] = [
      [readLoss, '', '0'],
      [readLoss, '95', '0.95'],
      [readLoss, '95.000001', undefined],
      [readLoss, ' 12,5 % ', '0.125'],
      [readLoss, '-0.1', undefined],
      [readLoss, 'a tenth', undefined],
      [readYield, '', '1'],
      [readYield, '0', undefined],
      [readYield, '0.000001', '0.00000001'],
      [readYield, '200', '2'],
      [readYield, '200.1', undefined],
      [readYield, '-5', undefined],
    ]
    for (const [read, text, is] of cases) expect(read(text), text).to.deep.equal(is === undefined ? is : ratioOf(is))
    const told: [bigint, bigint, string][] = [
      [10_400_000n, 1n, '10.4'],
      [16_000_000n, 3n, '5.333333333…'],
      [5n, 2n, '0.0000025'],
      [-5n, 3n, '-0.000001667…'],
      [7_000_000n, 1n, '7'],
    ]
    for (const [n, d, is] of told) expect(formatExact(ratio(n, d))).to.equal(is)
  })
  it('a circle is found, with the way round it goes', () => {
    const round = formulasOf({
      ...MADE,
      glaze: [
        '5',
        '1',
        0,
        '5',
        [
          ['lemon', '1'],
          ['party plate', '1'],
        ],
      ],
    })
    expect(circleFrom(round, id('tart'))!.map(nameOf)).to.deep.equal(['tart', 'glaze', 'party plate', 'tart'])
    const itself = formulasOf({ glaze: ['5', '1', 0, '5', [['glaze', '1']]] })
    expect(circleFrom(itself, id('glaze'))!.map(nameOf)).to.deep.equal(['glaze', 'glaze'])
    for (const made of FORMULAS.keys()) expect(circleFrom(FORMULAS, made)).to.equal(undefined)
    expect(makingOrder(FORMULAS, id('party plate')).map(nameOf)).to.deep.equal(['party plate', 'tart', 'glaze'])
  })
  it('outputs share what went in by a stated ratio, and nothing is lost', () => {
    expect(split(decimal('100'), [5n, 3n, 1n])!.map(x => formatDecimal(x))).to.deep.equal([
      '55.555556',
      '33.333333',
      '11.111111',
    ])
    expect(split(decimal('17.230001'), [7n, 2n, 2n])!.map(x => formatDecimal(x))).to.deep.equal([
      '10.964546',
      '3.132728',
      '3.132727',
    ])
  })
  it('a stock solution is diluted by C₁V₁ = C₂V₂', () => {
    const said = (d: ReturnType<typeof dilution>) => d && [formatDecimal(d.stock), formatDecimal(d.diluent)]
    expect(said(dilution(ratioOf('96'), ratioOf('70'), decimal('2.5')))).to.deep.equal(['1.822917', '0.677083'])
    expect(said(dilution(ratioOf('10'), ratioOf('0.25'), decimal('500')))).to.deep.equal(['12.5', '487.5'])
    expect(said(dilution(ratioOf('70'), ratioOf('70'), decimal('2')))).to.deep.equal(['2', '0'])
    expect(dilution(ratioOf('70'), ratioOf('71'), decimal('2')), 'it gets no stronger').to.equal(undefined)
    expect(dilution(ratioOf('0'), ratioOf('0'), decimal('2'))).to.equal(undefined)
  })
})
