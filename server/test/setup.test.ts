import { expect } from 'chai'
import { checkDigit } from '@shelve/core'
import type { CodeMeaning, Item, ItemStock, Me, Place, SlipView } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

type Found = { id: string }
describe('set-up', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())
  const received = (line: Parameters<World['c']['line']>[0]) =>
    w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'S' }, lines: [w.c.line(line)] })
  const refused = async (method: string, path: string, body: unknown, headers?: Record<string, string>) => {
    const r = await w.c.call(method, path, body, headers)
    return [r.status, r.body.code, r.body.fields?.[0]?.field]
  }

  describe('categories', () => {
    it('hand down what an item does not say itself, from the nearest that says it', async () => {
      const top = (
        await w.c.ok<Found>('POST', '/api/categories', {
          name: 'Chemicals',
          unit: 'L',
          decimals: 3,
          identifiedBy: 'lot_expiry',
          method: 'fifo',
          shelfLifeDays: 365,
        })
      ).id
      const below = (await w.c.ok<Found>('POST', '/api/categories', { name: 'Acids', parent: top, decimals: 2 })).id
      const plain = await w.c.ok<Item>('POST', '/api/items', {
        code: 'HCL',
        name: 'Hydrochloric acid',
        category: below,
      })
      expect([plain.unit, plain.decimals, plain.identifiedBy, plain.method]).to.deep.equal([
        'L',
        2,
        'lot_expiry',
        'fifo',
      ])
      // What is handed down stays so: saved as it was read, the item says nothing of it itself.
      expect([plain.shelfLifeDays, plain.ownShelfLifeDays]).to.deep.equal([365, null])
      await w.c.ok('PUT', `/api/categories/${top}`, {
        name: 'Chemicals',
        unit: 'L',
        decimals: 3,
        identifiedBy: 'lot_expiry',
        method: 'fifo',
        shelfLifeDays: 300,
        daysOnceOpened: 30,
      })
      const after = await w.c.get<Item>(`/api/items/${plain.id}`)
      expect([after.shelfLifeDays, after.daysOnceOpened, after.ownDaysOnceOpened]).to.deep.equal([300, 30, null])
      const own = await w.c.ok<Item>('POST', '/api/items', {
        code: 'PAD',
        name: 'Acid pads',
        category: below,
        unit: 'each',
        decimals: 0,
        identifiedBy: 'quantity',
        method: 'average',
      })
      expect([own.unit, own.decimals, own.identifiedBy, own.method]).to.deep.equal(['each', 0, 'quantity', 'average'])
    })
    it('cannot lie within themselves, nor share a name in one place', async () => {
      const a = (await w.c.ok<Found>('POST', '/api/categories', { name: 'A' })).id
      const b = (await w.c.ok<Found>('POST', '/api/categories', { name: 'B', parent: a })).id
      expect(await refused('PUT', `/api/categories/${a}`, { name: 'A', parent: b })).to.deep.equal([
        422,
        'category_in_itself',
        'parent',
      ])
      expect(await refused('POST', '/api/categories', { name: 'b', parent: a })).to.deep.equal([
        409,
        'name_taken',
        'name',
      ])
      expect((await w.c.call('POST', '/api/categories', { name: 'B' })).status, 'elsewhere the name is free').to.equal(
        201,
      )
    })
  })

  describe('packs', () => {
    it('never change: another size is a new pack, and what was typed in the old one stays', async () => {
      const it1 = await newItem(w.c, {
        code: 'BOT',
        name: 'Bottles',
        unit: 'bottle',
        packs: [{ name: 'case', size: '10' }],
      })
      const first = await received({ item: it1.id, typed: '2', unit: 'case', price: '10' })
      const changed = await w.c.ok<Item>(
        'PUT',
        `/api/items/${it1.id}`,
        { code: 'BOT', name: 'Bottles', unit: 'bottle', packs: [{ name: 'case', size: '12' }] },
        { 'if-match': String(it1.revision) },
      )
      expect(changed.packs.map(p => [p.name, p.size])).to.deep.equal([['case', '12']])
      const second = await received({ item: it1.id, typed: '1', unit: 'case', price: '12' })
      expect([
        (await w.c.get<SlipView>(`/api/slips/${first.id}`)).lines[0]!.quantity,
        second.lines[0]!.quantity,
      ]).to.deep.equal(['20', '12'])
      expect((await w.c.get<ItemStock>(`/api/items/${it1.id}/stock`)).value, '2 × 10 + 1 × 12').to.equal('32')
    })
    it('of a third are exact: three of them are one', async () => {
      const oil = await newItem(w.c, { name: 'Oil', unit: 'L', decimals: 3, packs: [{ name: 'can', size: '1/3' }] })
      const r = await received({ item: oil.id, typed: '3', unit: 'can', price: '2' })
      expect([r.lines[0]!.quantity, r.value]).to.deep.equal(['1', '6'])
    })
    it('with the name of the base unit, or twice the same, are refused', async () => {
      expect(
        await refused('POST', '/api/items', {
          code: 'T1',
          name: 'T',
          unit: 'box',
          packs: [{ name: 'Box', size: '2' }],
        }),
      ).to.deep.equal([422, 'pack_twice', 'packs'])
      expect(
        await refused('POST', '/api/items', {
          code: 'T2',
          name: 'T',
          unit: 'box',
          packs: [
            { name: 'case', size: '2' },
            { name: 'case', size: '3' },
          ],
        }),
      ).to.deep.equal([422, 'pack_twice', 'packs'])
    })
  })

  describe('items', () => {
    it('keep their base unit once something moved; a copy may have another', async () => {
      const it1 = await newItem(w.c, { code: 'FRZ', name: 'Frozen unit', unit: 'kg', decimals: 2 })
      await received({ item: it1.id, typed: '1', price: '1' })
      const r = await w.c.call(
        'PUT',
        `/api/items/${it1.id}`,
        { code: 'FRZ', name: 'Frozen unit', unit: 'g', decimals: 2 },
        { 'if-match': String(it1.revision) },
      )
      expect(r.status).to.be.within(409, 422)
      expect(r.body.fields[0]!.message).to.match(/unit/i)
      expect((await w.c.get<Item>(`/api/items/${it1.id}`)).unit).to.equal('kg')
    })
    it('that somebody else changed meanwhile are not overwritten', async () => {
      const it1 = await newItem(w.c, { code: 'REV', name: 'One' })
      await w.c.ok(
        'PUT',
        `/api/items/${it1.id}`,
        { code: 'REV', name: 'Two', unit: 'each' },
        { 'if-match': String(it1.revision) },
      )
      expect(
        await refused(
          'PUT',
          `/api/items/${it1.id}`,
          { code: 'REV', name: 'Three', unit: 'each' },
          { 'if-match': String(it1.revision) },
        ),
      ).to.deep.equal([409, 'changed_meanwhile', undefined])
      expect((await w.c.get<Item>(`/api/items/${it1.id}`)).name).to.equal('Two')
    })
    it('share no code, whatever its case; are retired only when nothing lies anywhere; and come back', async () => {
      const it1 = await newItem(w.c, { code: 'RET', name: 'Goes away' })
      expect(await refused('POST', '/api/items', { code: 'ret', name: 'Other', unit: 'each' })).to.deep.equal([
        409,
        'code_taken',
        'code',
      ])
      const receipt = await received({ item: it1.id, typed: '1', price: '1' })
      expect((await w.c.call('DELETE', `/api/items/${it1.id}`)).status).to.equal(409)
      await w.c.ok('POST', `/api/slips/${receipt.id}/reversal`, { id: '01a21000-0000-7000-8000-0000000000aa' })
      expect((await w.c.call('DELETE', `/api/items/${it1.id}`)).status).to.equal(204)
      expect(
        (
          await w.c.book({
            kind: 'receipt',
            place: w.lab.id,
            head: { supplier: 'S' },
            lines: [w.c.line({ item: it1.id, typed: '1', price: '1' })],
          })
        ).body.code,
      ).to.equal('item_retired')
      const list = await w.c.get<{ rows: Item[] }>('/api/items?limit=500')
      expect(list.rows.some(i => i.id === it1.id)).to.equal(false)
      expect((await w.c.get<{ rows: Item[] }>('/api/items?active=no&limit=500')).rows.map(i => i.code)).to.include(
        'RET',
      )
      expect((await w.c.ok<Item>('POST', `/api/items/${it1.id}/revival`)).active).to.equal(true)
      await received({ item: it1.id, typed: '1', price: '1' })
    })
  })

  describe('codes', () => {
    const gtin = (body: string) => body + checkDigit(body)
    const code = gtin('952123400001')
    const meaning = (c: string) => w.c.get<CodeMeaning>(`/api/codes/${encodeURIComponent(c)}`)
    let cups: Item
    before(async () => {
      cups = await newItem(w.c, {
        code: 'CUP',
        name: 'Cups',
        unit: 'cup',
        codes: [code],
        packs: [{ name: 'sleeve', size: '50', codes: [gtin('952123400002')] }],
      })
    })

    it('of an item and of its pack mean them, with leading zeros or without', async () => {
      expect(await meaning(code)).to.deep.include({ kind: 'item', item: cups.id, pack: null })
      expect(await meaning(`0${code}`)).to.deep.include({ kind: 'item', item: cups.id })
      expect(await meaning(gtin('952123400002'))).to.deep.include({ kind: 'pack', item: cups.id, pack: 'sleeve' })
      expect(await meaning('cup'), 'an item’s own code, in any case').to.deep.include({ kind: 'item', item: cups.id })
    })
    it('are shown as they were scanned, 13 digits or 14', async () => {
      const item = await w.c.get<Item>(`/api/items/${cups.id}`)
      expect([item.codes, item.packs[0]!.codes]).to.deep.equal([[code], [gtin('952123400002')]])
      const lid = await newItem(w.c, { code: 'LID', name: 'Lids', codes: [`0${gtin('952123400008')}`, ' x-1 '] })
      expect(lid.codes).to.have.members([`0${gtin('952123400008')}`, 'x-1'])
      expect(await meaning(gtin('952123400008'))).to.deep.include({ item: lid.id })
      expect(await meaning('X-1')).to.deep.include({ item: lid.id })
    })
    it('in a GS1 element string bring lot, expiry and count along', async () => {
      const m = await meaning(`01${code.padStart(14, '0')}17270630` + `10L77\x1d3024`)
      expect([m.item, m.lot, m.quantity]).to.deep.equal([
        cups.id,
        { id: null, code: 'L77', expiry: '2027-06-30' },
        '24',
      ])
    })
    it('of a weighed label say how much it is in the item’s own unit, also where they stand on a pack', async () => {
      const flour = await newItem(w.c, {
        code: 'FLR',
        name: 'Flour',
        unit: 'g',
        codes: [gtin('952123400005')],
        packs: [{ name: 'sack', size: '25000', codes: [gtin('952123400006')] }],
      })
      const weighed = (g: string, kg: string) => meaning(`01${g.padStart(14, '0')}3103${kg}`)
      for (const g of ['952123400005', '952123400006'])
        expect(await weighed(gtin(g), '001250')).to.deep.include({ item: flour.id, pack: null, quantity: '1250' })
      // Cups have no weight: one of what the code stands on.
      expect(await weighed(gtin('952123400002'), '001250')).to.deep.include({
        item: cups.id,
        pack: 'sleeve',
        quantity: null,
      })
      // Nobody knows it yet: of what unit it will be is not known either.
      expect(await weighed(gtin('952123400007'), '001250')).to.deep.include({ kind: 'unknown', quantity: null })
    })
    it('mean one thing only: who has it already is named', async () => {
      const r = await w.c.call('POST', '/api/codes', {
        code,
        item: (await newItem(w.c, { name: 'Mugs' })).id,
        pack: null,
      })
      expect([r.status, r.body.code, r.body.detail]).to.deep.equal([
        409,
        'code_taken',
        `The code ${code} already means Cups.`,
      ])
      const free = gtin('952123400003')
      expect((await meaning(free)).kind).to.equal('unknown')
      await w.c.ok('POST', '/api/codes', { code: free, item: cups.id, pack: 'sleeve' })
      expect(await meaning(free)).to.deep.include({ item: cups.id, pack: 'sleeve' })
      expect((await w.c.call('POST', '/api/codes', { code: 'X1', item: cups.id, pack: 'crate' })).status).to.equal(404)
    })
    it('that were read badly are told from those that nobody knows', async () => {
      const bad = code.slice(0, -1) + ((Number(code.at(-1)) + 1) % 10)
      expect((await meaning(bad)).why).to.equal('wrong_check_digit')
      expect((await meaning('NOBODY')).why).to.equal(null)
    })
    it('of our own mean places, jobs, cost centres, suppliers and reasons', async () => {
      const centre = (await w.c.ok<Found>('POST', '/api/cost-centres', { name: 'Kitchen', code: 'KIT' })).id
      const job = (await w.c.ok<Found>('POST', '/api/jobs', { code: 'SOUP', name: 'Soup', costCentre: centre })).id
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Heron Supplies' },
        lines: [w.c.line({ item: cups.id, typed: '1', price: '1' })],
      })
      type Own = { rows: { id: string; name: string; own: string }[] }
      const own = async (path: string, name: string) => (await w.c.get<Own>(path)).rows.find(r => r.name === name)!
      for (const [path, name, kind] of [
        ['/api/jobs', 'Soup', 'job'],
        ['/api/cost-centres', 'Kitchen', 'cost_centre'],
        ['/api/suppliers', 'Heron Supplies', 'supplier'],
        ['/api/waste-reasons', 'Spilled', 'reason'],
      ] as const) {
        const row = await own(path, name)
        expect((await meaning(row.own)).party).to.deep.equal({ kind, id: row.id, name })
      }
      expect((await own('/api/jobs', 'Soup')).id).to.equal(job)
      expect((await meaning((await own('/api/places', 'Wet lab')).own)).place).to.equal(w.lab.id)
      expect((await meaning('SVC-BOOK')).command).to.equal('book')
      const wrong = (await own('/api/jobs', 'Soup')).own
      expect(
        (await meaning(wrong.slice(0, -1) + ((Number(wrong.at(-1)) + 3) % 10))).kind,
        'a check digit guards them',
      ).to.equal('unknown')
    })
  })

  describe('places and levels', () => {
    it('have names of their own within a place, walk in order, and stay where they are', async () => {
      const bin = (await w.c.ok<Found>('POST', '/api/places', { name: 'A1', parent: w.lab.id })).id
      expect(await refused('POST', '/api/places', { name: 'a1', parent: w.lab.id })).to.deep.equal([
        409,
        'name_taken',
        'name',
      ])
      const area = (await w.c.ok<Found>('POST', '/api/places', { name: 'Cellar', kind: 'area' })).id
      await w.c.ok('POST', '/api/places', { name: 'A1', parent: area })
      const moved = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.find(p => p.id === bin)!
      expect(
        await refused(
          'PUT',
          `/api/places/${bin}`,
          { name: 'A1', parent: area },
          { 'if-match': String(moved.revision) },
        ),
      ).to.deep.equal([409, 'place_stays', 'parent'])
      await w.c.ok(
        'PUT',
        `/api/places/${bin}`,
        { name: 'A0', parent: w.lab.id, walk: 1 },
        { 'if-match': String(moved.revision) },
      )
      const inLab = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.filter(p => p.parent === w.lab.id)
      expect(inLab[0]!.name).to.equal('A0')
    })
    it('a target is not below its minimum; a usual bin lies within its place', async () => {
      const it1 = await newItem(w.c, { name: 'Tape' })
      expect(
        (await refused('PUT', '/api/levels', { item: it1.id, place: w.lab.id, minimum: '10', target: '5' }))[0],
      ).to.equal(422)
      const elsewhere = (await w.c.ok<Found>('POST', '/api/places', { name: 'Attic', kind: 'area' })).id
      expect(
        await refused('PUT', '/api/levels', {
          item: it1.id,
          place: w.lab.id,
          minimum: '1',
          target: '5',
          bin: elsewhere,
        }),
      ).to.deep.equal([422, 'bin_elsewhere', 'bin'])
    })
    it('short at or below the minimum, or only below it, as the organisation says', async () => {
      const it1 = await newItem(w.c, { name: 'Cord' })
      await w.c.ok('PUT', '/api/levels', { item: it1.id, place: w.lab.id, minimum: '4', target: '8' })
      await received({ item: it1.id, typed: '4', price: '1' })
      const state = async () => (await w.c.get<ItemStock>(`/api/items/${it1.id}/stock`)).places[0]!.levels.state
      expect(await state()).to.equal('short')
      const frozen = await w.c.call('PUT', '/api/settings', { ...w.me.settings, currency: 'GBP' })
      expect([frozen.status, frozen.body.code, frozen.body.fields[0]?.field]).to.deep.equal([
        409,
        'currency_frozen',
        'currency',
      ])
      await w.c.ok('PUT', '/api/settings', { ...w.me.settings, shortRule: 'below' })
      expect(await state()).to.equal('in_range')
      // Two who change them at once undo nothing of each other: what is not named stays.
      await w.c.ok('PUT', '/api/settings', { patienceDays: 5 })
      const is = { ...w.me.settings, shortRule: 'below', patienceDays: 5 }
      expect(await w.c.ok('PUT', '/api/settings', {})).to.deep.equal(is)
      expect((await w.c.get<Me>('/api/session')).settings).to.deep.equal(is)
      await w.c.ok('PUT', '/api/settings', w.me.settings)
    })
  })
})
