// What is on its way, as it comes: rule 12 by table.
import { expect } from 'chai'
import { onTheWay } from '../../src/index.ts'

const lies = (placeId: number, more: object = {}) => ({
  lotId: 1,
  placeId,
  quantity: 5n,
  expiry: null as string | null,
  held: 'usable' as const,
  ...more,
})
const around = { today: '2026-11-27', patienceDays: 28 }
const comes = (dueOn: string | null, more: object = {}) =>
  onTheWay([lies(7, more), lies(3)], place => (place === 7 ? { toId: 4, dueOn } : undefined), around).map(w => [
    w.placeId,
    w.quantity,
    w.day,
    w.counts,
  ])

describe('what is on its way', () => {
  const table: [string, string | null, object, unknown[]][] = [
    ['comes to where it goes, on its day', '2026-11-30', {}, [[4, 5n, '2026-11-30', true]]],
    ['where no day was said: today', null, {}, [[4, 5n, '2026-11-27', true]]],
    ['due today', '2026-11-27', {}, [[4, 5n, '2026-11-27', true]]],
    ['past its day: as of today', '2026-11-20', {}, [[4, 5n, '2026-11-27', true]]],
    ['past it by as many days as are waited', '2026-10-30', {}, [[4, 5n, '2026-11-27', true]]],
    ['by one more nobody reckons with it', '2026-10-29', {}, [[4, 5n, '2026-11-27', false]]],
    ['usable on the day it is there', '2026-11-30', { expiry: '2026-11-30' }, [[4, 5n, '2026-11-30', true]]],
    ['run out before it is there', '2026-11-30', { expiry: '2026-11-29' }, []],
    ['past its day, and to be used up today', '2026-11-20', { expiry: '2026-11-27' }, [[4, 5n, '2026-11-27', true]]],
    ['past its day, and run out since', '2026-11-20', { expiry: '2026-11-26' }, []],
    ['run out today', null, { expiry: '2026-11-26' }, []],
    ['held', null, { held: 'held' }, []],
  ]
  for (const [what, dueOn, more, right] of table)
    it(what, () => {
      expect(comes(dueOn, more)).to.deep.equal(right)
    })
})
