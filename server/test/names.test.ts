// Jobs, cost centres, suppliers and reasons are renamed and taken out of use; what was booked with them stays with them.
import { expect } from 'chai'
import type { Job, Named, SlipView } from '@shelve/contract'
import { verify, ledgerJournal } from '@shelve/server'
import { newItem, PASSWORD, person, world, type World } from './client.ts'

describe('names', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())
  const rows = async <T extends { name: string }>(path: string) => (await w.c.get<{ rows: T[] }>(path)).rows
  const named = async (path: string, name: string) => (await rows<Named>(path)).find(r => r.name === name)!
  const taken = async (path: string, body: object) => (await w.c.call('PUT', path, body)).body.code

  it('are written otherwise everywhere, and what is out of use takes nothing new but gives back what it has', async () => {
    const { c, lab } = w
    const gloves = await newItem(c, { name: 'Gloves', code: 'GLV' })
    const centre = (await c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Chemistry', code: 'CHEM' })).id
    const job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'NIT', name: 'Nitrate run' })).id
    await c.ok('POST', '/api/jobs', { code: 'PLK', name: 'Plankton' })
    const line = (typed: string, more: object = {}) => c.line({ item: gloves.id, typed, ...more })
    await c.must({ kind: 'receipt', place: lab.id, head: { supplier: 'Ostre' }, lines: [line('20', { price: '2' })] })
    const issued = await c.must({ kind: 'issue', place: lab.id, head: { job }, lines: [line('6')] })
    const reason = await named('/api/waste-reasons', 'Spilled')
    const wasted = await c.must({ kind: 'waste', place: lab.id, head: { reason: reason.id }, lines: [line('1')] })

    const supplier = await named('/api/suppliers', 'Ostre')
    await c.ok('PUT', `/api/suppliers/${supplier.id}`, { name: 'Ostrelith' })
    await c.ok('PUT', `/api/cost-centres/${centre}`, { name: 'Wet chemistry', code: 'WCH' })
    await c.ok('PUT', `/api/jobs/${job}`, { name: 'Nitrate week', code: 'NIT', costCentre: centre })
    await c.ok('PUT', `/api/waste-reasons/${reason.id}`, { name: 'Poured away' })
    expect((await rows<Named>('/api/suppliers')).map(r => r.name)).to.deep.equal(['Ostrelith'])
    expect((await c.get<SlipView>(`/api/slips/${issued.id}`)).title, 'as it was written then').to.equal(
      'to Nitrate run',
    )
    expect((await rows<Job>('/api/jobs')).find(j => j.id === job)).to.deep.include({
      name: 'Nitrate week',
      active: true,
      costCentre: { id: centre, name: 'Wet chemistry' },
    })
    const journal = [...ledgerJournal(w.app)].join('')
    expect(journal).to.include('Poured away').and.include('supplier:Ostrelith').and.not.include('Spilled')
    expect(verify(w.app).faults, 'a name is no part of what is sealed').to.deep.equal([])

    // No two of a list bear one name or one code, however it is written.
    await c.received(lab.id, 'Tholebeck', line('1', { price: '2' }))
    expect(await taken(`/api/suppliers/${supplier.id}`, { name: 'THOLEBECK' })).to.equal('name_taken')
    expect(await taken(`/api/jobs/${job}`, { name: 'Nitrate week', code: 'plk' })).to.equal('code_taken')
    expect(await taken(`/api/waste-reasons/${reason.id}`, { name: 'expired' })).to.equal('name_taken')
    expect(await taken(`/api/jobs/${centre}`, { name: 'X', code: 'X' }), 'of another list').to.equal('not_found')
    const keeper = await person(w, 'Ruben', 'keeper')
    expect((await keeper.call('PUT', `/api/jobs/${job}`, { name: 'Mine', code: 'NIT' })).status).to.equal(403)

    // Out of use: nothing new, but what it has comes back, is put right, and is taken back.
    await c.ok('PUT', `/api/jobs/${job}`, { name: 'Nitrate week', code: 'NIT', active: false })
    await c.ok('PUT', `/api/waste-reasons/${reason.id}`, { name: 'Poured away', active: false })
    const refused = async (content: Parameters<typeof c.book>[0]) =>
      (await c.book(content)).body.fields?.map(f => f.code)
    expect(await refused({ kind: 'issue', place: lab.id, head: { job }, lines: [line('1')] })).to.deep.equal([
      'for_whom_ended',
    ])
    expect(
      await refused({ kind: 'waste', place: lab.id, head: { reason: reason.id }, lines: [line('1')] }),
    ).to.deep.equal(['reason_ended'])
    const direct = { job, costCentre: null, person: '' }
    expect(
      await refused({
        kind: 'receipt',
        place: lab.id,
        head: { supplier: 'Ostrelith' },
        lines: [line('1', { price: '2', direct })],
      }),
    ).to.deep.equal(['for_whom_ended'])
    await c.must({ kind: 'bring_back', place: lab.id, head: { job }, lines: [line('2')] })
    const replace = (of: SlipView, typed: string, head: object) =>
      c.must({
        kind: 'correction',
        place: lab.id,
        head: { ...head, corrects: of.id, why: 'counted wrongly' },
        lines: [line(typed, { ref: of.lines[0]!.id, act: 'replace' })],
      })
    await replace(issued, '5', { job })
    await replace(wasted, '2', { reason: reason.id })
    await c.ok('PUT', `/api/jobs/${job}`, { name: 'Nitrate week', code: 'NIT', active: true })
    await c.must({ kind: 'issue', place: lab.id, head: { job }, lines: [line('1')] })
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('are found whatever the size of their letters, in any script; a sign of patterns is itself', async () => {
    const { c, lab } = w
    const item = await newItem(c, { name: 'Ætsning Øl 5 %', code: 'ØL-1' })
    await c.ok('POST', '/api/jobs', { code: 'ÅR', name: 'Årsmøde', place: lab.id, day: '2026-11-27' })
    await c.ok('POST', '/api/people', { name: 'Çelik', signIn: 'celik', password: PASSWORD, role: 'keeper' })
    const slip = await c.received(lab.id, 'Дом', c.line({ item: item.id, typed: '1', price: '1' }))
    const q = encodeURIComponent
    const found = async (word: string) =>
      (await c.get<{ rows: { name: string }[] }>(`/api/search?q=${q(word)}`)).rows.map(r => r.name)
    for (const [word, name] of [
      ['årsm', 'Årsmøde'],
      ['ÅRSMØDE', 'Årsmøde'],
      ['åR', 'Årsmøde'],
      ['arsmode', 'Årsmøde'],
      ['celi', 'Çelik'],
      ['çel', 'Çelik'],
      ['дом', 'Дом'],
    ] as const)
      expect(await found(word), word).to.include(name)
    const items = async (word: string) =>
      (await c.get<{ rows: { code: string }[] }>(`/api/items?q=${q(word)}`)).rows.map(r => r.code)
    const slips = async (word: string) =>
      (await c.get<{ rows: { id: string }[] }>(`/api/slips?q=${q(word)}`)).rows.map(r => r.id)
    const stock = async (word: string) =>
      (await c.get<{ rows: { code: string }[] }>(`/api/stock?q=${q(word)}`)).rows.map(r => r.code)
    for (const word of ['ætsning', 'øl', 'ÆTS øL', '5 %', 'øl-1', 'aetsning', 'OL 5']) {
      expect([await items(word), await stock(word)], word).to.deep.equal([['ØL-1'], ['ØL-1']])
      expect(await slips(word), word).to.deep.equal([slip.id])
    }
    // A special letter means only itself.
    for (const word of ['æ_s', '%æ', 'æ\\', 'öl'] as const)
      expect([await items(word), await stock(word), await slips(word)], word).to.deep.equal([[], [], []])
    const cream = await newItem(c, { name: 'Crème', identifiedBy: 'lot' })
    await c.must({
      kind: 'opening',
      place: lab.id,
      lines: [c.line({ item: cream.id, typed: '1', price: '1', lot: { code: 'Ü7', expiry: null } })],
    })
    const lots = async (word: string) =>
      (await c.get<{ rows: { code: string }[] }>(`/api/lots?q=${q(word)}`)).rows.map(r => r.code)
    for (const word of ['creme', 'CRÈME', 'crème u7', 'ü7']) expect(await lots(word), word).to.deep.equal(['Ü7'])
    expect(await lots('créme')).to.deep.equal([])
    const noted = await c.get<{ rows: { subject: string }[] }>(`/api/audit?q=${q('ÇELIK')}`)
    expect(noted.rows.map(r => r.subject)).to.include('Çelik')
  })

  it('of jobs that are over, which grow in number all the time, are told a hundred at once, the latest, or those that are called so', async () => {
    const { c } = w
    const all: string[] = []
    for (let n = 0; n < 104; n++) {
      const { id } = await c.ok<{ id: string }>('POST', '/api/jobs', { name: `Pump service ${n % 2 ? 'odd' : 'even'}` })
      await c.ok('PUT', `/api/jobs/${id}`, { name: `Pump ${n}`, code: `PS-${n}`, active: n >= 102 })
      all.push(id)
    }
    const told = async (q: string) => {
      const { rows, more } = await c.get<{ rows: Job[]; more: number }>(`/api/jobs${q}`)
      return { ids: rows.map(r => r.id).filter(id => all.includes(id)), more, active: rows.map(r => r.active) }
    }
    const inUse = await told('')
    expect([inUse.ids, inUse.more]).to.deep.equal([[all[102], all[103]], 102])
    expect(inUse.active).not.to.include(false)
    const over = await told('?over=yes')
    expect([over.ids, over.more]).to.deep.equal([all.slice(2, 102).reverse(), 2])
    expect((await told('?over=yes&q=pump%201')).ids).to.deep.equal(
      [1, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 100, 101].map(n => all[n]).reverse(),
    )
    expect((await told('?over=yes&q=ps-7')).ids).to.deep.equal(
      [7, 70, 71, 72, 73, 74, 75, 76, 77, 78, 79].map(n => all[n]).reverse(),
    )
    expect(await told(`?job=${all[0]}`)).to.deep.equal({ ids: [all[0]], more: 0, active: [false] })
    expect((await c.call('GET', '/api/jobs?job=nobody')).status).to.equal(400)
  })
  it('a job that is only a name gets a code out of it that no other has, whether that is in use or not', async () => {
    const { c } = w
    const code = async (name: string) => {
      const { id } = await c.ok<{ id: string }>('POST', '/api/jobs', { name })
      const { rows } = await c.get<{ rows: Job[] }>(`/api/jobs?job=${id}`)
      return { id, code: rows[0]!.code }
    }
    const first = await code('Boiler service')
    await c.ok('PUT', `/api/jobs/${first.id}`, { name: 'Boiler service', code: 'boi-s', active: false })
    expect([first.code, (await code('Boiler service')).code, (await code('Boilers soon')).code]).to.deep.equal([
      'BOI-S',
      'BOI-S2',
      'BOI-S3',
    ])
  })
})
