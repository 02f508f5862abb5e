import { expect } from 'chai'
import { type Booked, type Change, decimal, type DraftLine, foldFacts, formatDecimal, type Refusal } from '@shelve/core'
import { A, World } from '../ledger/world.ts'

const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r.map(x => [x.code, x.field, x.detail]))

/** 10 received for 20. */
class Delivered {
  readonly w = new World([{ method: 'average' }])
  readonly key: { costSeq: number; part: number }
  constructor() {
    const { costSeq, part } = this.w.receive('10', '20')
    this.key = { costSeq, part }
  }
  does(change: Change) {
    return said(this.w.try({ kind: 'correction', changes: [change] }))
  }
  price = (goods: string) => this.does({ type: 'price', lineId: 'x', key: this.key, goods: decimal(goods) })
  as = (amount: string) => this.invoice('amount', amount)
  more = (goods: string) => this.invoice('more', goods)
  invoice = (says: 'more' | 'amount', goods: string) =>
    this.does({ type: 'invoice', lineId: 'x', key: this.key, says, goods: decimal(goods) })
  take = (quantity: string) => this.does({ type: 'reverse', lineId: 'x', key: this.key, quantity: decimal(quantity) })
  /** Each as quantity, price, amount of the invoice. */
  put = (...by: [string, string | null, string?][]) =>
    this.does({
      type: 'replace',
      lineId: 'x',
      key: this.key,
      effectiveAt: null,
      by: by.map(([quantity, goods, invoiced]): DraftLine =>
        this.w.line(A.supplier, A.shelf, quantity, {
          lineId: 'x',
          goods: goods === null ? null : decimal(goods),
          ...(invoiced === undefined ? {} : { invoiced: decimal(invoiced) }),
        }),
      ),
    })
  /** What the delivery cost, line by line, and what lies there is worth. */
  get stands() {
    const lines = foldFacts(this.w.books.movements, a => a === A.priceDifference).filter(f => f.quantity > 0n)
    const cost = lines.map(f => (f.goods === null ? null : formatDecimal(f.goods)))
    return [cost, formatDecimal(this.w.value(A.shelf))]
  }
}

// Rule 52 of the rules that settle figures.
describe('52: what goods cost has parts: price, invoiced more or less, and the amount that an invoice states', () => {
  for (const [what, steps, costs] of [
    ['invoiced as 25, the price corrected to 3', [d => d.as('25'), d => d.price('30')], ['25']],
    ['5 more invoiced, the price corrected to 3', [d => d.more('5'), d => d.price('30')], ['35']],
    ['5 less invoiced, the price corrected to 3', [d => d.more('-5'), d => d.price('30')], ['25']],
    ['the price corrected first', [d => d.price('30'), d => d.more('5')], ['35']],
    ['an amount, then more', [d => d.as('25'), d => d.more('3'), d => d.price('30')], ['28']],
    [
      'more, then an amount: the amount is what it states',
      [d => d.more('5'), d => d.as('40'), d => d.price('30')],
      ['40'],
    ],
    ['two amounts: the later one', [d => d.as('25'), d => d.as('26'), d => d.price('30')], ['26']],
    ['an amount as high as the price is stated all the same', [d => d.as('20'), d => d.price('30')], ['20']],
    ['replaced by as many', [d => d.more('5'), d => d.put(['10', '30'])], ['35']],
    ['replaced by as many, an amount', [d => d.as('25'), d => d.put(['10', '30'])], ['25']],
    ['… of both sorts', [d => d.as('25'), d => d.more('3'), d => d.put(['10', '30']), d => d.price('1')], ['28']],
    ['… without a price', [d => d.as('25'), d => d.put(['10', null])], ['25']],
    ['replaced twice', [d => d.more('5'), d => d.put(['10', '30']), d => d.put(['10', '40'])], ['45']],
    ['replaced by as many, the amount stated anew', [d => d.more('5'), d => d.put(['10', '30', '28'])], ['28']],
    ['replaced by fewer, both stated', [d => d.more('5'), d => d.put(['8', '16', '18']), d => d.price('30')], ['18']],
    ['by two lines, both stated', [d => d.as('25'), d => d.put(['4', '8', '9'], ['6', '12', '17'])], ['9', '17']],
    ['what was not invoiced is replaced by its price alone', [d => d.put(['8', '16'])], ['16']],
    ['or an amount comes with it', [d => d.put(['8', '16', '17']), d => d.price('2')], ['17']],
  ] as [string, ((d: Delivered) => unknown)[], string[]][])
    it(`${what}: ${costs.join(' and ')}`, () => {
      const d = new Delivered()
      for (const step of steps) expect(step(d)).to.equal('booked')
      const sum = costs.reduce((s, c) => s + decimal(c), 0n)
      expect(d.stands).to.deep.equal([costs, formatDecimal(sum)])
    })

  const needed = [['invoice_needed', 'invoiced', { quantity: '10' }]]
  for (const [what, step, refused] of [
    ['by fewer', (d: Delivered) => d.put(['9.999999', '20']), needed],
    ['by more', (d: Delivered) => d.put(['10.000001', '20']), needed],
    ['by fewer, the amount without a price', (d: Delivered) => d.put(['8', null, '18']), needed],
    ['by two that are as many together', (d: Delivered) => d.put(['4', '8'], ['6', '12']), needed],
    ['by two of which one says nothing', (d: Delivered) => d.put(['4', '8', '9'], ['6', '12']), needed],
    ['taken back in part', (d: Delivered) => d.take('1'), [['invoiced', 'quantity', {}]]],
    ['taken back whole', (d: Delivered) => d.take('10'), 'booked'],
  ] as const)
    it(`an invoiced line is ${refused === 'booked' ? '' : 'not '}replaced or taken back ${what}`, () => {
      for (const invoice of [(d: Delivered) => d.more('5'), (d: Delivered) => d.as('20')]) {
        const d = new Delivered()
        invoice(d)
        const before = d.stands
        expect(step(d)).to.deep.equal(refused)
        expect(d.stands).to.deep.equal(refused === 'booked' ? [[], '0'] : before)
      }
    })
  it('an invoice follows no line that has no price, and leaves none below nothing or above the most there is', () => {
    const d = new Delivered()
    const issued = d.w.issue('4')
    const put = (invoiced: string, goods: string | null, key: typeof d.key, from: number, to: number) =>
      d.does({
        type: 'replace',
        lineId: 'x',
        key,
        effectiveAt: null,
        by: [
          d.w.line(from, to, '4', {
            lineId: 'x',
            goods: goods && decimal(goods),
            invoiced: decimal(invoiced),
          } as Partial<DraftLine>),
        ],
      })
    const before = d.stands
    expect(put('25', null, issued, A.shelf, A.jobA)).to.deep.equal([['has_no_price', 'invoiced', { kind: 'out' }]])
    expect(put('-0.000001', '8', d.key, A.supplier, A.shelf)).to.deep.equal([
      ['price_out_of_range', 'invoiced', { given: '-0.000001' }],
    ])
    expect(put('1000000000.000001', '8', d.key, A.supplier, A.shelf)).to.deep.equal([
      ['price_out_of_range', 'invoiced', { given: '1000000000.000001' }],
    ])
    expect(d.stands).to.deep.equal(before)
    const less = new Delivered()
    less.more('-15')
    expect(less.put(['10', '14.999999'])).to.deep.equal([['price_out_of_range', 'invoiced', { given: '-0.000001' }]])
    expect(less.put(['10', '15'])).to.equal('booked')
    expect(less.stands).to.deep.equal([['0'], '0'])
  })
  it('nothing below nothing: an amount of less than nothing, and so much less that nothing is left but a debt', () => {
    for (const step of [(d: Delivered) => d.as('-0.000001'), (d: Delivered) => d.more('-20.000001')])
      expect(step(new Delivered())).to.deep.equal([['price_out_of_range', 'price', { given: '-0.000001' }]])
    for (const step of [(d: Delivered) => d.as('0'), (d: Delivered) => d.more('-20')]) {
      const d = new Delivered()
      expect([step(d), ...d.stands]).to.deep.equal(['booked', ['0'], '0'])
    }
  })
})
