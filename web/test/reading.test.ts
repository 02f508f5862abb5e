import { expect } from 'chai'
import { effectScope, nextTick, ref } from 'vue'
import { browser } from './browser.ts'

const soon = async () => {
  await nextTick()
  await new Promise(setImmediate)
}

describe('what stands on a page, and the question that it answers', () => {
  let asks: {
    path: string
    given: boolean
    come: (status: number, of?: string) => Promise<void>
    lose: () => Promise<void>
  }[]
  let reading: typeof import('../src/shell/reading.ts')
  before(async () => {
    browser()
    reading = await import('../src/shell/reading.ts')
  })
  beforeEach(() => {
    asks = []
    Object.defineProperty(globalThis, 'fetch', {
      configurable: true,
      value: (path: string, { signal }: RequestInit) =>
        new Promise<Response>((ok, no) => {
          const problem = { type: 'urn:x', title: 'x', status: 422, code: 'span', detail: 'Too long.', fields: [] }
          const ask = {
            path,
            given: false,
            come: (status: number, of = path) => {
              const body = JSON.stringify(status === 200 ? { of } : problem)
              ok(new Response(body, { status, headers: { 'content-type': 'application/json' } }))
              return soon()
            },
            lose: () => {
              no(new TypeError('network'))
              return soon()
            },
          }
          signal!.addEventListener('abort', () => {
            ask.given = true
            no(new DOMException('', 'AbortError'))
          })
          asks.push(ask)
        }),
    })
  })
  /** Reads by what `question` says; runs `how` and ends. */
  async function reads(
    how: (r: {
      question: { value: string | undefined }
      wrong: { value: string }
      stands: () => [of: string | undefined, behind: boolean]
    }) => Promise<void>,
    says: boolean,
  ) {
    const scope = effectScope()
    const question = ref<string | undefined>('/a')
    const wrong = ref('')
    const { it } = scope.run(() =>
      reading.useReading<{ of: string }>(() => question.value, undefined, says ? wrong : undefined),
    )!
    await how({ question, wrong, stands: () => [it.value?.of, reading.isBehind.value] })
    scope.stop()
    expect(reading.isBehind.value, 'nobody looks at it any more').to.equal(false)
  }

  it('another question is asked at once, and the one before given up; what stands until then is said to be behind', () =>
    reads(async ({ question, stands }) => {
      expect(stands(), 'nothing stands there yet').to.deep.equal([undefined, false])
      await asks[0]!.come(200)
      expect(stands()).to.deep.equal(['/a', false])
      question.value = '/b'
      expect(stands(), 'from the first moment on').to.deep.equal(['/a', true])
      await soon()
      question.value = '/c'
      await soon()
      expect(asks.map(a => [a.path, a.given])).to.deep.equal([
        ['/a', false],
        ['/b', true],
        ['/c', false],
      ])
      await asks[1]!.come(200)
      expect(stands(), 'nobody waits for it').to.deep.equal(['/a', true])
      question.value = '/a'
      expect(stands(), 'it is what is asked again').to.deep.equal(['/a', false])
      await soon()
      await asks[3]!.come(200, '/a, anew')
      expect(stands()).to.deep.equal(['/a, anew', false])
    }, false))

  it('where another question is refused nothing stands there; where the same is, what stood there does', () =>
    reads(async ({ question, stands }) => {
      await asks[0]!.come(200)
      const { tellAnew } = await import('../src/shell/events.ts')
      tellAnew()
      while (asks.length < 2) await soon()
      await asks[1]!.come(422)
      expect(stands()).to.deep.equal(['/a', false])
      question.value = '/b'
      await soon()
      await asks[2]!.come(422)
      expect(stands()).to.deep.equal([undefined, false])
    }, false))

  it('a view that says itself why nothing can be shown shows nothing beside it, and goes on with the next', () =>
    reads(async ({ question, wrong, stands }) => {
      await asks[0]!.come(200)
      question.value = '/b'
      await soon()
      await asks[1]!.come(422)
      expect([wrong.value, ...stands()]).to.deep.equal(['Too long.', undefined, false])
      question.value = '/c'
      await soon()
      await asks[2]!.come(200)
      expect([wrong.value, ...stands()]).to.deep.equal(['', '/c', false])
      const { tellAnew } = await import('../src/shell/events.ts')
      tellAnew()
      while (asks.length < 4) await soon()
      await asks[3]!.lose()
      expect([wrong.value, ...stands()], 'away: the frame says so').to.deep.equal(['', '/c', false])
      question.value = undefined
      await soon()
      expect([asks.length, ...stands()], 'nothing is asked').to.deep.equal([4, undefined, false])
    }, true))
})
