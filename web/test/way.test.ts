// Where a screen leads to once it was answered, and what is begun by it: whoever has gone on to something else stays there.
import { expect } from 'chai'
import { type App, createApp, effectScope, type EffectScope } from 'vue'
import type { Router } from 'vue-router'
import { type Answer, type Browser, browser, ME } from './browser.ts'

const moment = () => new Promise(done => setImmediate(done))
const view = { render: () => null }
const PLACE = '01a21000-0000-7000-8000-00000000000b'

describe('where a screen leads to once it was answered', () => {
  let b: Browser
  let router: Router
  let app: App
  let screen: EffectScope
  /** What holds back whoever is on the way to `far`, and how that ends. */
  let arrive: (how?: Error) => void
  let way: import('../src/shell/way.ts').Way
  let of: typeof import('../src/shell/way.ts')
  let begin: ReturnType<typeof import('../src/ledger/begin-slip.ts').useBeginning>
  let fresh: typeof import('../src/ledger/fresh.ts')
  const at = () => router.currentRoute.value.fullPath

  beforeEach(async () => {
    b = browser()
    Object.assign(globalThis, { history: { state: {} } })
    const { createPinia, setActivePinia } = await import('pinia')
    // As the screens have it: once more, for another kind of module, it would be another.
    const { createMemoryHistory, createRouter } = await import('vue-router')
    of = await import('../src/shell/way.ts')
    fresh = await import('../src/ledger/fresh.ts')
    const far = new Promise<typeof view>((ok, no) => (arrive = e => (e ? no(e) : ok(view))))
    router = createRouter({
      history: createMemoryHistory('/of-this-test'),
      routes: [
        { path: '/here', component: view },
        { path: '/far', component: () => far },
        { path: '/never', component: () => new Promise<typeof view>(() => undefined) },
        ...['led', 'other'].map(name => ({ path: `/${name}`, component: view })),
        ...['waste', 'move'].map(name => ({ path: `/${name}/:id`, name, component: view })),
      ],
    })
    of.followWay(router)
    await router.push('/here')
    const pinia = createPinia()
    setActivePinia(pinia)
    app = createApp(view).use(pinia).use(router)
    ;(await import('../src/shell/session.ts')).useSession().took(ME as never)
    screen = effectScope()
    const { useBeginning } = await import('../src/ledger/begin-slip.ts')
    app.runWithContext(() => screen.run(() => ([way, begin] = [of.useWay(), useBeginning()])))
  })

  it('leads on whoever is still there, also with something else chosen on it', async () => {
    let asks!: () => void
    const asked = new Promise<void>(ok => (asks = ok))
    const stop = router.beforeEach(() => asked)
    const going = router.push('/here?span=week')
    await moment()
    expect([at(), way.isHere()]).to.deep.equal(['/here', true])
    asks()
    await going
    stop()
    expect([at(), way.isHere()]).to.deep.equal(['/here?span=week', true])
    await way.push('/led')
    expect(at()).to.equal('/led')
  })
  it('not whoever has gone on, nor whoever is on the way; who could not get there is still here', async () => {
    const going = router.push('/far').catch(() => undefined)
    await moment()
    expect(way.isHere(), 'on the way').to.equal(false)
    await way.push('/led')
    expect(at()).to.equal('/here')
    arrive(new Error('no part of it could be had'))
    await going
    expect([at(), way.isHere()], 'it could not be had').to.deep.equal(['/here', true])
    const gone = effectScope()
    const left = app.runWithContext(() => gone.run(() => of.useWay()))!
    gone.stop()
    await left.replace('/led')
    expect(at(), 'the screen is gone').to.equal('/here')
  })
  it('of two ways at once the later one is what somebody is on', async () => {
    const first = router.push('/far')
    await moment()
    void router.push('/never')
    await moment()
    arrive()
    await first
    expect([at(), way.isHere()], 'the first one’s end is no news').to.deep.equal(['/here', false])
    await router.push('/other')
    expect(way.isHere(), 'of a screen that goes on as another').to.equal(true)
  })
  it('whoever chooses another work waits for what was scanned and typed; of several the last is meant', async () => {
    const { scanUnderWay, typedUnderWay } = await import('../src/shell/under-way.ts')
    let known!: () => void
    void scanUnderWay(new Promise<void>(ok => (known = ok)))
    let stands!: () => void
    void typedUnderWay(new Promise<void>(ok => (stands = ok)))
    const seen: string[] = []
    router.afterEach(to => void seen.push(to.path))
    const both = [of.leave(router, '/other'), of.leave(router, '/led')]
    await moment()
    expect(at()).to.equal('/here')
    known()
    await moment()
    expect(at()).to.equal('/here')
    stands()
    await Promise.all(both)
    expect(seen).to.deep.equal(['/led'])
  })

  it('who does not want to wait chooses it once more: the scan is let go of; that it is waited for is said', async () => {
    const { letGoBy, scanUnderWay } = await import('../src/shell/under-way.ts')
    const { useStrip } = await import('../src/shell/strip.ts')
    let lets!: () => void
    void scanUnderWay(new Promise<void>(ok => (lets = ok)))
    let asked = 0
    letGoBy(() => asked++)
    const going = [of.leave(router, '/led'), of.leave(router, '/other')]
    expect(asked, 'another one').to.equal(0)
    await of.leave(router, '/other')
    expect(asked).to.equal(1)
    while (!useStrip().message) await moment()
    expect(useStrip().message!.text).to.contain('still being looked up')
    lets()
    await Promise.all(going)
    expect(at()).to.equal('/other')
    expect(useStrip().message, 'it is no news any more').to.equal(null)
    letGoBy(() => undefined)
  })
  for (const [before, goes] of [
    [false, '/here'],
    [true, '/led'],
  ] as const)
    it(`what is asked by then keeps whoever goes${before ? ', not what was asked before' : ''}`, async () => {
      const { scanUnderWay } = await import('../src/shell/under-way.ts')
      const dialog = (there: boolean) => Object.assign(document, { querySelector: () => (there ? {} : null) })
      let known!: () => void
      void scanUnderWay(new Promise<void>(ok => (known = ok)))
      dialog(before)
      const going = of.leave(router, '/led')
      dialog(true)
      known()
      await going
      expect(at()).to.equal(goes)
    })

  it('what is begun is one slip: pressed again while it is on its way, or after the answer was lost; changed, it is another', async () => {
    const answers: ((a: Answer) => void)[] = []
    b.answer = () => new Promise(ok => answers.push(ok))
    const content = (typed: string) => ({
      ...fresh.freshContent('waste', PLACE),
      lines: [fresh.freshLine({ item: PLACE, typed })],
    })
    const paths = () => b.asked.map(a => `${a.method} ${a.path}`)
    const until = async (n: number) => {
      while (answers.length < n) await moment()
      return answers[n - 1]!
    }
    const first = begin(content('1'))
    const twice = begin(content('1'))
    ;(await until(1))('away')
    await Promise.all([first, twice])
    expect([paths().length, at()], 'pressed twice, and nothing came').to.deep.equal([1, '/here'])
    const again = begin(content('1'))
    ;(await until(2))('away')
    await again
    expect(paths()[1], 'the same slip').to.equal(paths()[0])
    const changed = begin(content('2'))
    ;(await until(3))({})
    await changed
    expect(paths()[2], 'another').to.not.equal(paths()[0])
    expect(at()).to.equal(paths()[2]!.replace('PUT /api/slips', '/waste'))
    await router.push('/here')
    const refused = begin(content('2'))
    ;(await until(4))({ status: 422, body: { code: 'x', detail: 'As it was said.', fields: [], status: 422 } })
    await refused
    expect(paths()[3], 'one more of the same').to.not.equal(paths()[2])
    const { useStrip } = await import('../src/shell/strip.ts')
    expect(useStrip().message!.text).to.equal('As it was said.')
    useStrip().say('', 'good', [], 0)
  })
})
