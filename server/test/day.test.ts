import { expect } from 'chai'
import { v7 } from 'uuid'
import type {
  DifferenceView,
  Item,
  ItemStock,
  Named,
  ShortRow,
  SlipView,
  StockRow,
  Verification,
  WorkingView,
  MovementRow,
} from '@shelve/contract'
import type { z } from 'zod'
import { newItem, world, type World } from './client.ts'

describe('a day over the API', () => {
  let w: World
  let gloves: Item
  let reagent: Item
  let bin: string
  let job: string
  const minute = () => {
    w.clock.now += 60_000
  }
  before(async () => {
    w = await world()
    bin = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'B3', parent: w.lab.id })).id
    gloves = await newItem(w.c, {
      code: 'GLV-M',
      name: 'Nitrile gloves, medium',
      unit: 'box',
      packs: [{ name: 'case', size: '10', codes: ['9521041500218'] }],
    })
    reagent = await newItem(w.c, {
      code: 'ETH-96',
      name: 'Ethanol 96 %',
      unit: 'L',
      decimals: 3,
      identifiedBy: 'lot_expiry',
      packs: [{ name: 'can', size: '5' }],
    })
    await w.c.ok('PUT', '/api/levels', { item: gloves.id, place: w.lab.id, minimum: '12', target: '40', bin })
    const centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Chemistry', code: 'CHEM' })).id
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'NIT', name: 'Nitrate run', costCentre: centre }))
      .id
  })
  after(() => w.stop())

  let receipt: SlipView
  it('receives with freight: before → after is what is then booked, and the usual bin takes it', async () => {
    const content = {
      kind: 'receipt' as const,
      place: w.lab.id,
      head: {
        supplier: 'Quillfern',
        deliveryNote: 'DN 88',
        charges: [{ label: 'Freight', amount: '12', basis: 'value' as const }],
      },
      lines: [
        w.c.line({ item: gloves.id, typed: '2', unit: 'case', price: '79' }),
        w.c.line({
          item: reagent.id,
          typed: '4',
          unit: 'can',
          price: '19,20',
          lot: { code: 'E2417', expiry: '2028-03-31' },
        }),
      ],
    }
    const effect = await w.c.effect(content)
    expect(effect.ok, JSON.stringify(effect.refusals)).to.equal(true)
    expect(effect.lines.map(l => [l.before.onHand, l.after.onHand, l.before.state, l.after.state])).to.deep.equal([
      ['0', '20', 'out', 'in_range'],
      ['0', '20', 'none', 'in_range'],
    ])
    expect([effect.goods, effect.charges, effect.value]).to.deep.equal(['234.8', '12', '246.8'])
    const nothing = await w.c.get<{ rows: StockRow[] }>(`/api/stock?place=${w.lab.id}`)
    expect(nothing.rows.find(r => r.code === 'GLV-M')!.levels.onHand, 'an effect changes nothing').to.equal('0')
    const id = v7()
    const booked = await w.c.book(content, id, effect.fingerprint)
    expect(booked.status).to.equal(201)
    receipt = booked.body
    expect(receipt.number).to.equal('RC-0001')
    expect(receipt.lines[0]!.movements[0]!.to).to.equal('Wet lab, B3')
    const again = await w.c.book(content, id)
    expect([again.status, again.body.number], 'the same slip again is the same slip').to.deep.equal([201, 'RC-0001'])
    const other = await w.c.book({ ...content, taker: 'Mirja' }, id)
    expect([other.status, other.body.code]).to.deep.equal([409, 'booked_otherwise'])
  })

  let issue: SlipView
  let back: SlipView
  it('issues to a job in any pack, proposing the lot, and brings back', async () => {
    minute()
    const place = w.lab.id
    issue = await w.c.must({
      kind: 'issue',
      place,
      taker: 'Mirja',
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '1 case + 1' }), w.c.line({ item: reagent.id, typed: '250 ml' })],
    })
    expect(issue.lines.map(l => [l.quantity, l.movements[0]!.lot])).to.deep.equal([
      ['11', null],
      ['0.25', 'E2417'],
    ])
    minute()
    back = await w.c.must({
      kind: 'bring_back',
      place,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '2' })],
    })
    expect(back.title).to.equal('from Nitrate run')
    const toomuch = await w.c.book({
      kind: 'bring_back',
      place,
      head: { job },
      lines: [w.c.line({ item: gloves.id, typed: '10' })],
    })
    expect([toomuch.status, toomuch.body.code]).to.deep.equal([422, 'more_than_issued'])
  })

  it('wastes with a reason, lists what is short, and says what is elsewhere', async () => {
    minute()
    const reason = (await w.c.get<{ rows: Named[] }>('/api/waste-reasons')).rows[0]!
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason: reason.id },
      lines: [w.c.line({ item: gloves.id, typed: '1' })],
    })
    const short = (await w.c.get<{ rows: ShortRow[] }>('/api/short')).rows
    expect(short.map(r => [r.code, r.levels.available, r.levels.state, r.levels.bring])).to.deep.equal([
      ['GLV-M', '10', 'short', '30'],
    ])
    const csv = await w.c.call('GET', '/api/short', undefined, { accept: 'text/csv' })
    expect(csv.text.split('\r\n')[1]).to.equal('GLV-M,"Nitrile gloves, medium",Wet lab,10,0,box,12,40,30,short,')
  })

  it('counts: what is beyond tolerance twice, opens a difference, and finds it again', async () => {
    minute()
    const sheet = await w.c.get<{
      lines: { item: string; expected: string | null; place: string; lot: { id: string } | null }[]
    }>(`/api/sheets?place=${w.lab.id}&figures=yes`)
    expect(sheet.lines.map(l => l.expected)).to.have.members(['19.75', '10'])
    const line = { item: gloves.id, from: bin, counted: 'counted' as const, typed: '8' }
    const once = await w.c.book({ kind: 'count', place: w.lab.id, lines: [w.c.line(line)] })
    expect(once.body.code).to.equal('count_twice')
    const differ = await w.c.book({ kind: 'count', place: w.lab.id, lines: [w.c.line({ ...line, again: '7' })] })
    expect(differ.body.code).to.equal('counts_differ')
    const ethanol = sheet.lines.find(l => l.item === reagent.id)!
    await w.c.must({
      kind: 'count',
      place: w.lab.id,
      lines: [
        w.c.line({ ...line, again: '8' }),
        w.c.line({ item: reagent.id, from: ethanol.place, lot: { id: ethanol.lot!.id }, counted: 'confirmed' }),
        w.c.line({ item: reagent.id, from: bin, counted: 'not' }),
      ],
    })
    const [d] = (await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows
    expect([d!.open, d!.expected, d!.counted]).to.deep.equal(['-2', '10', '8'])
    minute()
    await w.c.must({
      kind: 'closing',
      place: w.lab.id,
      lines: [w.c.line({ difference: d!.id, act: 'found', typed: '1', to: w.lab.id })],
    })
    const working = await w.c.get<WorkingView>(`/api/workings/difference?difference=${d!.id}`)
    expect([working.figure, working.lines.map(l => l.amount)]).to.deep.equal(['-1', ['8', '-10', '1']])
    minute()
    await w.c.must({ kind: 'closing', place: w.lab.id, lines: [w.c.line({ difference: d!.id, act: 'close' })] })
    expect((await w.c.get<{ rows: DifferenceView[] }>('/api/differences')).rows).to.deep.equal([])
  })

  it('replaces one line at its own place in the costing, and takes a whole slip back; the pair stays visible', async () => {
    minute()
    const wrong = issue.lines[0]!
    const fixed = await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: issue.id, job },
      lines: [w.c.line({ ref: wrong.id, act: 'replace', item: gloves.id, typed: '9' })],
    })
    const seen = await w.c.get<SlipView>(`/api/slips/${issue.id}`)
    expect([seen.lines[0]!.state, seen.lines[0]!.by?.number, seen.lines[1]!.state]).to.deep.equal([
      'replaced',
      fixed.number,
      'stands',
    ])
    minute()
    const early = await w.c.call('POST', `/api/slips/${fixed.id}/reversal`, { id: v7() })
    expect(early.body.code, 'what was brought back of it comes first').to.equal('brought_back')
    await w.c.ok('POST', `/api/slips/${back.id}/reversal`, { id: v7() })
    const undone = await w.c.ok<SlipView>('POST', `/api/slips/${fixed.id}/reversal`, {
      id: v7(),
      why: 'wrong after all',
    })
    expect(undone.corrects?.number).to.equal(fixed.number)
    const gone = await w.c.book({
      kind: 'correction',
      head: { corrects: issue.id },
      lines: [w.c.line({ ref: wrong.id, act: 'take_back', item: gloves.id })],
    })
    expect(gone.body.code).to.equal('nothing_to_correct')
  })

  it('a later price flows into what was used; every figure’s working adds up to it', async () => {
    minute()
    const before = await w.c.get<ItemStock>(`/api/items/${gloves.id}/stock`)
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: receipt.id },
      lines: [
        w.c.line({ ref: receipt.lines[0]!.id, act: 'price', item: gloves.id, typed: '', unit: 'case', price: '89' }),
      ],
    })
    const after = await w.c.get<ItemStock>(`/api/items/${gloves.id}/stock`)
    expect(Number(after.cost) - Number(before.cost)).to.be.greaterThan(0.9)
    for (const item of [gloves, reagent])
      for (const figure of ['on-hand', 'available', 'unit-cost', 'value', 'value-here'])
        for (const place of ['', `&place=${w.lab.id}`]) {
          const working = await w.c.get<WorkingView>(`/api/workings/${figure}?item=${item.id}${place}`)
          const micro = (t: string) => BigInt(Math.round(Number(t) * 1e6))
          expect(
            working.lines.reduce((s, l) => s + micro(l.amount), 0n),
            `${figure} of ${item.name}`,
          ).to.equal(micro(working.figure))
        }
  })

  it('an item’s movements run back from what is there now, page by page', async () => {
    const all = (await w.c.get<{ rows: MovementRow[] }>(`/api/items/${gloves.id}/movements?limit=200`)).rows
    const stock = await w.c.get<ItemStock>(`/api/items/${gloves.id}/stock`)
    expect(all[0]!.balance).to.equal(stock.onHand)
    const paged: MovementRow[] = []
    for (let cursor = ''; ;) {
      const p = await w.c.get<{ rows: MovementRow[]; next: string | null }>(
        `/api/items/${gloves.id}/movements?limit=3${cursor}`,
      )
      paged.push(...p.rows)
      if (!p.next) break
      cursor = `&cursor=${p.next}`
    }
    expect(paged).to.deep.equal(all)
    const oldest = all.at(-1)!
    expect(Number(oldest.balance) - Number(oldest.change)).to.equal(0)
  })

  it('reads a past day both ways: as it was, and as the books stood', async () => {
    const today = '2026-11-25'
    const was = await w.c.get<{ rows: { code: string; quantity: string }[] }>(`/api/past?day=${today}&reading=was`)
    const books = await w.c.get<{ rows: { code: string; quantity: string; value: string }[]; value: string }>(
      `/api/past?day=${today}&reading=books`,
    )
    const now = await w.c.get<{ rows: StockRow[]; value: string }>('/api/stock')
    expect(was.rows.map(r => [r.code, r.quantity])).to.deep.equal(books.rows.map(r => [r.code, r.quantity]))
    expect(books.value).to.equal(now.value)
    w.clock.now += 86_400_000
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      effectiveAt: '2026-11-25T12:00:00Z',
      head: { job },
      lines: [w.c.line({ item: reagent.id, typed: '1' })],
    })
    const late = await w.c.get<{ rows: { code: string; quantity: string }[] }>(`/api/past?day=${today}&reading=was`)
    const stood = await w.c.get<{ rows: { code: string; quantity: string }[] }>(`/api/past?day=${today}&reading=books`)
    expect([late, stood].map(x => x.rows.find(r => r.code === 'ETH-96')!.quantity)).to.deep.equal(['18.75', '19.75'])
    expect((await w.c.call('GET', '/api/past?day=2030-01-01&reading=was')).status).to.equal(422)
    expect((await w.c.get<{ rows: unknown[] }>('/api/past?day=2001-01-01&reading=books')).rows).to.deep.equal([])
  })

  it('verifies clean, and the sheet lists what belongs there at zero', async () => {
    const v = await w.c.ok<z.infer<typeof Verification>>('POST', '/api/verification')
    expect(v.faults).to.deep.equal([])
    const hide = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Seal hide', kind: 'area' })).id
    await w.c.ok('PUT', '/api/levels', { item: gloves.id, place: hide, minimum: '1', target: '2' })
    const sheet = await w.c.get<{ lines: { item: string; expected: string }[] }>(
      `/api/sheets?place=${hide}&figures=yes`,
    )
    expect(sheet.lines).to.have.length(1)
    expect(sheet.lines[0]).to.deep.include({ item: gloves.id, expected: '0' })
  })
})
