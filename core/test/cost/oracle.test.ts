import { expect } from 'chai'
import fc from 'fast-check'
import { formatDecimal } from '@shelve/core'
import { A, World } from '../ledger/world.ts'

/**
 * A second way to the same figures, on purpose the simplest there is: the list of what is true now, played from the
 * start each time, with whole ticks and one stated rounding. It shares no code with the ledger: no facts, no pools, no
 * replay, no revaluations.
 */
interface True {
  readonly kind: 'in' | 'out'
  quantity: bigint
  goods: bigint
  gone: boolean
  job: number
}
const halfEven = (n: bigint, d: bigint): bigint => {
  const q = n / d
  const r = (n % d) * 2n
  return r > d || (r === d && q % 2n === 1n) ? q + 1n : q
}
function byHand(list: readonly True[], method: 'average' | 'fifo' | 'standard', standard: bigint) {
  let quantity = 0n
  let value = 0n
  let difference = 0n
  const layers: { q: bigint; v: bigint }[] = []
  const used = new Map<number, bigint>()
  for (const t of list) {
    if (t.gone) continue
    if (t.kind === 'in') {
      quantity += t.quantity
      if (method === 'standard') {
        const after = halfEven(quantity * standard, 1_000_000n)
        difference += t.goods - (after - value)
        value = after
        continue
      }
      value += t.goods
      layers.push({ q: t.quantity, v: t.goods })
      continue
    }
    if (t.quantity > quantity) return undefined
    let worth = 0n
    if (method === 'average') worth = t.quantity === quantity ? value : halfEven(value * t.quantity, quantity)
    else if (method === 'standard') worth = value - halfEven((quantity - t.quantity) * standard, 1_000_000n)
    else
      for (let left = t.quantity; left > 0n;) {
        const l = layers[0]!
        const x = l.q <= left ? l.q : left
        const v = x === l.q ? l.v : halfEven(l.v * x, l.q)
        worth += v
        left -= x
        l.q -= x
        l.v -= v
        if (l.q === 0n) layers.shift()
      }
    quantity -= t.quantity
    value -= worth
    used.set(t.job, (used.get(t.job) ?? 0n) + worth)
  }
  return { quantity, value, difference, used }
}

type Step = {
  do: 'in' | 'out' | 'undo' | 'price' | 'replace'
  quantity: number
  goods: number
  which: number
  job: 0 | 1
}
const step: fc.Arbitrary<Step> = fc.record({
  do: fc.constantFrom('in', 'in', 'out', 'out', 'out', 'undo', 'price', 'replace'),
  quantity: fc.integer({ min: 1, max: 9_000_000 }),
  goods: fc.integer({ min: 0, max: 90_000_000 }),
  which: fc.nat(40),
  job: fc.constantFrom(0 as const, 1 as const),
})

describe('costing, held against a list that is played from the start', () => {
  for (const method of ['average', 'fifo', 'standard'] as const)
    it(`${method}: receipts, issues, prices put right, lines taken back and replaced, in any order`, () => {
      let booked = 0
      let corrected = 0
      fc.assert(
        fc.property(fc.array(step, { minLength: 5, maxLength: 40 }), steps => {
          const standard = 3_700_001n
          const w = new World([{ method, standard: formatDecimal(standard) }])
          const truth: (True & { key: { costSeq: number; part: number }; at: number })[] = []
          const jobs = [A.jobA, A.jobB]
          const q = (n: number) => formatDecimal(BigInt(n))
          for (const s of steps) {
            const live = truth.filter(t => !t.gone)
            const target = live[s.which % Math.max(1, live.length)]
            const before = truth.map(t => ({ ...t }))
            let r: ReturnType<World['try']>
            if (s.do === 'in') {
              r = w.try({
                kind: 'receipt',
                lines: [w.line(A.supplier, A.shelf, q(s.quantity), { goods: BigInt(s.goods) })],
              })
              if ('movements' in r)
                truth.push({
                  kind: 'in',
                  quantity: BigInt(s.quantity),
                  goods: BigInt(s.goods),
                  gone: false,
                  job: 0,
                  key: { costSeq: r.movements[0]!.costSeq, part: r.movements[0]!.part },
                  at: w.now,
                })
            } else if (s.do === 'out') {
              r = w.try({ kind: 'issue', lines: [w.line(A.shelf, jobs[s.job]!, q(s.quantity))] })
              if ('movements' in r)
                truth.push({
                  kind: 'out',
                  quantity: BigInt(s.quantity),
                  goods: 0n,
                  gone: false,
                  job: jobs[s.job]!,
                  key: { costSeq: r.movements[0]!.costSeq, part: r.movements[0]!.part },
                  at: w.now,
                })
            } else if (!target) continue
            else if (s.do === 'undo') {
              r = w.try({ kind: 'correction', changes: [{ type: 'reverse', lineId: w.lineId(), key: target.key }] })
              if ('movements' in r) target.gone = true
            } else if (s.do === 'price') {
              if (target.kind !== 'in') continue
              r = w.try({
                kind: 'correction',
                changes: [{ type: 'price', lineId: w.lineId(), key: target.key, goods: BigInt(s.goods) }],
              })
              if ('movements' in r) target.goods = BigInt(s.goods)
            } else {
              const by =
                target.kind === 'in'
                  ? w.line(A.supplier, A.shelf, q(s.quantity), { goods: BigInt(s.goods) })
                  : w.line(A.shelf, target.job, q(s.quantity))
              r = w.try({
                kind: 'correction',
                changes: [{ type: 'replace', lineId: by.lineId, key: target.key, effectiveAt: target.at, by: [by] }],
              })
              if ('movements' in r) {
                target.quantity = BigInt(s.quantity)
                target.goods = target.kind === 'in' ? BigInt(s.goods) : 0n
              }
            }
            if (!('movements' in r)) {
              expect(truth, 'what is refused changes nothing').to.deep.equal(before)
              continue
            }
            booked++
            if (s.do !== 'in' && s.do !== 'out') corrected++
            const right = byHand(truth, method, standard)!
            expect(right, 'what was booked could have happened').to.not.equal(undefined)
            const pool = w.books.pool(1)
            expect([pool.quantity, pool.value], 'the pool').to.deep.equal([right.quantity, right.value])
            for (const job of jobs) expect(w.value(job), 'what a job used').to.equal(right.used.get(job) ?? 0n)
            expect(w.value(A.priceDifference), 'the price difference').to.equal(right.difference)
            expect(w.onHand(A.shelf)).to.equal(right.quantity)
          }
        }),
        { numRuns: Number(process.env.RUNS ?? 120) },
      )
      expect(booked, 'the test books').to.be.greaterThan(500)
      expect(corrected, 'and corrects').to.be.greaterThan(80)
    })
})
