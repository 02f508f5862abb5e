import fakeTimers from '@sinonjs/fake-timers'
import { expect } from 'chai'
import { watch } from 'vue'
import type { Asked, Browser } from './browser.ts'
import { browser, ME, pause } from './browser.ts'
import { PaperServer } from './paper-server.ts'

const ITEM = '01a21000-0000-7000-8000-000000000001'
const effect = (more: object = {}) => ({
  seq: 1,
  ok: true,
  refusals: [],
  lines: [],
  fingerprint: 'f1',
  tag: null,
  since: null,
  without: [],
  ...more,
})
const problem = (status: number, code: string, more: object = {}) => ({
  status,
  body: { type: '', title: code, status, code, detail: `said ${code}`, fields: [], ...more },
})

describe('the slip being written', () => {
  let b: Browser
  let slip: ReturnType<typeof import('../src/ledger/slip-store.ts').useSlip>
  let freshLine: typeof import('../src/ledger/fresh.ts').freshLine
  let server: PaperServer
  /** A device that is opened anew: the same storage, everything else gone. */
  async function device(storage?: Browser['storage'], me: object = ME) {
    b = browser()
    if (storage)
      for (let i = 0; i < storage.length; i++) b.storage.setItem(storage.key(i)!, storage.getItem(storage.key(i)!)!)
    if (!storage) server = new PaperServer()
    b.answer = a => (a.path.endsWith('/effect') ? { body: effect() } : (server.answer(a) ?? problem(404, 'not_found')))
    const { createPinia, setActivePinia } = await import('pinia')
    setActivePinia(createPinia())
    const session = (await import('../src/shell/session.ts')).useSession()
    session.took(me as never)
    session.placeId = '01a21000-0000-7000-8000-00000000000b'
    const m = await import('../src/ledger/slip-store.ts')
    slip = m.useSlip()
    freshLine = (await import('../src/ledger/fresh.ts')).freshLine
  }
  // Time goes on by itself, from one thing that waits to the next, however slow the machine is.
  let clock: fakeTimers.InstalledClock
  before(() => {
    clock = fakeTimers.install({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval'] })
    clock.setTickMode({ mode: 'nextAsync' })
  })
  after(() => {
    clock.uninstall()
  })
  beforeEach(async () => {
    await device()
    await slip.open('issue', undefined)
  })
  const saved = () => b.asked.filter(a => a.method === 'PUT' || a.method === 'PATCH')
  const type = async (typed: string) => {
    slip.add(freshLine({ item: ITEM, typed }))
    await pause(1)
  }

  it('that says nothing yet leaves no trace', async () => {
    await pause(800)
    expect(b.asked.filter(a => a.method !== 'GET')).to.deep.equal([])
    expect(
      Array.from({ length: b.storage.length }, (_, i) => b.storage.key(i)!).filter(k =>
        k.startsWith('shelve.of.p.slip'),
      ),
    ).to.deep.equal([])
  })
  it('is on the device with the first keystroke, and on the server soon after', async () => {
    await type('3')
    expect(b.storage.getItem(`shelve.of.p.slip.${slip.id}`)).to.contain('"typed":"3"')
    expect(saved()).to.deep.equal([])
    await pause(850)
    expect(saved().map(a => a.method)).to.deep.equal(['PUT'])
    slip.add(freshLine({ item: ITEM, typed: '9' }))
    await pause(850)
    slip.content.lines[0]!.typed = '4'
    await pause(850)
    const sent = saved().map(a => (a.body as { lines: { seen?: number }[] }).lines.map(l => l.seen))
    expect(sent, 'then what changed alone, with the revision seen').to.deep.equal([[undefined], [0], [1]])
    expect(server.typed(slip.id)).to.deep.equal(['4', '9'])
  })
  it('is found again by a device that was closed before the server heard of it', async () => {
    await type('7')
    const { id } = slip
    await device(b.storage)
    await slip.open('issue', undefined)
    expect([slip.id, slip.content.lines[0]?.typed]).to.deep.equal([id, '7'])
    await slip.open('waste', undefined)
    expect(slip.id, 'another work has its own').not.to.equal(id)
    await slip.open('issue', undefined)
    expect(slip.id).to.equal(id)
  })
  it('is nobody else’s who takes the device over, and is there again when its writer comes back', async () => {
    await type('7')
    const { id } = slip
    await device(b.storage, { ...ME, person: { ...ME.person, id: 'q', name: 'Ruben' } })
    await slip.open('issue', undefined)
    expect(slip.id).not.to.equal(id)
    expect(slip.content.lines).to.deep.equal([])
    await type('9')
    await device(b.storage)
    await slip.open('issue', undefined)
    expect([slip.id, slip.content.lines.map(l => l.typed)]).to.deep.equal([id, ['7']])
  })
  it('keeps what was typed while the server is away, and says so', async () => {
    b.answer = () => 'away'
    await type('5')
    await pause(850)
    expect(slip.trouble).to.match(/cannot be reached. What you typed is kept/)
    expect(b.storage.getItem(`shelve.of.p.slip.${slip.id}`)).to.contain('"typed":"5"')
  })
  it('is saved by a device that is full as by any other; says where it is while the server is away, and asks before the window goes', async () => {
    const { deviceKeeps } = await import('../src/shell/drawer.ts')
    const leaves = () => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }))
    b.storage.full = true
    await type('5')
    expect(deviceKeeps.value).to.equal(false)
    await pause(900)
    expect(server.typed(slip.id)).to.deep.equal(['5'])
    expect(leaves(), 'what is saved may be left').to.equal(false)
    b.answer = () => 'away'
    await type('7')
    expect(leaves()).to.equal(true)
    await pause(900)
    expect(slip.trouble).to.contain('this device keeps nothing')
    // As soon as there is room all of it is kept, also what was typed before.
    b.storage.full = false
    await type('9')
    expect(deviceKeeps.value).to.equal(true)
    expect(leaves()).to.equal(false)
    await pause(900)
    expect(slip.trouble).to.contain('is kept on this device')
  })

  it('asks for its effect after every keystroke; only the latest answer counts', async () => {
    const waiting: ((v: { body: unknown }) => void)[] = []
    b.answer = a =>
      a.path.endsWith('/effect')
        ? new Promise(ok => {
            waiting.push(ok)
          })
        : (server.answer(a) ?? problem(404, 'not_found'))
    await type('1')
    await pause(80)
    slip.content.lines[0]!.typed = '12'
    await pause(80)
    expect(waiting).to.have.length(2)
    waiting[1]!({ body: effect({ fingerprint: 'second' }) })
    await pause(5)
    waiting[0]!({ body: effect({ fingerprint: 'first' }) })
    await pause(5)
    expect(slip.effect?.fingerprint).to.equal('second')
  })
  it('is told of what differs from the look before alone; of another look than is known here it asks all', async () => {
    slip.add(freshLine({ item: ITEM, typed: '1' }))
    slip.add(freshLine({ item: ITEM, typed: '2' }))
    const [one, two] = slip.content.lines.map(l => l.id) as [string, string]
    const told = (line: string, quantity: string) => ({ line, quantity })
    const looks: string[] = []
    const answers: (ReturnType<typeof problem> | ReturnType<typeof effect>)[] = [
      effect({ tag: 'a', lines: [told(one, '1'), told(two, '2')] }),
      effect({ tag: 'b', since: 'a', lines: [told(one, '3')] }),
      effect({ tag: 'c', since: 'b', without: [two] }),
      // Another window was told the last.
      effect({ tag: 'e', since: 'd', lines: [] }),
      effect({ tag: 'f', lines: [told(two, '5'), told(one, '4')] }),
      // The server was started anew.
      problem(409, 'look_forgotten'),
      effect({ tag: 'g', lines: [told(one, '6'), told(two, '5')] }),
      effect({ tag: 'h', since: 'g', lines: [told(one, '7')] }),
      effect({ tag: 'i', since: 'h', without: [two] }),
    ]
    b.answer = a => {
      const [path, since] = a.path.split('?')
      if (!path!.endsWith('/effect')) return server.answer(a) ?? problem(404, 'not_found')
      const { lines } = a.body as { lines: { id: string }[] }
      looks.push(`${since ?? 'all'}: ${lines.map(l => (l.id === one ? 1 : l.id === two ? 2 : 3)).join()}`)
      const answer = answers[looks.length - 1]!
      return 'seq' in answer ? { body: answer } : answer
    }
    const known = async (typed: string) => {
      slip.content.lines[0]!.typed = typed
      await pause(80)
      return slip.effect?.lines.map(l => l.quantity)
    }
    await pause(80)
    expect(slip.effect?.lines.map(l => l.quantity)).to.deep.equal(['1', '2'])
    expect(await known('3')).to.deep.equal(['3', '2'])
    expect(await known('30')).to.deep.equal(['3'])
    expect(await known('4')).to.deep.equal(['5', '4'])
    expect(await known('6')).to.deep.equal(['6', '5'])
    slip.add(freshLine({ item: ITEM }))
    expect(await known('7')).to.deep.equal(['7', '5'])
    slip.remove(two)
    expect(await known('7')).to.deep.equal(['7'])
    const changed = (since: string) => `since=${since}&lines=changed`
    expect(looks).to.deep.equal([
      'all: 1,2',
      `${changed('a')}: 1`,
      `${changed('b')}: 1`,
      `${changed('c')}: 1`,
      'all: 1,2',
      `${changed('f')}: 1`,
      'since=f: 1,2',
      `${changed('g')}: 1,3`,
      // What is gone cannot be told so.
      'since=h: 1,3',
    ])
  })
  it('is booked with what was seen; what the server refuses stands at its line, and nothing is lost', async () => {
    await type('9')
    const line = slip.content.lines[0]!.id
    await pause(80)
    b.answer = a =>
      a.path.endsWith('/booking')
        ? problem(422, 'insufficient_stock', {
            fields: [{ line, field: 'typed', code: 'insufficient_stock', message: '9 asked, 2 there.', detail: {} }],
          })
        : { body: effect() }
    expect(await slip.book()).to.equal(undefined)
    const asked = b.asked.find(a => a.path.endsWith('/booking'))! as Asked & { body: { seen: string } }
    expect(asked.body.seen).to.equal('f1')
    expect(slip.lineRefusals(line).map(r => r.code)).to.deep.equal(['insufficient_stock'])
    expect(slip.content.lines[0]!.typed).to.equal('9')
  })
  it('whose books moved meanwhile shows the new effect instead of being booked', async () => {
    await type('9')
    await pause(80)
    b.answer = a =>
      a.path.endsWith('/booking')
        ? problem(409, 'effect_changed', { effect: effect({ fingerprint: 'new' }) })
        : { body: effect() }
    expect(await slip.book()).to.equal(undefined)
    expect([slip.effect?.fingerprint, slip.trouble]).to.deep.equal(['new', 'said effect_changed'])
  })
  it('whose answer got lost is sent again with the same id', async () => {
    await type('2')
    await pause(80)
    let n = 0
    b.answer = a =>
      a.path.endsWith('/booking')
        ? n++
          ? { status: 201, body: { id: slip.id, number: 'IS-0009', lines: [] } }
          : 'away'
        : { body: effect() }
    expect(await slip.book()).to.equal(undefined)
    expect((await slip.book())?.number).to.equal('IS-0009')
    const sent = b.asked.filter(a => a.path.endsWith('/booking'))
    expect(sent[0]).to.deep.equal(sent[1])
    expect(b.storage.getItem(`shelve.of.p.slip.${slip.id}`), 'what is booked is no draft any more').to.equal(null)
  })
  it('booked while it is still being read waits for that, and is booked with what was not saved', async () => {
    await type('2')
    await pause(2000)
    await type('3')
    const { id } = slip
    await device(b.storage)
    const answer = b.answer
    b.answer = a =>
      a.path.endsWith('/booking') ? { status: 201, body: { id, number: 'IS-0011', lines: [] } } : answer(a)
    const opened = slip.open('issue', id)
    expect((await slip.book())?.number).to.equal('IS-0011')
    await opened
    expect(server.drafts.get(id)!.lines.size, 'the second line, too, was saved first').to.equal(2)
  })
  it('pressed once more before the answer has come is meant where something was changed since, and nothing is booked by it', async () => {
    await type('2')
    await pause(80)
    const answer = b.answer
    const waiting: ((v: { status: number; body: unknown }) => void)[] = []
    b.answer = a => (a.path.endsWith('/booking') ? new Promise(ok => waiting.push(ok)) : answer(a))
    const asked = async (n: number) => {
      while (waiting.length < n) await pause(1)
      return waiting[n - 1]!
    }
    // Refused, and put right before that was heard.
    let first = slip.book()
    const refuse = await asked(1)
    expect(await slip.mayBook(), 'the same twice').to.equal(false)
    slip.content.taker = 'Wren'
    const both = [slip.mayBook(), slip.mayBook()].map(idle => idle.then(ok => (ok ? slip.book() : undefined)))
    refuse(problem(409, 'over_budget'))
    expect(await first).to.equal(undefined)
    const take = await asked(2)
    take({ status: 201, body: { id: slip.id, number: 'IS-0012', lines: [] } })
    expect(
      (await Promise.all(both)).map(r => r?.number),
      'once',
    ).to.deep.equal(['IS-0012', undefined])
    // Booked: what was changed meanwhile is not booked a second time.
    slip.fresh('issue')
    await type('3')
    first = slip.book()
    const last = await asked(3)
    slip.content.taker = 'Wren'
    const idle = slip.mayBook()
    last({ status: 201, body: { id: slip.id, number: 'IS-0013', lines: [] } })
    expect([(await first)?.number, await idle]).to.deep.equal(['IS-0013', false])
  })
  it('left for another while it is being booked is booked as it was; the other is not touched', async () => {
    await type('2')
    await pause(80)
    const first = slip.id
    b.answer = a =>
      a.path.endsWith('/booking')
        ? { status: 201, body: { id: first, number: 'IS-0010', lines: [] } }
        : a.method === 'GET'
          ? problem(404, 'not_found')
          : { body: effect() }
    const booking = slip.book()
    await slip.open('move', undefined)
    slip.content.taker = 'somebody else'
    const second = slip.id
    expect((await booking)?.number).to.equal('IS-0010')
    const sent = b.asked
      .filter(a => a.path.endsWith('/booking'))
      .map(a => [a.path, (a.body as { content: { kind: string } }).content.kind])
    expect(sent).to.deep.equal([[`/api/slips/${first}/booking`, 'issue']])
    expect([slip.id === second, slip.id !== first, slip.content.kind, slip.content.taker]).to.deep.equal([
      true,
      true,
      'move',
      'somebody else',
    ])
  })
  for (const late of ['the first', 'the second'])
    it(`left for another while it is still being read is not put in its place: ${late} was answered last`, async () => {
      const of = { issue: '', waste: '' }
      for (const [kind, typed] of [
        ['issue', '2'],
        ['waste', '3'],
      ] as const) {
        await slip.open(kind, undefined)
        await type(typed)
        of[kind] = slip.id
        await slip.save()
      }
      const { issue, waste } = of
      const { answer } = b
      const waiting = new Map<string, () => void>()
      b.answer = a =>
        a.path.includes('/draft')
          ? new Promise(ok => waiting.set(a.path.split('/')[3]!, () => ok(answer(a))))
          : answer(a)
      const asked = async (id: string) => {
        while (!waiting.has(id)) await pause(1)
      }
      const stands = () => [slip.id, slip.content.kind, slip.content.lines.map(l => l.typed)]
      const first = slip.open('issue', issue)
      await asked(issue)
      const second = slip.open('waste', waste)
      await asked(waste)
      for (const id of late === 'the first' ? [waste, issue] : [issue, waste]) {
        waiting.get(id)!()
        await pause(5)
      }
      await Promise.all([first, second])
      expect(stands()).to.deep.equal([waste, 'waste', ['3']])
      // One that begins at once is there before the one that was left is read, or known to be gone.
      waiting.clear()
      const again = slip.open('issue', issue)
      await asked(issue)
      if (late === 'the second') server.drafts.delete(issue)
      await slip.open('move', undefined)
      await type('5')
      const third = slip.id
      waiting.get(issue)!()
      await again
      expect(stands()).to.deep.equal([third, 'move', ['5']])
      await slip.save()
      expect([server.drafts.get(third)!.lines.size, server.drafts.get(waste)!.lines.size]).to.deep.equal([1, 1])
    })
  for (const first of ['saved', 'read'])
    it(`left and taken up again while it is being saved is as it was typed: first it is ${first}`, async () => {
      await type('2')
      await slip.save()
      const issue = slip.id
      const { answer } = b
      let saves: (() => void) | undefined
      b.answer = a =>
        a.method !== 'PATCH' || saves
          ? answer(a)
          : new Promise(ok => {
              // The server saves it at once, or when it is read by then; that is told last.
              const at = first === 'saved' ? answer(a) : undefined
              saves = () => ok(at ?? answer(a))
            })
      await type('3')
      void slip.save()
      while (!saves) await pause(1)
      await slip.open('waste', undefined)
      await slip.open('issue', issue)
      expect(slip.content.lines.map(l => l.typed)).to.deep.equal(['2', '3'])
      saves!()
      await pause(5)
      const reads = b.asked.filter(a => a.path.endsWith('/draft')).length
      await type('4')
      await slip.save()
      expect(slip.content.lines.map(l => l.typed)).to.deep.equal(['2', '3', '4'])
      expect([...server.drafts.get(issue)!.lines.values()].map(l => l.content!.typed)).to.deep.equal(['2', '3', '4'])
      expect([slip.company, slip.differing.size, slip.ended], 'nobody else wrote on it').to.deep.equal([[], 0, null])
      expect(reads, 'the whole of it is read once').to.equal(1)
    })
  it('is not asked about while it is booked, and what is said of it too late does not trouble the next one', async () => {
    await type('2')
    await pause(80)
    let late: ((v: { status: number; body: unknown }) => void) | undefined
    b.answer = a =>
      a.path.endsWith('/booking')
        ? pause(60).then(() => ({ status: 201, body: { id: slip.id, number: 'IS-0011', lines: [] } }))
        : a.path.endsWith('/effect')
          ? new Promise(ok => {
              late = ok
            })
          : { body: {} }
    // One question is on its way when it is booked; another comes with the news of the booking.
    slip.ask()
    await pause(5)
    const asked = () => b.asked.filter(a => a.path.endsWith('/effect')).length
    const before = asked()
    const booking = slip.book()
    slip.ask()
    await pause(20)
    expect(asked(), 'nothing to ask while it is booked').to.equal(before)
    await booking
    slip.fresh('issue')
    late!(problem(409, 'booked_otherwise'))
    await pause(20)
    expect([slip.trouble, slip.effect]).to.deep.equal(['', null])
  })
  /** News of this slip come, and are read. */
  const hear = async (kind = 'draft') => {
    slip.heard({ seq: 1, kind, detail: { slip: slip.id, version: server.drafts.get(slip.id)?.version ?? 9 } } as never)
    await pause(20)
  }
  const typedHere = () => slip.content.lines.map(l => l.typed)
  const two = async () => {
    slip.add(freshLine({ item: ITEM, typed: '1' }))
    slip.add(freshLine({ item: ITEM, typed: '2' }))
    await pause(850)
    return slip.content.lines.map(l => l.id) as [string, string]
  }
  it('hears what was saved while it was being read: the answer may be the older one', async () => {
    const [, c] = await two()
    const { id } = slip
    const old = server
    await device(undefined)
    server = old
    let answered: ((v: unknown) => void) | undefined
    const usual = b.answer
    b.answer = a => {
      if (!a.path.includes('/draft') || answered) return usual(a)
      // What stands there now is on its way, slowly.
      const now = usual(a)
      return new Promise(ok => (answered = () => ok(now as never)))
    }
    const opening = slip.open('issue', id)
    await pause(5)
    server.by('Tova', id, c, { typed: '20' })
    slip.heard({ seq: 1, kind: 'draft', detail: { slip: id, version: server.drafts.get(id)!.version } } as never)
    answered!(undefined)
    await opening
    await pause(20)
    expect(typedHere()).to.deep.equal(['1', '20'])
  })
  it('takes in what somebody else saves on it, and keeps what is typed here', async () => {
    const old = server
    const [a, c] = await two()
    slip.content.lines[0]!.typed = '10'
    server.by('Tova', slip.id, c, { typed: '20' })
    server.by('Tova', slip.id, 'n', { ...freshLine({ typed: '30' }) }, { taker: 'Mirja' })
    await hear()
    expect(typedHere()).to.deep.equal(['10', '20', '30'])
    expect([slip.content.taker, slip.company]).to.deep.equal(['Mirja', ['Tova']])
    await pause(850)
    expect(server.typed(slip.id)).to.deep.equal(['10', '20', '30'])
    server.by('Tova', slip.id, a, null)
    await hear()
    expect(typedHere()).to.deep.equal(['20', '30'])
    expect(slip.differing.size).to.equal(0)
    for (const l of slip.content.lines) l.typed += '0'
    slip.content.taker += ' and Sal'
    await pause(850)
    expect(server.typed(slip.id), 'what came from others is typed on like one’s own').to.deep.equal(['200', '300'])
    expect(server.drafts.get(slip.id)!.head.taker).to.equal('Mirja and Sal')
    const { id } = slip
    await device()
    server = old
    await slip.open('issue', id)
    slip.content.lines[0]!.typed = '1'
    await pause(850)
    expect(server.typed(id)).to.deep.equal(['1', '300'])
  })
  it('and asks where both changed the same: nothing is written over, nothing booked, until it is said which stands', async () => {
    const [a, c] = await two()
    server.by('Tova', slip.id, a, { typed: '7' }, { taker: 'Sal' })
    slip.content.lines[0]!.typed = '8'
    slip.content.lines[1]!.typed = '9'
    slip.content.taker = 'Mirja'
    await pause(850)
    expect(server.typed(slip.id), 'the other line is saved').to.deep.equal(['7', '9'])
    expect([slip.differing.get(a)!.by, slip.differing.get(a)!.content!.typed]).to.deep.equal(['Tova', '7'])
    expect(slip.differingHead).to.deep.equal({ by: 'Tova', fields: [{ field: 'taker', theirs: 'Sal' }] })
    expect(await slip.book()).to.equal(undefined)
    expect([slip.trouble, b.asked.some(x => x.path.endsWith('/booking'))]).to.deep.equal([
      'Somebody else changed the same: say first which stands.',
      false,
    ])
    slip.settleLine(a, true)
    slip.settleHead('taker', false)
    await pause(850)
    expect([server.typed(slip.id), slip.content.taker, slip.differing.size]).to.deep.equal([['8', '9'], 'Sal', 0])
    server.by('Tova', slip.id, c, { typed: '5' })
    slip.content.lines[1]!.typed = '6'
    await hear()
    expect(slip.differing.size).to.equal(1)
    slip.settleLine(c, false)
    expect(typedHere()).to.deep.equal(['8', '5'])
    server.by('Tova', slip.id, c, { typed: '3' })
    slip.content.lines[1]!.typed = '4'
    await hear()
    slip.content.lines[1]!.typed = '3'
    await pause(1)
    expect(slip.differing.size, 'typed to the same it is settled').to.equal(0)
  })
  it('hears what was saved in between also where it saved only what stands there already', async () => {
    const [a, c] = await two()
    server.by('Tova', slip.id, a, { typed: '5' })
    const d = server.drafts.get(slip.id)!
    // She saved both lines at once.
    d.lines.set(c, { ...d.lines.get(c)!, content: { ...d.lines.get(c)!.content, typed: '6' }, revision: d.version })
    slip.content.lines[0]!.typed = '5'
    await pause(850)
    expect([typedHere(), slip.differing.size]).to.deep.equal([['5', '6'], 0])
  })
  it('what of the head is not settled stays asked when something else comes, and is settled by typing the same', async () => {
    await two()
    slip.content.taker = 'Mirja'
    server.by('Tova', slip.id, null, null, { taker: 'Sal' })
    await hear()
    server.by('Tova', slip.id, null, null, { effectiveAt: '2026-11-25T08:00:00Z' })
    await hear()
    expect([slip.differingHead?.fields, slip.content.effectiveAt]).to.deep.equal([
      [{ field: 'taker', theirs: 'Sal' }],
      '2026-11-25T08:00:00Z',
    ])
    await pause(850)
    expect(server.drafts.get(slip.id)!.head.taker, 'nothing is written over').to.equal('Sal')
    slip.content.taker = 'Sal'
    await pause(1)
    expect(slip.differingHead).to.equal(null)
  })
  it('is booked as it was seen: first what is typed is saved, then the revisions are named', async () => {
    const [a] = await two()
    slip.content.lines[0]!.typed = '5'
    await pause(1)
    const is = b.answer
    b.answer = x =>
      x.path.endsWith('/booking') ? { status: 201, body: { id: slip.id, number: 'IS-0002', lines: [] } } : is(x)
    expect((await slip.book())?.number).to.equal('IS-0002')
    const handed = b.asked.find(x => x.path.endsWith('/booking'))!.body as {
      draft: { revision: number; lines: object[] }
    }
    expect(handed.draft.revision).to.equal(1)
    expect(handed.draft.lines).to.deep.include({ id: a, revision: 2 })
    expect(server.typed(slip.id)).to.deep.equal(['5', '2'])
  })
  it('whose saving was not answered does not quarrel with itself', async () => {
    await two()
    const is = b.answer
    let lost = 0
    b.answer = x => {
      const r = is(x)
      return x.method === 'PATCH' && lost++ === 0 ? 'away' : r
    }
    slip.content.lines[0]!.typed = '5'
    await pause(850)
    expect(slip.trouble).to.match(/cannot be reached/)
    slip.content.lines[0]!.typed = '6'
    await pause(850)
    expect([server.typed(slip.id), slip.differing.size, slip.trouble]).to.deep.equal([['5', '2'], 0, ''])
    await pause(850)
    slip.content.lines[0]!.typed = '7'
    await pause(850)
    expect(server.typed(slip.id)).to.deep.equal(['7', '2'])
  })
  it('that was begun twice, since the answer to the first time got lost, is one', async () => {
    const is = b.answer
    let lost = 0
    b.answer = x => {
      const r = is(x)
      return x.method === 'PUT' && lost++ === 0 ? 'away' : r
    }
    await type('1')
    await pause(850)
    slip.content.lines[0]!.typed = '12'
    await pause(850)
    await pause(850)
    expect([server.typed(slip.id), slip.differing.size]).to.deep.equal([['12'], 0])
  })
  it('is merged with what was typed on this device while it was closed', async () => {
    const [a] = await two()
    b.answer = () => 'away'
    slip.content.lines[1]!.typed = '22'
    await pause(1)
    server.by('Tova', slip.id, a, { typed: '11' })
    const { id } = slip
    await device(b.storage)
    await slip.open('issue', id)
    expect(typedHere()).to.deep.equal(['11', '22'])
    await pause(850)
    expect(server.typed(id)).to.deep.equal(['11', '22'])
  })
  it('booked or thrown away elsewhere says so, and what was added here can go on a new one', async () => {
    await two()
    slip.add(freshLine({ item: ITEM, typed: '3' }))
    slip.content.lines[0]!.typed = '9'
    await pause(1)
    const added = slip.content.lines[2]!.id
    const { id } = slip
    server.booked.set(id, 'IS-0007')
    await hear('booked')
    expect(slip.ended).to.deep.equal({ gone: false, message: 'said booked_already', unsaved: true, added: [added] })
    await pause(850)
    expect(
      saved().filter(x => x.method === 'PATCH'),
      'nothing more is sent',
    ).to.deep.equal([])
    slip.goOn([added])
    expect([slip.id === id, typedHere(), slip.ended]).to.deep.equal([false, ['3'], null])
  })
  it('of a sheet on paper shows what another hand adds on the last page, and the time they read off a page', async () => {
    await slip.open('count', undefined)
    slip.add(freshLine({ id: 'p1', item: ITEM }))
    slip.add(freshLine({ id: 'p2', item: ITEM }))
    await pause(850)
    const { usePages } = await import('../src/counting/pages.ts')
    const { begin, pageOf, times } = usePages()
    const of = { p1: 1, p2: 2 }
    begin({ firstPage: 1, pages: 3, lines: Object.entries(of).map(([id, page]) => ({ id, page })) } as never)
    times[1] = '2026-11-25T08:00:00Z'
    const at = { counted: 'counted', typed: '4', countedAt: '2026-11-25T09:30:00Z' }
    server.by('Tova', slip.id, 'p1', at)
    server.by('Tova', slip.id, 'p2', at)
    server.by('Tova', slip.id, 'hers', { ...freshLine({ item: ITEM }), ...at })
    await hear()
    expect([...pageOf]).to.deep.equal([...Object.entries(of), ['hers', 3]])
    expect({ ...times }, 'what is said here stays').to.deep.equal({
      1: '2026-11-25T08:00:00Z',
      2: at.countedAt,
      3: at.countedAt,
    })
  })
  it('is not thrown away where somebody wrote on it meanwhile: that is shown first', async () => {
    const [a] = await two()
    server.by('Tova', slip.id, a, { typed: '7' })
    expect(await slip.discard()).to.equal(false)
    expect([typedHere(), slip.trouble]).to.deep.equal([['7', '2'], 'said changed_meanwhile'])
    expect(await slip.discard()).to.equal(true)
  })
  /** It is booked on the server, and the answer does not arrive. */
  const bookedUnheard = async () => {
    await type('2')
    await pause(850)
    const { id } = slip
    let n = 0
    b.answer = a => {
      if (a.path.endsWith('/booking') && n++) return { status: 201, body: { id, number: 'IS-0009', lines: [] } }
      if (!a.path.endsWith('/booking')) return server.answer(a) ?? problem(409, 'booked_already')
      server.booked.set(id, 'IS-0009')
      return 'away'
    }
    expect(await slip.book()).to.equal(undefined)
    return () => b.asked.filter(a => a.path.endsWith('/booking'))
  }
  it('and hears of it: nobody is told that it ended elsewhere, the same is handed in again by itself', async () => {
    const handed = await bookedUnheard()
    while (!slip.wanted) await pause(5)
    expect(slip.ended).to.equal(null)
    expect((await slip.book())?.number).to.equal('IS-0009')
    expect(handed()).to.have.length(2)
    expect(handed()[0]).to.deep.equal(handed()[1])
  })
  it('and was typed on since is not booked anew: what was typed last is said not to be on it', async () => {
    const handed = await bookedUnheard()
    slip.content.lines[0]!.typed = '5'
    while (!slip.ended) await pause(5)
    expect([slip.ended.unsaved, slip.wanted, handed().length]).to.deep.equal([true, 0, 1])
  })
  it('is thrown away however slow the server is: what was typed last does not stand in its way, its end is no news', async () => {
    await type('2')
    await pause(850)
    const { id } = slip
    slip.content.lines[0]!.typed = '3'
    await pause(1)
    const before = b.asked.length
    const { answer } = b
    b.answer = async a => {
      const given = await answer!(a)
      if (a.method === 'DELETE') {
        for (let i = 0; i < 2; i++) slip.heard({ kind: 'draft', detail: { slip: id } } as never)
        await pause(900)
      }
      if (a.path.includes('/draft')) await pause(1200)
      return given
    }
    const ends: unknown[] = []
    watch(
      () => slip.ended,
      e => ends.push(e),
      { flush: 'sync' },
    )
    expect(await slip.discard()).to.equal(true)
    await pause(1200)
    expect(ends.filter(Boolean)).to.deep.equal([])
    const asked = b.asked.slice(before)
    expect(asked.filter(a => a.method === 'PATCH')).to.deep.equal([])
    expect(
      asked.filter(a => a.path.includes(slip.id)),
      'what waited is not asked of the next one',
    ).to.deep.equal([])
    expect(server.drafts.has(id)).to.equal(false)
  })
  it('is not thrown away while the server is away: it stays, and that is said', async () => {
    await type('2')
    await pause(850)
    const { id } = slip
    b.answer = () => 'away'
    expect(await slip.discard()).to.equal(false)
    expect([slip.id, slip.content.lines.length]).to.deep.equal([id, 1])
    expect(slip.trouble).to.match(/cannot be reached/)
  })
  it('thrown away is gone from device and server, and a fresh one begins', async () => {
    await type('2')
    await pause(850)
    const { id } = slip
    await slip.discard()
    expect(b.asked.at(-1)).to.deep.include({ method: 'DELETE', path: `/api/slips/${id}` })
    expect(b.storage.getItem(`shelve.of.p.slip.${id}`)).to.equal(null)
    expect([slip.id === id, slip.content.lines.length]).to.deep.equal([false, 0])
  })
})
