// A thing nobody knows is written down by whoever finds it, and completed by whoever sets up.
import { expect } from 'chai'
import type { CodeMeaning, Item, Me, Today } from '@shelve/contract'
import { newItem, person, world } from './client.ts'

describe('items as they were found', () => {
  it('are made by a keeper with a proposed code, booked at once, and asked of whoever sets up until they are saved', async () => {
    const w = await world()
    await newItem(w.c, { name: 'Weighing boats', code: 'WEI-B' })
    const keeper = await person(w, 'Ruben', 'keeper')
    const body = { code: '9529990000018', name: 'Weighing bottles', unit: 'box', pack: { name: 'case', size: '6' } }
    const made = await keeper.ok<Item>('POST', '/api/found-items', body)
    expect(made).to.deep.include({ code: 'WEI-B2', decimals: 0, identifiedBy: 'quantity', foundBy: 'Ruben', codes: [] })
    expect(made.packs.map(p => [p.name, p.size, p.codes])).to.deep.equal([['case', '6', ['9529990000018']]])
    expect(await keeper.get<CodeMeaning>('/api/codes/9529990000018')).to.include({ item: made.id, pack: 'case' })
    await keeper.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [keeper.line({ item: made.id, typed: '2', unit: 'case', price: '3' })],
    })

    // Where the code is another's, or the person only asks: nothing is made.
    const again = await keeper.call('POST', '/api/found-items', { ...body, name: 'Other' })
    expect([again.status, again.body]).to.deep.include(409).and.have.nested.property('[1].code', 'code_taken')
    const asking = await person(w, 'Mia', 'requester')
    expect((await asking.call('POST', '/api/found-items', { ...body, code: 'X-1' })).status).to.equal(403)
    const short = await keeper.call('POST', '/api/found-items', { ...body, name: ' ', code: 'X-1' })
    expect(short.status).to.equal(422)

    const waits = async (c: typeof w.c) => (await c.get<Today>('/api/today')).waiting.find(x => x.kind === 'found')
    expect(await waits(keeper), 'it is no keeper’s work').to.equal(undefined)
    expect(await waits(w.c))
      .to.deep.include({ n: 1 })
      .and.have.nested.property('named[0].name', 'Weighing bottles')
    const list = async () => (await w.c.get<{ rows: Item[] }>('/api/items?active=found')).rows.map(r => r.code)
    expect(await list()).to.deep.equal(['WEI-B2'])
    await w.c.ok('PUT', `/api/items/${made.id}`, {
      ...made,
      category: null,
    })
    expect(await waits(w.c)).to.equal(undefined)
    expect(await list()).to.deep.equal([])
  })
  it('are not costed by a standard that nobody said, and what is weighed has decimals', async () => {
    const w = await world()
    const settings = (await w.c.get<Me>('/api/session')).settings
    await w.c.ok('PUT', '/api/settings', { ...settings, method: 'standard' })
    const keeper = await person(w, 'Ruben', 'keeper')
    const made = await keeper.ok<Item>('POST', '/api/found-items', { code: 'SALT-1', name: 'Salt', unit: 'kg' })
    expect(made).to.deep.include({ method: 'average', decimals: 3, code: 'SALT', codes: ['SALT-1'] })
  })
})
