// What a lot is made of and what it is in, held against a graph library on random makes.
import { Graph, alg } from '@dagrejs/graphlib'
import { expect } from 'chai'
import fc from 'fast-check'
import { type MadeLots, traceLot } from '@shelve/core'

const part = (lot: number, quantity = 1n) => ({ lot, quantity })
const make = (id: number, inputs: number[], outputs: number[]): MadeLots => ({
  id,
  inputs: inputs.map((l, i) => part(l, BigInt(id * 10 + i))),
  outputs: outputs.map((l, i) => part(l, BigInt(id * 100 + i))),
})
const asked = (makes: readonly MadeLots[]) => (lots: readonly number[], way: 'up' | 'down') =>
  makes.filter(m => (way === 'up' ? m.outputs : m.inputs).some(p => lots.includes(p.lot)))
const trace = (makes: readonly MadeLots[], start: number, way: 'up' | 'down', stops: readonly number[] = []) =>
  traceLot(start, way, asked(makes), lot => !stops.includes(lot))
const told = (...of: Parameters<typeof trace>) =>
  trace(...of).map(t => [t.lot, t.depth, Number(t.quantity), t.makes.join(' ')])

describe('what a lot is made of, and what it is in', () => {
  // Flour 1 and water 2 make dough 3; dough 3 and salt 4 make bread 5 and crumbs 6; crumbs 6 and bread 5 make pudding 7.
  const kitchen = [make(1, [1, 2], [3]), make(2, [3, 4], [5, 6]), make(3, [6, 5], [7])]
  const rows: [what: string, start: number, way: 'up' | 'down', stops: number[], right: unknown[]][] = [
    ['nothing was made of it', 7, 'down', [], []],
    ['it was made of nothing', 1, 'up', [], []],
    [
      'up through all, each once, the nearest first',
      7,
      'up',
      [],
      [
        [6, 1, 30, '3'],
        [5, 1, 31, '3'],
        [3, 2, 20, '2'],
        [4, 2, 21, '2'],
        [1, 3, 10, '1'],
        [2, 3, 11, '1'],
      ],
    ],
    [
      'down through all',
      2,
      'down',
      [],
      [
        [3, 1, 100, '1'],
        [5, 2, 200, '2'],
        [6, 2, 201, '2'],
        [7, 3, 300, '3'],
      ],
    ],
    ['what has no lots is named and not followed', 2, 'down', [3], [[3, 1, 100, '1']]],
    [
      'but for the one that is asked for',
      3,
      'down',
      [3, 6],
      [
        [5, 1, 200, '2'],
        [6, 1, 201, '2'],
        [7, 2, 300, '3'],
      ],
    ],
  ]
  for (const [what, start, way, stops, right] of rows)
    it(what, () => expect(told(kitchen, start, way, stops)).to.deep.equal(right))
  it('a thing that goes into itself is not made of itself, and a circle ends', () => {
    const starter = [make(1, [1, 2], [1]), make(2, [1], [3]), make(3, [3], [1])]
    expect(told(starter, 1, 'up')).to.deep.equal([
      [2, 1, 11, '1'],
      [3, 1, 30, '3'],
    ])
    expect(told(starter, 1, 'down')).to.deep.equal([[3, 1, 200, '2']])
  })
  it('went into two makes: how much of it in all', () => {
    expect(told([make(1, [1], [2]), make(2, [1, 2], [3])], 3, 'up')).to.deep.equal([
      [1, 1, 30, '2 1'],
      [2, 1, 21, '2'],
    ])
  })
})

const LOTS = 24
/** Makes whose inputs all come before their outputs, as the books have them; and some where they do not. */
const makings = fc
  .array(
    fc.record({
      inputs: fc.uniqueArray(fc.nat(LOTS), { minLength: 1, maxLength: 4 }),
      outputs: fc.uniqueArray(fc.nat(LOTS), { minLength: 1, maxLength: 3 }),
    }),
    { maxLength: 20 },
  )
  .map(all => all.map((m, i) => make(i + 1, m.inputs, m.outputs)))

describe('traces, against @dagrejs/graphlib on random makes', () => {
  const graphOf = (makes: readonly MadeLots[], stops: ReadonlySet<number>, start: number) => {
    const g = new Graph({ directed: true })
    g.setNode(`${start}`)
    for (const m of makes)
      for (const i of m.inputs) for (const o of m.outputs) if (i.lot !== o.lot) g.setEdge(`${i.lot}`, `${o.lot}`)
    // What is not followed has no way on from it, but where one begins.
    return { g, stops }
  }
  it('the lots that can be reached, and no others; up and down are one relation', () => {
    fc.assert(
      fc.property(makings, fc.uniqueArray(fc.nat(LOTS), { maxLength: 5 }), fc.nat(LOTS), (makes, stops, start) => {
        const stop = new Set(stops)
        for (const way of ['up', 'down'] as const) {
          const { g } = graphOf(makes, stop, start)
          for (const s of stop)
            if (s !== start)
              for (const e of (way === 'down' ? g.outEdges(`${s}`) : g.inEdges(`${s}`)) ?? []) g.removeEdge(e)
          const around = way === 'down' ? g : reversed(g)
          const right = alg
            .preorder(around, [`${start}`])
            .map(Number)
            .filter(l => l !== start)
          const mine = trace(makes, start, way, stops)
          expect(new Set(mine.map(t => t.lot))).to.deep.equal(new Set(right))
          expect(new Set(mine.map(t => t.lot)).size, 'each once').to.equal(mine.length)
          for (const t of mine)
            expect(
              trace(makes, t.lot, way === 'up' ? 'down' : 'up', stops).map(x => x.lot),
              `${start} ${way} ${t.lot}, and back`,
            ).to.include(start)
        }
      }),
      { numRuns: 300 },
    )
  })
  it('how far: as many makes as the shortest way between two lots has', () => {
    fc.assert(
      fc.property(makings, fc.nat(LOTS), (makes, start) => {
        const { g } = graphOf(makes, new Set(), start)
        const far = alg.dijkstra(g, `${start}`)
        for (const t of trace(makes, start, 'down')) expect(t.depth).to.equal(far[`${t.lot}`]!.distance)
      }),
      { numRuns: 300 },
    )
  })
})

function reversed(g: Graph): Graph {
  const out = new Graph({ directed: true })
  for (const v of g.nodes()) out.setNode(v)
  for (const e of g.edges()) out.setEdge(e.w, e.v)
  return out
}
