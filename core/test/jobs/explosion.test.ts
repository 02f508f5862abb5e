// What making something takes through all its parts, against a brute force that knows of no order: it adds up what everything takes
// that is made, makes what is lacking, and begins again until nothing changes any more. Its fractions are its own.
import { expect } from 'chai'
import fc from 'fast-check'
import { explode, type Formula, type Formulas, ONE, ratio } from '@shelve/core'

interface Kitchen {
  readonly formulas: Formulas
  readonly output: number
  readonly wanted: bigint
  readonly have: readonly bigint[]
  readonly decimals: readonly number[]
}
const ITEMS = 8
const some = (most: number) => fc.integer({ min: 0, max: most * 1000 }).map(x => BigInt(x) * 1000n)
const whole = (most: number) => fc.integer({ min: 1, max: most }).map(x => BigInt(x) * ONE)
const LINE = fc.record({ of: fc.nat(), amount: some(3), fixed: some(1), lost: fc.constantFrom(0n, 5n, 12n, 50n, 90n) })
const MADE = fc.record({
  base: whole(5),
  yields: fc.constantFrom(ratio(1n), ratio(1n, 2n), ratio(9n, 10n), ratio(11n, 10n)),
  batch: fc.option(whole(3)),
  lines: fc.array(LINE, { minLength: 1, maxLength: 4 }),
})
/** Whatever is made takes what comes behind it in some order, which nobody tells the functions. */
const KITCHEN: fc.Arbitrary<Kitchen> = fc
  .record({
    order: fc.shuffledSubarray(
      Array.from({ length: ITEMS }, (_, i) => i),
      { minLength: ITEMS, maxLength: ITEMS },
    ),
    made: fc.array(MADE, { minLength: 1, maxLength: ITEMS - 2 }),
    wanted: some(20).filter(x => x > 0n),
    have: fc.array(some(4), { minLength: ITEMS, maxLength: ITEMS }),
    decimals: fc.array(fc.integer({ min: 0, max: 3 }), { minLength: ITEMS, maxLength: ITEMS }),
  })
  .map(({ order, made, ...more }) => ({
    ...more,
    output: order[0]!,
    formulas: new Map(
      made.map(({ lines, ...of }, i): [number, Formula] => [
        order[i]!,
        {
          ...of,
          output: order[i]!,
          lines: lines.map(l => ({
            item: order[i + 1 + (l.of % (ITEMS - i - 1))]!,
            amount: l.amount,
            fixed: l.fixed,
            loss: ratio(l.lost, 100n),
          })),
        },
      ]),
    ),
  }))

/** What a make of so much takes of an item: (amount × wanted ÷ (base × yield) + fixed) ÷ (1 − loss), added, then written (rule 61). */
function takes({ base, yields, lines }: Formula, wanted: bigint, item: number, decimals: number): bigint {
  let [n, d] = [0n, 1n]
  for (const l of lines.filter(x => x.item === item)) {
    const over = base * yields.n * (l.loss.d - l.loss.n)
    const taken = (l.amount * wanted * yields.d + l.fixed * base * yields.n) * l.loss.d
    ;[n, d] = [n * over + taken * d, d * over]
  }
  if (n === 0n) return 0n
  const step = 10n ** BigInt(6 - decimals)
  const [steps, rest] = [n / (d * step), n % (d * step)]
  const twice = 2n * rest - d * step
  const up = decimals === 0 ? rest > 0n : twice > 0n || (twice === 0n && steps % 2n === 1n)
  return (up ? steps + 1n : steps || 1n) * step
}

function bruteForce({ formulas, output, wanted, have, decimals }: Kitchen) {
  const here = (item: number, need: bigint) =>
    item === output || !formulas.has(item) ? 0n : need < have[item]! ? need : have[item]!
  let make = new Map<number, bigint>()
  for (let round = 0; round < 100; round++) {
    const need = new Map([[output, wanted]])
    for (const [item, quantity] of make) {
      const formula = formulas.get(item)!
      for (const part of new Set(formula.lines.map(l => l.item)))
        need.set(part, (need.get(part) ?? 0n) + takes(formula, quantity, part, decimals[part]!))
    }
    const next = new Map<number, bigint>()
    for (const [item, { batch }] of formulas) {
      const lacks = (need.get(item) ?? 0n) - here(item, need.get(item) ?? 0n)
      const over = batch === null ? 0n : lacks % batch
      if (lacks > 0n) next.set(item, over ? lacks + batch! - over : lacks)
    }
    if (said(next) === said(make)) {
      const take = [...need].map(([item, q]): [number, bigint] => [item, formulas.has(item) ? here(item, q) : q])
      return [said(make), said(take), said(need)]
    }
    make = next
  }
  throw new Error('it comes to no end')
}
const said = (of: Iterable<readonly [number, bigint]>) =>
  [...of]
    .filter(([, q]) => q > 0n)
    .sort((a, b) => a[0] - b[0])
    .map(([item, q]) => `${item}: ${q}`)
    .join(', ')

describe('what making something takes through all its parts, against brute force', () => {
  it('the same is made, taken and needed of everything', () => {
    let deep = 0
    fc.assert(
      fc.property(KITCHEN, k => {
        const { make, take, need } = explode(
          k.formulas,
          k.output,
          k.wanted,
          item => k.have[item]!,
          item => k.decimals[item]!,
        )
        if (make.size > 3) deep++
        const quantities = [...need].map(([item, n]): [number, bigint] => [item, n.quantity])
        expect([said(make), said(take), said(quantities)]).to.deep.equal(bruteForce(k))
      }),
      { numRuns: 1000 },
    )
    expect(deep, 'kitchens in which much is made for much').to.be.greaterThan(50)
  })
})
