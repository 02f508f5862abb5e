import fakeTimers from '@sinonjs/fake-timers'
import { expect } from 'chai'
import { browser } from './browser.ts'

const problem = { type: 'urn:x', title: 'x', status: 422, code: 'busy', detail: 'As the server said it.', fields: [] }
const says =
  (status: number, body: string | ReadableStream | null, type = 'application/json') =>
  () =>
    Promise.resolve(new Response(body, { status, headers: { 'content-type': type } }))
const cut = () =>
  new ReadableStream({
    start(c) {
      c.enqueue(new TextEncoder().encode('{"rows":['))
      c.error(new TypeError('network error'))
    },
  })
const AWAY = 'The server cannot be reached. What you typed is kept on this device.'

describe('answers that are lost', () => {
  let api: typeof import('../src/shell/api.ts')
  let asked: { key: string | undefined; body: { id?: string } }[]
  let answer: () => Promise<Response>
  /** Which revision each of them had seen. */
  let seen: (string | undefined)[]
  before(async () => {
    browser()
    api = await import('../src/shell/api.ts')
  })
  beforeEach(() => {
    asked = []
    seen = []
    Object.defineProperty(globalThis, 'fetch', {
      configurable: true,
      value: async (_: string, o: RequestInit) => {
        const key = (o.headers as Record<string, string>)['idempotency-key']
        seen.push((o.headers as Record<string, string>)['if-match'])
        asked.push({ key, body: JSON.parse((o.body as string | undefined) ?? '{}') as { id?: string } })
        return answer()
      },
    })
  })
  const outcome = (p: Promise<unknown>) =>
    p.then(
      v => JSON.stringify(v) ?? 'nothing',
      (e: Error) => e.message,
    )

  // RFC 9110, 15.6: what a gateway answers where the server behind it does not. All else is common practice.
  const cases: [what: string, answer: () => Promise<Response>, outcome: string, is: 'live' | 'away'][] = [
    ['what is answered', says(200, '{"rows":[]}'), '{"rows":[]}', 'live'],
    ['nothing to be answered', says(204, null), 'nothing', 'live'],
    ['what is refused', says(422, JSON.stringify(problem), 'application/problem+json'), problem.detail, 'live'],
    ['a server that is busy', says(503, JSON.stringify(problem), 'application/problem+json'), problem.detail, 'live'],
    ['a fault without words', says(500, '<p>Oh</p>', 'text/html'), 'The server answered 500.', 'live'],
    ['no network', () => Promise.reject(new TypeError('Failed to fetch')), AWAY, 'away'],
    ['an answer that breaks off', says(200, cut()), AWAY, 'away'],
    ['a refusal that breaks off', says(422, cut(), 'application/problem+json'), AWAY, 'away'],
    ['half of an answer', says(200, '{"rows":['), AWAY, 'away'],
    ['a gateway before it', says(502, '<h1>Bad gateway</h1>', 'text/html'), AWAY, 'away'],
    ['a server that is being stopped', says(503, JSON.stringify({ ...problem, code: 'stopping' })), AWAY, 'away'],
    ['one that waited too long', says(504, '', 'text/plain'), AWAY, 'away'],
    [
      'a network that wants to be signed in to first',
      says(200, '<h1>Welcome</h1>', 'text/html'),
      `Something else than Shelve answers at this address: is this device let into its network? ${AWAY}`,
      'away',
    ],
  ]
  for (const [what, a, told, is] of cases)
    it(`${what}: ${is}`, async () => {
      answer = a
      api.connection.value = is === 'live' ? 'away' : 'live'
      expect([await outcome(api.get('/api/x')), api.connection.value]).to.deep.equal([told, is])
    })

  const lost = () => Promise.reject(new TypeError('network'))
  for (const sign of ['beforeunload', 'pagehide'])
    it(`a page that is being left (${sign}) hears that its questions are broken off: told only where it is still there`, async () => {
      const clock = fakeTimers.install({ toFake: ['setTimeout', 'Date'], now: 1_000_000 })
      try {
        // A module of its own: another file's page may be the one that the first listens to.
        const here = (await import(`../src/shell/api.ts?${sign}`)) as typeof api
        const ends: string[] = []
        const ask = async () => void ends.push(await outcome(here.get('/api/x')))
        answer = lost
        window.dispatchEvent(new Event(sign))
        const first = ask()
        await clock.tickAsync(999)
        expect([here.connection.value, ends]).to.deep.equal(['live', []])
        await clock.tickAsync(1)
        await first
        expect([here.connection.value, ends]).to.deep.equal(['away', [AWAY]])
        // A second later it is a page like any other.
        await ask()
        expect(ends).to.deep.equal([AWAY, AWAY])
      } finally {
        clock.uninstall()
      }
    })
  const made = (id: string, more = {}) => outcome(api.post('/api/jobs', { id, name: 'Survey', ...more }))
  it('what was done and could not be told is the same question, too, when it is asked again', async () => {
    answer = says(500, JSON.stringify({ ...problem, code: 'not_told', detail: 'It was done.' }))
    expect(await made('one')).to.equal('It was done.')
    answer = says(201, '{"id":"one"}')
    await made('two')
    await made('three')
    expect(asked.map(a => a.body.id)).to.deep.equal(['one', 'one', 'three'])
    expect(asked[1]!.key).to.equal(asked[0]!.key)
  })
  it('the same, asked again, is the very same question: its key and its new id', async () => {
    answer = lost
    await made('one')
    await made('two')
    answer = says(201, '{"id":"one"}')
    expect(await made('three'), 'the answer it would have had').to.equal('{"id":"one"}')
    expect(new Set(asked.map(a => JSON.stringify(a)))).to.have.property('size', 1)
    expect(asked[0]!.key).to.match(/^"[0-9a-f-]{36}"$/)
  })
  it('something else is another question; so is the same when it was answered or refused', async () => {
    answer = lost
    await made('one')
    await made('two', { name: 'Baking' })
    answer = says(422, JSON.stringify(problem), 'application/problem+json')
    await made('three')
    await made('four')
    answer = says(201, '{}')
    await made('five')
    await made('six')
    const [first, other, again, ...rest] = asked
    expect([again!.key, again!.body.id]).to.deep.equal([first!.key, 'one'])
    expect(new Set([first, other, ...rest].map(a => a!.key))).to.have.property('size', 5)
    expect(rest.map(a => a.body.id)).to.deep.equal(['four', 'five', 'six'])
  })
  it('a change that may have been saved is saved as it was, though its revision is another by now', async () => {
    const saves = (revision: number) => outcome(api.put('/api/items/x', { name: 'Gloves' }, { revision }))
    answer = lost
    await saves(4)
    answer = says(200, '{}')
    await saves(5)
    await saves(5)
    expect(seen).to.deep.equal(['4', '4', '5'])
    expect(asked[1]!.key).to.equal(asked[0]!.key).and.not.to.equal(asked[2]!.key)
  })
  it('after something else was done the same means that it be done again: done, opened again, done', async () => {
    const state = (state: string) => outcome(api.post('/api/jobs/x/state', { state }))
    answer = lost
    await state('done')
    answer = says(200, '{}')
    await state('planned')
    await state('done')
    expect(new Set(asked.map(a => a.key))).to.have.property('size', 3)
  })
  it('pressed twice at once it is one question', async () => {
    answer = says(201, '{}')
    await Promise.all([made('one'), made('two')])
    expect(asked[1]).to.deep.equal(asked[0])
  })
})
