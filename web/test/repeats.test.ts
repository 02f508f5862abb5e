// When a job comes again, as it is chosen on the screen and as RFC 5545 writes it.
import { expect } from 'chai'
import { readRepeats, type Repeats, saysRepeats, writeRepeats } from '../src/jobs/repeats.ts'

describe('when a job comes again', () => {
  const rows: [repeats: string, again: number | null, chosen: Repeats, words: string][] = [
    ['', null, { how: 'never', every: 1, days: [] }, ''],
    ['FREQ=DAILY', null, { how: 'DAILY', every: 1, days: [] }, 'comes again every day'],
    ['FREQ=DAILY;INTERVAL=3', null, { how: 'DAILY', every: 3, days: [] }, 'comes again every 3 days'],
    ['FREQ=WEEKLY', null, { how: 'WEEKLY', every: 1, days: [] }, 'comes again every week on Thursday'],
    [
      'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH',
      null,
      { how: 'WEEKLY', every: 2, days: ['MO', 'TH'] },
      'comes again every 2 weeks on Monday and Thursday',
    ],
    ['FREQ=MONTHLY', null, { how: 'MONTHLY', every: 1, days: [] }, 'comes again every month'],
    ['', 10, { how: 'after', every: 10, days: [] }, 'comes again 10 days after it is over'],
    ['', 1, { how: 'after', every: 1, days: [] }, 'comes again 1 day after it is over'],
  ]
  for (const [repeats, again, chosen, words] of rows)
    it(words || 'not at all', () => {
      const says = { repeats, again, day: '2026-11-26' }
      expect(readRepeats(says)).to.deep.equal(chosen)
      expect(writeRepeats(chosen)).to.deep.equal({ repeats, again })
      expect(saysRepeats(says)).to.equal(words)
    })
  it('days stand in the order of the week, numbers are whole and within what there is', () => {
    expect(writeRepeats({ how: 'WEEKLY', every: 0, days: ['SU', 'TU'] }).repeats).to.equal('FREQ=WEEKLY;BYDAY=TU,SU')
    expect(writeRepeats({ how: 'MONTHLY', every: 500, days: [] }).repeats).to.equal('FREQ=MONTHLY;INTERVAL=99')
    expect(writeRepeats({ how: 'after', every: 9999, days: [] }).again).to.equal(3650)
    expect(writeRepeats({ how: 'DAILY', every: NaN, days: [] }).repeats).to.equal('FREQ=DAILY')
  })
})
