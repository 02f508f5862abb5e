// Whoever counted says that something was before or after it: which entries take another minute, and what time a page keeps.
import fakeTimers from '@sinonjs/fake-timers'
import { expect } from 'chai'
import { browser, ME } from './browser.ts'

const ITEM = '01a21000-0000-7000-8000-000000000001'
const [MINE, THEIRS] = [ME.person.id, '01a21000-0000-7000-8000-0000000000ee']
const at = (minutes: number, ms = 0) => new Date(Date.UTC(2026, 10, 25, 10, minutes) + ms).toISOString()

describe('something that moved near a count', () => {
  let slip: ReturnType<typeof import('../src/ledger/slip-store.ts').useSlip>
  let fresh: typeof import('../src/ledger/fresh.ts').freshLine
  let clock: fakeTimers.InstalledClock
  // Nothing is saved here.
  before(() => void (clock = fakeTimers.install({ toFake: ['setTimeout', 'clearTimeout'] })))
  after(() => clock.uninstall())
  beforeEach(async () => {
    clock.reset()
    browser().answer = () => ({
      status: 404,
      body: { type: '', title: '', status: 404, code: 'not_found', detail: '', fields: [] },
    })
    const { createPinia, setActivePinia } = await import('pinia')
    setActivePinia(createPinia())
    ;(await import('../src/shell/session.ts')).useSession().took(ME as never)
    slip = (await import('../src/ledger/slip-store.ts')).useSlip()
    fresh = (await import('../src/ledger/fresh.ts')).freshLine
    await slip.open('count', undefined)
  })
  /** Entries of one line of a sheet, each with its minute and its counter. */
  const counted = (...given: [countedAt: string | null, counter: string | null][]) => {
    for (const [countedAt, counter] of given)
      slip.add(fresh({ item: ITEM, counted: 'counted', typed: '4', countedAt, counter }))
    return slip.content.lines
  }
  const table: [
    what: string,
    entries: [string | null, string | null][],
    near: { before: boolean; turned: string },
    then: (string | null)[],
  ][] = [
    [
      'was after it: it was counted a moment before that',
      [[at(0), MINE]],
      { before: true, turned: at(-5, -1) },
      [at(-5, -1)],
    ],
    ['was before it: it was counted at that minute', [[at(0), MINE]], { before: false, turned: at(5) }, [at(5)]],
    [
      'of two heaps both were before it',
      [
        [at(0), MINE],
        [at(2), MINE],
      ],
      { before: true, turned: at(-5, -1) },
      [at(-5, -1), at(-5, -1)],
    ],
    [
      'between two heaps: the first stays',
      [
        [at(0), MINE],
        [at(9), MINE],
      ],
      { before: true, turned: at(5, -1) },
      [at(0), at(5, -1)],
    ],
    [
      'before both: the last of them says when',
      [
        [at(0), MINE],
        [at(2), MINE],
      ],
      { before: false, turned: at(5) },
      [at(0), at(5)],
    ],
    [
      'what somebody else counted stays theirs',
      [
        [at(0), MINE],
        [at(1), THEIRS],
      ],
      { before: true, turned: at(-5, -1) },
      [at(-5, -1), at(1)],
    ],
    ['a minute that was not said is now', [[null, MINE]], { before: true, turned: at(-5, -1) }, [at(-5, -1)]],
  ]
  for (const [what, entries, near, then] of table)
    it(what, async () => {
      const lines = counted(...entries)
      const { useEntries } = await import('../src/counting/entries.ts')
      useEntries().turn(lines[0]!, near)
      expect(lines.map(l => l.countedAt)).to.deep.equal(then)
    })
  it('a page keeps the time that most of its lines bear; of as many, the whole minute', async () => {
    const lines = counted([at(-5, -1), null], [at(0), null], [at(0), null], [at(3, -1), null], [at(2), null])
    const { usePages } = await import('../src/counting/pages.ts')
    const { begin, times } = usePages()
    const page = [1, 1, 1, 2, 2]
    begin({ firstPage: 1, pages: 2, lines: lines.map((l, i) => ({ id: l.id, page: page[i] })) } as never)
    expect({ ...times }).to.deep.equal({ 1: at(0), 2: at(2) })
  })
})
