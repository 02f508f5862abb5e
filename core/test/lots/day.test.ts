import { expect } from 'chai'
import fc from 'fast-check'
import {
  daysLater,
  decimal,
  expiryOnceOpened,
  formatDecimal,
  lastOfMonth,
  proposeLots,
  readDay,
  readTime,
  type DateOrder,
} from '@shelve/core'
import { A, World } from '../ledger/world.ts'

describe('dates as people type them from a package', () => {
  it('in the organisation’s order, with any mark between, or none', () => {
    for (const t of [
      '30 6 2027',
      '30.06.2027',
      '30/6/27',
      '30-06-27',
      '300627',
      '30062027',
      '30 Jun 2027',
      '30 june 27',
      '2027-06-30',
      '2027 Jun 30',
    ])
      expect(readDay(t, 'dmy'), t).to.equal('2027-06-30')
    for (const t of ['6/30/2027', '06-30-27', '063027', 'Jun 30, 2027', '2027-06-30'])
      expect(readDay(t, 'mdy'), t).to.equal('2027-06-30')
    for (const t of ['2027 6 30', '27-06-30', '270630', '20270630', '30 Jun 2027', '30.6.2027'])
      expect(readDay(t, 'ymd'), t).to.equal('2027-06-30')
  })
  it('a month alone means its last day', () => {
    for (const t of ['06/2027', '6 27', 'Jun 27', 'june 2027', '2027-06'])
      expect(readDay(t, 'dmy'), t).to.equal('2027-06-30')
    expect([readDay('02/2028', 'dmy'), readDay('02/2027', 'mdy'), readDay('27-02', 'ymd')]).to.deep.equal([
      '2028-02-29',
      '2027-02-28',
      '2027-02-28',
    ])
  })
  it('where the year goes without saying, day and month are enough', () => {
    for (const t of ['24 11', '24.11.', '24/11', '24 Nov', 'Nov 24'])
      expect(readDay(t, 'dmy', 2026), t).to.equal('2026-11-24')
    expect([
      readDay('11/24', 'mdy', 2026),
      readDay('11-24', 'ymd', 2026),
      readDay('24 11 25', 'dmy', 2026),
      readDay('11/2026', 'dmy', 2026),
      readDay('31 11', 'dmy', 2026),
    ]).to.deep.equal(['2026-11-24', '2026-11-24', '2025-11-24', '2026-11-30', undefined])
  })
  it('a time of day, with any mark between hours and minutes, or none', () => {
    for (const t of ['14:30', '14.30', '1430', ' 14h30 '])
      expect(readTime(t), t).to.deep.equal({ hours: 14, minutes: 30 })
    expect([readTime('9'), readTime('9:05'), readTime('905'), readTime('0000')]).to.deep.equal([
      { hours: 9, minutes: 0 },
      { hours: 9, minutes: 5 },
      { hours: 9, minutes: 5 },
      { hours: 0, minutes: 0 },
    ])
    for (const t of ['', '24', '24:00', '12:60', '12:5', 'noon', '-3', '123456'])
      expect(readTime(t), t).to.equal(undefined)
  })
  it('what is no date is none, however near', () => {
    // `30 6` would be the thirtieth month.
    for (const t of [
      '',
      '30',
      '30 6',
      '31 6 2027',
      '29 2 2027',
      '0 6 2027',
      '30 13 2027',
      '30 6 20277',
      'soon',
      '30 Jxn 2027',
      '1 2 3 4',
      '12',
      '1e3 4 27',
      '-3 4 27 x',
      '30 6 2',
      '30 6 202',
      '1 Jun 2',
    ])
      expect(readDay(t, 'dmy'), t).to.equal(undefined)
  })
  it('reads back every day it could have been printed as, in each order, and never throws', () => {
    const day = fc
      .date({ min: new Date('1950-01-01'), max: new Date('2099-12-31'), noInvalidDate: true })
      .map(d => d.toISOString().slice(0, 10))
    fc.assert(
      fc.property(
        day,
        fc.constantFrom<DateOrder>('dmy', 'mdy', 'ymd'),
        fc.constantFrom(' ', '.', '/', '-'),
        (iso, order, mark) => {
          const [y, m, d] = iso.split('-') as [string, string, string]
          const written = { dmy: [d, m, y], mdy: [m, d, y], ymd: [y, m, d] }[order]
          expect(readDay(written.join(mark), order)).to.equal(iso)
          expect(readDay(written.map(Number).join(mark), order)).to.equal(iso)
          expect(readDay(written.join(''), order)).to.equal(iso)
          expect(lastOfMonth(Number(y), Number(m))).to.equal(new Date(Date.UTC(Number(y), Number(m), 0)).getUTCDate())
        },
      ),
      { numRuns: 800 },
    )
    fc.assert(
      fc.property(fc.string(), fc.constantFrom<DateOrder>('dmy', 'mdy', 'ymd'), (t, order) => {
        const r = readDay(t, order)
        if (r !== undefined) expect(Number.isNaN(Date.parse(r))).to.equal(false)
      }),
      { numRuns: 1500 },
    )
  })
})

describe('opened containers', () => {
  it('expire so many days after they were opened, never later than their package', () => {
    expect(expiryOnceOpened('2027-06-30', '2026-11-25', 14)).to.equal('2026-12-09')
    expect(expiryOnceOpened('2026-12-01', '2026-11-25', 14)).to.equal('2026-12-01')
    expect([
      expiryOnceOpened(null, '2026-12-20', 14),
      expiryOnceOpened('2027-06-30', '2026-11-25', null),
      expiryOnceOpened(null, '2026-11-25', null),
    ]).to.deep.equal(['2027-01-03', '2027-06-30', null])
    fc.assert(
      fc.property(
        fc.date({ min: new Date('2020-01-01'), max: new Date('2060-01-01'), noInvalidDate: true }),
        fc.nat(2000),
        (d, days) => {
          const opened = d.toISOString().slice(0, 10)
          expect(expiryOnceOpened(null, opened, days)).to.equal(
            new Date(Date.parse(opened) + days * 86_400_000).toISOString().slice(0, 10),
          )
        },
      ),
      { numRuns: 600 },
    )
  })
  it('are child lots: relabelling moves quantity and value from the lot, and they are taken first', () => {
    for (const method of ['average', 'lot'] as const) {
      const w = new World([{ method, lots: 2 }])
      w.receive('10', '50', { lotId: 100 })
      w.must({
        kind: 'relabel',
        lines: [
          w.line(A.shelf, A.relabel, '4', { lotId: 100, event: 'e1' }),
          w.line(A.relabel, A.shelf, '4', { lotId: 101, event: 'e1' }),
        ],
      })
      expect(w.books.lotBalances(1).map(b => [b.lotId, formatDecimal(b.quantity)])).to.deep.equal([
        [100, '6'],
        [101, '4'],
      ])
      expect(formatDecimal(w.value(A.relabel)), 'nothing stays between').to.equal('0')
      expect(formatDecimal(w.issue('4', { lotId: 101 }).value), 'it costs what its lot cost').to.equal('20')
    }
    const here = [
      { id: 1, held: 'usable' as const, expiry: '2027-06-30', quantity: decimal('6'), received: 1 },
      { id: 2, held: 'usable' as const, expiry: '2027-06-30', quantity: decimal('4'), received: 1, opened: true },
    ]
    expect(
      proposeLots(here, decimal('5'), '2026-11-25').takes.map(t => [t.lotId, formatDecimal(t.quantity)]),
    ).to.deep.equal([
      [2, '4'],
      [1, '1'],
    ])
  })
})

describe('the day so many days later', () => {
  for (const [day, days, right] of [
    ['2026-02-27', 3, '2026-03-02'],
    ['2028-02-27', 3, '2028-03-01'],
    ['2026-12-31', 1, '2027-01-01'],
    ['2027-01-01', -1, '2026-12-31'],
    ['2026-03-01', -1, '2026-02-28'],
    ['2026-11-27', 0, '2026-11-27'],
    ['2026-05-15', -365, '2025-05-15'],
  ] as const)
    it(`${day}, ${days}: ${right}`, () => expect(daysLater(day, days)).to.equal(right))
  it('as the calendar of the machine has it, and back', () => {
    const at = fc.integer({ min: Date.UTC(1999, 0) / 86_400_000, max: Date.UTC(2099, 0) / 86_400_000 })
    fc.assert(
      fc.property(at, fc.integer({ min: -3000, max: 3000 }), (n, days) => {
        const day = (x: number) => new Date(x * 86_400_000).toISOString().slice(0, 10)
        expect(daysLater(day(n), days)).to.equal(day(n + days))
      }),
    )
  })
})
