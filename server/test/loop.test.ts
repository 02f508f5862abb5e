import { expect } from 'chai'
import type { Item, SlipView } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

/** What can grow is sent in pieces: whoever asks meanwhile is answered before it ends, also beside a reader that takes all at once. */
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
