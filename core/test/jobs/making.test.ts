// What comes of a make, what a part of a job takes, how it came out (rules 2, 63, 66).
import { expect } from 'chai'
import fc from 'fast-check'
import {
  besideAt,
  decimal,
  deviationOf,
  formatDecimal,
  neededFor,
  ONE,
  ratio,
  readShare,
  SHARE_MOST,
  split,
  weightsOf,
} from '@shelve/core'

const d = formatDecimal
const output = (item: number, quantity: string, share = '1') => ({
  item,
  quantity: decimal(quantity),
  share: decimal(share),
})
/** What each line of outputs is worth of a cost. */
const worth = (cost: string, ...outputs: ReturnType<typeof output>[]) => {
  const weights = weightsOf(outputs)
  return weights && split(decimal(cost), weights)!.map(x => d(x))
}

describe('by what parts outputs share what they cost', () => {
  const rows: [what: string, cost: string, outputs: ReturnType<typeof output>[], right: string[] | undefined][] = [
    ['one takes all', '17.23', [output(1, '4')], ['17.23']],
    ['nothing said: alike, however much there is of each', '10', [output(1, '4'), output(2, '1')], ['5', '5']],
    // reference/jobs.txt: a value of 100 over three outputs 5 : 3 : 1.
    [
      'as stated',
      '100',
      [output(1, '7', '5'), output(2, '1', '3'), output(3, '2', '1')],
      ['55.555556', '33.333333', '11.111111'],
    ],
    ['0 is none of it', '10', [output(1, '4', '0'), output(2, '1', '0.25')], ['0', '10']],
    ['two lots of one item by their quantity', '8', [output(1, '5'), output(1, '3')], ['5', '3']],
    [
      'its part is what its first line says',
      '9',
      [output(1, '2', '2'), output(2, '5', '1'), output(1, '4', '9')],
      ['2', '3', '4'],
    ],
    ['nobody bears it: it would be lost', '10', [output(1, '4', '0'), output(2, '1', '0')], undefined],
    ['nothing came of what would bear it', '10', [output(1, '0'), output(2, '1', '0')], undefined],
    ['a line of which nothing came', '8', [output(1, '0'), output(1, '3')], ['0', '8']],
  ]
  for (const [what, cost, outputs, right] of rows) it(what, () => expect(worth(cost, ...outputs)).to.deep.equal(right))
  it('all of it, and one of an item costs alike in all its lots; every weight fits 64 bits', () => {
    const quantity = fc.bigInt({ min: 1n, max: 10n ** 12n })
    const any = fc.record({
      item: fc.integer({ min: 1, max: 3 }),
      quantity,
      share: fc.bigInt({ min: 1n, max: SHARE_MOST }),
    })
    fc.assert(
      fc.property(
        fc.array(any, { minLength: 1, maxLength: 7 }),
        fc.bigInt({ min: 0n, max: 10n ** 13n }),
        (all, cost) => {
          const weights = weightsOf(all)!
          expect(weights.every(x => x >= 0n && x < 2n ** 63n)).to.equal(true)
          const parts = split(cost, weights)!
          expect(parts.reduce((a, b) => a + b)).to.equal(cost)
          for (const [i, a] of all.entries())
            for (const [j, b] of all.entries()) {
              if (a.item !== b.item) continue
              // value ÷ quantity alike, within a millionth of the value and one unit of rounding on each side.
              const [x, y] = [parts[i]! * b.quantity, parts[j]! * a.quantity]
              const off = x > y ? x - y : y - x
              expect(off <= (a.quantity + b.quantity) * (2n + cost / ONE)).to.equal(true)
            }
        },
      ),
    )
  })
  for (const [typed, right] of [
    ['', '1'],
    [' 5 ', '5'],
    ['0,25', '0.25'],
    ['0', '0'],
    ['1000000', '1000000'],
    ['1000000.000001', undefined],
    ['-1', undefined],
    ['a third', undefined],
  ] as const)
    it(`“${typed}” is ${right ?? 'no part'}`, () => {
      const share = readShare(typed)
      expect(share === undefined ? undefined : d(share)).to.equal(right)
    })
})

describe('how much of a by-product is expected', () => {
  const at = (base: string, yields: string, amount: string, wanted: string, decimals: number) =>
    d(
      besideAt(
        { base: decimal(base), yields: ratio(decimal(yields), ONE) },
        decimal(amount),
        decimal(wanted),
        decimals,
      ),
    )
  for (const [what, args, right] of [
    ['as it is said, at what the lines are for', ['10', '1', '0.4', '10', 3], '0.4'],
    ['in proportion', ['10', '1', '0.4', '26', 3], '1.04'],
    ['more of what goes in, where less comes out', ['10', '0.8', '0.4', '10', 3], '0.5'],
    ['half to even in its decimals', ['8', '1', '0.5', '1', 3], '0.062'],
    ['whole ones', ['10', '1', '1', '26', 0], '3'],
    ['a part of one is none', ['10', '1', '1', '4', 0], '0'],
  ] as const)
    it(what, () => expect(at(...(args as unknown as [string, string, string, string, number]))).to.equal(right))
})

describe('what the next part of a job takes (rule 66)', () => {
  // A dinner takes 1 of something for each 10 and 1 more once: 2 at ten, 3 at twenty.
  const rows: [what: string, [then: string, before: string, made: string, handedOut: string], right: string][] = [
    ['all of it at once', ['3', '0', '0', '0'], '3'],
    ['the first part takes what is taken once', ['2', '0', '0', '0'], '2'],
    ['the rest does not take it again', ['3', '2', '2', '0'], '1'],
    ['the first part took more than planned: the rest takes what it needs all the same', ['3', '2', '2.7', '0'], '1'],
    ['it took less: what was saved is saved', ['3', '2', '1.5', '0'], '1'],
    ['handed out for it before', ['3', '0', '0', '1.2'], '1.8'],
    ['all of it was', ['3', '0', '0', '3'], '0'],
    ['more than it takes', ['3', '0', '0', '4'], '0'],
    ['what was handed out went into the first part', ['3', '2', '0.8', '1.2'], '1'],
    ['some of it did, the rest lies ready', ['3', '2', '1.5', '0.9'], '0.6'],
  ]
  for (const [what, [then, before, made, handedOut], right] of rows)
    it(what, () =>
      expect(
        d(
          neededFor({
            then: decimal(then),
            before: decimal(before),
            made: decimal(made),
            handedOut: decimal(handedOut),
          }),
        ),
      ).to.equal(right),
    )
})

describe('what was used beside what was planned (rule 66)', () => {
  const rows: [
    what: string,
    [need: string, used: string, value: string, one: string | null],
    right: [string, string | null],
  ][] = [
    ['as planned', ['2', '2', '5', '9'], ['0', '0']],
    ['more: at what it really cost', ['2', '2.5', '5', '9'], ['0.5', '1']],
    ['less', ['2', '1.5', '6', '9'], ['-0.5', '-2']],
    ['none of it: at what one costs', ['2', '0', '0', '9'], ['-2', '-18']],
    ['none of it, and nobody knows what one costs', ['2', '0', '0', null], ['-2', null]],
    ['nobody planned it', ['0', '3', '4.5', null], ['3', '4.5']],
    ['neither planned nor used', ['0', '0', '0', null], ['0', '0']],
  ]
  for (const [what, [need, used, value, one], right] of rows)
    it(what, () => {
      const r = deviationOf({
        need: decimal(need),
        used: decimal(used),
        value: decimal(value),
        one: one === null ? null : decimal(one),
      })
      expect([d(r.quantity), r.value === null ? null : d(r.value)]).to.deep.equal(right)
    })
})
