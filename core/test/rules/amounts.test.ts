import { expect } from 'chai'
import {
  abs,
  dayIn,
  decimal,
  difference,
  divideHalfEven,
  expectedAt,
  inOrder,
  max,
  min,
  over,
  partsOf,
  plus,
  ratio,
  split,
  sumByCode,
  times,
  writtenDay,
  writtenInstant,
  writtenMonth,
  writtenNumber,
  type Movement,
} from '@shelve/core'

describe('exact amounts by table', () => {
  for (const [n, d, to] of [
    [5n, 2n, 2n],
    [7n, 2n, 4n],
    [-5n, 2n, -2n],
    [-7n, 2n, -4n],
    [5n, -2n, -2n],
    [-5n, -2n, 2n],
    [7n, 4n, 2n],
    [5n, 4n, 1n],
    [-5n, 4n, -1n],
    [-6n, 4n, -2n],
    [-7n, 4n, -2n],
    [0n, 7n, 0n],
    [-4n, 2n, -2n],
  ] as const)
    it(`${n} ÷ ${d} is ${to}, half to even`, () => {
      expect(divideHalfEven(n, d)).to.equal(to)
    })
  it('nothing is divided by 0, and no ratio has it below', () => {
    expect(() => divideHalfEven(1n, 0n)).to.throw(RangeError, 'division by 0')
    expect(() => ratio(1n, 0n)).to.throw(RangeError, 'denominator')
  })
  it('a ratio is in lowest terms, its sign above', () => {
    expect([ratio(6n, 4n), ratio(-6n, 4n), ratio(6n, -4n), ratio(-6n, -4n), ratio(0n, -4n)]).to.deep.equal([
      { n: 3n, d: 2n },
      { n: -3n, d: 2n },
      { n: -3n, d: 2n },
      { n: 3n, d: 2n },
      { n: 0n, d: 1n },
    ])
  })
  it('ratios are multiplied, added and divided exactly', () => {
    const [third, half] = [ratio(1n, 3n), ratio(1n, 2n)]
    expect([times(third, half), plus(third, half), over(third, half), over(half, third)]).to.deep.equal([
      { n: 1n, d: 6n },
      { n: 5n, d: 6n },
      { n: 2n, d: 3n },
      { n: 3n, d: 2n },
    ])
  })
  it('the larger, the smaller, the size', () => {
    expect([max(2n, 3n), max(3n, 2n), min(2n, 3n), min(3n, 2n), abs(-2n), abs(2n)]).to.deep.equal([
      3n,
      3n,
      2n,
      2n,
      2n,
      2n,
    ])
  })
  for (const [total, weights, parts] of [
    [10n, [1n, 1n, 1n], [4n, 3n, 3n]],
    [-10n, [1n, 1n, 1n], [-4n, -3n, -3n]],
    [11n, [1n, 1n, 1n], [4n, 4n, 3n]],
    [10n, [1n, 2n, 3n], [2n, 3n, 5n]],
    [1n, [1n, 2n, 2n], [0n, 1n, 0n]],
    [5n, [0n, 3n], [0n, 5n]],
    [0n, [1n, 2n], [0n, 0n]],
  ] as const)
    it(`${total} by ${weights.join(' : ')} is ${parts.join(', ')}: the largest remainders first, ties to the earlier`, () => {
      expect(split(total, weights)).to.deep.equal(parts)
    })
  it('there is nothing to split by where the weights are 0, or one is negative', () => {
    expect([split(5n, [0n, 0n]), split(5n, []), split(5n, [3n, -1n])]).to.deep.equal([undefined, undefined, undefined])
  })
})

describe('what should lie there, and what was found', () => {
  const move = (seq: number, at: number, to: number, q: string): Movement =>
    ({
      seq,
      effectiveAt: at,
      from: 9,
      to,
      quantity: decimal(q),
      kind: 'receipt',
      reverses: null,
      slipId: seq,
    }) as unknown as Movement
  it('counts what happened up to its minute, that minute included, in the order it happened', () => {
    const all = [
      move(3, 30, 1, '4'),
      move(1, 10, 1, '1'),
      move(2, 20, 1, '2'),
      move(4, 20, 1, '8'),
      move(5, 20, 2, '16'),
    ]
    expect([9, 10, 19, 20, 29, 30].map(at => expectedAt(all, 1, at).figure)).to.deep.equal(
      ['0', '1', '1', '11', '11', '15'].map(decimal),
    )
    expect(expectedAt(all, 1, 99).lines.map(l => l.ref?.id)).to.deep.equal([1, 2, 4, 3])
  })
  it('a difference is counted less expected, each by name and minute', () => {
    expect(difference({ counted: 3n, expected: 5n, at: 7 })).to.deep.equal({
      of: 'quantity',
      figure: -2n,
      lines: [
        { label: 'counted', amount: 3n, at: 7 },
        { label: 'expected', amount: -5n, at: 7 },
      ],
    })
  })
})

describe('sums by account code', () => {
  it('keep debits and credits apart, by code and then by whom, in their order', () => {
    const sums = sumByCode([
      { code: '20', party: 'b', amount: 5n },
      { code: '10', party: '', amount: -3n },
      { code: '20', party: 'a', amount: 1n },
      { code: '20', party: 'b', amount: -2n },
      { code: '10', party: '', amount: 0n },
      { code: '20', party: 'b', amount: 4n },
    ])
    expect(sums).to.deep.equal([
      { code: '10', party: '', debit: 0n, credit: 3n },
      { code: '20', party: 'a', debit: 1n, credit: 0n },
      { code: '20', party: 'b', debit: 9n, credit: 2n },
    ])
  })
})

describe('numbers and dates as they are written', () => {
  for (const [text, mark, sign, out] of [
    ['1234567.5', ',', false, '1\u202f234\u202f567,5'],
    ['123', '.', false, '123'],
    ['1234', '.', false, '1\u202f234'],
    ['-1234.25', '.', false, '−1\u202f234.25'],
    ['-1234.25', '.', true, '−1\u202f234.25'],
    ['5', '.', true, '+5'],
    ['0', '.', true, '0'],
    ['0.00', '.', true, '0.00'],
    ['0.01', '.', true, '+0.01'],
    ['', '.', true, ''],
    [null, '.', false, ''],
    [undefined, '.', false, ''],
  ] as const)
    it(`${text} with ${mark}${sign ? ' and its sign' : ''}: “${out}”`, () => {
      expect(writtenNumber(text, { decimalMark: mark }, sign)).to.equal(out)
    })
  for (const [dateOrder, out] of [
    ['dmy', '5 Nov 2026'],
    ['mdy', 'Nov 5 2026'],
    ['ymd', '2026 Nov 5'],
  ] as const)
    it(`a day, ${dateOrder}: ${out}`, () => {
      expect(writtenDay('2026-11-05', { dateOrder })).to.equal(out)
      expect(writtenDay('2026-11-05', { dateOrder }, false)).to.equal(out.replace(' 2026', '').replace('2026 ', ''))
      const at = Date.UTC(2026, 10, 5, 13, 7)
      expect(writtenInstant(at, { dateOrder, zone: 'UTC', decimalMark: '.' })).to.equal(`${out} 13:07`)
    })
  it('months by their short names, September by four letters', () => {
    expect(['2026-01', '2026-09', '2026-12', '2026-13'].map(writtenMonth)).to.deep.equal([
      'Jan 2026',
      'Sept 2026',
      'Dec 2026',
      '13 2026',
    ])
    expect(inOrder('5', 'Nov', null, { dateOrder: 'ymd' })).to.equal('Nov 5')
  })
  it('a day is that of the zone, also a minute later and in another zone', () => {
    const at = Date.UTC(2026, 10, 25, 23, 59, 59)
    expect([
      dayIn(at, 'UTC'),
      dayIn(at, 'Europe/Paris'),
      dayIn(at + 1000, 'UTC'),
      dayIn(at, 'UTC'),
      dayIn(at, 'America/New_York'),
    ]).to.deep.equal(['2026-11-25', '2026-11-26', '2026-11-26', '2026-11-25', '2026-11-25'])
    expect(partsOf(at, 'Europe/Paris')).to.include({ day: '26', month: '11', year: '2026', hour: '00', minute: '59' })
  })
  it('a day is put together of its parts: each browser writes a date of a locale in an order of its own', () => {
    const own = Object.getOwnPropertyDescriptor(Intl.DateTimeFormat.prototype, 'format')!
    Object.defineProperty(Intl.DateTimeFormat.prototype, 'format', {
      configurable: true,
      get: () => () => '11/26/2026',
    })
    try {
      const at = Date.UTC(2026, 10, 26, 12, 30)
      expect(dayIn(at, 'Asia/Kathmandu')).to.equal('2026-11-26')
      expect(writtenInstant(at, { dateOrder: 'ymd', zone: 'Asia/Kathmandu', decimalMark: '.' })).to.equal(
        '2026 Nov 26 18:15',
      )
    } finally {
      Object.defineProperty(Intl.DateTimeFormat.prototype, 'format', own)
    }
  })
})
