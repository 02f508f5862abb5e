import { expect } from 'chai'
import fc from 'fast-check'
import {
  belongsIn,
  ONE,
  partsOfFigure,
  position,
  shareOut,
  type ItemFacts,
  type ItemPool,
  type Lying,
  type Outlook,
  type PartOf,
} from '@shelve/core'

const n = (x: number) => BigInt(Math.round(x * 1e6))
/** Lab (1) with bins 11 and 12, and a held place 13; shed (2) with bin 21. */
const AREA: Record<number, number> = { 1: 1, 11: 1, 12: 1, 13: 1, 2: 2, 21: 2 }
const places = { lab: [1, 11, 12, 13], shed: [2, 21], bin: [11], all: Object.keys(AREA).map(Number) }
const view = (of: keyof typeof places, more: Partial<Outlook> = {}): Outlook => ({
  within: p => places[of].includes(p),
  day: '2026-11-26',
  rule: 'at_or_below',
  ahead: 14,
  shelf: p => p !== 13,
  ...more,
})
const lies = (placeId: number, quantity: number, more: Partial<Lying> = {}): Lying => ({
  lotId: 1,
  placeId,
  quantity: n(quantity),
  expiry: null,
  held: 'usable',
  ...more,
})
const whole = (quantity: number, value: number): ItemPool => ({
  lotId: null,
  quantity: n(quantity),
  value: n(value),
  provisional: false,
})
const facts = (lying: Lying[], pools: ItemPool[], more: Partial<ItemFacts> = {}): ItemFacts => ({
  leaves: shareOut(lying, pools),
  pools,
  levels: [],
  coming: [],
  reserved: [],
  planned: [],
  used: new Map(),
  lastKnown: null,
  areaOf: p => AREA[p]!,
  ...more,
})
const level = (placeId: number, minimum: number | null, target: number | null) => ({
  placeId,
  areaId: AREA[placeId]!,
  minimum: minimum === null ? null : n(minimum),
  target: target === null ? null : n(target),
})

describe('position: how an item stands in some places', () => {
  it('available leaves out what is expired, held, recalled, in a place for held goods, and reserved (rule 14)', () => {
    const f = facts(
      [
        lies(11, 10, { lotId: 1, expiry: '2026-11-26' }),
        lies(11, 3, { lotId: 2, expiry: '2026-11-25' }),
        lies(12, 2, { lotId: 3, held: 'held' }),
        lies(12, 1, { lotId: 4, held: 'recalled' }),
        lies(13, 4, { lotId: 5 }),
        lies(21, 7, { lotId: 6 }),
      ],
      [whole(27, 27)],
      { reserved: [{ placeId: 11, quantity: n(2) }] },
    )
    const p = position(f, view('lab'))
    expect([p.onHand, p.unusable, p.reserved, p.levels.available]).to.deep.equal([n(20), n(10), n(2), n(8)])
    expect(p.firstExpiry, 'a lot is usable on its expiry day, not after').to.equal('2026-11-26')
    expect(partsOfFigure(f, view('lab'), 'unusable').map(x => x.state)).to.deep.equal([
      'expired',
      'held',
      'recalled',
      'held',
    ])
  })

  it('an area’s levels are its own; where it has none, the sum of its bins’ (rule 59)', () => {
    const lying = [lies(11, 5)]
    const of = (...levels: ItemFacts['levels']) => position(facts(lying, [whole(5, 5)], { levels }), view('lab'))
    expect([of(level(1, 4, 9), level(11, 2, 3)).minimum, of(level(1, 4, 9), level(11, 2, 3)).target]).to.deep.equal([
      n(4),
      n(9),
    ])
    const bins = of(level(11, 2, 3), level(12, 1, 6))
    expect([bins.minimum, bins.target]).to.deep.equal([n(3), n(9)])
    expect(of().minimum).to.equal(null)
    const where = (of: ItemFacts, place: Parameters<typeof view>[0]) => belongsIn(of).some(view(place).within)
    expect([
      where(facts(lying, [whole(5, 5)]), 'lab'),
      where(facts(lying, [whole(5, 5)]), 'shed'),
      where(facts([], [], { levels: [level(11, 0, null)] }), 'lab'),
      where(facts([], [], { levels: [level(11, null, null)] }), 'lab'),
    ]).to.deep.equal([true, false, true, false])
    const bin = position(facts(lying, [whole(5, 5)], { levels: [level(1, 4, 9), level(11, 2, 3)] }), view('bin'))
    expect(bin.minimum, 'a bin looked at by itself has its own').to.equal(n(2))
  })

  it('several areas add up, and are due if any one of them is, though all together is not (rule 59)', () => {
    const levels = [level(1, 4, 10), level(2, 4, 10)]
    const f = facts([lies(11, 30), lies(21, 4)], [whole(34, 34)], { levels })
    const all = position(f, view('all'))
    expect([all.onHand, all.minimum, all.target, all.levels.state]).to.deep.equal([n(34), n(8), n(20), 'over'])
    expect([all.levels.due, all.levels.bring]).to.deep.equal([true, 0n])
    expect(position(f, view('lab')).levels.due).to.equal(false)
    const enough = facts([lies(11, 30), lies(21, 5)], [whole(35, 35)], { levels })
    expect(position(enough, view('all')).levels.due, 'one above the minimum is not due').to.equal(false)
  })

  it('what one costs: the pool’s on every shelf; by actual lot that of the lots there; of nothing the last known (rule 56)', () => {
    const average = facts([lies(11, 10), lies(21, 5)], [whole(15, 45)], { lastKnown: { value: n(9), quantity: n(1) } })
    expect(position(average, view('lab')).cost).to.deep.equal({ one: n(3), last: false })
    expect(position(average, view('bin')).cost).to.deep.equal({ one: n(3), last: false })
    const byLot = facts(
      [lies(11, 10, { lotId: 1 }), lies(21, 5, { lotId: 2 })],
      [
        { lotId: null, quantity: 0n, value: 0n, provisional: false },
        { lotId: 1, quantity: n(10), value: n(20), provisional: false },
        { lotId: 2, quantity: n(5), value: n(35), provisional: true },
      ],
      { lastKnown: { value: n(35), quantity: n(5) } },
    )
    expect([position(byLot, view('lab')).cost, position(byLot, view('shed')).cost]).to.deep.equal([
      { one: n(2), last: false },
      { one: n(7), last: false },
    ])
    expect([position(byLot, view('lab')).provisional, position(byLot, view('shed')).provisional]).to.deep.equal([
      false,
      true,
    ])
    const nothing = facts([], [whole(0, 0)], { lastKnown: { value: n(35), quantity: n(5) } })
    for (const where of ['lab', 'shed', 'all'] as const)
      expect(position(nothing, view(where)).cost, where).to.deep.equal({ one: n(7), last: true })
    expect(position(facts([], [whole(0, 0)]), view('all')).cost).to.equal(null)
  })

  it('the first to run out is the earliest of what may be used; what is past its day, or has none, is not looked at', () => {
    const first = (...expiries: (string | null)[]) =>
      position(
        facts(
          expiries.map((expiry, i) => lies(11, 1, { lotId: i + 1, expiry })),
          [whole(9, 9)],
        ),
        view('lab'),
      ).firstExpiry
    expect([
      first(null),
      first('2026-12-02', '2026-12-01', '2026-12-03'),
      first('2026-12-01', null, '2026-12-02'),
      first('2026-11-25', '2026-11-26', '2026-11-27'),
      first('2026-11-25'),
      first(),
    ]).to.deep.equal([null, '2026-12-01', '2026-12-01', '2026-11-26', null, null])
    const held = facts([lies(13, 1, { expiry: '2026-12-01' }), lies(11, 1, { expiry: '2026-12-05' })], [whole(2, 2)])
    expect(position(held, view('lab')).firstExpiry, 'what is held is not').to.equal('2026-12-05')
    expect(position(held, view('shed')).firstExpiry, 'nor what lies elsewhere').to.equal(null)
  })

  it('is without a price where something of it lies there that has none', () => {
    const guessed = (quantity: number) => ({ ...whole(quantity, 5), provisional: true })
    const here = (f: ItemFacts, at: Parameters<typeof view>[0]) => position(f, view(at)).provisional
    const lying = facts([lies(11, 5)], [guessed(5)])
    expect([here(lying, 'lab'), here(lying, 'shed'), here(facts([], [guessed(0)]), 'lab')]).to.deep.equal([
      true,
      false,
      false,
    ])
    expect(here(facts([lies(11, 5)], [whole(5, 5)]), 'lab')).to.equal(false)
    const lots = facts(
      [lies(11, 5, { lotId: 1 }), lies(11, 5, { lotId: 2 })],
      [
        { lotId: 1, quantity: n(5), value: n(5), provisional: false },
        { lotId: 2, quantity: 0n, value: 0n, provisional: true },
      ],
    )
    expect(here(lots, 'lab'), 'a pool with nothing in it has no price to lack').to.equal(false)
  })

  it('what jobs are planned to take calls for restocking when it is near, and says how long it lasts from the day it is planned', () => {
    const planned = (day: string | null) =>
      position(facts([lies(11, 9)], [whole(9, 9)], { planned: [{ placeId: 1, quantity: n(10), day }] }), {
        ...view('all'),
        day: '2026-11-25',
      })
    const told = (day: string | null) => [planned(day).planned, planned(day).levels.due, planned(day).levels.days]
    expect(
      [null, '2026-11-24', '2026-11-25', '2026-12-09', '2026-12-10'].map(told),
      'fourteen days ahead, and not a day more',
    ).to.deep.equal([
      [n(10), true, 0],
      [n(10), true, 0],
      [n(10), true, 0],
      [n(10), true, 13],
      [0n, false, 14],
    ])
    const far = facts([], [], { planned: [{ placeId: 21, quantity: n(1), day: null }] })
    expect([belongsIn(far).includes(21), belongsIn(far).includes(11)], 'it belongs where it is needed').to.deep.equal([
      true,
      false,
    ])
  })

  it('what is on its way, planned or used counts where it is about, and nowhere else', () => {
    const f = facts([lies(11, 9)], [whole(9, 9)], {
      coming: [{ placeId: 1, quantity: n(1) }, { placeId: 2, quantity: n(2) }],
      reserved: [{ placeId: 11, quantity: n(3) }, { placeId: 21, quantity: n(4) }],
      planned: [{ placeId: 1, quantity: n(5), day: null }, { placeId: 2, quantity: n(6), day: null }],
      used: new Map([[11, n(28)], [21, n(56)]]),
    }) // prettier-ignore
    const figures = (at: Parameters<typeof view>[0]) => {
      const { coming, reserved, planned, used } = position(f, view(at))
      return [coming, reserved, planned, used]
    }
    expect([figures('lab'), figures('shed'), figures('bin'), figures('all')]).to.deep.equal([
      [n(1), n(3), n(5), n(28)],
      [n(2), n(4), n(6), n(56)],
      [0n, n(3), 0n, n(28)],
      [n(3), n(7), n(11), n(84)],
    ])
  })

  it('days it lasts are of what is available, at the use of 28 days', () => {
    const f = (used: number) => facts([lies(11, 10)], [whole(10, 10)], { used: new Map([[11, n(used)]]) })
    expect(position(f(28), view('lab')).levels.days).to.equal(10)
    expect(position(f(29), view('lab')).levels.days, 'whole days, rounded down').to.equal(9)
    expect(position(f(0), view('lab')).levels.days).to.equal(null)
  })

  it('every figure is the sum of its parts, wherever one looks; areas add up to the whole', () => {
    const place = fc.constantFrom(...places.all)
    const quantity = fc.bigInt({ min: 0n, max: 50n }).map(q => q * ONE)
    const placed = fc.array(fc.record({ placeId: place, quantity }), { maxLength: 4 })
    fc.assert(
      fc.property(
        fc.array(fc.record({ placeId: place, quantity, lotId: fc.integer({ min: 1, max: 3 }) }), { maxLength: 6 }),
        fc.bigInt({ min: 0n, max: 10n ** 9n }),
        placed,
        placed,
        (lying, value, coming, reserved) => {
          const total = lying.reduce((s, l) => s + l.quantity, 0n)
          const pool = { lotId: null, quantity: total, value: total ? value : 0n, provisional: false }
          const f = facts(
            lying.map(l => ({ ...lies(l.placeId, 0), ...l })),
            [pool],
            { coming, reserved },
          )
          const FIGURES: [PartOf, 'onHand' | 'unusable' | 'coming' | 'reserved' | 'worth'][] = [
            ['on_hand', 'onHand'],
            ['unusable', 'unusable'],
            ['coming', 'coming'],
            ['reserved', 'reserved'],
            ['worth', 'worth'],
          ]
          const [all, lab, shed] = (['all', 'lab', 'shed'] as const).map(w => position(f, view(w)))
          for (const [of, figure] of FIGURES) {
            expect(partsOfFigure(f, view('lab'), of).reduce((s, x) => s + x.amount, 0n)).to.equal(lab![figure])
            expect(lab![figure] + shed![figure], figure).to.equal(all![figure])
          }
          expect(all!.worth, 'the places add up to the pool').to.equal(pool.value)
        },
      ),
    )
  })
})
