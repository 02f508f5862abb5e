import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Often } from '@shelve/contract'
import { newItem, person, world } from './client.ts'

describe('what is often written on a kind of slip', () => {
  it('is of that kind, that place, that job or supplier, most first, in the unit it was last; nothing that is retired', async () => {
    const w = await world()
    const [a, b, c] = await Promise.all(
      ['Gloves', 'Rope', 'Soap'].map(name => newItem(w.c, { name, packs: [{ name: 'case', size: '10' }] })),
    )
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const jobs = await Promise.all(
      ['J1', 'J2'].map(async code => (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code, name: code })).id),
    )
    const line = (item: string, unit: string | null = null) => w.c.line({ item, typed: '1', unit })
    const come = (place: string, supplier: string, ...items: string[]) =>
      w.c.must({ kind: 'receipt', place, head: { supplier }, lines: items.map(i => line(i, 'case')) })
    await come(w.lab.id, 'Ostrelith', a!.id, b!.id, c!.id)
    await come(w.lab.id, 'Tholebeck', b!.id)
    await come(shed, 'Tholebeck', c!.id)
    const take = (job: string, ...items: string[]) =>
      w.c.must({ kind: 'issue', place: w.lab.id, head: { job }, lines: items.map(i => line(i)) })
    await take(jobs[0]!, a!.id, b!.id)
    await take(jobs[0]!, a!.id)
    await take(jobs[1]!, c!.id)
    const often = async (q: string, by = w.c) =>
      (await by.get<{ rows: Often[] }>(`/api/often?${q}`)).rows.map(r => [
        [a, b, c].find(i => i!.id === r.item)!.name,
        r.unit,
        r.n,
      ])
    expect(await often(`kind=receipt&place=${w.lab.id}`)).to.deep.equal([
      ['Rope', 'case', 2],
      ['Soap', 'case', 1],
      ['Gloves', 'case', 1],
    ])
    expect(await often(`kind=receipt&place=${w.lab.id}&supplier=Tholebeck`)).to.deep.equal([['Rope', 'case', 1]])
    expect(await often(`kind=issue&place=${w.lab.id}`)).to.deep.equal([
      ['Gloves', null, 2],
      ['Soap', null, 1],
      ['Rope', null, 1],
    ])
    expect(await often(`kind=issue&place=${w.lab.id}&job=${jobs[1]}`)).to.deep.equal([['Soap', null, 1]])
    expect(await often(`kind=waste&place=${w.lab.id}`)).to.deep.equal([])
    const keeper = await person(w, 'Ruben', 'keeper', shed)
    expect((await keeper.call('GET', `/api/often?kind=issue&place=${w.lab.id}`)).status, 'another place').to.equal(404)
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job: jobs[1]! },
      lines: [w.c.line({ item: a!.id, typed: '8' })],
    })
    const names = async (kind: string) => (await often(`kind=${kind}&place=${w.lab.id}`)).map(r => r[0])
    expect(await names('issue'), 'of which nothing lies here, going out').to.deep.equal(['Soap', 'Rope'])
    expect(await names('receipt')).to.deep.equal(['Rope', 'Soap', 'Gloves'])
    await w.c.ok('DELETE', `/api/items/${a!.id}`)
    expect(await names('receipt')).to.deep.equal(['Rope', 'Soap'])
    await w.stop()
  })

  it('of a place where little is written, however much is elsewhere', async () => {
    const w = await world()
    const soap = await newItem(w.c, { name: 'Soap' })
    const cove = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Cove', kind: 'area' })).id
    for (const place of [cove, w.lab.id])
      await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Ostrelith' },
        lines: [w.c.line({ item: soap.id, typed: '1', price: '1' })],
      })
    // As the last one, again and again: of the rest of a slip nothing is asked.
    const { client } = w.app.store
    const columns = (client.pragma('table_info(slip)') as { name: string }[]).map(c => c.name)
    const last = client.prepare('select max(id) as id, max(last_seq) as seq from slip').get() as {
      id: bigint
      seq: bigint
    }
    const value = (c: string) =>
      ({ id: ':id', uid: ':uid', number: ':uid', first_seq: ':seq', last_seq: ':seq' })[c] ?? `"${c}"`
    const again = client.prepare(
      `insert into slip (${columns.map(c => `"${c}"`).join(', ')}) select ${columns.map(value).join(', ')} from slip where id = :last`,
    )
    client.transaction(() => {
      for (let n = 1n; n <= 4100n; n++) again.run({ id: last.id + n, uid: v7(), seq: last.seq + n, last: last.id })
    })()
    const { rows } = await w.c.get<{ rows: Often[] }>(`/api/often?kind=receipt&place=${cove}`)
    expect(rows.map(r => [r.item, r.n])).to.deep.equal([[soap.id, 1]])
    await w.stop()
  })
})
