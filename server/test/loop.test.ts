import { once } from 'node:events'
import { type AddressInfo, connect, createServer } from 'node:net'
import { expect } from 'chai'
import type { Item, SlipView } from '@shelve/contract'
import { eachInPieces, FIRST_PIECE, givingWay, inOrder, inPieces, nextPiece } from '../src/ground/index.ts'
import { paged } from '../src/rights/route.ts'
import { newItem, world, type World } from './client.ts'

/** What can grow is sent in pieces: whoever asks meanwhile is answered before it ends, also beside a reader that takes all at once. */
describe('a long list is taken out piece by piece', () => {
  const cases: readonly [piece: number, took: number, most: number, next: number, why: string][] = [
    [20, 3, 150, 40, 'it was quick: twice as many'],
    [20, 9.9, 150, 40, 'just under what a piece may take'],
    [20, 10, 150, 20, 'what a piece may take'],
    [100, 1, 150, 150, 'never more than the most'],
    [80, 20, 150, 80, 'twice that is still borne'],
    [80, 20.1, 150, 40, 'beyond it: half as many'],
    [15, 90, 150, 10, 'never fewer than it begins with'],
    [5, 90, 5, 5, 'a list of which fewer are taken at once'],
  ]
  for (const [piece, took, most, next, why] of cases)
    it(`${piece} lines in ${took} ms, at most ${most} → ${next}: ${why}`, () => {
      expect(nextPiece(piece, took, most)).to.equal(next)
    })

  it('every line once, in order, however many stand in a piece; it begins with few', async () => {
    const all = Array.from({ length: 777 }, (_, i) => i)
    const limits: number[] = []
    const page = ({ cursor, limit }: { cursor?: string | undefined; limit?: number | undefined }) => {
      limits.push(limit!)
      const from = Number(cursor ?? 0)
      const to = from + limit!
      return { rows: all.slice(from, to), next: to < all.length ? String(to) : null, total: null }
    }
    let rows: AsyncIterable<number> | undefined
    const listable = await paged(true, {}, page, of => {
      rows = of
      return undefined as never
    })
    listable.list(listable.answer, a => a)
    const taken: number[] = []
    for await (const r of rows!) taken.push(r)
    expect(taken).to.deep.equal(all)
    expect(limits[0]).to.equal(FIRST_PIECE)
    expect(Math.max(...limits)).to.be.at.most(150)
  })
})

describe('something long is put in order', () => {
  for (const length of [0, 1, 3999, 4000, 4001, 8000, 8001, 12_345])
    it(`${length} rows as all at once, what is alike in the order it had`, async () => {
      let x = length
      const of = Array.from({ length }, (_, n) => ({ n, by: (x = (x * 48_271 + 11) % 2_147_483_647) % 50 }))
      const byKey = (a: { by: number }, b: { by: number }) => a.by - b.by
      const was = [...of]
      expect(await inOrder(of, byKey)).to.deep.equal([...of].sort(byKey))
      expect(of, 'what was given stays as it is').to.deep.equal(was)
    })
})

describe('what takes long lets others in after each of its pieces', () => {
  const sorts: Record<string, (pieces: readonly (() => void)[]) => Promise<unknown>> = {
    inPieces: async of => {
      for await (const piece of inPieces(of)) piece()
    },
    eachInPieces: of => eachInPieces(of, piece => piece()),
    givingWay: of =>
      givingWay(
        (function* () {
          for (const piece of of) {
            piece()
            yield
          }
        })(),
      ),
  }
  for (const [sort, run] of Object.entries(sorts))
    it(`${sort}, also where it began in answer to something that came`, async () => {
      const order: string[] = []
      // Two who ask: the second one's question is on its way before the first piece for the first one is done.
      const server = createServer(socket =>
        socket.on('data', asked => {
          order.push(`${asked.toString()} came`)
          if (asked.toString() === 'first') done(run(pieces))
        }),
      )
      await new Promise<void>(ok => server.listen(0, '127.0.0.1', ok))
      const caller = async () => {
        const socket = connect((server.address() as AddressInfo).port, '127.0.0.1')
        await once(socket, 'connect')
        return socket
      }
      const [first, second] = [await caller(), await caller()]
      const pieces = ['one', 'two', 'three'].map(name => () => {
        if (name === 'one') second.write('second')
        order.push(name)
      })
      let done: (all: Promise<unknown>) => void = () => undefined
      const all = new Promise<unknown>(ok => {
        done = ok
      })
      let now = 0
      performance.now = () => (now += 1000)
      try {
        first.write('first')
        await all
      } finally {
        delete (performance as { now?: unknown }).now
        for (const socket of [first, second]) socket.destroy()
        server.close()
      }
      expect(order.slice(0, 4)).to.deep.equal(['first came', 'one', 'second came', 'two'])
    })
})

describe('long answers let others in', () => {
  let w: World
  let flour: Item
  before(async () => {
    w = await world()
    flour = await newItem(w.c, { code: 'FLR', name: 'Flour' })
    for (let i = 0; i < 24; i++)
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Aster' },
        lines: Array.from({ length: 200 }, () => w.c.line({ item: flour.id, typed: '1', price: '2' })),
      })
  })
  after(() => w.stop())

  for (const [path, accept] of [
    ['/api/ledger.csv', '*/*'],
    ['/api/ledger.jsonl', '*/*'],
    ['/api/ledger.journal', '*/*'],
    ['/api/items/ITEM/movements', 'text/csv'],
  ] as const)
    it(`${path} as ${accept}`, async () => {
      const r = await fetch(w.c.base + path.replace('ITEM', flour.id), {
        headers: { cookie: w.c.cookie, accept, 'accept-encoding': 'identity' },
      })
      const order: string[] = []
      let bytes = 0
      let asked: Promise<unknown> | undefined
      for await (const chunk of r.body as unknown as AsyncIterable<Uint8Array>) {
        bytes += chunk.length
        asked ??= w.c.get('/api/health').then(() => order.push('another'))
      }
      order.push('the end')
      await asked
      expect(bytes).to.be.greaterThan(300_000)
      expect(order).to.deep.equal(['another', 'the end'])
    })

  it('compressed on the way it is the same, and leaves nothing behind that listens', async () => {
    const warned: string[] = []
    const hear = (w: Error) => void warned.push(w.message)
    process.on('warning', hear)
    const told = async (encoding: string) => {
      const r = await fetch(`${w.c.base}/api/ledger.journal`, {
        headers: { cookie: w.c.cookie, 'accept-encoding': encoding },
      })
      expect(r.headers.get('content-encoding') ?? 'identity').to.equal(encoding)
      return r.text()
    }
    expect(await told('gzip')).to.equal(await told('identity'))
    process.off('warning', hear)
    expect(warned).to.deep.equal([])
  })

  it('all of a list is the same by pages as at once, each line once', async () => {
    const { text } = await w.c.call('GET', `/api/items/${flour.id}/movements`, undefined, { accept: 'text/csv' })
    const lines = text.trim().split('\r\n').slice(1)
    expect(lines.length).to.equal(24 * 200)
    expect(lines.at(-1)!.split(',')[7], 'the first movement left what it brought').to.equal('1')
    const slips = await w.c.call('GET', '/api/slips', undefined, { accept: 'text/csv' })
    expect(slips.text.trim().split('\r\n').length).to.equal(1 + 24)
  })

  it('a list too long for paper is refused in words; what is printed beside it comes out', async () => {
    for (let i = 0; i < 2; i++)
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Aster' },
        lines: Array.from({ length: 200 }, () => w.c.line({ item: flour.id, typed: '1', price: '2' })),
      })
    const pdf = (path: string) => w.c.call<SlipView>('GET', path, undefined, { accept: 'application/pdf' })
    const [long, short] = await Promise.all([pdf(`/api/items/${flour.id}/movements`), pdf('/api/slips')])
    expect([long.status, long.body.code, short.status]).to.deep.equal([422, 'too_long_for_paper', 200])
  })
})
