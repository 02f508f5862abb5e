// Templates: what they say, what making by them takes and costs. Figures as the core's reference has them (core/test/jobs).
import { expect } from 'chai'
import { v7 } from 'uuid'
import Database from 'better-sqlite3'
import type { Place, TemplateInput, TemplateNeeds, TemplateRow, TemplateView } from '@shelve/contract'
import { join } from 'node:path'
import { DATABASE } from '@shelve/server'
import { newItem, person, world, type World } from './client.ts'
import { kitchen } from './kitchen.ts'

describe('templates', () => {
  let w: World
  let k: Awaited<ReturnType<typeof kitchen>>
  let cellar: Place
  before(async () => {
    w = await world()
    k = await kitchen(w)
    cellar = await w.c.ok<Place>('POST', '/api/places', { name: 'Cellar', kind: 'area', parent: w.lab.parent })
  })
  after(() => w.stop())

  const needs = (code: string, query = '', c = w.c) =>
    c.get<TemplateNeeds>(`/api/templates/${k.ids[code]}/needs?${query}`)
  const refused = async (t: TemplateInput | object, id?: string, headers = {}) => {
    const r = await w.c.call(id ? 'PUT' : 'POST', `/api/templates${id ? `/${id}` : ''}`, t, headers)
    return [r.status, r.body.code, r.body.fields?.[0]?.field, r.body.detail]
  }
  it('say how something is made, each part by its own: what it takes, level by level, and what that costs', async () => {
    await k.makeAll()
    const n = await needs('DIN', `wanted=26&place=${w.lab.id}`)
    expect([n.wanted, n.unit, n.cost, n.one, n.atLast]).to.deep.equal([
      '26',
      'portion',
      '83.48395',
      '3.210921',
      '83.48395',
    ])
    expect(n.lines.map(l => [l.item.name, l.need, l.make, l.made && 'made', l.here, l.missing])).to.deep.equal([
      ['sauce', '2.44', '2.5', 'made', '0', '0'],
      ['stock', '1.974', '1.974', 'made', '0', '0'],
      ['fish', '5.318', '0', null, '9.5', '0'],
      ['lemon', '11', '0', null, '18', '0'],
      ['foil tray', '7', '0', null, '11', '0'],
      ['butter', '0.349', '0', null, '0.6', '0'],
      ['flour', '0.263', '0', null, '0.9', '0'],
      ['onion', '0.292', '0', null, '2', '0'],
      ['carrot', '0.206', '0', null, '1.5', '0'],
      ['stock cube', '2', '0', null, '6', '0'],
    ])
    expect(n.lines.find(l => l.item.name === 'lemon')!.exact, 'before it was rounded').to.equal('10.4')
    expect(n.lines.find(l => l.item.name === 'fish')!.exact).to.equal('5.318181818…')
    const worth = n.lines.reduce((sum, l) => sum + Number(l.worth ?? 0), 0)
    expect(worth, 'the lines are the working of the sum').to.be.closeTo(83.48395, 1e-9)
  })
  it('how many could be made of what is there, and what is short at one more', async () => {
    await w.c.received(w.lab.id, 'Quillfern', w.c.line({ item: k.items.sauce!.id, typed: '0.7', price: '3' }))
    const n = await needs('DIN', `place=${w.lab.id}`)
    expect([n.wanted, n.could, n.short.map(s => [s.item.name, s.quantity])]).to.deep.equal([
      '10',
      '45',
      [['lemon', '1']],
    ])
    const sauce = n.lines.find(l => l.item.name === 'sauce')!
    expect(
      [sauce.need, sauce.here, sauce.make, sauce.cost],
      'a part that is there is taken, at its cost',
    ).to.deep.equal(['1', '0.7', '0.5', '3'])
    // Elsewhere lies what is not here: told beside it.
    const there = await needs('DIN', `wanted=60&place=${cellar.id}`)
    const lemon = there.lines.find(l => l.item.name === 'lemon')!
    expect([there.could, lemon.need, lemon.here, lemon.elsewhere, lemon.missing]).to.deep.equal([
      '0',
      '24',
      '0',
      '18',
      '6',
    ])
    const packs = await w.c.call('GET', `/api/templates/${k.ids.DIN}/needs?wanted=2 case`)
    expect([packs.body.code, packs.body.fields[0]?.field]).to.deep.equal(['unknown_unit', 'wanted'])
  })
  it('what only uses is done in runs', async () => {
    await k.make(
      k.recipe('SVC', null, [['butter', '0.1', '0.05']], {
        name: 'Greasing round',
        steps: 'Once a week.\nBoth sides.',
      }),
    )
    const n = await needs('SVC', 'wanted=3')
    expect([n.wanted, n.unit, n.lines.map(l => [l.item.name, l.need]), n.could]).to.deep.equal([
      '3',
      'run',
      [['butter', '0.35']],
      '5',
    ])
    expect((await w.c.call('GET', `/api/templates/${k.ids.SVC}/needs?wanted=2.5`)).body.code).to.equal(
      'too_many_decimals',
    )
    expect((await w.c.call('GET', `/api/templates/${k.ids.SVC}/needs?wanted=-1`)).body.code).to.equal(
      'quantity_negative',
    )
  })
  it('each version stays; whoever saves what somebody else saved meanwhile is told', async () => {
    const id = k.ids.STK!
    const before = await w.c.get<TemplateView>(`/api/templates/${id}`)
    expect([before.version, before.content.lines[1]!.typed]).to.deep.equal([1, '400 g'])
    const changed = { ...before.content, lines: before.content.lines.slice(0, 2) }
    await w.c.ok('PUT', `/api/templates/${id}`, changed, { 'if-match': '"1"' })
    expect(await refused(changed, id, { 'if-match': '"1"' })).to.include(409)
    const now = await w.c.get<TemplateView>(`/api/templates/${id}`)
    expect([now.version, now.content.lines.length]).to.deep.equal([2, 2])
    const { rows } = await w.c.get<{ rows: TemplateRow[] }>('/api/templates')
    expect(rows.map(r => [r.code, r.version, r.makes?.name ?? null, r.lines])).to.deep.equal([
      ['SVC', 1, null, 1],
      ['DIN', 1, 'dinner', 4],
      ['SCE', 1, 'sauce', 3],
      ['STK', 2, 'stock', 2],
    ])
    const raw = new Database(join(w.directory, DATABASE))
    for (const sql of [
      "update template_version set content = '{}'",
      'delete from template_version',
      'insert or replace into template_version select template_id, version, content, saved_at, saved_by from template_version',
    ])
      expect(() => raw.exec(sql), sql).to.throw(/versions of a template are never/)
    raw.close()
    await w.c.ok('PUT', `/api/templates/${id}`, before.content, { 'if-match': '"2"' })
  })
  it('nothing is made of itself, and nothing in two ways; what is out of use makes nothing', async () => {
    const round = k.recipe('STK', ['stock', '5'], [['dinner', '1']])
    expect(await refused(round, k.ids.STK!)).to.deep.equal([
      409,
      'circle',
      'lines',
      'It would be made of itself: stock → dinner → sauce → stock.',
    ])
    expect((await refused(k.recipe('SLF', ['carrot', '1'], [['carrot', '2']])))[3]).to.equal(
      'It would be made of itself: carrot → carrot.',
    )
    const second = k.recipe('STK-2', ['stock', '1'], [['stock cube', '1']])
    expect((await refused(second)).slice(0, 3)).to.deep.equal([409, 'made_already', 'makes.item'])
    await k.make({ ...second, active: false })
    expect((await refused({ ...second, active: true }, k.ids['STK-2'])).slice(0, 2)).to.deep.equal([
      409,
      'made_already',
    ])
    const old = (await w.c.get<TemplateView>(`/api/templates/${k.ids.STK}`)).content
    await w.c.ok('PUT', `/api/templates/${k.ids.STK}`, { ...old, active: false })
    const n = await needs('SCE', `wanted=2&place=${w.lab.id}`)
    expect(n.lines.map(l => [l.item.name, l.made, l.missing])[0], 'bought now, and nowhere').to.deep.equal([
      'stock',
      null,
      '1.579',
    ])
    expect([n.cost, n.could], 'nobody knows what it costs').to.deep.equal([null, '0'])
    await w.c.ok('PUT', `/api/templates/${k.ids['STK-2']}`, second)
    expect((await refused({ ...old, active: true }, k.ids.STK!)).slice(0, 2)).to.deep.equal([409, 'made_already'])
    await w.c.ok('PUT', `/api/templates/${k.ids['STK-2']}`, { ...second, active: false })
    await w.c.ok('PUT', `/api/templates/${k.ids.STK}`, old)
  })
  it('what cannot be read is said, with its line and field; nothing is kept of it', async () => {
    const good = k.recipe('BAD', ['carrot', '1'], [['onion', '1']])
    const one = good.lines[0]!
    const lemon = k.items.lemon!.id
    const old = await newItem(w.c, { name: 'Lard', code: 'LARD', unit: 'kg' })
    await w.c.ok('DELETE', `/api/items/${old.id}`)
    const freight = await newItem(w.c, { name: 'Freight', code: 'FRT', kept: 'charge' } as never)
    const cases: [object, string, string][] = [
      [{ makes: { ...good.makes, typed: '0' } }, 'base_needed', 'makes.typed'],
      [{ makes: { ...good.makes, typed: 'some' } }, 'quantity_not_a_quantity', 'makes.typed'],
      [{ makes: { ...good.makes, yields: '0' } }, 'not_a_yield', 'makes.yields'],
      [{ makes: { ...good.makes, yields: '200.000001' } }, 'not_a_yield', 'makes.yields'],
      [{ makes: { ...good.makes, yields: 'all' } }, 'not_a_yield', 'makes.yields'],
      [{ makes: { ...good.makes, batch: 'x' } }, 'quantity_not_a_quantity', 'makes.batch'],
      [{ lines: [{ ...one, item: old.id }] }, 'item_retired', 'item'],
      [{ lines: [{ ...one, item: freight.id }] }, 'not_stocked', 'item'],
      [{ makes: { ...good.makes, item: old.id } }, 'item_retired', 'makes.item'],
      [{ lines: [{ ...one, typed: '' }] }, 'quantity_empty', 'typed'],
      [{ lines: [{ ...one, typed: '-1' }] }, 'quantity_negative', 'typed'],
      [{ lines: [{ ...one, typed: '1 bag' }] }, 'unknown_unit', 'typed'],
      [{ lines: [{ ...one, loss: '95.1' }] }, 'not_a_loss', 'loss'],
      [{ lines: [{ ...one, loss: '-1' }] }, 'not_a_loss', 'loss'],
      [{ lines: [{ ...one, instead: [{ item: lemon, typed: '' }] }] }, 'quantity_empty', 'instead.0.typed'],
    ]
    for (const [more, code, field] of cases) {
      const r = await w.c.call('POST', '/api/templates', { ...good, ...more })
      expect([r.status, r.body.code, r.body.fields[0]?.field], JSON.stringify(more)).to.deep.equal([422, code, field])
    }
    expect((await refused({ ...good, code: 'din' }))[1]).to.equal('code_taken')
    expect((await refused({ ...good, lines: [] }))[1]).to.equal('invalid')
    expect((await refused({ ...good, lines: [{ ...one, item: v7() }] }))[0], 'an item that is not there').to.be.oneOf([
      404, 422,
    ])
    for (const yields of ['200', '0.000001', '95,5 %'])
      expect(
        (
          await w.c.call('POST', '/api/templates', {
            ...good,
            code: `Y${yields}`,
            active: false,
            makes: { ...good.makes, yields },
          })
        ).status,
      ).to.equal(201)
  })
  it('whoever may not set up reads it only; what it costs is for whoever may see it, and other places are not told', async () => {
    const keeper = await person(w, 'nils', 'keeper', cellar.id)
    const asker = await person(w, 'pia', 'requester', w.lab.id)
    for (const c of [keeper, asker])
      expect(
        (await c.call('PUT', `/api/templates/${k.ids.STK}`, k.recipe('STK', null, [['onion', '1']]))).status,
      ).to.equal(403)
    const n = await needs('DIN', `place=${w.lab.id}`, asker)
    expect([n.cost, n.one, n.atLast, n.lines[0]!.worth, n.lines[0]!.cost, n.could]).to.deep.equal([
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
      '45',
    ])
    expect((await keeper.call('GET', `/api/templates/${k.ids.DIN}/needs?place=${w.lab.id}`)).status).to.equal(404)
    const own = await needs('DIN', `wanted=60&place=${cellar.id}`, keeper)
    expect(own.lines.map(l => l.elsewhere)).to.satisfy((e: string[]) => e.every(x => x === '0'))
    expect((await needs('DIN', 'wanted=60', keeper)).could).to.equal('0')
  })
})
