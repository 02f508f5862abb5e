import { expect } from 'chai'
import fc from 'fast-check'
import {
  CHAIN_START,
  brokenLink,
  canonical,
  chainHash,
  csvRow,
  decimal,
  levels,
  levelWorking,
  lotState,
  onHand,
  poolValue,
  proposeLots,
  ratio,
  wholePacks,
  type LotHere,
} from '@shelve/core'
import { createHash } from 'node:crypto'
import { A, World } from '../ledger/world.ts'

const lot = (id: number, expiry: string | null, quantity: string, more: Partial<LotHere> = {}): LotHere => ({
  id,
  expiry,
  quantity: decimal(quantity),
  held: 'usable',
  received: id,
  ...more,
})
const n = (x: number) => BigInt(x) * 1_000_000n

describe('lots', () => {
  it('are usable on their expiry day and not after; held and recalled lots never are', () => {
    expect(lotState({ held: 'usable', expiry: '2026-11-25' }, '2026-11-25')).to.equal('usable')
    expect(lotState({ held: 'usable', expiry: '2026-11-24' }, '2026-11-25')).to.equal('expired')
    expect(lotState({ held: 'recalled', expiry: null }, '2026-11-25')).to.equal('recalled')
  })
  it('are proposed first expired first out, then oldest received, an opened one before its siblings', () => {
    const here = [
      lot(1, null, '5'),
      lot(2, '2027-03-01', '4'),
      lot(3, '2027-01-01', '2'),
      lot(4, '2026-01-01', '9'),
      lot(5, '2027-03-01', '1', { received: 1 }),
      lot(6, '2027-01-01', '1', { opened: true }),
    ]
    expect(proposeLots(here, decimal('9'), '2026-11-25')).to.deep.equal({
      takes: [
        { lotId: 6, quantity: n(1) },
        { lotId: 3, quantity: n(2) },
        { lotId: 5, quantity: n(1) },
        { lotId: 2, quantity: n(4) },
        { lotId: 1, quantity: n(1) },
      ],
      missing: 0n,
    })
    expect(proposeLots([lot(4, '2026-01-01', '9')], n(2), '2026-11-25').missing).to.equal(n(2))
  })
  it('are taken first expired first out: of all the ways to take so much, the one that leaves nothing lying that should have gone before', () => {
    const DAYS = [null, '2026-11-24', '2026-11-25', '2027-01-01', '2027-03-01']
    /** Whether one should go before another, first the earlier day, then what is open, then what is here for longer (common practice). */
    const before = (a: LotHere, b: LotHere): boolean =>
      a.expiry !== b.expiry
        ? a.expiry !== null && (b.expiry === null || a.expiry < b.expiry)
        : a.opened !== b.opened
          ? a.opened === true
          : a.received < b.received
    /** Every way to take so much of some lots, in whole ones. */
    const ways = (lots: readonly LotHere[], left: number): number[][] =>
      lots.length === 0
        ? left === 0
          ? [[]]
          : []
        : Array.from({ length: Math.min(left, Number(lots[0]!.quantity / n(1))) + 1 }, (_, x) =>
            ways(lots.slice(1), left - x).map(rest => [x, ...rest]),
          ).flat()
    const LOTS = fc.array(
      fc.record({
        expiry: fc.constantFrom(...DAYS),
        quantity: fc.integer({ min: 0, max: 3 }).map(n),
        held: fc.constantFrom('usable' as const, 'usable' as const, 'held' as const),
        opened: fc.boolean(),
      }),
      { maxLength: 5 },
    )
    fc.assert(
      fc.property(
        LOTS,
        fc.shuffledSubarray([1, 2, 3, 4, 5], { minLength: 5 }),
        fc.nat(10),
        (some, received, wanted) => {
          const here = some.map((l, i) => ({ ...l, id: i + 1, received: received[i]! }))
          const usable = here.filter(l => l.held === 'usable' && (l.expiry === null || l.expiry >= '2026-11-25'))
          const most = usable.reduce((sum, l) => sum + Number(l.quantity / n(1)), 0)
          const right = ways(usable, Math.min(wanted, most)).filter(way =>
            usable.every((a, i) => usable.every((b, j) => !(before(a, b) && n(way[i]!) < a.quantity && way[j]! > 0))),
          )
          expect(right, 'there is one way').to.have.length(1)
          const taken = proposeLots(here, n(wanted), '2026-11-25')
          expect(taken.missing).to.equal(n(Math.max(wanted - most, 0)))
          expect(new Map(taken.takes.map(t => [t.lotId, t.quantity]))).to.deep.equal(
            new Map(usable.flatMap((l, i) => (right[0]![i] ? [[l.id, n(right[0]![i]!)] as const] : []))),
          )
        },
      ),
      { numRuns: 500 },
    )
  })
})

describe('levels (common practice)', () => {
  const at = (onHand: number, more = {}) => levels({ onHand: n(onHand), minimum: n(4), target: n(12), ...more })
  it('minimum 4, target 12: at 4 bring 8 (at or below) or none (below); with 12 coming and 9 there, 9 over the target', () => {
    expect(at(4).bring).to.equal(n(8))
    expect(levels({ onHand: n(4), minimum: n(4), target: n(12) }, 'below').bring).to.equal(0n)
    const coming = at(9, { coming: n(12) })
    expect(coming.position - n(12)).to.equal(n(9))
    expect([coming.due, coming.bring]).to.deep.equal([false, 0n])
  })
  it('says out, short, short but on its way, in range, over target, or that nothing belongs there', () => {
    expect([
      at(0).state,
      at(4).state,
      at(4, { coming: n(1) }).state,
      at(5).state,
      at(13).state,
      levels({ onHand: 0n, minimum: null, target: null }).state,
    ]).to.deep.equal(['out', 'short', 'short_coming', 'in_range', 'over', 'none'])
  })
  it('available leaves out what is reserved or may not be used, lasts so many days, and adds up', () => {
    const l = at(20, { reserved: n(3), unusable: n(2), perDay: n(4) })
    expect([l.available, l.days]).to.deep.equal([n(15), 3])
  })
  it('the working of each sum adds up to what the levels say, whatever the facts and the rule', () => {
    const some = fc.option(fc.bigInt(0n, 40n))
    fc.assert(
      fc.property(fc.bigInt(0n, 40n), some, some, some, some, some, some, (onHand, r, u, c, pl, minimum, target) => {
        const input = {
          onHand,
          minimum,
          target,
          ...Object.fromEntries(
            Object.entries({ reserved: r, unusable: u, coming: c, planned: pl }).filter(([, x]) => x !== null),
          ),
        }
        for (const rule of ['at_or_below', 'below'] as const)
          for (const sum of ['available', 'position', 'bring'] as const)
            expect(levelWorking(input, rule, sum).figure, sum).to.equal(levels(input, rule)[sum])
      }),
    )
  })
  it('packs are rounded up to whole ones', () => {
    const packs = (quantity: bigint, size: bigint, of = 1n, decimals = 0) =>
      wholePacks(quantity, ratio(size, of), decimals)
    expect([packs(n(93), 25n), packs(n(100), 25n), packs(n(101), 25n), packs(0n, 25n)]).to.deep.equal([4n, 4n, 5n, 0n])
    expect([packs(n(1), 1n, 3n), packs(n(11), 1n, 3n)], 'three thirds are one').to.deep.equal([3n, 33n])
    expect([packs(n(1), 3n, 4n), packs(n(1), 3n, 4n, 2)], 'of 0.75 as many as can be kept').to.deep.equal([4n, 2n])
  })
})

describe('workings', () => {
  it('of on hand and of a pool’s value add up to the figure the books keep', () => {
    const w = new World([{ method: 'average' }])
    const r = w.receive('10', '33.34')
    for (let i = 0; i < 20; i++) w.issue('0.3')
    w.change({ type: 'invoice', lineId: 'x', key: r, says: 'more', goods: decimal('1.01') })
    const cell = onHand(w.books.cellMovements(1, 100, A.shelf), A.shelf)
    expect(cell.figure).to.equal(w.books.balance(1, 100, A.shelf).quantity)
    expect(cell.lines.length).to.equal(13)
    const value = poolValue(w.books.poolMovements(1), a => w.books.accountKind(a) === 'place' || a === A.stock)
    expect(value.figure).to.equal(w.books.pool(1).value)
    expect(value.lines.reduce((s, l) => s + l.amount, 0n)).to.equal(value.figure)
  })
})

describe('the chain of hashes', () => {
  const sha = (t: string) => createHash('sha256').update(t).digest('hex')
  it('writes equal values alike, whatever the order of members', () => {
    expect(canonical({ b: 1n, a: [null, undefined, 'x'], c: undefined })).to.equal('{"a":[null,null,"x"],"b":"1"}')
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.oneof(fc.integer(), fc.string(), fc.bigInt())), o => {
        expect(canonical(Object.fromEntries(Object.entries(o).reverse()))).to.equal(canonical(o))
      }),
    )
    // What needs no sign of its own is written as JSON writes it, letter by letter, whatever it is.
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...' a~!"\\/\u0000\n\u001f\u007f\u0080é€\ud800\ude00😀') }), s => {
        expect(canonical({ [s]: [s] })).to.equal(JSON.stringify({ [s]: [s] }))
      }),
    )
  })
  it('shows any slip that was changed afterwards, and where one is gone', () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { minLength: 1, maxLength: 8 }), fc.nat(), (bodies, at) => {
        let previous = CHAIN_START
        const links = bodies.map((bytes, slip) => {
          const hash = chainHash(previous, bytes, sha)
          const l = { slip, hash, bytes }
          previous = hash
          return l
        })
        expect(brokenLink(links, sha)).to.equal(undefined)
        const i = at % links.length
        links[i] = { ...links[i]!, bytes: `${links[i]!.bytes}!` }
        expect(brokenLink(links, sha)).to.equal(i)
        expect(brokenLink(links.toSpliced(i, 1), sha)).to.equal(i + 1 < links.length ? i + 1 : undefined)
      }),
    )
  })
})

describe('CSV (RFC 4180)', () => {
  it('quotes what needs it and disarms what a spreadsheet would run', () => {
    expect(csvRow(['a', 'b,c', 'say "x"', 'two\nlines', null, 5n])).to.equal('a,"b,c","say ""x""","two\nlines",,5\r\n')
    expect(csvRow(['=1+1', '+2', '@x', '-3', '-x', '-2.5'])).to.equal("'=1+1,'+2,'@x,-3,'-x,-2.5\r\n")
  })
})
