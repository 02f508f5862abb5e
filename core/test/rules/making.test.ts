import { expect } from 'chai'
import {
  type Booked,
  type Change,
  decimal,
  type DraftLine,
  formatDecimal,
  type Refusal,
  type Value,
} from '@shelve/core'
import { A, MINUTE, World } from '../ledger/world.ts'

const d = formatDecimal
const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r.map(x => [x.code, x.lineId, x.field]))
const worth = (w: World, ...pools: number[]) => pools.map(p => [d(w.books.pool(p).quantity), d(w.books.pool(p).value)])

/** Flour (1) for 20 a dozen, fat (2) for 30 a dozen; bread (3) and crumbs (4) come of them. */
function bakery(more: { bread?: 'fifo' | 'standard' } = {}) {
  const w = new World([
    { method: 'average' },
    { method: 'fifo' },
    { method: more.bread ?? 'average', standard: '1' },
    { method: 'average' },
  ])
  const flour = w.receive('12', '24')
  w.receive('12', '36', { itemId: 2 })
  const line = (from: number, to: number, quantity: string, more: Partial<DraftLine> = {}) =>
    w.line(from, to, quantity, { event: 'bake', ...more })
  const takes = (quantity: string, itemId = 1) => line(A.shelf, A.made, quantity, { itemId })
  const gives = (quantity: string, more: Partial<DraftLine> = {}) =>
    line(A.made, A.bench, quantity, { itemId: 3, ...more })
  const spoils = (quantity: string, itemId = 1) => line(A.shelf, A.waste, quantity, { itemId })
  const drops = (quantity: string) => line(A.bench, A.waste, quantity, { itemId: 3, ofOutput: true })
  return { w, flour, takes, gives, spoils, drops }
}

describe('what a make is worth (rule 63)', () => {
  /** A value of 14 or of what is said goes in; what each output is worth then. */
  const shares: [what: string, extra: string | null, weights: (string | undefined)[], right: string[]][] = [
    ['one output takes all', null, [undefined], ['14']],
    ['and what was stated beside', '2.5', [undefined], ['16.5']],
    ['two of which nothing is said share alike', null, [undefined, undefined], ['7', '7']],
    ['by the stated ratio', null, ['5', '2'], ['10', '4']],
    ['a by-product without a share costs nothing', null, ['1', '0'], ['14', '0']],
    // From reference/jobs.txt: 17.230001 over 7 : 2 : 2.
    [
      'the last millionths to the largest remainder',
      '3.230001',
      ['7', '2', '2'],
      ['10.964546', '3.132728', '3.132727'],
    ],
  ]
  for (const [what, extra, weights, right] of shares)
    it(what, () => {
      const { w, takes } = bakery()
      const outputs = weights.map((weight, i) =>
        w.line(A.made, A.bench, '1', {
          event: 'bake',
          itemId: 3 + (i % 2),
          ...(weight === undefined ? {} : { weight: decimal(weight) }),
          ...(i === 0 && extra !== null ? { goods: decimal(extra) } : {}),
        }),
      )
      const booked = w.must({ kind: 'make', lines: [takes('4'), takes('2', 2), ...outputs] })
      expect(booked.movements.filter(m => m.kind === 'event_in').map(m => d(m.value))).to.deep.equal(right)
    })

  it('inputs, what of them spoiled, outputs, what of them spoiled: in that order, however they are written; spoiled inputs are in no output', () => {
    const { w, takes, gives, spoils, drops } = bakery()
    const lines = [drops('2'), gives('8'), spoils('3'), takes('4'), takes('2', 2)]
    const { movements } = w.must({ kind: 'make', lines })
    expect(movements.map(m => [m.part, m.kind, m.itemId, d(m.quantity), d(m.value)])).to.deep.equal([
      [0, 'event_out', 1, '4', '8'],
      [1, 'event_out', 2, '2', '6'],
      [2, 'out', 1, '3', '6'],
      [3, 'event_in', 3, '8', '14'],
      [4, 'out', 3, '2', '3.5'],
    ])
    expect(worth(w, 1, 2, 3)).to.deep.equal([
      ['5', '10'],
      ['10', '30'],
      ['6', '10.5'],
    ])
    // What was wasted: an input at its cost, an output at its share.
    expect(d(w.value(A.waste))).to.equal('9.5')
  })
  it('made of something whose price is not known, its own is not known, through any number of makes, until that is priced', () => {
    const { w, takes } = bakery()
    const fat = w.receive('12', null, { itemId: 2 })
    const unsure = () => [1, 2, 3, 4].filter(p => w.books.pool(p).tainted)
    const make = (itemId: number, ...inputs: DraftLine[]) =>
      w.must({ kind: 'make', lines: [...inputs, w.line(A.made, A.shelf, '4', { event: 'bake', itemId })] })
    make(3, takes('4'))
    expect(unsure(), 'of what is priced').to.deep.equal([2])
    expect(w.books.pool(3).lastReceipt, 'the last known cost').to.deep.equal({
      value: decimal('8'),
      quantity: decimal('4'),
    })
    make(3, takes('2'), takes('2', 2))
    make(4, takes('3', 3))
    expect(unsure()).to.deep.equal([2, 3, 4])
    expect(w.books.pool(3).lastReceipt, 'a guess is never the last known').to.include({ value: decimal('8') })
    expect(w.books.pool(4).lastReceipt).to.equal(null)
    // 12 more at 3 a piece, as those that are there: nothing changes its worth, and all of it is known.
    const before = worth(w, 1, 2, 3, 4)
    const { movements } = w.must({
      kind: 'correction',
      changes: [{ type: 'price', lineId: 'p', key: fat, goods: decimal('36') }],
    })
    expect([worth(w, 1, 2, 3, 4), unsure()]).to.deep.equal([before, []])
    expect(
      movements.map(m => m.itemId),
      'it is written of the delivery alone',
    ).to.deep.equal([2])
    expect(w.books.pool(4).lastReceipt).to.deep.equal({ value: w.books.pool(4).value, quantity: decimal('4') })
  })
  it('a make that is taken back makes nothing unsure; a set cost is known whatever was paid', () => {
    const { w, takes, gives } = bakery()
    w.receive('12', null, { itemId: 1 })
    const { movements } = w.must({ kind: 'make', lines: [takes('4'), gives('4')] })
    expect(w.books.pool(3).tainted).to.equal(true)
    const { costSeq, part } = movements[0]!
    w.must({ kind: 'correction', changes: [{ type: 'reverse', lineId: 'r', key: { costSeq, part } }] })
    expect([w.books.pool(3).tainted, [...w.books.unpriced(1)]]).to.deep.equal([false, []])
    const set = new World([{ method: 'standard', standard: '2' }, { method: 'average' }])
    set.receive('12', null)
    const line = (from: number, to: number, itemId: number) => set.line(from, to, '4', { event: 'e', itemId })
    set.must({ kind: 'make', lines: [line(A.shelf, A.made, 1), line(A.made, A.shelf, 2)] })
    expect([1, 2].map(p => set.books.pool(p).tainted)).to.deep.equal([true, false])
  })
  it('something of itself goes in: what spoils is of the old one, or of the new one where that is said', () => {
    for (const [ofOutput, wasted] of [
      [false, '2'],
      [true, '2.181818'],
    ] as const) {
      const w = new World([{ method: 'average' }, { method: 'average' }])
      w.receive('10', '20')
      w.receive('10', '30', { itemId: 2 })
      const line = (from: number, to: number, quantity: string, more: Partial<DraftLine>) =>
        w.line(from, to, quantity, { event: 'e', ...more })
      w.must({
        kind: 'make',
        lines: [
          line(A.shelf, A.made, '2', {}),
          line(A.shelf, A.made, '1', { itemId: 2 }),
          line(A.made, A.shelf, '3', { goods: decimal('1') }),
          line(A.shelf, A.waste, '1', ofOutput ? { ofOutput } : {}),
        ],
      })
      expect(d(w.value(A.waste)), String(ofOutput)).to.equal(wasted)
    }
  })
  it('value in is value out: what the make leaves on its account is what was stated beside', () => {
    const { w, takes, gives } = bakery()
    w.must({ kind: 'make', lines: [takes('4'), gives('3', { goods: decimal('2.25') })] })
    expect(d(w.value(A.made))).to.equal('-2.25')
  })
  it('under standard cost the rest of it is a price difference (rule 41)', () => {
    const { w, takes, gives } = bakery({ bread: 'standard' })
    w.must({ kind: 'make', lines: [takes('4'), gives('5')] })
    expect([worth(w, 3), d(w.value(A.priceDifference))]).to.deep.equal([[['5', '5']], '3'])
  })
  it('more than there is goes into nothing, and nothing of it is booked', () => {
    const { w, takes, gives } = bakery()
    const before = w.books.movements.length
    const r = w.try({ kind: 'make', lines: [takes('12.000001'), gives('3')] })
    expect([said(r), w.books.movements.length]).to.deep.equal([
      [['insufficient_stock', (r as Refusal[])[0]!.lineId, 'quantity']],
      before,
    ])
  })
})

describe('a make as it really was, in the place of one that was booked (rule 32)', () => {
  const again = (
    key: { costSeq: number; part: number },
    by: readonly DraftLine[],
    at: number | null = null,
  ): Change => ({
    type: 'replace_event',
    lineId: 'x',
    key,
    effectiveAt: at,
    by,
  })
  const anew = (w: World, change: Change) => said(w.try({ kind: 'make', changes: [change] }))
  /** 4 of flour into 8 of bread (1 each), of which 3 were eaten. */
  function baked(bread?: 'fifo') {
    const b = bakery(bread ? { bread } : {})
    const { movements } = b.w.must({ kind: 'make', lines: [b.takes('4'), b.gives('8')] })
    const eaten = b.w.issue('3', { itemId: 3, from: A.bench })
    return { ...b, movements, key: movements[1]!, eaten }
  }

  it('a forgotten input is in it, and in what was made of what came of it', () => {
    for (const method of [undefined, 'fifo'] as const) {
      const { w, takes, gives, key } = baked(method)
      expect(d(w.value(A.jobA))).to.equal('3')
      expect(anew(w, again(key, [takes('4'), takes('2', 2), gives('8')]))).to.equal('booked')
      // 8 for flour, 6 for fat: 1.75 each.
      expect([d(w.value(A.jobA)), worth(w, 1, 2, 3)]).to.deep.equal([
        '5.25',
        [
          ['8', '16'],
          ['10', '30'],
          ['5', '8.75'],
        ],
      ])
    }
  })
  it('by whichever of its lines, and again', () => {
    const { w, takes, gives, movements } = baked()
    for (const [i, quantity] of ['6', '2', '4'].entries()) {
      expect(anew(w, again(movements[i % 2]!, [takes(quantity), gives('8')]))).to.equal('booked')
      expect(worth(w, 1, 3)).to.deep.equal([
        [d(decimal('12') - decimal(quantity)), d((decimal('12') - decimal(quantity)) * 2n)],
        ['5', d(((decimal(quantity) * 2n) / 8n) * 5n)],
      ])
    }
    w.change({ type: 'invoice', lineId: 'x', key: w.books.movements[0]!, says: 'more', goods: decimal('12') })
    expect(worth(w, 1, 3)).to.deep.equal([
      ['8', '24'],
      ['5', '7.5'],
    ])
  })
  it('less than was eaten of it is refused; as much is not', () => {
    const { w, takes, gives, key } = baked()
    const r = w.try({ kind: 'make', changes: [again(key, [takes('4'), gives('2.999999')])] })
    expect((r as Refusal[]).map(x => [x.code, x.field])).to.deep.equal([['would_have_been_missing', 'line']])
    expect(anew(w, again(key, [takes('4'), gives('3')]))).to.equal('booked')
    expect(worth(w, 3)).to.deep.equal([['0', '0']])
  })
  it('at its own minute, or at another that is said; not in the future', () => {
    const { w, takes, gives, key, eaten } = baked()
    const dated = () => w.books.movements.at(-1)!.effectiveAt
    expect(anew(w, again(key, [takes('5'), gives('8')]))).to.equal('booked')
    const own = w.books.movements.filter(m => m.costSeq === key.costSeq && m.kind === 'event_in')
    expect(new Set(own.map(m => m.effectiveAt)).size).to.equal(1)
    expect(anew(w, again(key, [takes('5'), gives('8')], eaten.effectiveAt - MINUTE))).to.equal('booked')
    expect(dated()).to.be.at.least(eaten.effectiveAt - MINUTE)
    expect(anew(w, again(key, [takes('5'), gives('8')], w.now + 10 * MINUTE))).to.deep.equal([
      ['in_the_future', 'x', 'effectiveAt'],
    ])
    // Later than it was eaten: nothing lay there then.
    const late = again(key, [takes('5'), gives('8')], eaten.effectiveAt + MINUTE)
    expect((anew(w, late) as string[][]).map(([code]) => code)).to.deep.equal(['would_have_been_missing'])
  })
  it('only a make, by something, and of what may go into one', () => {
    const { w, takes, gives, key, flour, eaten } = baked()
    for (const other of [flour, eaten])
      expect(anew(w, again(other, [takes('1'), gives('1')]))).to.deep.equal([['no_make', 'x', 'line']])
    expect(anew(w, again(key, []))).to.deep.equal([['nothing_instead', 'x', 'line']])
    const strange = w.line(A.shelf, A.jobA, '1', { lineId: 'y', event: 'bake' })
    expect(anew(w, again(key, [strange, gives('1')]))).to.deep.equal([['wrong_accounts', 'y', 'to']])
    expect(anew(w, again({ costSeq: 999, part: 0 }, [takes('1')]))).to.deep.equal([['nothing_to_correct', 'x', 'line']])
  })
  it('what spoiled is taken back with the rest of it, and not by itself', () => {
    const { w, takes, gives, spoils, drops } = bakery()
    const { movements } = w.must({ kind: 'make', lines: [takes('4'), spoils('1'), gives('8'), drops('1')] })
    const lost = movements.filter(m => m.kind === 'out')
    const by = [w.line(A.shelf, A.waste, '2', { lineId: 'x' })]
    expect(
      said(
        w.try({
          kind: 'correction',
          changes: [{ type: 'replace', lineId: 'x', key: lost[0]!, effectiveAt: null, by }],
        }),
      ),
    ).to.deep.equal([['replace_whole', 'x', 'line']])
    w.change({ type: 'reverse', lineId: 'x', key: lost[1]! })
    expect([worth(w, 1, 3), d(w.value(A.waste) as Value)]).to.deep.equal([
      [
        ['12', '24'],
        ['0', '0'],
      ],
      '0',
    ])
  })
})

describe('whose output and whose waste it is', () => {
  it('stands with the line, goes with it when it is taken back, and is said anew where a make is replaced', () => {
    const { w, takes, gives, spoils } = bakery()
    const job = (jobId: number) => ({ jobId })
    const booked = w.must({
      kind: 'make',
      lines: [{ ...takes('4'), needId: 5 }, { ...spoils('1'), ...job(7) }, gives('8', job(7))],
    })
    const told = (b: Booked) => b.movements.map(m => [d(m.quantity), m.needId ?? null, m.jobId ?? null])
    expect(told(booked)).to.deep.equal([
      ['4', 5, null],
      ['1', null, 7],
      ['8', null, 7],
    ])
    const by = [{ ...takes('3'), needId: 6 }, gives('8', job(8))]
    const anew = w.must({
      kind: 'make',
      changes: [{ type: 'replace_event', lineId: 'x', key: booked.movements[0]!, effectiveAt: null, by }],
    })
    expect(told(anew)).to.deep.equal([
      ['8', null, 7],
      ['1', null, 7],
      ['4', 5, null],
      ['3', 6, null],
      ['8', null, 8],
    ])
    expect('jobId' in w.issue('1')).to.equal(false)
  })
})
