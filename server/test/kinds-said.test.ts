// What each kind of slip says of itself and of what it lacks: its number, its title, booked and not, and the field of a refusal.
import { expect } from 'chai'
import { v7 } from 'uuid'
import { type Item, type SlipContentInput, SlipKind, type SlipView } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

describe('what each kind of slip says', () => {
  let w: World
  let gloves: Item
  let acid: Item
  let dye: Item
  let job: string
  let shed: string
  let reason: string
  let centre: string
  let twin: string
  before(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    acid = await newItem(w.c, { name: 'Acid', code: 'ACD', identifiedBy: 'lot_expiry' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Nitrate run' })).id
    shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    twin = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'G', name: 'Gloves' })).id
    dye = await newItem(w.c, { name: 'Dye', identifiedBy: 'lot' })
    centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { code: 'GLV', name: 'Gloves' })).id
    reason = (await w.c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows[0]!.id
  })
  after(() => w.stop())
  const line = (more: object = {}) => w.c.line({ item: gloves.id, typed: '2', ...more })
  const all = (): Record<string, SlipContentInput> => ({
    opening: { kind: 'opening', place: w.lab.id, lines: [line({ typed: '20', price: '1' })] },
    receipt: {
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Ostrelith', charges: [{ label: 'Freight', amount: '4', basis: 'value' }] },
      lines: [line({ price: '3' })],
    },
    supplier_return: {
      kind: 'supplier_return',
      place: w.lab.id,
      head: { supplier: 'Ostrelith' },
      lines: [line({ price: '3', typed: '1' })],
    },
    issue: { kind: 'issue', place: w.lab.id, head: { job }, lines: [line({ typed: '4' })] },
    bring_back: { kind: 'bring_back', place: w.lab.id, head: { job }, lines: [line({ typed: '1' })] },
    move: { kind: 'move', place: w.lab.id, lines: [line({ to: shed })] },
    waste: { kind: 'waste', place: w.lab.id, head: { reason }, lines: [line({ typed: '1' })] },
    count: {
      kind: 'count',
      place: w.lab.id,
      lines: [line({ from: w.lab.id, counted: 'counted', typed: '14', again: '14' })],
    },
    recharge: {
      kind: 'recharge',
      place: w.lab.id,
      head: { costCentre: centre },
      lines: [line({ ref: booked.get('issue')?.lines[0]!.id, typed: '1' })],
    },
    dispatch: { kind: 'dispatch', place: w.lab.id, head: { towards: shed }, lines: [line({ typed: '1' })] },
    arrival: {
      kind: 'arrival',
      place: shed,
      head: { sent: booked.get('dispatch')?.id },
      lines: [line({ typed: '1' })],
    },
    make: {
      kind: 'make',
      place: w.lab.id,
      head: { job },
      lines: [line({ typed: '1' }), line({ item: acid.id, side: 'out', lot: { code: 'A1', expiry: '2027-01-31' } })],
    },
    relabel: { kind: 'relabel', place: w.lab.id, lines: [line({ item: acid.id, typed: '1' })] },
  })
  const booked = new Map<string, SlipView>()

  const said: [string, string, string][] = [
    ['opening', 'OP-0001', 'Wet lab'],
    ['receipt', 'RC-0001', 'from Ostrelith'],
    ['supplier_return', 'SR-0001', 'Gloves'],
    ['issue', 'IS-0001', 'to Nitrate run'],
    ['bring_back', 'BB-0001', 'from Nitrate run'],
    ['move', 'MV-0001', 'Gloves'],
    ['waste', 'WA-0001', 'Gloves'],
    ['count', 'CT-0001', 'Wet lab'],
    ['recharge', 'CH-0001', 'to Gloves'],
    ['dispatch', 'DP-0001', 'to Shed'],
    ['arrival', 'AR-0001', 'from Wet lab'],
    ['make', 'MA-0001', 'Acid for Nitrate run'],
    ['relabel', 'OC-0001', 'Acid'],
  ]
  for (const [kind, number, title] of said)
    it(`${kind}: ${number}, ${title}`, async () => {
      w.clock.now += 60_000
      const slip = await w.c.must(all()[kind]!)
      booked.set(kind, slip)
      expect([slip.number, slip.title]).to.deep.equal([number, title])
      if (kind === 'receipt') expect(slip.lines[0]!.value, '2 at 3 with 4 of freight').to.equal('10')
    })
  it('no two kinds number their slips alike', () => {
    const letters = [...w.app.kinds.values()].map(k => k.prefix)
    expect(letters).to.have.length(SlipKind.options.length)
    expect(new Set(letters).size, letters.join(' ')).to.equal(letters.length)
  })
  it('a bring-back by its issue’s line is told by what comes back', async () => {
    const ref = booked.get('issue')!.lines[0]!.id
    const slip = await w.c.must({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref, typed: '1' })] })
    expect(slip.title).to.equal('Gloves')
  })

  const empty: [string, object | (() => object), string][] = [
    ['opening', {}, 'Wet lab'],
    ['receipt', {}, 'a delivery'],
    ['issue', {}, 'to somebody'],
    ['waste', { lines: [] }, 'waste'],
    ['move', {}, 'Gloves'],
    ['opening', { place: null }, ''],
    ['count', { place: null }, ''],
    ['bring_back', {}, 'Gloves'],
    ['recharge', {}, 'to somebody'],
    ['dispatch', {}, 'Gloves'],
    ['arrival', {}, 'what was sent'],
    ['make', {}, 'Gloves'],
    ['make', () => ({ lines: ['out', 'out', 'in'].map(side => line({ side })) }), 'Gloves'],
    ['make', () => ({ lines: [acid, gloves].map(i => line({ item: i.id, side: 'out' })) }), 'Acid, Gloves'],
    ['make', () => ({ head: { job: twin }, lines: [line({ side: 'out' })] }), 'Gloves'],
    ['make', () => ({ head: { job: twin }, lines: [line({ item: acid.id, side: 'out' })] }), 'Acid for Gloves'],
  ]
  for (const [kind, more, title] of empty)
    it(`a draft of ${kind} with little on it is “${title}”`, async () => {
      const id = v7()
      const with_ = typeof more === 'function' ? (more() as object) : more
      await w.c.ok('PUT', `/api/slips/${id}`, { kind, place: w.lab.id, lines: [line()], ...with_ })
      const { rows } = await w.c.get<{ rows: SlipView[] }>('/api/slips?state=draft&limit=100')
      expect(rows.find(r => r.id === id)?.title).to.equal(title)
      await w.c.ok('DELETE', `/api/slips/${id}`)
    })

  const lacks: [string, (c: SlipContentInput) => SlipContentInput, [string | null, string][]][] = [
    ['receipt', c => ({ ...c, head: {} }), [['supplier', 'supplier_needed']]],
    [
      'receipt',
      c => ({ ...c, head: { supplier: 'O', charges: [{ label: 'Freight', amount: 'x', basis: 'value' }] } }),
      [['charges', 'not_a_price']],
    ],
    ['supplier_return', c => ({ ...c, lines: [line({ typed: '1' })] }), [['price', 'credit_needed']]],
    ['supplier_return', c => ({ ...c, lines: [line({ typed: '1', price: 'x' })] }), [['price', 'not_a_price']]],
    ['issue', c => ({ ...c, head: {} }), [['costCentre', 'for_whom']]],
    ['move', c => ({ ...c, lines: [line()] }), [['to', 'place_needed']]],
    ['waste', c => ({ ...c, head: {} }), [['reason', 'reason_needed']]],
    ['count', c => ({ ...c, lines: [line({ from: w.lab.id })] }), [['lines', 'nothing_counted']]],
    [
      'count',
      c => ({ ...c, lines: [w.c.line({ item: dye.id, from: w.lab.id, counted: 'counted', typed: '0' })] }),
      [['lines', 'nothing_to_tally']],
    ],
  ]
  for (const [kind, without, fields] of lacks)
    it(`${kind} says ${fields.map(f => f[1]).join(', ')} at its field`, async () => {
      const r = await w.c.book(without(all()[kind]!))
      expect(r.body.fields?.map(f => [f.field, f.code])).to.deep.equal(fields)
    })
})
