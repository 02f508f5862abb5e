import { expect } from 'chai'
import { byCost, decimal, factKey, foldFacts, formatDecimal, type Movement, standsAt } from '@shelve/core'
import { A, MINUTE, T0, World } from '../ledger/world.ts'

type Said = Partial<Omit<Movement, 'quantity' | 'value' | 'goods' | 'charges'>> & {
  readonly quantity?: string
  readonly value?: string
  readonly goods?: string | null
  readonly charges?: string
}
/** A line of a delivery, where nothing else is said. */
const line = (
  seq: number,
  { quantity = '0', value = '0', goods = null, charges = '0', ...more }: Said = {},
): Movement => ({
  seq,
  costSeq: seq,
  part: 0,
  ord: 0,
  slipId: seq,
  lineId: `l${seq}`,
  kind: 'receipt',
  itemId: 1,
  lotId: 100,
  poolId: 1,
  from: A.supplier,
  to: A.shelf,
  effectiveAt: T0 + seq * MINUTE,
  bookedAt: T0,
  bookedBy: 1,
  reverses: null,
  revalues: null,
  refCostSeq: null,
  refPart: null,
  tallyId: null,
  weight: null,
  mass: null,
  invoice: null,
  ...more,
  quantity: decimal(quantity),
  value: decimal(value),
  goods: goods === null ? null : decimal(goods),
  charges: decimal(charges),
})
const fold = (...movements: Movement[]) =>
  foldFacts(movements, a => a === A.priceDifference).map(f => ({
    at: `${f.costSeq}.${f.part}`,
    says: `${formatDecimal(f.quantity)} for ${formatDecimal(f.value)}`,
    goods: f.goods === null ? null : formatDecimal(f.goods),
    beside: `${formatDecimal(f.gap)} ${formatDecimal(f.charges)} ${formatDecimal(f.invoicedMore)}${f.invoicedAmount === null ? '' : ` as ${formatDecimal(f.invoicedAmount)}`}`,
    way: `${f.from}→${f.to}`,
    ord: f.ord,
    head: f.head,
  }))
const IN = `${A.supplier}→${A.shelf}`
const one = { at: '1.0', goods: '20', beside: '0 0 0', way: IN, ord: 0, head: 1 }

describe('facts: what the books say now of a line, from all that was written of it', () => {
  const first = line(1, { quantity: '10', value: '23', goods: '20', charges: '3' })
  const plain = { ...one, says: '10 for 23', beside: '0 3 0' }
  for (const [what, movements, facts] of [
    ['a line as it was written', [first], [plain]],
    [
      'a revaluation the same way adds, one against it takes away',
      [
        first,
        line(2, { revalues: 1, costSeq: 1, value: '4' }),
        line(3, { revalues: 2, costSeq: 1, value: '1', from: A.shelf, to: A.supplier }),
      ],
      [{ ...plain, says: '10 for 26' }],
    ],
    [
      'an invoice: goods, and how much of them came by invoice; freight beside it',
      [
        first,
        line(2, { revalues: 1, costSeq: 1, goods: '5', invoice: 'more' }),
        line(3, { revalues: 1, costSeq: 1, goods: '2', charges: '1' }),
      ],
      [{ ...plain, goods: '27', beside: '0 4 5' }],
    ],
    [
      'an invoice that states the amount, also where that is the price; corrected it gives way',
      [
        first,
        line(2, { revalues: 1, costSeq: 1, goods: '0', invoice: 'amount' }),
        line(3, { revalues: 1, costSeq: 1, goods: '4' }),
        line(4, { revalues: 1, costSeq: 1, goods: '-4', invoice: 'amount' }),
      ],
      [{ ...plain, beside: '0 3 0 as -4' }],
    ],
    [
      'a price that comes later is the first one; what says no goods leaves them',
      [
        line(1, { quantity: '10' }),
        line(2, { revalues: 1, costSeq: 1, goods: '7' }),
        line(3, { revalues: 1, costSeq: 1, value: '7' }),
      ],
      [{ ...one, says: '10 for 7', goods: '7' }],
    ],
    [
      'what goes beside the pool is a price difference, but of a standard cost it is the value',
      [
        first,
        line(2, { revalues: 1, costSeq: 1, value: '6', from: A.stock, to: A.priceDifference }),
        line(4, { kind: 'standard', from: A.priceDifference, to: A.stock, value: '2' }),
        line(5, { kind: 'standard', revalues: 4, costSeq: 4, value: '1', from: A.stock, to: A.priceDifference }),
      ],
      [
        { ...plain, beside: '6 3 0' },
        { ...one, at: '4.0', says: '0 for 1', goods: null, way: `${A.priceDifference}→${A.stock}`, head: 4 },
      ],
    ],
    [
      'a part taken back: less of all of it, and the line is still the one that was written',
      [
        first,
        line(2, {
          reverses: 1,
          costSeq: 1,
          from: A.shelf,
          to: A.supplier,
          quantity: '4',
          value: '9.2',
          goods: '-8',
          charges: '-1.2',
        }),
      ],
      [{ ...plain, says: '6 for 13.8', goods: '12', beside: '0 1.8 0' }],
    ],
    [
      'taken back whole it stays, of nothing; what is put in its place is a line of its own',
      [
        line(1, { quantity: '10', value: '20', goods: '20' }),
        line(2, { quantity: '1', value: '3', goods: '3' }),
        line(3, { reverses: 1, costSeq: 1, from: A.shelf, to: A.supplier, quantity: '10', value: '20', goods: '-20' }),
        line(4, { reverses: 2, costSeq: 2, from: A.shelf, to: A.supplier, quantity: '1', value: '3', goods: '-3' }),
        line(5, { costSeq: 2, quantity: '2', value: '6', goods: '6' }),
      ],
      [
        { ...one, says: '0 for 0', goods: '0' },
        { ...one, at: '2.0', says: '2 for 6', goods: '6', head: 5 },
      ],
    ],
    [
      'a difference that grows, shrinks to nothing without turning, and turns round',
      [
        line(1, { kind: 'difference', tallyId: 7, from: A.shelf, to: A.difference, quantity: '2', value: '4' }),
        line(2, {
          kind: 'difference',
          tallyId: 7,
          costSeq: 1,
          from: A.shelf,
          to: A.difference,
          quantity: '1',
          value: '2',
        }),
        line(3, { kind: 'difference', tallyId: 8, from: A.shelf, to: A.difference, quantity: '2', value: '4' }),
        line(4, {
          kind: 'difference',
          tallyId: 8,
          costSeq: 3,
          from: A.difference,
          to: A.shelf,
          quantity: '2',
          value: '4',
          ord: -1,
        }),
        line(5, { kind: 'difference', tallyId: 9, from: A.shelf, to: A.difference, quantity: '2', value: '4', ord: 1 }),
        line(6, {
          kind: 'difference',
          tallyId: 9,
          costSeq: 5,
          from: A.shelf,
          to: A.difference,
          quantity: '1',
          value: '2',
          ord: 1,
        }),
      ],
      [
        { ...one, says: '3 for 6', goods: null, way: `${A.shelf}→${A.difference}`, head: 2 },
        { ...one, at: '3.0', says: '2 for 4', goods: null, way: `${A.difference}→${A.shelf}`, ord: -1, head: 4 },
        { ...one, at: '3.0', says: '2 for 4', goods: null, way: `${A.shelf}→${A.difference}`, head: 3 },
        { ...one, at: '5.0', says: '3 for 6', goods: null, way: `${A.shelf}→${A.difference}`, ord: 1, head: 6 },
      ],
    ],
    [
      'of its own it turns round where more comes back than was missing',
      [
        line(1, { kind: 'difference', tallyId: 7, from: A.shelf, to: A.difference, quantity: '2', value: '4' }),
        line(2, {
          kind: 'difference',
          tallyId: 7,
          costSeq: 1,
          from: A.difference,
          to: A.shelf,
          quantity: '2',
          value: '4',
        }),
        line(3, { kind: 'difference', tallyId: 8, from: A.shelf, to: A.difference, quantity: '2', value: '4' }),
        line(4, {
          kind: 'difference',
          tallyId: 8,
          costSeq: 3,
          from: A.difference,
          to: A.shelf,
          quantity: '5',
          value: '10',
        }),
      ],
      [
        { ...one, says: '0 for 0', goods: null, way: `${A.shelf}→${A.difference}`, head: 2 },
        { ...one, at: '3.0', says: '3 for 6', goods: null, way: `${A.difference}→${A.shelf}`, head: 4 },
      ],
    ],
  ] as const)
    it(what, () => {
      // Whatever order the facts are found in, they are told in the order of costing.
      expect(fold(...movements)).to.deep.equal([...facts])
    })
  it('nothing is revalued that is not there', () => {
    expect(() => fold(line(2, { revalues: 1, costSeq: 1, value: '4' }))).to.throw(
      'movement 2 revalues a line that is not there',
    )
  })

  it('stand in the order of costing: place, inward before lines before outward, parts, tallies', () => {
    const keys = [
      [1, 0, 0, null],
      [2, -1, 5, 9],
      [2, 0, 0, null],
      [2, 0, 1, null],
      [2, 0, 1, 3],
      [2, 0, 1, 4],
      [2, 1, 0, 1],
      [3, -1, 0, 1],
    ] as const
    const facts = keys.map(([costSeq, ord, part, tallyId]) => ({ costSeq, ord, part, tallyId }))
    for (const [i, a] of facts.entries())
      for (const [j, b] of facts.entries()) expect(Math.sign(byCost(a, b)), `${i} and ${j}`).to.equal(Math.sign(i - j))
  })
  it('have names: a line its place, what a tally found its tally, what follows later also where it went', () => {
    const m = { costSeq: 4, part: 2, ord: 0 as const, kind: 'receipt' as const, tallyId: null, from: 20, to: 30 }
    const d = { ...m, kind: 'difference' as const, tallyId: 9 }
    expect([m, d, { ...d, ord: -1 as const }, { ...d, ord: 1 as const }].map(factKey)).to.deep.equal([
      '4.2',
      '4.2t9',
      '4.2t9@20',
      '4.2t9@30',
    ])
  })
})

describe('rules 36 and 48: by which minute a line stands before or after a count', () => {
  const at = (n: number) => T0 + n * MINUTE
  const wrong = line(1, { slipId: 1, quantity: '10', effectiveAt: at(1) })
  const undone = (seq: number, slipId: number, reverses: number, minute: number) =>
    line(seq, { slipId, costSeq: 1, reverses, quantity: '10', effectiveAt: at(minute) })
  const instead = (seq: number, slipId: number, minute: number, part = 0) =>
    line(seq, { slipId, costSeq: 1, part, quantity: '7', effectiveAt: at(minute) })
  for (const [what, movements, head, minute] of [
    ['as it was written', [wrong], 1, 1],
    ['replaced, dated as it was', [wrong, undone(2, 2, 1, 1), instead(3, 2, 1)], 3, 1],
    [
      'replaced in a closed month: dated later, it stands where it stood',
      [wrong, undone(2, 2, 1, 50), instead(3, 2, 50)],
      3,
      1,
    ],
    ['each of several lines in its place', [wrong, undone(2, 2, 1, 50), instead(3, 2, 50), instead(4, 2, 50, 1)], 4, 1],
    ['with a minute of its own it stands there', [wrong, undone(2, 2, 1, 50), instead(3, 2, 60)], 3, 60],
    [
      'replaced twice, in closed months both times',
      [wrong, undone(2, 2, 1, 50), instead(3, 2, 50), undone(4, 3, 3, 90), instead(5, 3, 90)],
      5,
      1,
    ],
    [
      'replaced again after it was given a minute of its own',
      [wrong, undone(2, 2, 1, 50), instead(3, 2, 60), undone(4, 3, 3, 90), instead(5, 3, 90)],
      5,
      60,
    ],
    ['a part of it was taken back by another slip', [wrong, undone(2, 2, 1, 1), instead(3, 3, 1)], 3, 1],
  ] as const)
    it(what, () => {
      expect((standsAt([...movements], head) - T0) / MINUTE).to.equal(minute)
    })
})

describe('what is settled of counts', () => {
  const closes = (w: World) => w.books.movements.filter(m => m.kind === 'close')
  const net = (w: World, account: number) =>
    formatDecimal(
      closes(w).reduce((s, m) => s + (m.to === account ? m.quantity : 0n) - (m.from === account ? m.quantity : 0n), 0n),
    )
  /** 10 there, so many counted, the difference closed. */
  const closed = (counted: string) => {
    const w = new World([{ method: 'average' }])
    const received = w.receive('10', '20')
    w.now += 10 * MINUTE
    const t = w.must({ kind: 'count', counts: [w.count(counted)] }).tallies[0]!
    const [from, to] = Number(counted) > 10 ? [A.gain, t.differenceAccount] : [t.differenceAccount, A.loss]
    w.must({ kind: 'closing', lines: [w.line(from, to, '0', { tallyId: t.id })] })
    return { w, received, t }
  }
  for (const counted of ['8', '12'])
    it(`${counted} counted of 10 and closed: what leaves it as it is writes no other closing`, () => {
      const { w, received } = closed(counted)
      w.issue('1')
      w.change({ type: 'price', lineId: 'p', key: { costSeq: received.costSeq, part: 0 }, goods: decimal('30') })
      expect(closes(w).filter(m => m.quantity > 0n)).to.have.length(1)
    })
  for (const [counted, replaced, lost, gained] of [
    ['12', '11', '0', '-1'],
    ['12', '12', '0', '0'],
    ['12', '13', '1', '0'],
    ['8', '8', '0', '0'],
  ] as const)
    it(`${counted} counted and closed; it turns out that ${replaced} had been delivered: ${lost} lost, ${gained} gained`, () => {
      const { w, received } = closed(counted)
      w.change({
        type: 'replace',
        lineId: 'r',
        key: { costSeq: received.costSeq, part: 0 },
        effectiveAt: null,
        by: [w.line(A.supplier, A.shelf, replaced, { goods: decimal('20') })],
      })
      expect([net(w, A.loss), net(w, A.gain), formatDecimal(w.onHand(A.shelf))]).to.deep.equal([lost, gained, counted])
    })
  it('a count that is put right stands where the first one stood: each line by itself, at its own cost', () => {
    const w = new World([{ method: 'average' }, { method: 'average' }])
    w.receive('10', '20')
    w.now += 10 * MINUTE
    const booked = w.must({
      kind: 'count',
      counts: [w.count('8'), w.count('5', { itemId: 2, unitCost: decimal('1') })],
    })
    w.issue('3')
    const put = (i: number, lineId: string, counted: string, unitCost: string | null) => {
      const { countedAt, itemId, id } = booked.tallies[i]!
      const cost = unitCost === null ? null : decimal(unitCost)
      return {
        type: 'reverse_tally' as const,
        lineId,
        tallyId: id,
        again: { ...w.count(counted, { itemId, countedAt, unitCost: cost }), lineId },
      }
    }
    const right = w.change(put(0, 'a', '9', null), put(1, 'b', '6', '3'))
    expect([1, 2].map(i => formatDecimal(w.onHand(A.shelf, i)))).to.deep.equal(['6', '6'])
    expect(right.tallies.map(t => [t.costSeq, t.part])).to.deep.equal(booked.tallies.map(t => [t.costSeq, t.part]))
    const own = right.movements
      .filter(m => m.kind === 'difference')
      .map(m => [
        m.lineId,
        m.reverses === null ? 'says' : 'takes back',
        `${formatDecimal(m.quantity)} for ${formatDecimal(m.value)}`,
      ])
    expect(own.sort((a, b) => a.join().localeCompare(b.join()))).to.deep.equal([
      ['a', 'says', '1 for 2'],
      ['a', 'takes back', '2 for 4'],
      ['b', 'says', '6 for 18'],
      ['b', 'takes back', '5 for 5'],
    ])
    // What was counted at first is not settled any more, what was put right is.
    const found = (i: number) => w.try({ kind: 'closing', lines: [w.line(A.difference, A.shelf, '1', { tallyId: i })] })
    expect('movements' in found(booked.tallies[0]!.id)).to.equal(false)
  })
  it('serials: never two of one at any minute, whatever brings the second', () => {
    const w = new World([{ method: 'lot', lots: 1, identifiedBy: 'serial' }])
    const codes = (r: ReturnType<World['try']>) => ('movements' in r ? 'booked' : r.map(x => x.code).join())
    const early = w.now
    w.now += 30 * MINUTE
    w.receive('1', '9')
    const given = w.issue('1')
    const t = w.now
    w.now += 30 * MINUTE
    // Dated while it was there, though it is not there now.
    const late = w.line(A.supplier, A.shelf, '1', { goods: decimal('9') })
    expect(codes(w.try({ kind: 'receipt', effectiveAt: early, lines: [late] }))).to.equal('serial_already_here')
    expect(codes(w.try({ kind: 'receipt', effectiveAt: t + MINUTE, lines: [late] }))).to.equal('booked')
    const back = { type: 'reverse' as const, lineId: 'x', key: { costSeq: given.costSeq, part: 0 } }
    expect(codes(w.try({ kind: 'correction', changes: [back] }))).to.equal('serial_already_here')
    expect(codes(w.try({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1')] }))).to.equal('booked')
    expect(codes(w.try({ kind: 'count', counts: [w.count('2')] }))).to.equal('serial_is_one')
    expect(codes(w.try({ kind: 'count', counts: [w.count('1', { unitCost: decimal('1') })] }))).to.equal(
      'serial_already_here',
    )
    expect(codes(w.try({ kind: 'count', counts: [w.count('0', { placeId: A.bench })] }))).to.equal('booked')
    expect(codes(w.try({ kind: 'count', counts: [w.count('1', { unitCost: decimal('1') })] }))).to.equal('booked')
  })
})
