import { expect } from 'chai'
import {
  type Basis,
  type Booked,
  type Change,
  decimal,
  foldFacts,
  formatDecimal,
  type ItemRule,
  type Refusal,
} from '@shelve/core'
import { A, World, type WorldItem } from '../ledger/world.ts'

type Freight = readonly (readonly [amount: string, basis: Basis])[]
const charges = (freight: Freight) => freight.map(([amount, basis]) => ({ amount: decimal(amount), basis }))
const said = (r: Booked | readonly Refusal[]) => ('movements' in r ? 'booked' : r.map(x => [x.code, x.field, x.detail]))

/** 10 of one for 20 and 5 of another for 40, each a kilogram, with freight of 6 by value: 2 and 4. */
class Delivery {
  readonly w: World
  readonly keys: { costSeq: number; part: number }[]
  constructor(freight: Freight = [['6', 'value']], items: Partial<WorldItem>[] = [{}, {}], to: number = A.shelf) {
    this.w = new World(items.map(it => ({ method: 'average', ...it })))
    const line = (item: number, quantity: string, goods: string, at: number) =>
      this.w.line(A.supplier, at, quantity, { itemId: item, goods: decimal(goods) })
    const booked = this.w.must({
      kind: 'receipt',
      charges: charges(freight),
      lines: [line(1, '10', '20', A.shelf), line(2, '5', '40', to)],
    })
    this.keys = booked.movements.map(({ costSeq, part }) => ({ costSeq, part }))
  }
  price = (line: number, goods: string): Change => ({
    type: 'price',
    lineId: 'x',
    key: this.keys[line]!,
    goods: decimal(goods),
  })
  take = (line: number, quantity?: string): Change => ({
    type: 'reverse',
    lineId: 'x',
    key: this.keys[line]!,
    ...(quantity === undefined ? {} : { quantity: decimal(quantity) }),
  })
  freight = (line: number, ...freight: Freight): Change => ({
    type: 'charges',
    lineId: 'x',
    key: this.keys[line]!,
    charges: charges(freight),
  })
  correct = (...changes: Change[]) => this.w.try({ kind: 'correction', changes })
  /** Freight on each line that is left, and what each item’s stock is worth. */
  get stands() {
    const facts = foldFacts(this.w.books.movements, a => a === A.priceDifference)
    const of = (itemId: number) => {
      const left = facts.filter(f => f.itemId === itemId && f.quantity > 0n)
      return [left.map(f => formatDecimal(f.charges)).join(), formatDecimal(this.w.books.pool(itemId).value)]
    }
    return [of(1), of(2)]
  }
}
type Does = (d: Delivery) => Change[]

describe('freight is spread anew over what is left of a delivery, whatever of it is put right', () => {
  for (const [what, freight, does, stands] of [
    [
      'as it was booked',
      [['6', 'value']],
      () => [],
      [
        ['2', '22'],
        ['4', '44'],
      ],
    ],
    [
      'a price is put right',
      [['6', 'value']],
      d => [d.price(0, '80')],
      [
        ['4', '84'],
        ['2', '42'],
      ],
    ],
    [
      'both prices',
      [['6', 'value']],
      d => [d.price(0, '40'), d.price(1, '20')],
      [
        ['4', '44'],
        ['2', '22'],
      ],
    ],
    [
      'a line is taken back',
      [['6', 'value']],
      d => [d.take(1)],
      [
        ['6', '26'],
        ['', '0'],
      ],
    ],
    [
      'a part of a line',
      [['6', 'quantity']],
      d => [d.take(0, '5')],
      [
        ['3', '13'],
        ['3', '43'],
      ],
    ],
    [
      'all of it is taken back',
      [['6', 'value']],
      d => [d.take(0), d.take(1)],
      [
        ['', '0'],
        ['', '0'],
      ],
    ],
    [
      'other freight',
      [['6', 'value']],
      d => [d.freight(0, ['9', 'quantity'])],
      [
        ['6', '26'],
        ['3', '43'],
      ],
    ],
    [
      'named by its other line',
      [['6', 'value']],
      d => [d.freight(1, ['9', 'quantity'])],
      [
        ['6', '26'],
        ['3', '43'],
      ],
    ],
    [
      'more sorts of freight',
      [['6', 'value']],
      d => [d.freight(0, ['3', 'value'], ['1.5', 'weight'])],
      [
        ['2', '22'],
        ['2.5', '42.5'],
      ],
    ],
    [
      'no freight any more',
      [['6', 'value']],
      d => [d.freight(0)],
      [
        ['0', '20'],
        ['0', '40'],
      ],
    ],
    [
      'other freight and a price in one',
      [['6', 'value']],
      d => [d.freight(0, ['12', 'value']), d.price(0, '80')],
      [
        ['8', '88'],
        ['4', '44'],
      ],
    ],
    [
      'a price that is no other',
      [['6', 'value']],
      d => [d.price(0, '20')],
      [
        ['2', '22'],
        ['4', '44'],
      ],
    ],
  ] as [string, Freight, Does, unknown][])
    it(what, () => {
      const d = new Delivery(freight)
      const changes = does(d)
      if (changes.length) expect(said(d.correct(...changes))).to.equal('booked')
      expect(d.stands).to.deep.equal(stands)
    })

  it('says it line by line: what the price changes, and what of freight goes from one to the other, no more', () => {
    const d = new Delivery()
    const booked = d.correct(d.price(0, '80')) as Booked
    const stated = booked.movements.filter(m => m.goods !== null || m.charges !== 0n)
    expect(stated.map(m => [m.itemId, m.lineId, formatDecimal(m.goods ?? 0n), formatDecimal(m.charges)])).to.deep.equal(
      [
        [1, 'x', '60', '0'],
        [1, 'x', '0', '2'],
        [2, 'x', '0', '-2'],
      ],
    )
    expect(booked.charges).to.deep.equal([])
    expect(booked.touched).to.deep.equal([{ lineId: 'x', placeId: A.shelf }])
  })
  it('what is charged is said once, with its delivery, and does something wherever a line of it went', () => {
    const d = new Delivery(undefined, undefined, A.bench)
    const slipId = d.w.books.movements[0]!.slipId
    const booked = d.correct(d.freight(0, ['9', 'quantity'])) as Booked
    expect(booked.charges).to.deep.equal([{ slipId, charges: charges([['9', 'quantity']]) }])
    expect(booked.touched.map(t => t.placeId)).to.have.members([A.shelf, A.bench])
    // It stays: the next price is spread by it.
    expect(said(d.correct(d.price(0, '1')))).to.equal('booked')
    expect(d.stands).to.deep.equal([
      ['6', '7'],
      ['3', '43'],
    ])
  })
  it('what went straight to a job has its share', () => {
    const d = new Delivery([['6', 'quantity']], undefined, A.jobA)
    expect(said(d.correct(d.take(0, '5')))).to.equal('booked')
    expect([d.stands[0], formatDecimal(d.w.value(A.jobA))]).to.deep.equal([['3', '13'], '43'])
  })
  it('of two deliveries each keeps its own, and what came without freight has none', () => {
    const d = new Delivery()
    const { w } = d
    const other = w.must({
      kind: 'receipt',
      charges: charges([['1', 'value']]),
      lines: [w.line(A.supplier, A.shelf, '1', { goods: decimal('1') })],
    }).movements[0]!
    const plain = w.receive('1', '1')
    const price = (m: typeof plain): Change => ({ type: 'price', lineId: 'x', key: m, goods: decimal('2') })
    expect(said(d.correct(price(other), price(plain), d.price(1, '20')))).to.equal('booked')
    expect(d.stands).to.deep.equal([
      ['3,1,0', '28'],
      ['3', '23'],
    ])
    expect(said(d.correct({ ...d.freight(0, ['5', 'value']), key: plain } as Change))).to.deep.equal([
      ['has_no_price', 'charges', {}],
    ])
  })
  it('a delivery is read once, however many of its lines are taken back: one of hundreds would take a second', () => {
    const d = new Delivery()
    const { books } = d.w
    let read = 0
    const whole = books.delivery.bind(books)
    books.delivery = line => (read++, whole(line))
    expect(said(d.correct(d.take(0), d.take(1)))).to.equal('booked')
    expect(read).to.equal(1)
  })
  it('a delivery is what it is by its own lines, also when one of them was replaced', () => {
    const d = new Delivery([['6', 'quantity']])
    const by = [d.w.line(A.supplier, A.shelf, '1', { goods: decimal('2'), lineId: 'x' })]
    expect(said(d.correct({ type: 'replace', lineId: 'x', key: d.keys[0]!, effectiveAt: null, by }))).to.equal('booked')
    expect(d.stands).to.deep.equal([
      ['1', '3'],
      ['5', '45'],
    ])
  })

  for (const [what, items, does, detail] of [
    [
      'in different units it is not spread by quantity',
      [{ unit: 'L' }, {}],
      d => [d.freight(0, ['9', 'quantity'])],
      'basis_mixed quantity',
    ],
    [
      'nor by weight where one is not known',
      [{}, { mass: null }],
      d => [d.freight(0, ['9', 'weight'])],
      'basis_unknown weight',
    ],
    ['nor by value where nothing has any', [{}, {}], d => [d.price(0, '0'), d.price(1, '0')], 'basis_zero value'],
  ] as [string, Partial<WorldItem>[], Does, string][])
    it(what, () => {
      const d = new Delivery([['6', 'value']], items)
      const before = d.stands
      const [code, basis] = detail.split(' ')
      expect(said(d.correct(...does(d)))).to.deep.equal([[code, 'charges', { basis }]])
      expect(d.stands).to.deep.equal(before)
    })
  it('rule 54: it goes by what each weighed when it came; where that was not known, by what it weighs now', () => {
    const d = new Delivery([['6', 'weight']], [{ mass: '1' }, { mass: '4' }])
    expect(d.stands).to.deep.equal([
      ['2', '22'],
      ['4', '44'],
    ])
    const weigh = (id: number, mass: string | null) =>
      Object.assign(d.w.books.item(id) as { -readonly [K in keyof ItemRule]: ItemRule[K] }, {
        mass: mass && decimal(mass),
      })
    weigh(1, '1000')
    weigh(2, null)
    expect(said(d.correct(d.price(0, '30')))).to.equal('booked')
    expect(d.stands).to.deep.equal([
      ['2', '32'],
      ['4', '44'],
    ])
    const put = (quantity: string, itemId: number): Change => ({
      type: 'replace',
      lineId: 'x',
      key: d.keys[0]!,
      effectiveAt: null,
      by: [d.w.line(A.supplier, A.shelf, quantity, { itemId, goods: decimal('30'), lineId: 'x' })],
    })
    // Of the same goods another quantity weighs in proportion; other goods what those weigh.
    expect(said(d.correct(put('40', 1)))).to.equal('booked')
    expect(d.stands).to.deep.equal([
      ['4', '34'],
      ['2', '42'],
    ])
    expect(said(d.correct(put('40', 2)))).to.deep.equal([['basis_unknown', 'charges', { basis: 'weight' }]])
    weigh(2, '0.5')
    expect(said(d.correct(put('40', 2)))).to.equal('booked')
    expect(d.stands[1]).to.deep.equal(['3,3', '76'])

    const unknown = new Delivery([['6', 'value']], [{ mass: null }, { mass: '1' }])
    Object.assign(unknown.w.books.item(1)!, { mass: decimal('0.1') })
    expect(said(unknown.correct(unknown.freight(0, ['6', 'weight'])))).to.equal('booked')
    expect(unknown.stands).to.deep.equal([
      ['1', '21'],
      ['5', '45'],
    ])
  })
})
