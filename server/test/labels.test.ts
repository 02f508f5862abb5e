import { expect } from 'chai'
import { readOwnCode } from '@shelve/core'
import type { CodeMeaning, LotView } from '@shelve/contract'
import { newItem, world } from './client.ts'
import { symbolsOf, textOf } from './pdf.ts'

describe('labels', () => {
  it('each says item, lot and day; its symbol, read back off the drawn page, is that lot', async () => {
    const w = await world()
    const serum = await newItem(w.c, { name: 'Serum, horse', code: 'SER', identifiedBy: 'lot_expiry' })
    const rope = await newItem(w.c, {
      name: 'Rope, polypropylene, 8 mm, orange, with a rather long name to wrap',
      code: 'ROP',
    })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'S' },
      lines: [
        w.c.line({ item: serum.id, typed: '2', lot: { code: 'A/7-x', expiry: '2027-05-01' } }),
        w.c.line({ item: rope.id, typed: '1' }),
      ],
    })
    const [lot] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${serum.id}/lots`)).rows
    const print = async (body: object) => {
      const r = await fetch(`${w.c.base}/api/label-papers`, {
        method: 'POST',
        headers: { cookie: w.c.cookie, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
      return r.status === 200 ? new Uint8Array(await r.arrayBuffer()) : r.status
    }
    const labels = [
      { item: serum.id, lot: lot!.id, count: 2 },
      { item: rope.id, lot: null, count: 1 },
    ]
    const sheet = (await print({ size: 'sheet', skip: 23, labels })) as Uint8Array
    const pages = await symbolsOf(sheet)
    expect(
      pages.map(p => p.length),
      'one place was left on the first sheet',
    ).to.deep.equal([1, 2])
    const codes = [...pages[0]!, ...pages[1]!.sort()]
    const meanings = await Promise.all(codes.map(c => w.c.get<CodeMeaning>(`/api/codes/${c}`)))
    expect(meanings.map(m => [m.kind, m.item, m.lot?.code ?? null])).to.deep.include.members([
      ['lot', serum.id, 'A/7-x'],
      ['item', rope.id, null],
    ])
    expect(codes.map(c => readOwnCode(c)?.kind).sort()).to.deep.equal(['item', 'lot', 'lot'])
    const text = (await textOf(sheet)).flat().join(' ')
    expect(text)
      .to.match(/Serum, horse SER lot A\/7-x SVL\d+ use by 1 May 2027/)
      .and.include('with a rather')
    const roll = (await print({ size: 'roll', labels })) as Uint8Array
    expect((await symbolsOf(roll)).map(p => p.length)).to.deep.equal([1, 1, 1])
    expect(
      await print({ size: 'roll', labels: [{ item: rope.id, lot: lot!.id, count: 1 }] }),
      'a lot of another item',
    ).to.equal(404)
    expect(
      await print({
        size: 'roll',
        labels: [
          { item: rope.id, lot: null, count: 300 },
          { item: serum.id, lot: null, count: 300 },
          { item: rope.id, lot: null, count: 1 },
        ],
      }),
    ).to.equal(422)
    await w.stop()
  })
})
