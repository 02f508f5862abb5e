import { expect } from 'chai'
import { levels, levelWorking, ONE, perDay, type LevelInput, type LevelState, type ShortRule } from '@shelve/core'

const n = (x: number) => BigInt(Math.round(x * 1e6))

describe('levels by table: each state and each boundary, equal, one below, one above', () => {
  type Given = Partial<Record<keyof LevelInput, number | null>>
  const input = (g: Given): LevelInput => ({
    onHand: 0n,
    minimum: null,
    target: null,
    ...Object.fromEntries(Object.entries(g).map(([k, v]) => [k, v === null ? null : n(v)])),
  })
  const both = { minimum: 4, target: 12 }
  for (const [given, state, over, due, bring] of [
    [{ ...both, onHand: 3 }, 'short', 0, true, 9],
    [{ ...both, onHand: 4 }, 'short', 0, true, 8],
    [{ ...both, onHand: 4.000001 }, 'in_range', 0, false, 0],
    [{ ...both, onHand: 12 }, 'in_range', 0, false, 0],
    [{ ...both, onHand: 12.000001 }, 'over', 0.000001, false, 0],
    [{ ...both, onHand: 20 }, 'over', 8, false, 0],
    [{ ...both, onHand: 0 }, 'out', 0, true, 12],
    [{ ...both, onHand: 0, coming: 1 }, 'short_coming', 0, true, 11],
    [{ ...both, onHand: 3, coming: 1 }, 'short_coming', 0, true, 8],
    [{ ...both, onHand: 3, coming: 1.000001 }, 'short_coming', 0, false, 0],
    [{ ...both, onHand: 6, reserved: 2 }, 'short', 0, true, 8],
    [{ ...both, onHand: 6, unusable: 2 }, 'short', 0, true, 8],
    [{ ...both, onHand: 6, planned: 2 }, 'in_range', 0, true, 8],
    [{ ...both, onHand: 7, planned: 2 }, 'in_range', 0, false, 0],
    [{ ...both, onHand: 2, reserved: 5 }, 'out', 0, true, 15],
    [{ minimum: 4, onHand: 3 }, 'short', 0, true, 1],
    [{ minimum: 4, onHand: 4 }, 'short', 0, true, 0],
    [{ minimum: 4, target: 4, onHand: 4 }, 'short', 0, true, 0],
    [{ minimum: 4, target: 2, onHand: 3 }, 'short', 1, true, 0],
    [{ target: 5, onHand: 0 }, 'out', 0, false, 0],
    [{ target: 5, onHand: 1 }, 'in_range', 0, false, 0],
    [{ target: 5, onHand: 6 }, 'over', 1, false, 0],
    [{ minimum: 0, onHand: 0 }, 'out', 0, true, 0],
    [{ onHand: 0 }, 'none', 0, false, 0],
    [{ onHand: 2, planned: 2 }, 'in_range', 0, false, 0],
    [{ onHand: 2, planned: 2.000001 }, 'in_range', 0, true, 0.000001],
    [{ onHand: 0, coming: 3, planned: 4 }, 'none', 0, true, 1],
    [{ onHand: 0, reserved: 1 }, 'none', 0, false, 0],
    [{ target: 5, onHand: 2, planned: 3 }, 'in_range', 0, true, 6],
    [{ onHand: 7 }, 'in_range', 0, false, 0],
  ] as [Given, LevelState, number, boolean, number][])
    it(`${JSON.stringify(given)}: ${state}, ${over} over, ${due ? `bring ${bring}` : 'not due'}`, () => {
      const l = levels(input(given))
      expect([l.state, l.over, l.due, l.bring]).to.deep.equal([state, n(over), due, n(bring)])
    })
  for (const [rule, onHand, short] of [
    ['at_or_below', 4, true],
    ['below', 4, false],
    ['below', 3.999999, true],
    ['at_or_below', 4.000001, false],
  ] as [ShortRule, number, boolean][])
    it(`where short is ${rule.replaceAll('_', ' ')} the minimum of 4, ${onHand} is ${short ? 'short' : 'enough'}`, () => {
      const l = levels(input({ ...both, onHand }), rule)
      expect([l.state === 'short', l.due]).to.deep.equal([short, short])
    })
  for (const [given, days] of [
    [{ onHand: 20, perDay: 4 }, 5],
    [{ onHand: 19.999999, perDay: 4 }, 4],
    [{ onHand: 3, perDay: 4 }, 0],
    [{ onHand: 0, perDay: 4 }, 0],
    [{ onHand: 1, reserved: 9, perDay: 4 }, 0],
    [{ onHand: 20, perDay: 0 }, null],
    [{ onHand: 20 }, null],
  ] as [Given, number | null][])
    it(`${JSON.stringify(given)} lasts ${days ?? 'for nobody knows how many'} days`, () => {
      expect(levels(input(given)).days).to.equal(days)
    })
  for (const [perDay, dated, days] of [
    [0, [[3, 10]], null],
    [0, [[3, 10.000001]], 2],
    [0, [[0, 11]], 0],
    [0, [[1, 11]], 0],
    [0, [[2, 11]], 1],
    [2, [[3, 10]], 5],
    [2, [[3, 11]], 2],
    [2, [[9, 11]], 5],
    [
      2,
      [
        [5, 6],
        [4, 5],
      ],
      4,
    ],
    [
      2,
      [
        [2, 5],
        [4, 5],
      ],
      5,
    ],
  ] as [number, [number, number][], number | null][])
    // prettier-ignore
    it(`10 with ${perDay} used a day and ${JSON.stringify(dated)} (in days, how much) planned lasts ${days} days`, () =>
      expect(
        levels({ ...input({ onHand: 10, perDay }), dated: dated.map(([inDays, x]) => ({ inDays, quantity: n(x) })) }).days,
      ).to.equal(days))
  it('with nothing available what is planned lasts no day', () =>
    expect([
      levels({ ...input({}), dated: [{ inDays: 9, quantity: 1n }] }).days,
      levels({ ...input({}), dated: [] }).days,
    ]).to.deep.equal([0, null]))
  it('what was used a day is rounded once, half to even; over no days nothing', () => {
    expect([perDay(n(28), 28), perDay(1n, 2), perDay(3n, 2), perDay(n(28), 0)]).to.deep.equal([ONE, 0n, 2n, 0n])
  })
  it('each sum tells its parts by name', () => {
    const given = input({ ...both, onHand: 9, reserved: 2, unusable: 3, coming: 1, planned: 2 })
    const told = (sum: 'available' | 'position' | 'bring', i = given) => {
      const w = levelWorking(i, 'at_or_below', sum)
      return [w.of, ...w.lines.map(l => [l.label, l.amount])]
    }
    expect(told('available')).to.deep.equal(['quantity', ['on_hand', n(9)], ['reserved', n(-2)], ['unusable', n(-3)]])
    expect(told('position')).to.deep.equal(['quantity', ['available', n(4)], ['coming', n(1)], ['planned', n(-2)]])
    expect(told('bring')).to.deep.equal(['quantity', ['target', n(12)], ['position', n(-3)]])
    expect(told('bring', input({ minimum: 4, onHand: 1 }))).to.deep.equal([
      'quantity',
      ['minimum', n(4)],
      ['position', n(-1)],
    ])
    expect(told('available', input({ onHand: 9 }))).to.deep.equal(['quantity', ['on_hand', n(9)]])
  })
})
