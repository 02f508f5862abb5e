import { expect } from 'chai'
import { type Booked, type Change, decimal, formatDecimal, type Refusal } from '@shelve/core'
import { A, MINUTE, World } from '../ledger/world.ts'

const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r.map(x => [x.code, x.field, x.detail]))
const OPEN = A.difference + 1
const NAMES: Record<number, string> = {
  [A.shelf]: 'shelf',
  [A.loss]: 'loss',
  [A.gain]: 'gain',
  [OPEN]: 'open',
  [A.supplier]: 'supplier',
  [A.jobA]: 'job',
}

/** 10 received for 20 (and what is said beside), then counted, and the difference closed. */
class Closed {
  readonly w = new World([{ method: 'average' }])
  key: { costSeq: number; part: number }
  readonly tallyId: number
  readonly closing: Booked
  constructor(counted: string, goods = '20') {
    const received = this.w.receive('10', goods)
    this.key = { costSeq: received.costSeq, part: received.part }
    this.tallyId = this.w.must({
      kind: 'count',
      counts: [this.w.count(counted, { unitCost: decimal('2') })],
    }).tallies[0]!.id
    this.closing = this.close()
  }
  /** One difference and its closing, whatever it comes to. */
  close(): Booked {
    return this.w.must({
      kind: 'closing',
      lines: [this.w.line(OPEN, A.loss, '0', { tallyId: this.tallyId })],
    })
  }
  /** In truth so many came. */
  came(quantity: string): Booked | readonly Refusal[] {
    const by = [this.w.line(A.supplier, A.shelf, quantity, { lineId: 'x', goods: decimal(quantity) * 2n })]
    const change: Change = { type: 'replace', lineId: 'x', key: this.key, effectiveAt: null, by }
    return this.w.try({ kind: 'correction', changes: [change] })
  }
  /** So much of it stands on an account, and is worth so much. */
  on(account: number): string {
    const quantity = this.w.books.movements.reduce(
      (s, m) => s + (m.to === account ? m.quantity : 0n) - (m.from === account ? m.quantity : 0n),
      0n,
    )
    return `${formatDecimal(quantity)} for ${formatDecimal(this.w.value(account))}`
  }
  get stands() {
    return { shelf: this.on(A.shelf), open: this.on(OPEN), loss: this.on(A.loss), gain: this.on(A.gain) }
  }
}
const plain = { open: '0 for 0', loss: '0 for 0', gain: '0 for 0' }

describe('a closed difference is what the count says of what was there, whatever is put right beneath it', () => {
  for (const [counted, came, stands] of [
    ['8', [], { shelf: '8 for 16', ...plain, loss: '2 for 4' }],
    ['8', ['9'], { shelf: '8 for 16', ...plain, loss: '1 for 2' }],
    ['8', ['10.5'], { shelf: '8 for 16', ...plain, loss: '2.5 for 5' }],
    ['8', ['8'], { shelf: '8 for 16', ...plain }],
    ['8', ['7'], { shelf: '8 for 16', ...plain, gain: '-1 for -2' }],
    ['8', ['8', '9'], { shelf: '8 for 16', ...plain, loss: '1 for 2' }],
    ['8', ['7', '9'], { shelf: '8 for 16', ...plain, loss: '1 for 2' }],
    ['8', ['9', '10'], { shelf: '8 for 16', ...plain, loss: '2 for 4' }],
    ['8', ['7', '6'], { shelf: '8 for 16', ...plain, gain: '-2 for -4' }],
    ['12', [], { shelf: '12 for 24', ...plain, gain: '-2 for -4' }],
    ['12', ['11'], { shelf: '12 for 24', ...plain, gain: '-1 for -2' }],
    ['12', ['12'], { shelf: '12 for 24', ...plain }],
    ['12', ['13', '12.5'], { shelf: '12 for 24', ...plain, loss: '0.5 for 1' }],
  ] as const)
    it(`of 10 ${counted} counted; came in truth ${came.join(', then ') || 'as many'}`, () => {
      const c = new Closed(counted)
      for (const n of came) expect(said(c.came(n))).to.equal('booked')
      expect(c.stands).to.deep.equal(stands)
      expect(formatDecimal(c.w.books.pool(1).value)).to.equal(stands.shelf.split(' ')[2])
    })

  const told = (c: Closed, booked: Booked) =>
    booked.movements
      .filter(m => m.kind === 'close')
      .map(m => [
        m.lineId,
        `${formatDecimal(m.quantity)} ${NAMES[m.from]} → ${NAMES[m.to]} for ${formatDecimal(m.value)}`,
        m.costSeq === c.closing.movements[0]!.costSeq,
        m.reverses === null ? null : c.w.books.movements.find(x => x.seq === m.reverses)!.slipId,
        m.effectiveAt,
        m.tallyId,
      ])
  it('its closing is taken back and written anew at its own place, by the line that changed it', () => {
    const c = new Closed('8')
    const slipId = c.closing.movements[0]!.slipId
    const at = c.closing.effectiveAt
    const nine = c.came('9') as Booked
    expect(told(c, nine)).to.deep.equal([
      ['x', '2 loss → open for 4', true, slipId, at, 1],
      ['x', '1 open → loss for 2', true, null, at, 1],
    ])
    expect(told(c, c.came('9') as Booked), 'as much as before').to.deep.equal([])
    expect(told(c, c.came('7') as Booked)).to.deep.equal([
      ['x', '1 loss → open for 2', true, nine.movements[0]!.slipId, at, 1],
      ['x', '1 gain → open for 2', true, null, at, 1],
    ])
    expect(told(c, c.came('8') as Booked).map(m => m[1])).to.deep.equal(['1 open → gain for 2', '0 open → loss for 0'])
    expect(told(c, c.came('10') as Booked).map(m => m[1])).to.deep.equal(['0 loss → open for 0', '2 open → loss for 4'])
  })
  it('in a closed month it is dated in the open one, and stays what it is', () => {
    const c = new Closed('8')
    c.w.books.closedUntil = c.w.now + 5 * MINUTE
    c.w.now += 10 * MINUTE
    expect(told(c, c.came('9') as Booked).map(m => m[4])).to.deep.equal([c.w.books.closedUntil, c.w.books.closedUntil])
    expect(c.stands).to.deep.equal({ shelf: '8 for 16', ...plain, loss: '1 for 2' })
  })
  it('what it closes is what stands beneath it alone: a later find is none of it, another count’s difference neither', () => {
    const c = new Closed('8')
    const { w } = c
    const other = w.must({ kind: 'count', counts: [w.count('7')] }).tallies[0]!
    expect(said(c.came('9'))).to.equal('booked')
    expect([c.on(A.loss), c.on(other.differenceAccount)]).to.deep.equal(['1 for 2', '1 for 2'])
    expect(
      said(w.try({ kind: 'closing', lines: [w.line(other.differenceAccount, A.loss, '0', { tallyId: other.id })] })),
    ).to.equal('booked')
    expect(said(c.came('10'))).to.equal('booked')
    expect([c.on(A.loss), c.on(other.differenceAccount)]).to.deep.equal(['3 for 6', '0 for 0'])
  })
  it('a closing that came to nothing stands all the same, until it is taken back', () => {
    const c = new Closed('8')
    expect(said(c.came('8'))).to.equal('booked')
    const again = () => said(c.w.try({ kind: 'closing', lines: [c.w.line(OPEN, A.loss, '0', { tallyId: c.tallyId })] }))
    expect(again()).to.deep.equal([['already_closed', 'difference', {}]])
    expect(said(c.came('9'))).to.equal('booked')
    const { costSeq, part } = c.closing.movements[0]!
    c.w.change({ type: 'reverse', lineId: 'x', key: { costSeq, part } })
    expect(c.stands).to.deep.equal({ shelf: '8 for 16', ...plain, open: '1 for 2' })
    expect(again()).to.equal('booked')
    expect(c.stands).to.deep.equal({ shelf: '8 for 16', ...plain, loss: '1 for 2' })
  })
})

describe('a count of several cells: each line by itself', () => {
  it('each difference is of its own line, lot and place, stands where its tally stands, and says the cost that was asked', () => {
    const w = new World([{ method: 'average', lots: 2 }, { method: 'average' }])
    const lines = [
      w.line(A.supplier, A.shelf, '10', { goods: decimal('20') }),
      w.line(A.supplier, A.shelf, '5', { lotId: 101, goods: decimal('10') }),
      w.line(A.supplier, A.bench, '4', { goods: decimal('8') }),
    ]
    w.must({ kind: 'receipt', lines })
    const counts = [
      w.count('9'),
      w.count('5', { lotId: 101 }),
      w.count('6', { placeId: A.bench }),
      w.count('3', { itemId: 2, unitCost: decimal('7') }),
    ]
    const booked = w.must({ kind: 'count', counts })
    expect(
      booked.movements.map(m => [
        m.lineId,
        m.itemId,
        m.lotId,
        formatDecimal(m.quantity),
        m.goods && formatDecimal(m.goods),
        m.seq === m.costSeq,
      ]),
    ).to.deep.equal([
      [counts[0]!.lineId, 1, 100, '1', null, true],
      [counts[1]!.lineId, 1, 101, '0', null, true],
      [counts[2]!.lineId, 1, 100, '2', null, true],
      [counts[3]!.lineId, 2, 200, '3', '7', true],
    ])
    expect(booked.tallies.map(t => booked.movements.find(m => m.tallyId === t.id)!.seq)).to.deep.equal(
      booked.tallies.map(t => t.costSeq),
    )
    expect(booked.touched).to.deep.equal(counts.map(c => ({ lineId: c.lineId, placeId: c.placeId })))

    // Two of them are put right: each at its own line, the others stay.
    const again = (n: number, counted: string, more: object = {}) => {
      const line = w.count(counted, { ...counts[n]!, counted: decimal(counted), ...more })
      return {
        type: 'reverse_tally' as const,
        lineId: `p${n}`,
        tallyId: booked.tallies[n]!.id,
        again: { ...line, lineId: `p${n}`, tallyId: 10 + n, differenceAccount: A.difference + 10 + n },
      }
    }
    const put = w.change(again(0, '8'), again(3, '1', { unitCost: decimal('5') }))
    const told = put.movements
      .filter(m => m.quantity > 0n)
      .map(m => [m.lineId, m.tallyId, formatDecimal(m.quantity), m.reverses !== null, formatDecimal(m.goods ?? 0n)])
    expect(told).to.have.deep.members([
      ['p0', 1, '1', true, '0'],
      ['p0', 10, '2', false, '0'],
      ['p3', 4, '3', true, '0'],
      ['p3', 13, '1', false, '5'],
    ])
    expect([w.onHand(A.shelf), w.onHand(A.bench), w.onHand(A.shelf, 2)].map(q => formatDecimal(q))).to.deep.equal([
      '13',
      '6',
      '1',
    ])
    expect(formatDecimal(w.books.pool(2).value)).to.equal('5')
  })
  it('what found what was expected is taken back too, and can be seen', () => {
    const w = new World([{ method: 'average' }])
    w.receive('10', '20')
    const t = w.must({ kind: 'count', counts: [w.count('10')] }).tallies[0]!
    const back = w.change({ type: 'reverse_tally', lineId: 'x', tallyId: t.id })
    expect(back.movements.map(m => [m.kind, m.lineId, formatDecimal(m.quantity), m.reverses, m.tallyId])).to.deep.equal(
      [['difference', 'x', '0', w.books.movements.find(m => m.tallyId === t.id)!.seq, t.id]],
    )
    // From now on it holds nothing: what is written late is no difference.
    w.must({ kind: 'issue', effectiveAt: w.now - 1.5 * MINUTE, lines: [w.line(A.shelf, A.jobA, '1')] })
    expect(formatDecimal(w.onHand(A.shelf))).to.equal('9')
  })
})
