import { expect } from 'chai'
import fc from 'fast-check'
import { decimal, readQuantity } from '@shelve/core'
import { browser, ME } from './browser.ts'
import { costSaid, ofCost } from '../src/ledger/cost-said.ts'
import { oneMore } from '../src/ledger/one-more.ts'
import { clockOf, momentOf } from '../src/ui/moment.ts'
import { pressed } from '../src/ui/pad.ts'
import { withNew } from '../src/shell/preferences.ts'

describe('what somebody arranged', () => {
  it('keeps their order and what they hid; what came since stands behind the one it follows for everybody', () => {
    expect(withNew(['c', '-a'], ['a', 'b', 'c', 'd'])).to.deep.equal(['c', 'd', '-a', 'b'])
    expect(withNew(['b', 'a'], ['n', 'a', 'b']), 'new at the very beginning').to.deep.equal(['n', 'b', 'a'])
    expect(withNew(['a', 'b'], ['a', 'b'])).to.deep.equal(['a', 'b'])
  })
})

describe('a time of day, on the clock of the organisation', () => {
  // When each clock is put forward and back: the IANA time zone database, as Node carries it.
  for (const [day, time, zone, at] of [
    ['2026-11-25', '14:30', 'Europe/Dublin', '2026-11-25T14:30:00.000Z'],
    ['2026-06-25', '14:30', 'Europe/Dublin', '2026-06-25T13:30:00.000Z'],
    ['2026-03-29', '00:59', 'Europe/Dublin', '2026-03-29T00:59:00.000Z'],
    ['2026-03-29', '01:00', 'Europe/Dublin', undefined],
    ['2026-03-29', '01:59', 'Europe/Dublin', undefined],
    ['2026-03-29', '02:00', 'Europe/Dublin', '2026-03-29T01:00:00.000Z'],
    ['2026-10-25', '01:30', 'Europe/Dublin', '2026-10-25T00:30:00.000Z'],
    ['2026-10-25', '02:00', 'Europe/Dublin', '2026-10-25T02:00:00.000Z'],
    ['2026-10-04', '02:15', 'Australia/Lord_Howe', undefined],
    ['2026-10-04', '02:30', 'Australia/Lord_Howe', '2026-10-03T15:30:00.000Z'],
    ['2026-04-05', '01:45', 'Australia/Lord_Howe', '2026-04-04T14:45:00.000Z'],
    ['2026-04-24', '00:30', 'Africa/Cairo', undefined],
    ['2026-11-25', '00:00', 'Asia/Kathmandu', '2026-11-24T18:15:00.000Z'],
  ] as const)
    it(`${time} on ${day} in ${zone}: ${at ?? 'no such time'}`, () => {
      const [hours, minutes] = time.split(':').map(Number) as [number, number]
      const found = momentOf(day, { hours, minutes }, zone)
      expect(found && new Date(found).toISOString()).to.equal(at)
      if (at) expect(clockOf(at, zone)).to.equal(time)
    })
})

describe('figures and dates as the organisation writes them', () => {
  let f: ReturnType<typeof import('../src/ui/format.ts').useFormat>
  let session: ReturnType<typeof import('../src/shell/session.ts').useSession>
  before(async () => {
    browser()
    const { createPinia, setActivePinia } = await import('pinia')
    setActivePinia(createPinia())
    session = (await import('../src/shell/session.ts')).useSession()
    session.took(ME as never)
    f = (await import('../src/ui/format.ts')).useFormat()
  })
  const as = (more: object) => {
    session.me = { ...ME, settings: { ...ME.settings, ...more } } as never
  }
  afterEach(() => as({}))

  it('group thousands by a narrow blank, write minus as minus, and keep every decimal', () => {
    expect(f.number('1234567.25')).to.equal('1\u202f234\u202f567.25')
    expect([f.number('-12'), f.number('12', true), f.number('0', true), f.number('-0.5', true)]).to.deep.equal([
      '−12',
      '+12',
      '0',
      '−0.5',
    ])
    expect([f.number(null), f.number(undefined), f.number('')]).to.deep.equal(['', '', ''])
    as({ decimalMark: ',' })
    expect(f.number('1234.5')).to.equal('1\u202f234,5')
  })
  it('stand under each other by their mark, in a mono face', () => {
    const column = ['5', '0.13', '1234.5', '-2.000001', '77']
    const places = f.placesOf(column)
    const at = column.map(t => {
      const s = f.aligned(t, places)
      const mark = s.indexOf('.')
      return s.length - (mark < 0 ? s.trimEnd().length : mark)
    })
    expect(new Set(at).size, 'the same distance from the right edge').to.equal(1)
  })
  it('show money with the currency’s own decimals, rounded once for showing', () => {
    expect([f.money('4.4'), f.money('-12.345678'), f.amount('1234.5', true)]).to.deep.equal([
      '4.40',
      '−12.35',
      '+€1\u202f234.50',
    ])
    as({ currency: 'JPY' })
    expect(f.amount('1234.5')).to.match(/^¥1\u202f23[45]$/)
    as({ currency: 'CHF' })
    expect(f.amount('3')).to.equal('CHF 3.00')
  })
  it('write dates in the organisation’s order and zone, with how far they are', () => {
    expect([f.date('2026-12-05'), f.date('2027-01-31'), f.date('2026-12-05', true)]).to.deep.equal([
      '5 Dec',
      '31 Jan 2027',
      '5 Dec 2026',
    ])
    expect([
      f.far('2026-11-25'),
      f.far('2026-11-26'),
      f.far('2026-11-24'),
      f.far('2026-12-05'),
      f.far('2026-08-01'),
      f.far('2030-11-25'),
    ]).to.deep.equal(['today', 'tomorrow', 'yesterday', 'in 10 days', '4 months ago', 'in 4 years'])
    // Half past eleven in the evening in Paris is still that day, though tomorrow begins by UTC an hour later.
    expect([
      f.when('2026-11-25T08:05:00Z'),
      f.when('2026-11-24T22:30:00Z'),
      f.when('2026-11-24T23:30:00Z'),
    ]).to.deep.equal(['today 09:05', 'yesterday 23:30', 'today 00:30'])
    as({ dateOrder: 'ymd' })
    expect(f.date('2027-01-31')).to.equal('2027 Jan 31')
    as({ dateOrder: 'mdy' })
    expect(f.date('2027-01-31')).to.equal('Jan 31 2027')
  })
})

describe('one more scan of a line', () => {
  for (const [typed, more, out] of [
    ['', '1', '1'],
    ['1', '0.118', '1.1180'],
    ['1.1180', '0.002', '1.12'],
    [' 9 ', '1', '10'],
    ['0.1', '0.2', '0.3'],
    ['0.125', '1', '1.1250'],
    ['1.500', '1', '1.500 + 1'],
    ['1,5', '1', '1,5 + 1'],
    ['2 case', '1', '2 case + 1'],
    ['3*12', '0.118', '3*12 + 0.118'],
    ['1 + 1', '1', '1 + 1 + 1'],
  ] as const)
    it(`“${typed}” and ${more}: ${out}`, () => {
      expect(oneMore(typed, decimal(more))).to.equal(out)
    })
})

describe('a line of a correction that is about cost alone', () => {
  const nothing = { price: '', invoiced: '', unit: null as string | null }
  for (const [act, more, words] of [
    ['price', { price: ' 3.20', unit: 'case' }, 'price 3.20 per case'],
    ['price', { price: '3' }, 'price 3'],
    ['invoice', { price: '5' }, '5 more invoiced'],
    ['invoice', { price: '-5' }, '5 less invoiced'],
    ['invoiced_as', { invoiced: '25', price: '3' }, 'invoiced as 25'],
    ['replace', { price: '3' }, ''],
  ] as const)
    it(`${act}: ${words || 'is none'}`, () => {
      expect([ofCost(act), costSaid({ ...nothing, ...more, act })]).to.deep.equal([words !== '', words])
    })
})

describe('the number pad', () => {
  const keys = (list: string) => list.split(' ').reduce((typed, k) => pressed(typed, k, 'box'), '')
  it('writes what people say', () => {
    expect([keys('2 4'), keys('2 case + 3'), keys('2 case + 3 box'), keys('1 . 5'), keys('+ case 7')]).to.deep.equal([
      '24',
      '2 case + 3',
      '2 case + 3',
      '1.5',
      '7',
    ])
  })
  it('takes the last key back, whatever it was', () => {
    expect([
      keys('2 case + 3 back'),
      keys('2 case + 3 back back'),
      keys('2 case back'),
      keys('2 back back'),
      keys('2 case 3'),
    ]).to.deep.equal(['2 case +', '2 case', '2', '', '2 case + 3'])
  })
  it('never writes what cannot be read, whatever is pressed', () => {
    const measure = { base: 'box', decimals: 2, packs: [{ name: 'case', size: { n: 10n, d: 1n } }] } as never
    fc.assert(
      fc.property(fc.array(fc.constantFrom('1', '2', '7', 'case', 'box', '+', 'back'), { maxLength: 14 }), list => {
        const typed = list
          .reduce((t, k) => pressed(t, k, 'box'), '')
          .replace(/\s*\+\s*$/, '')
          .trim()
        if (!typed) return
        const r = readQuantity(typed, measure, undefined, true)
        expect(
          r.ok || ['too_large'].includes(r.code),
          `${list.join(' ')} → “${typed}” ${JSON.stringify(r, (_, v: unknown) => (typeof v === 'bigint' ? String(v) : v))}`,
        ).to.equal(true)
      }),
      { numRuns: 500 },
    )
  })
})
