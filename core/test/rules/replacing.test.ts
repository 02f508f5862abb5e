import { expect } from 'chai'
import { type Booked, type Change, decimal, type DraftLine, formatDecimal, type Refusal } from '@shelve/core'
import { A, MINUTE, World } from '../ledger/world.ts'

const said = (r: Booked | readonly Refusal[]) =>
  'movements' in r ? 'booked' : r.map(x => [x.code, x.lineId, x.field, x.detail])
const key = (m: { costSeq: number; part: number }) => ({ costSeq: m.costSeq, part: m.part })
const put = (k: { costSeq: number; part: number }, ...by: DraftLine[]): Change => ({
  type: 'replace',
  lineId: 'x',
  key: k,
  effectiveAt: null,
  by: by.map(l => ({ ...l, lineId: 'x' })),
})
const correct = (w: World, ...changes: Change[]) => said(w.try({ kind: 'correction', changes }))

/** Two items make a third: 2 of the first (worth 4) and 1 of the second (worth 3) give 5. */
function made(next?: 'fifo') {
  const w = new World([{ method: 'average', ...(next ? { next } : {}) }, { method: 'average' }, { method: 'average' }])
  w.receive('10', '20')
  w.receive('10', '30', { itemId: 2 })
  const line = (item: number, from: number, to: number, quantity: string) =>
    w.line(from, to, quantity, { itemId: item, event: 'e' })
  const booked = w.must({
    kind: 'make',
    lines: [line(1, A.shelf, A.made, '2'), line(2, A.shelf, A.made, '1'), line(3, A.made, A.bench, '5')],
  })
  return { w, booked, keys: booked.movements.map(key) }
}

describe('what was made is taken back whole, by whichever line of it', () => {
  for (const i of [0, 1, 2])
    it(`by its line ${i + 1}: what came of it first, then what went in`, () => {
      const { w, keys, booked } = made()
      const back = w.change({ type: 'reverse', lineId: 'x', key: keys[i]! })
      expect(
        back.movements.map(m => [
          m.itemId,
          m.from,
          m.to,
          formatDecimal(m.quantity),
          formatDecimal(m.value),
          m.reverses,
        ]),
      ).to.deep.equal([
        [3, A.bench, A.made, '5', '7', booked.movements[2]!.seq],
        [2, A.made, A.shelf, '1', '3', booked.movements[1]!.seq],
        [1, A.made, A.shelf, '2', '4', booked.movements[0]!.seq],
      ])
      expect(back.touched.map(t => [t.lineId, t.placeId])).to.deep.equal([
        ['x', A.bench],
        ['x', A.shelf],
      ])
      expect([1, 2, 3].map(n => formatDecimal(w.books.pool(n).value))).to.deep.equal(['20', '30', '0'])
      expect(correct(w, { type: 'reverse', lineId: 'x', key: keys[i]! })).to.deep.equal([
        ['nothing_to_correct', 'x', 'line', { costSeq: keys[i]!.costSeq }],
      ])
    })
  it('not in part, and not where something of it went on', () => {
    const { w, keys } = made()
    w.must({ kind: 'issue', lines: [w.line(A.bench, A.jobA, '1', { itemId: 3, lotId: 300 })] })
    const refused = correct(w, { type: 'reverse', lineId: 'x', key: keys[0]! })
    expect((refused as unknown[][]).map(r => r.slice(0, 3))).to.deep.equal([['would_have_been_missing', 'x', 'line']])
  })
  it('nor after one of what went in is costed otherwise: all of it stands', () => {
    const { w, keys } = made('fifo')
    w.changedOver(1)
    for (const [i, since] of [w.now, null, null].entries())
      expect(correct(w, { type: 'reverse', lineId: 'x', key: keys[i]! })).to.deep.equal([
        ['before_method_change', 'x', 'line', { since }],
      ])
  })
})

describe('what is replaced, and by what', () => {
  it('what was made, and a standard cost, is only taken back as a whole', () => {
    const { w, keys } = made()
    for (const [i, kind] of ['event_out', 'event_out', 'event_in'].entries())
      expect(correct(w, put(keys[i]!, w.line(A.shelf, A.made, '1')))).to.deep.equal([
        ['replace_whole', 'x', 'line', { kind }],
      ])
    const s = new World([{ method: 'standard', standard: '2' }])
    s.receive('1', '2')
    s.change({ type: 'standard', lineId: 'x', itemId: 1, lotId: 100, cost: decimal('3') })
    expect(formatDecimal(s.books.pool(1).value)).to.equal('3')
  })
  it('by several lines: each has a place of its own at that of the replaced one, and is replaced by itself again', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const issued = w.issue('4')
    const parts = () =>
      w.books.movements
        .filter(m => m.costSeq === issued.costSeq && m.reverses === null)
        .map(m => [m.part, m.to, formatDecimal(m.quantity)])
    expect(
      correct(
        w,
        put(issued, w.line(A.shelf, A.jobA, '1'), w.line(A.shelf, A.jobB, '2'), w.line(A.shelf, A.waste, '3')),
      ),
    ).to.equal('booked')
    expect(parts().slice(1)).to.deep.equal([
      [0, A.jobA, '1'],
      [1, A.jobB, '2'],
      [2, A.waste, '3'],
    ])
    // One of the middle becomes two: the second of them finds a place that nobody has.
    expect(
      correct(w, put({ ...key(issued), part: 1 }, w.line(A.shelf, A.jobA, '0.5'), w.line(A.shelf, A.jobB, '0.25'))),
    ).to.equal('booked')
    expect(parts().slice(4)).to.deep.equal([
      [1, A.jobA, '0.5'],
      [3, A.jobB, '0.25'],
    ])
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('5.25')
  })
  it('another lot carries nothing that was brought back, though both cost alike; the same one does', () => {
    for (const [lotId, quantity, refused] of [
      [100, '4', 'booked'],
      [100, '3', 'booked'],
      [100, '2.999999', [['brought_back', 'x', 'quantity', { free: '1' }]]],
      [101, '4', [['brought_back', 'x', 'quantity', { free: '1' }]]],
    ] as const) {
      const w = new World([{ method: 'average', lots: 2 }])
      w.receive('10', '20')
      w.receive('10', '20', { lotId: 101 })
      const issued = w.issue('4')
      w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '3', { ref: key(issued) })] })
      expect(correct(w, put(issued, w.line(A.shelf, A.jobA, quantity, { lotId })))).to.deep.equal(refused)
    }
  })
  it('with a minute of its own it stands there; its lot must be usable on that day', () => {
    const w = new World([{ method: 'average', lots: 1 }])
    Object.assign(w.books.lot(100)!, { expiry: new Date(w.now).toISOString().slice(0, 10) })
    w.receive('10', '20')
    const issued = w.issue('4')
    const good = w.now
    w.now += 3 * 24 * 60 * MINUTE
    const at = (effectiveAt: number | null): Change => ({
      ...(put(issued, w.line(A.shelf, A.jobA, '3')) as Extract<Change, { type: 'replace' }>),
      effectiveAt,
    })
    const late = w.now - MINUTE
    expect((correct(w, at(late)) as unknown[][]).map(r => r.slice(0, 3))).to.deep.equal([
      ['lot_not_usable', 'x', 'lot'],
    ])
    expect(correct(w, at(null)), 'on the day of the replaced one').to.equal('booked')
    expect(w.books.movements.at(-1)!.effectiveAt).to.equal(issued.effectiveAt)
    expect(correct(w, at(good - 1)), 'on a day when it was').to.equal('booked')
    expect(w.books.movements.at(-1)!.effectiveAt).to.equal(good - 1)
  })
  it('a bring-back by one of the very issue, or an earlier one; not by one of itself', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const issued = w.issue('4')
    const back = w.must({ kind: 'bring_back', lines: [w.line(A.jobA, A.shelf, '1', { ref: key(issued) })] })
      .movements[0]!
    const by = (ref: { costSeq: number; part: number }) => put(back, w.line(A.jobA, A.shelf, '2', { ref: key(ref) }))
    const later = w.issue('1')
    expect(correct(w, by(later))).to.deep.include(['refers_to_later', 'x', 'ref', {}])
    expect(correct(w, by(back)), 'that lies on a shelf').to.deep.include(['nothing_to_bring_back', 'x', 'ref', {}])
    expect(correct(w, by(issued))).to.equal('booked')
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('7')
  })
  it('what was there from the start is judged as such: at its worth, from no supplier', () => {
    const w = new World([{ method: 'average' }])
    const opened = w.must({ kind: 'opening', lines: [w.line(A.opening, A.shelf, '10', { goods: decimal('20') })] })
      .movements[0]!
    expect(correct(w, put(opened, w.line(A.opening, A.shelf, '8', { goods: decimal('17') })))).to.equal('booked')
    expect([formatDecimal(w.onHand(A.shelf)), formatDecimal(w.value(A.opening))]).to.deep.equal(['8', '-17'])
    expect(correct(w, { type: 'price', lineId: 'x', key: opened, goods: decimal('9') })).to.equal('booked')
    expect(formatDecimal(w.books.pool(1).value)).to.equal('9')
  })
  it('a standard cost may be anything from nothing to the most there is', () => {
    const w = new World([{ method: 'standard', standard: '2' }])
    const set = (cost: bigint) => correct(w, { type: 'standard', lineId: 'x', itemId: 1, lotId: 100, cost })
    const most = 10n ** 15n
    expect([set(most), set(0n)]).to.deep.equal(['booked', 'booked'])
    expect(set(most + 1n)).to.deep.equal([['price_out_of_range', 'x', 'price', { given: '1000000000.000001' }]])
    expect(set(-1n)).to.deep.equal([['price_out_of_range', 'x', 'price', { given: '-0.000001' }]])
  })
})

describe('rule 51: a serial number is there once, whatever brings it', () => {
  const serials = () => {
    const w = new World([{ method: 'average', identifiedBy: 'serial', lots: 2 }])
    const one = w.receive('1', '20')
    return { w, one }
  }
  it('an issue taken back after it came again is refused by name, with where it lies', () => {
    const { w } = serials()
    const issued = w.issue('1')
    w.must({ kind: 'receipt', lines: [w.line(A.supplier, A.bench, '1', { goods: decimal('20') })] })
    expect(correct(w, { type: 'reverse', lineId: 'x', key: key(issued) })).to.deep.equal([
      ['serial_already_here', 'x', 'lot', { serial: 'L0', place: A.bench }],
    ])
  })
  it('written late for a minute when it was there: refused, though it is out now', () => {
    const { w } = serials()
    const before = w.now
    w.now += 10 * MINUTE
    w.issue('1')
    const late = (effectiveAt: number, lotId = 100) =>
      said(
        w.try({
          kind: 'receipt',
          effectiveAt,
          lines: [w.line(A.supplier, A.bench, '1', { lineId: 'x', lotId, goods: decimal('20') })],
        }),
      )
    expect(late(before + MINUTE)).to.deep.equal([['serial_already_here', 'x', 'lot', { serial: 'L0', place: A.bench }]])
    expect(late(before + MINUTE, 101), 'another one').to.equal('booked')
    expect(late(w.now), 'since it is out').to.equal('booked')
  })
  it('moved it is one; another of the same item is another', () => {
    const { w } = serials()
    w.receive('1', '20', { lotId: 101 })
    expect(said(w.try({ kind: 'move', lines: [w.line(A.shelf, A.bench, '1', { lineId: 'x' })] }))).to.equal('booked')
    expect(said(w.try({ kind: 'move', lines: [w.line(A.bench, A.shelf, '1', { lineId: 'x' })] }))).to.equal('booked')
  })
})

describe('what is taken for a need of a job says so, whatever becomes of it: it belongs to the fact', () => {
  const taken = () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const issue = w.must({ kind: 'issue', lines: [{ ...w.line(A.shelf, A.jobA, '4'), needId: 7 }] })
    return { w, k: key(issue.movements[0]!), issue }
  }
  const told = (b: Booked) => b.movements.map(m => [formatDecimal(m.quantity), m.needId ?? null])
  it('an issue, and one that answers none', () => {
    const { w, issue } = taken()
    expect(told(issue)).to.deep.equal([['4', 7]])
    const plain = w.must({ kind: 'issue', lines: [{ ...w.line(A.shelf, A.jobA, '1'), needId: null }] })
    expect([told(plain), 'needId' in plain.movements[0]!]).to.deep.equal([[['1', null]], false])
  })
  it('taken back, whole or in part', () => {
    const { w, k } = taken()
    expect(told(w.change({ type: 'reverse', lineId: 'x', key: k, quantity: decimal('1') }))).to.deep.equal([['1', 7]])
    expect(told(w.change({ type: 'reverse', lineId: 'x', key: k }))).to.deep.equal([['3', 7]])
  })
  for (const [what, needId, to, right] of [
    ['replaced by one that says nothing of it: the same', undefined, A.jobA, 7],
    ['replaced by one for another job: none', undefined, A.jobB, null],
    ['replaced by one that states another', 8, A.jobA, 8],
    ['replaced by one that states none', null, A.jobA, null],
  ] as [string, number | null | undefined, number, number | null][])
    it(what, () => {
      const { w, k } = taken()
      const by = { ...w.line(A.shelf, to, '3'), ...(needId === undefined ? {} : { needId }) }
      expect(told(w.change(put(k, by)))).to.deep.equal([
        ['4', 7],
        ['3', right],
      ])
      const again = w.change({ type: 'reverse', lineId: 'x', key: k })
      expect(told(again), 'and again').to.deep.equal([['3', right]])
    })
})
