import { expect } from 'chai'
import fc from 'fast-check'
import {
  METHODS,
  balanceAt,
  balancesByAccount,
  foldFacts,
  lowestSince,
  rebuild,
  standsAt,
  stepsOf,
  type CostMethod,
} from '@shelve/core'
import { amount, PLAIN_OPS, play, price, slipFor, standing, step, worldOf, type Step } from './histories.ts'
import { A, type World } from './world.ts'

const RUNS = Number(process.env.RUNS ?? 120)
const check = (property: fc.IProperty<never> | fc.IPropertyWithHooks<never>) =>
  fc.assert(property as fc.IProperty<never>, { numRuns: RUNS })
const text = (x: unknown) => JSON.stringify(x, (_, v) => (typeof v === 'bigint' ? v.toString() : v))

/** Everything that must hold after every slip. */
function invariants(w: World): void {
  const { books } = w
  const isPlace = (id: number) => books.accountKind(id) === 'place'
  const rebuilt = rebuild(books.movements, {
    isPlace,
    isPriceDifference: id => id === A.priceDifference,
    poolStart: id => books.poolStart(id),
  })
  expect(rebuilt.faults, 'every line carries the value that the facts give it').to.deep.equal([])
  for (const [id, pool] of rebuilt.pools) expect(text(books.pool(id)), `pool ${id} kept = rebuilt`).to.equal(text(pool))
  const unpriced = [...rebuilt.pools.keys()].flatMap(id => [...books.unpriced(id)].map(key => `${id} ${key}`))
  expect(unpriced.sort(), 'of what the price is not known, kept = rebuilt').to.deep.equal([...rebuilt.unpriced].sort())
  for (const { itemId: item, lotId: lot, placeId: place, quantity: q } of rebuilt.balances) {
    expect(books.balance(item, lot, place).quantity).to.equal(q)
    const steps = stepsOf(books.cellMovements(item, lot, place), place)
    expect(
      lowestSince(steps, -Infinity).quantity >= 0n,
      `nothing below zero at any minute of ${item}.${lot} in ${place}`,
    ).to.equal(true)
    for (const t of books.tallies(item, lot, place)) {
      const later = books
        .tallies(item, lot, place)
        .some(o => !o.reversed && o.countedAt === t.countedAt && o.costSeq > t.costSeq)
      // In a closed month nothing is dated any more: there what lies now must be right.
      if (!t.reversed && !later && t.countedAt >= books.openFrom())
        expect(balanceAt(steps, t.countedAt), `tally ${t.id} is the truth at its minute`).to.equal(t.counted)
    }
    lastTallyHolds(w, item, lot, place, q)
  }
  const sums = new Map<number, [bigint, bigint]>()
  for (const b of balancesByAccount(books.movements).values()) {
    const s = sums.get(b.itemId) ?? [0n, 0n]
    sums.set(b.itemId, [s[0] + b.quantity, s[1] + b.value])
  }
  for (const s of sums.values()) expect(s, 'conservation').to.deep.equal([0n, 0n])
  for (const m of books.movements)
    if (m.revalues === null && m.kind !== 'standard')
      expect(m.value >= 0n && m.quantity >= 0n, `movement ${m.seq} is not negative`).to.equal(true)
  poolsAreTheLedger(w)
}

/** What lies in a place is what was counted there last, and whatever happened since by the minute at which it stands, however it is dated. */
function lastTallyHolds({ books }: World, item: number, lot: number, place: number, lies: bigint): void {
  const tallies = books.tallies(item, lot, place).filter(t => !t.reversed)
  const last = tallies.sort((a, b) => a.countedAt - b.countedAt || a.costSeq - b.costSeq).at(-1)
  if (!last) return
  const lines = foldFacts(books.cellMovements(item, lot, place), () => false).filter(
    f => f.kind !== 'difference' && f.quantity > 0n,
  )
  const since = lines.filter(f => {
    const at = books.movementsAt(f.costSeq).filter(m => m.kind !== 'difference' && m.revalues === null)
    const stands = f.head === f.costSeq ? f.effectiveAt : standsAt(at, f.head)
    return stands > last.countedAt
  })
  const moved = since.reduce((s, f) => s + (f.to === place ? f.quantity : -f.quantity), 0n)
  expect(lies, `tally ${last.id} holds, and what came after it`).to.equal(last.counted + moved)
}

/** What the ledger says lies in stock of an item is what its pools hold, in quantity and value. */
function poolsAreTheLedger({ books }: World): void {
  const value = new Map<number, bigint>()
  const inStock = (account: number) => books.accountKind(account) === 'place' || account === A.stock
  for (const m of books.movements) {
    const v = (inStock(m.to) ? m.value : 0n) - (inStock(m.from) ? m.value : 0n)
    value.set(m.poolId, (value.get(m.poolId) ?? 0n) + v)
  }
  for (const [id, v] of value) expect(books.pool(id).value, `pool ${id} = the ledger`).to.equal(v)
}

/** The same with one of two items on one shelf, so that there is enough to make something of. */
const here = (s: Step): Step => ({ ...s, item: 1 + (s.item % 2), lot: 0, pick: 1, back: 0 })

describe('random histories of all slip kinds', () => {
  for (const method of METHODS) {
    it(`${method}: conservation, nothing below zero, tallies true, rebuilt = kept, after every slip`, () => {
      let done = 0
      check(
        fc.property(fc.array(step(), { minLength: 5, maxLength: 45 }), script => {
          const w = worldOf(method)
          play(w, script, (_, ok) => {
            if (ok) {
              done++
              invariants(w)
            }
          })
        }) as never,
      )
      expect(done).to.be.greaterThan(RUNS * 3)
    }).timeout(120_000)

    it(`${method}: a reversed line is as if it had never been, a late invoice as an early one, a replaced line as if written right at once`, () => {
      const proved = { reversed: 0, invoiced: 0, replaced: 0, made: 0 }
      const first: fc.Arbitrary<Step> = step(['receive', 'issue', 'waste', 'move'])
      const plain = fc.property(
        fc.array(step(PLAIN_OPS), { maxLength: 10 }),
        first,
        step(['receive']),
        fc.array(step(PLAIN_OPS), { maxLength: 14 }),
        (before, wrong, right, after) => {
          if (same(method, before, wrong, after, undefined, 'reversed')) proved.reversed++
          if (wrong.op === 'receive' && same(method, before, wrong, after, undefined, 'invoiced')) proved.invoiced++
          if (same(method, before, wrong, after, { ...right, op: wrong.op }, 'replaced')) proved.replaced++
        },
      )
      const making = fc.property(
        fc.array(step(['receive']).map(here), { minLength: 4, maxLength: 8 }),
        step(['make']).map(here),
        step(['make']).map(here),
        fc.array(step(PLAIN_OPS), { maxLength: 8 }),
        (before, wrong, right, after) => {
          if (same(method, before, wrong, after, undefined, 'reversed')) proved.reversed++
          if (same(method, before, wrong, after, right, 'replaced')) proved.made++
        },
      )
      // Most of what is drawn cannot be done in both ways and proves nothing: it is drawn again until enough was proved.
      const wanted = RUNS / 40
      for (let draws = 0; draws < 20 && Object.values(proved).some(n => n <= wanted); draws++) {
        check(plain as never)
        check(making as never)
      }
      for (const n of Object.values(proved)) expect(n, text(proved)).to.be.greaterThan(wanted)
    }).timeout(120_000)
  }
})

/** Plays a history with a mistake put right at the end beside the one in which it was right from the start; false where a step could not be done in both. */
function same(
  method: CostMethod,
  before: Step[],
  wrong: Step,
  after: Step[],
  right: Step | undefined,
  how: 'reversed' | 'invoiced' | 'replaced',
): boolean {
  // One line for one: of two, or of one that is shared out, only a part would be taken back.
  const alone = (b: number): number => (b % 5 === 0 || b % 11 === 0 ? alone(b + 1) : b)
  const single = { ...wrong, b: alone(wrong.b) }
  const instead = right && { ...right, b: alone(right.b), item: right.item }
  const late = worldOf(method)
  const early = worldOf(method)
  // Both hear the same clock: a minute for every slip, whether it is played or not.
  const a = play(late, [...before, single])
  const key = a.keys[before.length]
  if (!key) return false
  const wrongAt = late.now
  const b = play(early, before)
  if (text(b.done) !== text(a.done.slice(0, -1))) return false
  let fixed: Parameters<World['change']>[0] | undefined
  if (how === 'reversed') {
    early.now = wrongAt
    fixed = { type: 'reverse', lineId: 'x', key }
  } else if (how === 'invoiced') {
    if (!('movements' in early.try(slipFor(early, single, [], []))) || late.now !== early.now) return false
    fixed = { type: 'invoice', lineId: 'x', key, says: 'more', goods: price(single) + 1n }
    if (!('movements' in early.try({ kind: 'correction', changes: [fixed] }))) return false
    early.now = wrongAt
  } else {
    early.now -= 0
    const slip = slipFor(early, instead!, [], [])
    const r = early.try({ ...slip, effectiveAt: wrongAt })
    if (!('movements' in r) || early.now !== wrongAt) return false
    if (slip.charges?.length || single.b % 4 === 0 || amount(instead!) <= 0n) return false
    const by = slip.lines!
    fixed =
      single.op === 'make'
        ? { type: 'replace_event', lineId: 'x', key, effectiveAt: wrongAt, by }
        : { type: 'replace', lineId: 'x', key, effectiveAt: wrongAt, by }
  }
  const x = play(late, after)
  const y = play(early, after)
  if (text(x.done) !== text(y.done)) return false
  if (!('movements' in late.try({ kind: 'correction', changes: [fixed] }))) return false
  expect(renamed(late)).to.deep.equal(renamed(early))
  return true
}

/** Tallies are numbered alike in both worlds, so what stands on accounts can be compared as it is. */
const renamed = (w: World) => standing(w)

describe('the reading of facts', () => {
  it('keeps a receipt above 2⁵³ micro-units exact to the last unit', () => {
    const w = worldOf('average')
    w.receive('900000000', '900719925.474099', { itemId: 3, lotId: 300 })
    w.receive('99999999.999999', '0.000001', { itemId: 3, lotId: 300 })
    const facts = foldFacts(w.books.poolMovements(3), () => false)
    expect(facts.reduce((s, f) => s + f.quantity, 0n)).to.equal(999_999_999_999_999n)
    expect(w.books.pool(3).value).to.equal(900_719_925_474_100n)
    expect(
      2n ** 53n < 9_007_199_254_740_993n && BigInt(Number(9_007_199_254_740_993n)) !== 9_007_199_254_740_993n,
    ).to.equal(true)
  })
})
