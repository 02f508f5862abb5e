// A backup is put in place of what the server had, while devices have slips open: what stands on them is newer, and is saved again.
import fakeTimers from '@sinonjs/fake-timers'
import { expect } from 'chai'
import { type EffectScope, effectScope } from 'vue'
import { type Browser, browser, ME, pause } from './browser.ts'
import { PaperServer } from './paper-server.ts'

const ITEM = '01a21000-0000-7000-8000-000000000001'
const BACKUP = '2026-11-25T10:05:00.000Z'
const NO_EFFECT = { seq: 1, ok: true, refusals: [], lines: [], fingerprint: 'f', tag: null, since: null, without: [] }
const not_found = {
  status: 404,
  body: { type: '', title: 'not_found', status: 404, code: 'not_found', detail: 'not there', fields: [] },
}

describe('a slip that is open while a backup is put in place', () => {
  let b: Browser
  let slip: ReturnType<typeof import('../src/ledger/slip-store.ts').useSlip>
  let get: typeof import('../src/shell/api.ts').get
  let fresh: typeof import('../src/ledger/fresh.ts').freshLine
  let server: PaperServer
  let screen: EffectScope | undefined
  /** The page is gone, with all that it was about to do. */
  function ends() {
    screen?.stop()
    clock.reset()
    b.answer = () => new Promise(() => undefined)
  }
  async function device(before?: Browser) {
    if (screen) ends()
    b = browser()
    if (before?.putBack) b.putBack = before.putBack
    for (let i = 0; before && i < before.storage.length; i++)
      b.storage.setItem(before.storage.key(i)!, before.storage.getItem(before.storage.key(i)!)!)
    b.answer = a => (a.path.endsWith('/effect') ? { body: NO_EFFECT } : (server.answer(a) ?? not_found))
    const { createPinia, setActivePinia } = await import('pinia')
    setActivePinia(createPinia())
    const session = (await import('../src/shell/session.ts')).useSession()
    session.took({ ...ME, putBack: b.putBack ? { at: b.putBack, until: null } : null } as never)
    session.placeId = '01a21000-0000-7000-8000-00000000000b'
    slip = (await import('../src/ledger/slip-store.ts')).useSlip()
    ;({ get } = await import('../src/shell/api.ts'))
    fresh = (await import('../src/ledger/fresh.ts')).freshLine
    // As the screen does on which it stands.
    const { onEvent } = await import('../src/shell/events.ts')
    screen = effectScope()
    screen.run(() => onEvent(slip.heard))
    await slip.open('issue', undefined)
  }
  let clock: fakeTimers.InstalledClock
  before(() => {
    clock = fakeTimers.install({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval'] })
    clock.setTickMode({ mode: 'nextAsync' })
  })
  after(() => {
    screen?.stop()
    clock.uninstall()
  })
  /** As often as a backup was put in place in these tests: each is another. */
  let backups = 0
  beforeEach(async () => {
    server = new PaperServer()
    await device()
  })
  const type = async (typed: string) => {
    slip.add(fresh({ item: ITEM, typed }))
    await pause(1000)
  }
  const kept = () => structuredClone(server.drafts)
  function putBack(drafts: ReturnType<typeof kept>) {
    server.drafts.clear()
    for (const [id, d] of structuredClone(drafts)) server.drafts.set(id, d)
    b.putBack = BACKUP.replace('00.000', `00.00${++backups}`)
  }
  /** The page hears of it: by whatever it asks next. */
  const hears = async () => {
    await get('/api/slips/x/draft').catch(() => undefined)
    await pause(2500)
  }
  const typed = () => slip.content.lines.map(l => l.typed)
  /** What stands on the screen stands on the server, nothing is asked and nothing quarrels. */
  const stands = (lines: readonly string[]) => {
    expect(typed()).to.deep.equal(lines)
    expect(server.typed(slip.id).toSorted(), 'on the server').to.deep.equal([...lines].sort())
    expect([slip.differing.size, slip.differingHead, slip.ended, slip.trouble]).to.deep.equal([0, null, null, ''])
  }

  it('what was saved after the backup is saved again, though nobody types', async () => {
    await type('1')
    const backup = kept()
    await type('2')
    slip.content.lines[0]!.typed = '11'
    await pause(1000)
    putBack(backup)
    await hears()
    stands(['11', '2'])
  })
  it('who types on hears of it by the answer to that', async () => {
    await type('1')
    const backup = kept()
    await type('2')
    await type('3')
    putBack(backup)
    await type('4')
    await pause(2000)
    stands(['1', '2', '3', '4'])
  })
  it('one that was begun after the backup is begun anew', async () => {
    const backup = kept()
    await type('1')
    await type('2')
    putBack(backup)
    await hears()
    stands(['1', '2'])
    await type('3')
    stands(['1', '2', '3'])
  })
  it('the same, where somebody types on, and its saving is what finds nothing', async () => {
    const backup = kept()
    await type('1')
    putBack(backup)
    await type('2')
    await pause(2000)
    stands(['1', '2'])
  })
  it('what was taken off after the backup stays off; its head is as it was typed last', async () => {
    await type('1')
    await type('2')
    const backup = kept()
    slip.remove(slip.content.lines[0]!.id)
    slip.content.head.note = 'for the dinner'
    await pause(1000)
    putBack(backup)
    await hears()
    stands(['2'])
    expect(server.drafts.get(slip.id)!.head.head).to.include({ note: 'for the dinner' })
  })
  it('what somebody else put on since then is taken over', async () => {
    await type('1')
    const backup = kept()
    await type('2')
    putBack(backup)
    server.by('Ruben', slip.id, '01a21000-0000-7000-8000-0000000000aa', { item: ITEM, typed: '9' })
    await hears()
    expect(server.typed(slip.id).toSorted()).to.deep.equal(['1', '2', '9'])
    stands(['1', '2', '9'])
  })
  it('who has to sign in first, since that, too, was after the backup, finds it and has it saved again', async () => {
    const backup = kept()
    await type('1')
    const found = b.answer
    b.answer = () => ({ ...not_found, status: 401, body: { ...not_found.body, status: 401, code: 'sign_in_first' } })
    putBack(backup)
    await get('/api/slips/x/draft').catch(() => undefined)
    // The page makes way for the one where one signs in, and stands there again after that.
    await slip.save()
    b.answer = found
    await slip.open('issue', undefined)
    await pause(2500)
    stands(['1'])
  })
  it('a device that sleeps meanwhile does so when it wakes', async () => {
    await type('1')
    const backup = kept()
    await type('2')
    // Typed last, and not saved any more.
    slip.add(fresh({ item: ITEM, typed: '3' }))
    await pause(1)
    ends()
    putBack(backup)
    // Somebody else has written on it as often by then.
    server.by('Ruben', slip.id, '01a21000-0000-7000-8000-0000000000aa', { item: ITEM, typed: '9' })
    const { untold, seenPutBack } = await import('../src/shell/put-back.ts')
    await device(b)
    await pause(2500)
    stands(['1', '2', '3', '9'])
    expect(untold.value?.at, 'it is told').to.equal(b.putBack)
    seenPutBack()
    await device(b)
    expect(untold.value, 'once').to.equal(null)
  })
  it('the same of one that was begun after the backup, and saved whole', async () => {
    const backup = kept()
    await type('1')
    const { id } = slip
    ends()
    putBack(backup)
    await device(b)
    await pause(2500)
    expect(slip.id).to.equal(id)
    stands(['1'])
  })
  it('whatever comes of it first: its saving, where somebody else wrote on it as often since; or that it is another version', async () => {
    await type('1')
    const backup = kept()
    await type('2')
    putBack(backup)
    server.by('Ruben', slip.id, '01a21000-0000-7000-8000-0000000000aa', { item: ITEM, typed: '9' })
    // Nothing else tells it.
    screen!.stop()
    await type('3')
    await pause(2000)
    stands(['1', '2', '3', '9'])
    putBack(backup)
    await get('/api/slips/x/draft').catch(() => undefined)
    slip.heard({ seq: 1, kind: 'draft', detail: { slip: slip.id, version: 1 } } as never)
    await pause(2500)
    stands(['1', '2', '3', '9'])
  })
  it('what is begun after that is known as it was saved: nothing of it is read once more', async () => {
    putBack(kept())
    await hears()
    await type('1')
    await type('2')
    expect(b.asked.filter(a => a.method === 'GET' && a.path.includes(slip.id))).to.deep.equal([])
    stands(['1', '2'])
  })
  /** Somebody copies an older database there: no answer says so. */
  function copiedBack(drafts: ReturnType<typeof kept>) {
    const { putBack: said } = b
    putBack(drafts)
    if (said) b.putBack = said
    else delete b.putBack
  }
  for (const [how, does] of [
    ['who types on', () => type('3')],
    ['whoever only looks', async () => slip.heard({ seq: 1, kind: 'reload', detail: {} })],
    ['a device that wakes', () => device(b)],
  ] as const)
    it(`a database that was put there by hand is known by its telling what the slip was before: ${how}`, async () => {
      await type('1')
      const backup = kept()
      await type('2')
      slip.add(fresh({ item: ITEM, typed: '5' }))
      await pause(1)
      copiedBack(backup)
      await does()
      await pause(2500)
      stands(how === 'who types on' ? ['1', '2', '5', '3'] : ['1', '2', '5'])
    })
})
