// Opened containers: a lot of its own with its own use-by day, label and weight; taken first, followed, held with its lot.
import { expect } from 'chai'
import { decimal, formatDecimal } from '@shelve/core'
import {
  type Item,
  type ItemStock,
  type JobView,
  type LotPage,
  type LotRow,
  type LotTrace,
  type SlipContentInput,
  type SlipView,
  wholeTrace,
} from '@shelve/contract'
import { ledgerJsonLines, verify } from '@shelve/server'
import { newItem, person, world, type World } from './client.ts'

type Found = { id: string }
type Line = NonNullable<SlipContentInput['lines']>[number]
const DAY = 86_400_000
describe('a container that is opened', () => {
  let w: World
  let acid: Item
  let job: string
  beforeEach(async () => {
    w = await world()
    acid = await reagent('ACI', {})
    job = (await w.c.ok<Found>('POST', '/api/jobs', { code: 'J', name: 'Titration' })).id
  })
  afterEach(async () => {
    expect(verify(w.app).faults).to.deep.equal([])
    await w.stop()
  })

  /** An item in litres with a bottle of 2.5, of which A7 (good until June) and A8 (until March) lie in the lab. */
  async function reagent(code: string, more: object): Promise<Item> {
    const item = await newItem(w.c, {
      name: `Acid ${code}`,
      code,
      unit: 'L',
      decimals: 3,
      identifiedBy: 'lot_expiry',
      daysOnceOpened: 30,
      density: '1.2',
      packs: [{ name: 'bottle', size: '2.5' }],
      ...more,
    })
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Aster' },
      lines: [
        w.c.line({ item: item.id, typed: '3 bottle', price: '20', lot: { code: 'A7', expiry: '2027-06-30' } }),
        w.c.line({ item: item.id, typed: '1 bottle', price: '30', lot: { code: 'A8', expiry: '2027-03-31' } }),
      ],
    })
    return item
  }
  const opening = (line: Partial<Line> = {}, more: Partial<SlipContentInput> = {}): SlipContentInput => ({
    kind: 'relabel',
    place: w.lab.id,
    lines: [w.c.line({ item: acid.id, typed: '1 bottle', ...line })],
    ...more,
  })
  const lots = async (more = '') => (await w.c.get<{ rows: LotRow[] }>(`/api/lots?sort=code${more}`)).rows
  const lotId = async (code: string) => (await lots()).find(l => l.code === code)!.id
  const page = async (code: string) => w.c.get<LotPage>(`/api/lots/${await lotId(code)}`)
  const refused = async (content: SlipContentInput) =>
    (await w.c.effect(content)).refusals.map(r => [r.code, r.message] as const)
  const take = (typed: string, more: Partial<Line> = {}, taker = '') =>
    w.c.must({
      kind: 'issue',
      place: w.lab.id,
      taker,
      head: { job },
      lines: [w.c.line({ item: acid.id, typed, ...more })],
    })

  it('is what is taken first for a job, of lots that keep as long', async () => {
    const wax = await newItem(w.c, {
      name: 'Wax',
      code: 'WAX',
      unit: 'L',
      decimals: 3,
      identifiedBy: 'lot',
      packs: [{ name: 'can', size: '5' }],
    })
    const came = (code: string) => w.c.line({ item: wax.id, typed: '1 can', price: '9', lot: { code } })
    const head = { supplier: 'Aster' }
    await w.c.must({ kind: 'receipt', place: w.lab.id, head, lines: [came('W1'), came('W2')] })
    const plan = { place: w.lab.id, name: 'Candles', day: '2026-11-27' }
    const lines = [{ id: crypto.randomUUID(), item: wax.id, typed: '1' }]
    const { id } = await w.c.ok<Found>('POST', '/api/jobs', { ...plan, lines })
    const first = async () => (await w.c.get<JobView>(`/api/jobs/${id}`)).lines[0]!.first!.lot
    expect(await first()).to.equal('W1')
    const lot = { id: await lotId('W2'), code: 'W2' }
    await w.c.must(opening({ item: wax.id, typed: '1 can', lot }))
    expect(await first()).to.equal('W2/1')
    w.clock.now += 60_000
    const used = await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: wax.id, typed: '1' })],
    })
    expect(
      used.lines[0]!.movements.map(m => m.lot),
      'and it is',
    ).to.deep.equal(['W2/1'])
  })

  it('is a lot of its own: so many days, its own name; the first to run out is opened; taken from first', async () => {
    const slip = await w.c.must(opening())
    expect(slip.number).to.equal('OC-0001')
    const [open] = await lots('&opened=true')
    expect(open).to.deep.include({ code: 'A8/1', expiry: '2026-12-25', quantity: '2.5', lastUsed: null })
    expect(open!.opened).to.equal(new Date(w.clock.now).toISOString())
    expect((await lots()).map(l => [l.code, l.quantity])).to.deep.equal([
      ['A7', '7.5'],
      ['A8/1', '2.5'],
    ])
    w.clock.now += 60_000
    const used = await take('0.4', {}, 'Mirja')
    expect(used.lines[0]!.movements.map(m => m.lot)).to.deep.equal(['A8/1'])
    expect((await page('A8/1')).lastUsed).to.deep.equal({
      by: 'Mirja',
      what: 'Titration',
      at: new Date(w.clock.now).toISOString(),
      slip: { id: used.id, number: used.number },
    })
    expect(await page('A8/1')).to.deep.include({ quantity: '2.1', tare: null, children: [] })
    expect((await page('A8/1')).came).to.deep.equal([{ name: 'lot A8', quantity: '2.5' }])
    // Taken back, nobody used it.
    await w.c.ok('POST', `/api/slips/${used.id}/reversal`, { id: crypto.randomUUID() })
    expect((await page('A8/1')).lastUsed).to.equal(null)
  })

  for (const method of ['average', 'fifo', 'lot', 'standard'] as const)
    it(`costs nothing and is worth nothing more: ${method}; taken back, nothing was`, async () => {
      acid = await reagent('OWN', { method, ...(method === 'standard' ? { standardCost: '9' } : {}) })
      const values = () => {
        const at = new Map<string, bigint>()
        for (const l of ledgerJsonLines(w.app)) {
          const m = JSON.parse(l) as { from: string; to: string; value: string; item: string }
          if (!JSON.stringify(m).includes('OWN')) continue
          at.set(m.to, (at.get(m.to) ?? 0n) + decimal(m.value))
          at.set(m.from, (at.get(m.from) ?? 0n) - decimal(m.value))
        }
        return [...at].filter(([, v]) => v !== 0n).map(([a, v]) => [a, formatDecimal(v)])
      }
      const stock = async () => {
        const s = await w.c.get<ItemStock>(`/api/items/${acid.id}/stock`)
        return [s.onHand, s.value]
      }
      const before = [values(), await stock()]
      const slip = await w.c.must(opening({ lot: { id: await lotOf('A7') } }))
      expect([values(), await stock()]).to.deep.equal(before)
      // What is taken of it costs what its lot costs.
      const used = await take('2.5', { lot: { id: await lotOf('A7/1') } })
      const cost = { average: '56.25', fifo: '50', lot: '50', standard: '22.5' }[method]
      expect(
        (used as SlipView & { value: string }).lines[0]!.movements.reduce((s, m) => s + decimal(m.value!), 0n),
      ).to.equal(decimal(cost))
      const back = (id: string) => w.c.call('POST', `/api/slips/${id}/reversal`, { id: crypto.randomUUID() })
      const no = await back(slip.id)
      expect(no.status, 'what is used up cannot be closed again').to.equal(422)
      expect((await back(used.id)).status).to.equal(201)
      expect((await back(slip.id)).status).to.equal(201)
      expect([values(), await stock()]).to.deep.equal(before)
    })
  const lotOf = async (code: string) => {
    const { rows } = await w.c.get<{ rows: { id: string; code: string }[] }>(`/api/items/${acid.id}/lots`)
    return rows.find(l => l.code === code)!.id
  }

  it('is followed both ways, and held with its lot', async () => {
    await w.c.must(opening({ lot: { id: await lotId('A7') } }))
    await take('1', { lot: { id: await lotId('A7/1') } })
    const trace = async (code: string) => wholeTrace(await w.c.get<LotTrace>(`/api/lots/${await lotId(code)}/trace`))
    expect((await trace('A7/1')).up.map(l => [l.code, l.quantity, l.makes[0]!.number])).to.deep.equal([
      ['A7', '2.5', 'OC-0001'],
    ])
    const down = await trace('A7')
    expect(down.down.map(l => [l.code, l.left])).to.deep.equal([['A7/1', '1.5']])
    expect(down.got.map(g => [g.code, g.name, g.quantity])).to.deep.equal([['A7/1', 'Titration', '1']])
    await w.c.ok('POST', `/api/lots/${await lotId('A7')}/recall`, { held: 'recalled', why: 'called back by its maker' })
    expect((await lots()).map(l => [l.code, l.state])).to.deep.equal([
      ['A7', 'recalled'],
      ['A7/1', 'recalled'],
      ['A8', 'usable'],
    ])
    expect((await refused(opening({ lot: { id: await lotId('A7') } })))[0]).to.deep.equal([
      'lot_not_usable',
      'Lot A7 is recalled. Take another lot, record it as waste, or have a manager override it with a reason.',
    ])
  })

  it('the label on a bottle says its lot, open or not: what is not closed any more is taken of what is open', async () => {
    const a8 = await lotId('A8')
    await w.c.must(opening({ lot: { id: a8 } }))
    const takes = async (typed: string, lot: Partial<NonNullable<Line['lot']>>) =>
      (
        await w.c.effect({
          kind: 'issue',
          place: w.lab.id,
          head: { job },
          lines: [w.c.line({ item: acid.id, typed, lot })],
        })
      ).lines[0]!.lots.map(l => `${l.quantity} ${l.code}`)
    // Nothing of A8 is closed any more.
    expect(await takes('0.5', { id: a8 })).to.deep.equal(['0.5 A8/1'])
    expect(await takes('0.5', { code: 'A8' })).to.deep.equal(['0.5 A8/1'])
    // Of A7 a bottle is open and two are closed: who names the lot means those first, who names the bottle means it.
    await w.c.must(opening({ lot: { id: await lotId('A7') } }))
    expect(await takes('6', { code: 'A7' })).to.deep.equal(['5 A7', '1 A7/1'])
    expect(await takes('1', { code: 'A7/1' })).to.deep.equal(['1 A7/1'])
    expect(await takes('1', { code: 'A9' })).to.deep.equal([])
  })

  it('weighed empty or full, its empty weight is kept', async () => {
    const opened = async (weight: string, weighed: 'empty' | 'full') => {
      await w.c.must(opening({ lot: { id: await lotId('A7') }, opened: { weight, weighed } }))
      return (await page(`A7/${(await lots('&opened=true')).length}`)).tare
    }
    expect(await opened('0.85 kg', 'empty')).to.equal('850')
    // 2.5 L × 1.2 kg/L = 3 kg of 3.85.
    expect(await opened('3850', 'full')).to.equal('850')
  })

  it('two who weigh one bottle within a moment used it once: the second is told, and weighs again', async () => {
    await w.c.must(opening({ lot: { id: await lotId('A7') } }))
    const bottle = await lotId('A7/1')
    const weighed = (typed: string, leaves: string) =>
      w.c.book({
        kind: 'issue',
        place: w.lab.id,
        head: { job },
        lines: [w.c.line({ item: acid.id, typed, leaves, lot: { id: bottle } })],
      })
    // Both read 2 of 2.5 off it, and handed it in with what they had before them.
    expect((await weighed('0.5', '2')).status).to.equal(201)
    const second = await weighed('0.5', '2')
    expect([second.status, second.body.fields[0]!.code, second.body.fields[0]!.message]).to.deep.equal([
      422,
      'left_otherwise',
      '2 L are in it by the books: somebody used of it meanwhile. Weigh it, or read it off, once more.',
    ])
    for (const [typed, leaves] of [
      ['0.5', '1.6'],
      ['0.5', '1.499999'],
      ['2.1', '0'],
      ['0.5', 'much'],
      ['2.1', '-0.1'],
    ] as const)
      expect((await weighed(typed, leaves)).status, `${typed} leaves ${leaves}`).to.equal(422)
    expect((await page('A7/1')).quantity).to.equal('2')
    expect((await weighed('2', '0')).status, 'all of it').to.equal(201)
  })

  it('what may not be is refused in words', async () => {
    const a7 = await lotId('A7')
    const gloves = await newItem(w.c, { name: 'Gloves', code: 'GLO' })
    const vials = await newItem(w.c, { name: 'Vials', code: 'VIA', unit: 'vial', identifiedBy: 'lot' })
    const meter = await newItem(w.c, { name: 'Meter', code: 'MET', identifiedBy: 'serial' })
    await w.c.received(w.lab.id, 'Aster', w.c.line({ item: vials.id, typed: '5', price: '1', lot: { code: 'V1' } }))
    await w.c.must(opening({ lot: { id: a7 }, opened: { code: 'bench', useBy: '2026-12-01' } }))
    const bench = await lotId('bench')
    const cases: [Partial<Line>, string][] = [
      [
        { opened: { code: 'bench' }, lot: { id: a7 } },
        'A container of A7 is called bench already. Choose another name, or leave it empty.',
      ],
      [{ lot: { id: bench } }, 'bench is open already. Take from it as it is.'],
      [
        { typed: '2 bottle' },
        'Each bottle is a container of its own: type 1 here, and open the next one on another line.',
      ],
      [
        { lot: { id: a7 }, opened: { useBy: '2027-07-01' } },
        'Opened it does not keep longer than its package says: lot A7 is good until 2027-06-30.',
      ],
      [{ opened: { useBy: '2026-11-24' } }, 'That day is over: it could not be used any more.'],
      [{ opened: { weight: '3 ml' } }, '3 ml is no weight. Type one like 85 g, or 0.85 kg.'],
      [{ opened: { weight: '2999', weighed: 'full' } }, '2.999 kg is less than what is in it weighs.'],
      [{ item: gloves.id, typed: '1' }, 'Gloves is kept without lots'],
      [{ item: meter.id, typed: '1' }, 'A serial number is one thing already'],
      [
        { item: vials.id, typed: '1', opened: { weight: '10', weighed: 'full' } },
        'Vials is kept in vial, and its density is not known',
      ],
      [
        { typed: '7 L' },
        'One container comes from one lot and one bin: only 2.5 L of A8 lie in Wet lab. Open two, each on a line of its own.',
      ],
      [{ typed: '22.5' }, '22.5 L asked, 7.5 there in Wet lab.'],
    ]
    for (const [line, says] of cases) {
      const r = await refused(opening(line))
      expect(r[0]?.[1] ?? '', says).to.include(says)
      expect(r, says).to.have.length(1)
    }
    // On the very day it is good still, and until the day of its package.
    for (const useBy of ['2026-11-25', '2027-06-30'])
      expect(await refused(opening({ lot: { id: a7 }, opened: { useBy } }))).to.deep.equal([])
    // Two at once get two numbers; nothing of it is there before it is booked.
    const two = opening({ lot: { id: a7 } })
    await w.c.effect({
      ...two,
      lines: [...two.lines!, w.c.line({ item: acid.id, typed: '1 bottle', lot: { id: a7 } })],
    })
    expect((await lots('&opened=true')).map(l => l.code)).to.deep.equal(['bench'])
    await w.c.must({ ...two, lines: [...two.lines!, w.c.line({ item: acid.id, typed: '1 bottle', lot: { id: a7 } })] })
    expect((await lots('&opened=true')).map(l => l.code)).to.deep.equal(['A7/1', 'A7/2', 'bench'])
  })

  it('opened yesterday, put right, out of another’s reach', async () => {
    const yesterday = new Date(w.clock.now - DAY).toISOString()
    w.clock.now += DAY
    const slip = await w.c.must(
      opening({ lot: { id: await lotId('A7') } }, { effectiveAt: yesterday.replace('24T', '25T') }),
    )
    expect(await page('A7/1')).to.deep.include({ expiry: '2026-12-25' })
    // It is closed again, and another one opened: no line of it can stand in the place of another.
    const correct = (act: 'replace' | 'take_back'): SlipContentInput => ({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: slip.id, why: 'it was half a bottle' },
      lines: [
        w.c.line({ item: acid.id, ref: slip.lines[0]!.id, act, ...(act === 'replace' ? { typed: '1.25' } : {}) }),
      ],
    })
    expect((await refused(correct('replace')))[0]![0]).to.equal('replace_whole')
    await w.c.must(correct('take_back'))
    await w.c.must(opening({ typed: '1.25', lot: { id: await lotId('A7') } }))
    expect((await lots('&opened=true')).map(l => [l.code, l.quantity, l.expiry])).to.deep.equal([
      ['A7/2', '1.25', '2026-12-26'],
    ])
    expect((await page('A7')).quantity).to.equal('6.25')
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    const other = await person(w, 'Mirja', 'keeper', shed)
    const r = await other.book(opening({ lot: { id: await lotId('A7') } }))
    expect([r.status, r.body.code]).to.deep.equal([422, 'unknown_place'])
    expect(await other.get<{ rows: LotRow[] }>('/api/lots?opened=true')).to.deep.include({ rows: [] })
  })
})
