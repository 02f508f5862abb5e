import { expect } from 'chai'
import fc from 'fast-check'
import {
  drawOn,
  freeFor,
  formatDecimal,
  heldNow,
  type Lying,
  meetNeeds,
  type OnItsWay,
  type OpenNeed,
  plannedOf,
  type Reservation,
  type Shelves,
  usedOf,
  whenceOf,
} from '@shelve/core'

const n = (x: number) => BigInt(Math.round(x * 1e6))
/** A galley (1) with two shelves (11, 12), a boat shed (2), a corner for held goods (3). */
const UP: Record<number, number> = { 11: 1, 12: 1, 3: 1 }
const TODAY = '2026-11-25'
const lies = (placeId: number, quantity: number, more: Partial<Lying> = {}): Lying => ({
  placeId,
  quantity: n(quantity),
  lotId: 1,
  expiry: null,
  held: 'usable',
  ...more,
})
const at = (...lying: Lying[]): Shelves => ({
  lying,
  today: TODAY,
  shelf: p => p !== 3,
  inside: (p, outer) => p === outer || UP[p] === outer,
})
const need = (needId: number, quantity: number, more: Partial<OpenNeed> = {}): OpenNeed => ({
  needId,
  jobId: needId,
  placeId: 1,
  day: '2026-11-27',
  quantity: n(quantity),
  used: 0n,
  ...more,
})
const keeps = (id: number, needId: number, quantity: number, more: Partial<Reservation> = {}): Reservation => ({
  id,
  needId,
  placeId: 1,
  lotId: null,
  quantity: n(quantity),
  drawn: 0n,
  ...more,
})
const told = (x: bigint) => Number(formatDecimal(x))

describe('what is reserved (rule 65), by table', () => {
  const lots = [lies(11, 3, { lotId: 1 }), lies(11, 4, { lotId: 2 })]
  for (const [what, lying, needs, reservations, right] of [
    ['all of it, where there is as much', [lies(11, 5)], [need(1, 5)], [keeps(1, 1, 5)], { 1: 5 }],
    ['one below it: what there is', [lies(11, 4)], [need(1, 5)], [keeps(1, 1, 5)], { 1: 4 }],
    ['never more than the need lacks', [lies(11, 9)], [need(1, 5, { used: n(2) })], [keeps(1, 1, 5)], { 1: 3 }],
    [
      'what was drawn of it is not kept any more',
      [lies(11, 9)],
      [need(1, 8)],
      [keeps(1, 1, 5, { drawn: n(3) })],
      { 1: 2 },
    ],
    ['drawn beyond it: nothing', [lies(11, 9)], [need(1, 8)], [keeps(1, 1, 5, { drawn: n(6) })], { 1: 0 }],
    ['not what lies elsewhere', [lies(2, 9)], [need(1, 5)], [keeps(1, 1, 5)], { 1: 0 }],
    [
      'not what lies on another shelf than the one that was said',
      [lies(12, 9)],
      [need(1, 5)],
      [keeps(1, 1, 5, { placeId: 11 })],
      { 1: 0 },
    ],
    ['not what is held', [lies(11, 9, { held: 'held' }), lies(3, 9)], [need(1, 5)], [keeps(1, 1, 5)], { 1: 0 }],
    [
      'what is good until the day of the job',
      [lies(11, 9, { expiry: '2026-11-27' })],
      [need(1, 5)],
      [keeps(1, 1, 5)],
      { 1: 5 },
    ],
    [
      'not what is good until the day before',
      [lies(11, 9, { expiry: '2026-11-26' })],
      [need(1, 5)],
      [keeps(1, 1, 5)],
      { 1: 0 },
    ],
    [
      'of a job that is overdue, what is good today',
      [lies(11, 9, { expiry: TODAY })],
      [need(1, 5, { day: '2026-11-20' })],
      [keeps(1, 1, 5)],
      { 1: 5 },
    ],
    [
      'the job that is due last yields',
      [lies(11, 7)],
      [need(1, 5, { day: '2026-11-28' }), need(2, 5)],
      [keeps(1, 1, 5), keeps(2, 2, 5)],
      { 1: 2, 2: 5 },
    ],
    [
      'due alike: the later reservation yields',
      [lies(11, 7)],
      [need(1, 5), need(2, 5)],
      [keeps(2, 1, 5), keeps(1, 2, 5)],
      { 1: 5, 2: 2 },
    ],
    [
      'of one need: the later of its reservations',
      [lies(11, 2), lies(12, 9)],
      [need(1, 9)],
      [keeps(1, 1, 4, { placeId: 11 }), keeps(2, 1, 4, { placeId: 12 })],
      { 1: 2, 2: 4 },
    ],
    ['of one lot, that lot alone', lots, [need(1, 5)], [keeps(1, 1, 5, { lotId: 1 })], { 1: 3 }],
    [
      'who wished for a lot yields before who took any, where that lot is short',
      lots,
      [need(1, 5), need(2, 4, { day: '2026-11-28' })],
      [keeps(1, 1, 5, { lotId: 1 }), keeps(2, 2, 4)],
      { 1: 3, 2: 4 },
    ],
    [
      'who took any leaves the wished lot alone, as long as there is another',
      lots,
      [need(1, 4), need(2, 3, { day: '2026-11-28' })],
      [keeps(1, 1, 4), keeps(2, 2, 3, { lotId: 1 })],
      { 1: 4, 2: 3 },
    ],
    [
      'written in another order, the day decides',
      [lies(11, 7)],
      [need(1, 5), need(2, 5, { day: null })],
      [keeps(1, 1, 5), keeps(2, 2, 5)],
      { 1: 2, 2: 5 },
    ],
    [
      'the first to go first: what keeps longer is for whom the other is out of date',
      [lies(11, 3, { lotId: 2 }), lies(11, 3, { lotId: 1, expiry: '2026-11-27' })],
      [need(1, 3), need(2, 3, { day: '2026-11-28' })],
      [keeps(1, 1, 3), keeps(2, 2, 3)],
      { 1: 3, 2: 3 },
    ],
    ['of a job that is over nothing is kept', [lies(11, 9)], [], [keeps(1, 1, 5)], {}],
  ] as [string, Lying[], OpenNeed[], Reservation[], Record<number, number>][])
    // prettier-ignore
    it(what, () => {
      const held = heldNow(needs, reservations, at(...lying))
      expect(Object.fromEntries(held.map(h => [h.reservation.id, told(h.held)]))).to.deep.equal(right)
    })
})

describe('what is drawn on a reservation', () => {
  const rows = [
    { ...keeps(1, 1, 4, { placeId: 11 }), since: 10 },
    { ...keeps(2, 1, 4), since: 10 },
    { ...keeps(3, 2, 4), since: 10 },
  ]
  const take = (seq: number, placeId: number, quantity: number, needId = 1) => ({
    needId,
    seq,
    placeId,
    lotId: 1,
    quantity: n(quantity),
  })
  const inside = at().inside
  for (const [what, taken, right] of [
    ['what was taken after it was made', [take(11, 11, 3)], [3, 0, 0]],
    ['not what was taken before', [take(10, 11, 3)], [0, 0, 0]],
    ['more than one holds is drawn on the next', [take(11, 11, 6)], [4, 2, 0]],
    ['from another shelf of the same area', [take(11, 12, 3)], [0, 3, 0]],
    ['from elsewhere: none of it', [take(11, 2, 3)], [0, 0, 0]],
    ['for another need: its own', [take(11, 11, 3, 2)], [0, 0, 3]],
    ['what came back is not drawn', [take(11, 11, 3), take(12, 11, -2)], [1, 0, 0]],
    ['what came back of before does not grow it', [take(12, 11, -2)], [0, 0, 0]],
    ['told in another order: what came back comes after', [take(13, 11, -2), take(11, 11, 3)], [1, 0, 0]],
    ['more than all of them hold', [take(11, 11, 20)], [4, 4, 0]],
    ['several takings of one', [take(11, 11, 1), take(12, 11, 1)], [2, 0, 0]],
    ['from two shelves', [take(11, 11, 1), take(12, 12, 2)], [1, 2, 0]],
  ] as [string, ReturnType<typeof take>[], number[]][])
    it(what, () => expect(drawOn(rows, taken, inside).map(r => told(r.drawn))).to.deep.equal(right))
  it('of a lot: what was taken of that lot; of one that was made later: what was taken since', () => {
    const of = (quantity: number, more: object) => ({ ...keeps(1, 1, quantity), since: 10, ...more })
    const rows = [of(4, { lotId: 2 }), of(4, { id: 2 }), of(4, { id: 3, since: 20 })]
    const lots = [
      { ...take(11, 11, 3), lotId: 1 },
      { ...take(12, 11, 2), lotId: 2 },
      { ...take(21, 11, 5), lotId: 1 },
    ]
    expect(drawOn(rows, lots, inside).map(r => [r.id, told(r.drawn)])).to.deep.equal([
      [1, 2],
      [2, 4],
      [3, 4],
    ])
    expect(Object.keys(drawOn(rows, lots, inside)[0]!)).to.not.include('since')
    expect(
      drawOn([of(4, { since: 11 })], [{ ...take(11, 11, 3) }], inside)[0]!.drawn,
      'at that very one: before',
    ).to.equal(0n)
  })
  it('used is all that was taken for a need, less what came back', () =>
    expect([...usedOf([take(1, 11, 5), take(2, 2, 3), take(3, 11, -1), take(4, 1, 2, 2)])]).to.deep.equal([
      [1, n(7)],
      [2, n(2)],
    ]))
})

describe('what could be set aside for a need, by table', () => {
  const lots = [lies(11, 3, { lotId: 1, expiry: '2026-11-26' }), lies(11, 4, { lotId: 2 }), lies(2, 5, { lotId: 2 })]
  const others = [need(2, 9, { day: '2026-11-26' })]
  for (const [what, more, where, reservations, right] of [
    ['what lies there and is good on its day', {}, { placeId: 1 }, [], 4],
    ['on an earlier day more is good', { day: '2026-11-26' }, { placeId: 1 }, [], 7],
    ['of one lot', { day: '2026-11-26' }, { placeId: 1, lotId: 1 }, [], 3],
    ['of a lot that is out of date by then', {}, { placeId: 1, lotId: 1 }, [], 0],
    ['in another place', {}, { placeId: 2 }, [], 5],
    ['on a shelf of it', {}, { placeId: 12 }, [], 0],
    ['not what others keep, who have the first to go', { day: '2026-11-26' }, { placeId: 1 }, [keeps(1, 2, 4)], 3],
    ['nor what it keeps itself', {}, { placeId: 1 }, [keeps(1, 1, 3)], 1],
  ] as [string, Partial<OpenNeed>, { placeId: number; lotId?: number }, Reservation[], number][])
    // prettier-ignore
    it(what, () => {
      const own = need(1, 9, more)
      expect(told(freeFor(own, { lotId: null, ...where }, [own, ...others], reservations, at(...lots)))).to.equal(right)
    })
})

describe('whether needs can be met, by table', () => {
  const way = (quantity: number, day: string, placeId = 1): OnItsWay => ({ placeId, quantity: n(quantity), day })
  type Told = [held: number, here: number, coming: number, elsewhere: number, late: number, missing: number]
  for (const [what, lying, needs, reservations, coming, right, whence] of [
    ['here', [lies(11, 5)], [need(1, 5)], [], [], [[0, 5, 0, 0, 0, 0]], 'here'],
    ['what is kept for it first', [lies(11, 5)], [need(1, 5)], [keeps(1, 1, 2)], [], [[2, 3, 0, 0, 0, 0]], 'here'],
    [
      'not what others keep',
      [lies(11, 5)],
      [need(1, 5, { day: '2026-11-26' }), need(2, 9)],
      [keeps(1, 2, 4)],
      [],
      [
        [0, 1, 0, 0, 0, 4],
        [4, 0, 0, 0, 0, 5],
      ],
      'missing',
    ],
    [
      'the earlier day first',
      [lies(11, 5)],
      [need(1, 4), need(2, 4, { day: '2026-11-26' })],
      [],
      [],
      [
        [0, 1, 0, 0, 0, 3],
        [0, 4, 0, 0, 0, 0],
      ],
      'missing',
    ],
    [
      'without a day it is as good as today',
      [lies(11, 5)],
      [need(1, 4), need(2, 4, { day: null })],
      [],
      [],
      [
        [0, 1, 0, 0, 0, 3],
        [0, 4, 0, 0, 0, 0],
      ],
      'missing',
    ],
    ['coming on its day', [], [need(1, 5)], [], [way(9, '2026-11-27')], [[0, 0, 5, 0, 0, 0]], 'coming'],
    ['coming a day late', [], [need(1, 5)], [], [way(9, '2026-11-28')], [[0, 0, 0, 0, 5, 0]], 'late'],
    [
      'owed since yesterday counts as today',
      [],
      [need(1, 5, { day: TODAY })],
      [],
      [way(9, '2026-11-24')],
      [[0, 0, 5, 0, 0, 0]],
      'coming',
    ],
    [
      'coming to another place is not coming',
      [],
      [need(1, 5)],
      [],
      [way(9, '2026-11-26', 2)],
      [[0, 0, 0, 0, 0, 5]],
      'missing',
    ],
    [
      'what comes is given out once',
      [],
      [need(1, 5), need(2, 5, { day: '2026-11-28' })],
      [],
      [way(7, '2026-11-26')],
      [
        [0, 0, 5, 0, 0, 0],
        [0, 0, 2, 0, 0, 3],
      ],
      'coming',
    ],
    ['elsewhere', [lies(11, 1), lies(2, 9)], [need(1, 5)], [], [], [[0, 1, 0, 4, 0, 0]], 'elsewhere'],
    [
      'what lies elsewhere is first for those who are there',
      [lies(2, 5)],
      [need(1, 5), need(2, 4, { placeId: 2, day: '2026-12-01' })],
      [],
      [],
      [
        [0, 0, 0, 1, 0, 4],
        [0, 4, 0, 0, 0, 0],
      ],
      'missing',
    ],
    [
      'fetching it beats waiting too long',
      [lies(2, 3)],
      [need(1, 5)],
      [],
      [way(9, '2026-12-01')],
      [[0, 0, 0, 3, 2, 0]],
      'late',
    ],
    [
      'what is out of date by then is not there',
      [lies(11, 5, { expiry: '2026-11-26' })],
      [need(1, 5)],
      [],
      [],
      [[0, 0, 0, 0, 0, 5]],
      'missing',
    ],
    [
      'what was taken for it is needed no more',
      [lies(11, 9)],
      [need(1, 5, { used: n(4) })],
      [],
      [],
      [[0, 1, 0, 0, 0, 0]],
      'here',
    ],
    [
      'first to expire first, so that the later need has what keeps',
      [lies(11, 3, { lotId: 2 }), lies(11, 3, { lotId: 1, expiry: '2026-11-27' })],
      [need(1, 3), need(2, 3, { day: '2026-11-28' })],
      [],
      [],
      [
        [0, 3, 0, 0, 0, 0],
        [0, 3, 0, 0, 0, 0],
      ],
      'here',
    ],
    [
      'due alike, the one that was written first',
      [lies(11, 5)],
      [need(2, 4), need(1, 4)],
      [],
      [],
      [
        [0, 1, 0, 0, 0, 3],
        [0, 4, 0, 0, 0, 0],
      ],
      'missing',
    ],
    [
      'what comes first is given first',
      [],
      [need(1, 3), need(2, 3, { day: '2026-11-28' })],
      [],
      [way(3, '2026-11-28'), way(3, '2026-11-26')],
      [
        [0, 0, 3, 0, 0, 0],
        [0, 0, 3, 0, 0, 0],
      ],
      'coming',
    ],
    [
      'what comes on the day itself today',
      [],
      [need(1, 3, { day: null })],
      [],
      [way(3, TODAY)],
      [[0, 0, 3, 0, 0, 0]],
      'coming',
    ],
    ['more was taken than it needs', [], [need(1, 5, { used: n(6) })], [], [], [[0, 0, 0, 0, 0, 0]], 'here'],
  ] as [string, Lying[], OpenNeed[], Reservation[], OnItsWay[], Told[], string][])
    // prettier-ignore
    it(what, () => {
      const met = meetNeeds(needs, reservations, coming, at(...lying))
      const rows = needs.map(x => met.get(x.needId)!)
      expect(
        rows.map(m => [
          told(m.held),
          told(m.here),
          told(m.coming),
          told(m.elsewhere.reduce((s, e) => s + e.quantity, 0n)),
          told(m.late),
          told(m.missing),
        ]),
      ).to.deep.equal(right)
      expect(whenceOf(rows[0]!)).to.equal(whence)
    })
  it('what is planned is what a need lacks beyond what is kept, where and when it is needed; of one that has all, nothing', () => {
    const needs = [need(1, 5), need(2, 3, { placeId: 2, day: null })]
    const planned = plannedOf(needs, heldNow(needs, [keeps(1, 1, 5)], at(lies(11, 9))))
    expect(planned).to.deep.equal([{ needId: 2, placeId: 2, day: null, quantity: n(3) }])
  })
  it('what may not be spoken of is not offered, and the days of what comes are told', () => {
    const [m] = meetNeeds(
      [need(1, 9)],
      [],
      [way(1, '2026-11-30'), way(1, '2026-11-27'), way(2, '2026-11-26'), way(1, '2026-11-29')],
      at(lies(2, 5)),
      p => p !== 2,
    ).values()
    expect(m).to.deep.include({ elsewhere: [], comesOn: '2026-11-27', lateOn: '2026-11-29', missing: n(4) })
  })
  it('property: each need is met in parts that add up, nothing is given out twice, and what is reserved is within what may be used', () => {
    const q = fc.integer({ min: 0, max: 9 })
    const place = fc.constantFrom(1, 11, 12, 2, 3)
    const day = fc.constantFrom(null, '2026-11-20', '2026-11-25', '2026-11-26', '2026-11-28')
    const lot = fc.constantFrom(1, 2, 3)
    fc.assert(
      fc.property(
        fc.array(fc.tuple(place, q, lot, day), { maxLength: 6 }),
        fc.array(fc.tuple(q, q, fc.constantFrom(1, 2), day), { maxLength: 5 }),
        fc.array(fc.tuple(q, q, place, fc.option(lot)), { maxLength: 5 }),
        fc.array(fc.tuple(q, day, fc.constantFrom(1, 2)), { maxLength: 4 }),
        (ls, ns, rs, cs) => {
          const expiry = (l: number) => (l === 3 ? '2026-11-26' : null)
          const lying = ls.map(([p, x, l]) => lies(p, x, { lotId: l, expiry: expiry(l) }))
          const needs = ns.map(([x, used, placeId, d], i) => need(i + 1, x, { used: n(used), placeId, day: d }))
          const reservations = needs.length
            ? rs.map(([x, of, placeId, lotId], i) => keeps(i + 1, (of % needs.length) + 1, x, { placeId, lotId }))
            : []
          const coming = cs.map(([x, d, p]) => way(x, d ?? TODAY, p))
          const shelves = at(...lying)
          const held = heldNow(needs, reservations, shelves)
          const sum = (xs: bigint[]) => xs.reduce((s, x) => s + x, 0n)
          const usable = sum(lying.filter(l => l.placeId !== 3).map(l => l.quantity))
          const met = meetNeeds(needs, reservations, coming, shelves)
          for (const x of needs) {
            const m = met.get(x.needId)!
            const parts = [m.held, m.here, m.coming, ...m.elsewhere.map(e => e.quantity), m.late, m.missing]
            const lacks = x.quantity > x.used ? x.quantity - x.used : 0n
            if (sum(parts) !== lacks || parts.some(p => p < 0n)) return false
            if (m.held !== sum(held.filter(h => h.reservation.needId === x.needId).map(h => h.held))) return false
          }
          const given = [...met.values()].flatMap(m => [m.held, m.here, ...m.elsewhere.map(e => e.quantity)])
          const arrived = [...met.values()].flatMap(m => [m.coming, m.late])
          const planned = plannedOf(needs, held)
          return (
            sum(given) <= usable &&
            sum(arrived) <= sum(coming.map(c => c.quantity)) &&
            held.every(h => h.held >= 0n && h.held <= h.wanted && h.wanted <= h.reservation.quantity) &&
            [1, 2].every(p => {
              const there = lying.filter(l => shelves.inside(l.placeId, p) && l.placeId !== 3)
              return (
                sum(held.filter(h => shelves.inside(h.reservation.placeId, p)).map(h => h.held)) <=
                sum(there.map(l => l.quantity))
              )
            }) &&
            sum(planned.map(p => p.quantity)) + sum(held.map(h => h.held)) ===
              sum(needs.map(x => (x.quantity > x.used ? x.quantity - x.used : 0n)))
          )
        },
      ),
      { numRuns: 600 },
    )
  })
})
