import { expect } from 'chai'
import { eq } from 'drizzle-orm'
import { decimal, formatDecimal } from '@shelve/core'
import { v7 } from 'uuid'
import { BARS } from '@shelve/contract'
import type {
  ActivityRow,
  Item,
  ItemYears,
  LookMonth,
  LookRow,
  LookYear,
  WasteReport,
  MonthToClose,
  MonthView,
  SlipView,
} from '@shelve/contract'
import { slip } from '../src/ledger/index.ts'
import { person } from '../src/people/index.ts'
import { type Bar, slipsBehind } from '../src/reports/behind.ts'
import { listSlips } from '../src/reports/slips.ts'
import { callerFor } from '../src/rights/index.ts'
import { newItem, world, type World } from './client.ts'
import { barsOf, textOf } from './pdf.ts'

type Months = { rows: MonthView[]; next: MonthToClose | null }
describe('looking back', () => {
  let w: World
  let flour: Item
  let job: string
  let centre: string
  let reason: string
  const at = (iso: string) => {
    w.clock.now = Date.parse(iso)
  }
  const year = async (q = '') => (await w.c.get<LookYear>(`/api/look-back/months?year=2026${q}`)).rows
  const shown = (r: LookMonth) => [r.month, r.opening, r.received, r.used, r.wasted, r.differences, r.price, r.closing]
  let first: SlipView
  const again = () => w.c.ok('POST', '/api/session', { signIn: 'ines', password: 'correct horse' })
  before(async () => {
    w = await world()
    at('2026-09-10T08:00:00Z')
    flour = await newItem(w.c, { name: 'Flour', code: 'FLO', unit: 'kg' })
    centre = (await w.c.ok<{ id: string }>('POST', '/api/cost-centres', { name: 'Catering', code: 'FOOD' })).id
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'BAK', name: 'Baking', costCentre: centre })).id
    reason = (await w.c.get<{ rows: { id: string; name: string }[] }>('/api/waste-reasons')).rows.find(
      r => r.name === 'Spoiled',
    )!.id
    const slip = async (day: string, content: Parameters<typeof w.c.must>[0]) => {
      at(day)
      await again()
      return w.c.must(content)
    }
    const line = (typed: string, more = {}) => [w.c.line({ item: flour.id, typed, ...more })]
    first = await slip('2026-09-10T09:00:00Z', {
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Fallow' },
      lines: line('10', { price: '2' }),
    })
    await slip('2026-09-20T09:00:00Z', { kind: 'issue', place: w.lab.id, head: { job }, lines: line('4') })
    // Half past ten in the evening of 30 September in UTC is October in Paris.
    await slip('2026-09-30T22:30:00Z', {
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Fallow' },
      lines: line('6', { price: '4' }),
    })
    await slip('2026-10-05T09:00:00Z', { kind: 'waste', place: w.lab.id, head: { reason }, lines: line('3') })
    await slip('2026-10-06T09:00:00Z', {
      kind: 'count',
      place: w.lab.id,
      lines: line('8', { from: w.lab.id, counted: 'counted', again: '8' }),
    })
    await slip('2026-10-20T09:00:00Z', { kind: 'bring_back', place: w.lab.id, head: { job }, lines: line('1') })
    at('2026-11-03T09:00:00Z')
    await again()
  })
  after(() => w.stop())

  it('value by month: each begins with what the one before left, in the organisation’s own months', async () => {
    // Worked by hand: 10 at 2; 4 used (8); 6 at 4 → 12 for 36, so 3 each; 3 wasted (9); 1 missing (3); 1 back at what it was issued for (2).
    expect((await year()).slice(8).map(shown)).to.deep.equal([
      ['2026-09', '0', '20', '-8', '0', '0', '0', '12'],
      ['2026-10', '12', '24', '2', '-9', '-3', '0', '26'],
      ['2026-11', '26', '0', '0', '0', '0', '0', '26'],
    ])
    expect((await w.c.get<{ value: string }>('/api/stock')).value, 'and ends with what lies there').to.equal('26')
    const place = await year(`&place=${w.lab.id}`)
    expect(
      [place[8]!.used, place[8]!.closing],
      'in one place moving carries no value, so nothing is said to remain',
    ).to.deep.equal(['-8', null])
  })

  it('what was wasted: by reason, place, item and month, beside what was used and as many months before', async () => {
    const report = (from: string, to: string, more = '') =>
      w.c.get<WasteReport>(`/api/look-back/waste?from=${from}&to=${to}${more}`)
    // Worked by hand: in October 9 of waste, and 2 of use came back; in September 8 were used, in November nothing was.
    const r = await report('2026-10', '2026-11')
    expect([r.value, r.used, r.share, r.before]).to.deep.equal([
      '9',
      '-2',
      '100',
      { from: '2026-08', to: '2026-09', value: '0', share: '0' },
    ])
    expect(r.months.map(m => [m.month, m.wasted, m.used, m.share])).to.deep.equal([
      ['2026-10', '9', '-2', '100'],
      ['2026-11', '0', '0', null],
    ])
    expect(r.reasons.map(x => [x.name, x.value, x.before, x.lines])).to.deep.equal([['Spoiled', '9', '0', 1]])
    expect(r.places.map(x => [x.name, x.value])).to.deep.equal([['Wet lab', '9']])
    expect(r.worst.map(x => [x.name, x.quantity, x.value, x.before, x.share])).to.deep.equal([
      [flour.name, '3', '9', '0', '100'],
    ])
    expect(r.changed.map(x => [x.name, x.value, x.before])).to.deep.equal([[flour.name, '9', '0']])
    // The month after: nothing any more, and that is what changed.
    const later = await report('2026-11', '2026-11')
    expect([later.value, later.before, later.worst]).to.deep.equal([
      '0',
      { from: '2026-10', to: '2026-10', value: '9', share: '100' },
      [],
    ])
    expect(later.changed.map(x => [x.value, x.before])).to.deep.equal([['0', '9']])
    expect((await report('2026-09', '2026-11')).share, '9 of 9 + 6').to.equal('60')
    const shed = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    expect((await report('2026-10', '2026-11', `&place=${shed}`)).value).to.equal('0')
  })

  it('used by cost centre and job, wasted by reason, received by supplier: the slips behind each bar are found', async () => {
    const by = async (q: string) =>
      (await w.c.get<{ rows: LookRow[] }>(`/api/look-back/by?from=2026-09&to=2026-11&${q}`)).rows.map(r => [
        r.name,
        r.value,
        r.lines,
      ])
    expect(await by('by=cost_centre&flow=used')).to.deep.equal([['Catering', '6', 2]])
    expect(await by('by=job&flow=used')).to.deep.equal([['Baking', '6', 2]])
    expect(await by('by=reason&flow=wasted')).to.deep.equal([['Spoiled', '9', 1]])
    expect(await by('by=supplier&flow=received')).to.deep.equal([['Fallow', '44', 2]])
    expect(await by('by=place&flow=wasted')).to.deep.equal([['Wet lab', '9', 1]])
    const slips = async (q: string) =>
      (await w.c.get<{ rows: { number: string }[] }>(`/api/slips?state=booked&${q}`)).rows.map(r => r.number)
    expect(await slips(`party=cost_centre&partyId=${centre}&from=2026-09-01&to=2026-09-30`)).to.deep.equal(['IS-0001'])
    expect(await slips(`party=cost_centre&partyId=${centre}`)).to.deep.equal(['BB-0001', 'IS-0001'])
    expect(await slips(`party=reason&partyId=${reason}`)).to.deep.equal(['WA-0001'])
    const galley = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Galley', kind: 'area' })).id
    // The same behind any bar: by when it happened, where it lay and what it was.
    const behind = (flow: string, more = '') => slips(`flow=${flow}&from=2026-10-01&to=2026-10-31${more}`)
    expect([
      await behind('received'),
      await behind('used'),
      await behind('wasted'),
      await behind('differences'),
      await behind('price'),
    ]).to.deep.equal([['RC-0002'], ['BB-0001'], ['WA-0001'], ['CT-0001'], []])
    expect((await behind('any')).sort()).to.deep.equal(['BB-0001', 'CT-0001', 'RC-0002', 'WA-0001'])
    expect(
      [await behind('any', `&place=${w.lab.id}&category=none`), await behind('any', `&place=${galley}`)].map(
        r => r.length,
      ),
      'nothing of it lay in the galley',
    ).to.deep.equal([4, 0])
    expect(
      [await behind('used', `&party=job&partyId=${job}`), await behind('used', '&party=job&partyId=none')],
      'by job, and where none is named',
    ).to.deep.equal([['BB-0001'], []])
    expect(await behind('used', `&item=${flour.id}`), 'of one item').to.deep.equal(['BB-0001'])
    expect(await slips('from=2026-10-01&to=2026-10-01'), 'a day begins at midnight there').to.deep.equal(['RC-0002'])
    const [did] = (await w.c.get<{ rows: ActivityRow[] }>('/api/look-back/activity?from=2026-09&to=2026-09')).rows
    expect(did).to.deep.include({ person: 'Ines Corrie', place: 'Wet lab', placeId: w.lab.id, slips: 2, lines: 2 })
    const done = (at: string, person = did!.personId) =>
      slips(`person=${person}&at=${at}&from=2026-09-01&to=2026-09-30`)
    expect(
      [await done(w.lab.id), await done(galley), await done('none')].map(r => r.length),
      'the slips that a line of who did what counts',
    ).to.deep.equal([2, 0, 0])
  })

  it('the slips behind a bar are the same, looked up or asked one by one, and in pieces of any size', async () => {
    const { app } = w
    const all = app.places.scope()
    const behind = (bar: Bar, seldom: number) => {
      const { where, few } = slipsBehind(app, bar, all, seldom)
      expect(few, 'whether its movements are looked up').to.equal(seldom > 0 && ('item' in bar || 'category' in bar))
      return app.db.select({ number: slip.number }).from(slip).where(where).orderBy(slip.id).all()
    }
    const bars: Bar[] = [...BARS].flatMap(flow => [
      { flow },
      { flow, item: flour.id },
      { flow, category: 'none', from: '2026-10-01' },
    ])
    const found = bars.map(bar => behind(bar, 2000))
    expect(bars.map(bar => behind(bar, 0))).to.deep.equal(found)
    expect(found[1]!.length, 'of the flour').to.be.greaterThan(3)
    const row = app.db.select().from(person).where(eq(person.signIn, 'ines')).get()!
    const ines = callerFor({ ...row, expiresAt: Infinity, session: '', strong: true }, [
      { role: 'manager', placeId: null },
    ])
    for (const q of [{ state: 'booked', limit: 3 }, { kind: 'waste' }, { q: 'flo' }, { kind: 'count', limit: 1 }]) {
      const whole = await listSlips(app, ines, q, all)
      expect(whole.rows.length, JSON.stringify(q)).to.be.greaterThan(0)
      for (const first of [1, 2]) expect(await listSlips(app, ines, q, all, first)).to.deep.equal(whole)
    }
  })

  it('on paper the bars stand over the table, as high as the figures', async () => {
    const pdf = async (path: string) =>
      new Uint8Array(
        await (
          await fetch(`${w.c.base}${path}`, { headers: { cookie: w.c.cookie, accept: 'application/pdf' } })
        ).arrayBuffer(),
      )
    const months = await pdf('/api/look-back/months?year=2026')
    const [september, october] = await barsOf(months, [0x14, 0x56, 0x4f])
    expect(october! / september!, 'received: 20, then 24').to.be.closeTo(24 / 20, 0.02)
    expect(
      (await textOf(months))[0]!.find(l => l.startsWith('Sept 2026')),
      'and the figures under them',
    ).to.equal('Sept 2026 0.00 0.00 20.00 0.00 −8.00 0.00 0.00 0.00 12.00 0.00')
    const [only] = await barsOf(
      await pdf('/api/look-back/by?from=2026-09&to=2026-11&by=reason&flow=wasted'),
      [0x14, 0x56, 0x4f],
      true,
    )
    expect(only).to.be.greaterThan(300)
  })

  it('an item’s year: quantities by month and what it cost', async () => {
    const out = await w.c.get<ItemYears>(`/api/items/${flour.id}/years`)
    expect(out.months.map(m => [m.month, m.received, m.used, m.wasted, m.other, m.remained])).to.deep.equal([
      ['2026-09', '10', '-4', '0', '0', '6'],
      ['2026-10', '6', '1', '-3', '-1', '9'],
      ['2026-11', '0', '0', '0', '0', '9'],
    ])
    expect(out.prices!.map(p => [p.cost, p.quantity, p.supplier, p.slip.number])).to.deep.equal([
      ['2', '10', 'Fallow', 'RC-0001'],
      ['4', '6', 'Fallow', 'RC-0002'],
    ])
  })

  it('a month is closed in its order; afterwards nothing changes it: a late slip is refused, a late price falls into the open month', async () => {
    const months = () => w.c.get<Months>('/api/months')
    expect((await months()).next).to.deep.equal({ month: '2026-09', drafts: 0, slips: 2, value: '12' })
    const close = (month: string) => w.c.call<Months>('POST', '/api/months', { month })
    expect((await close('2026-10')).body.code).to.equal('close_in_order')
    expect((await close('2026-11')).body.detail).to.match(/has not ended/)
    // Somebody is still writing a slip of September when the month is closed.
    const id = v7()
    const content = {
      kind: 'issue' as const,
      place: w.lab.id,
      effectiveAt: '2026-09-25T10:00:00.000Z',
      head: { job },
      lines: [w.c.line({ item: flour.id, typed: '1' })],
    }
    await w.c.ok('PUT', `/api/slips/${id}`, content)
    expect((await months()).next!.drafts).to.equal(1)
    expect((await close('2026-09')).status).to.equal(201)
    const before = (await year()).map(shown)
    const late = await w.c.book(content, id)
    expect([late.status, late.body.code, late.body.fields[0]!.message]).to.deep.equal([
      422,
      'month_closed',
      'That month is closed. The first day still open is 2026-10-01.',
    ])
    expect((await w.c.get<SlipView>(`/api/slips/${id}`)).state, 'the slip is kept as it was').to.equal('draft')
    await w.c.must({
      kind: 'correction',
      place: w.lab.id,
      head: { corrects: first.id },
      lines: [w.c.line({ ref: first.lines[0]!.id, act: 'invoice', item: flour.id, price: '5' })],
    })
    const after = (await year()).map(shown)
    expect(after.slice(0, 10), 'September and October stand').to.deep.equal(before.slice(0, 10))
    expect(after[10]!.slice(0, 3), 'five more, of which what was used and wasted takes its share').to.deep.equal([
      '2026-11',
      '26',
      '5',
    ])
    expect(decimal(after[10]![7]!) - decimal('26')).to.equal(
      ['2', '3', '4', '5', '6'].reduce((s, i) => s + decimal(after[10]![Number(i)]!), 0n),
    )
    const { rows, next } = await months()
    expect([rows.map(r => r.month), next!.month]).to.deep.equal([['2026-09'], '2026-10'])
    expect(rows[0]!.headHash).to.match(/^[0-9a-f]{64}$/)
  })

  it('what is summed month by month is what the ledger says, also after an item went to another category', async () => {
    const sum = async () => {
      let s = 0n
      for (const r of ((await w.c.get<{ text?: string }>('/api/stock')) as unknown as { rows: { value: string }[] })
        .rows)
        s += decimal(r.value)
      return formatDecimal(s)
    }
    const cat = (await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Larder' })).id
    await w.c.ok('PUT', `/api/items/${flour.id}`, { code: 'FLO', name: 'Flour', category: cat })
    expect((await year(`&category=${cat}`)).at(-1)!.closing)
      .to.equal((await year()).at(-1)!.closing)
      .and.equal(await sum())
    const other = (await w.c.ok<{ id: string }>('POST', '/api/categories', { name: 'Other' })).id
    expect((await year(`&category=${other}`)).at(-1)!.closing).to.equal('0')
    const empty = await w.c.get<LookYear>('/api/look-back/months?year=2020')
    expect(
      empty.rows.every(r => r.opening === '0' && r.closing === '0'),
      'a year without data is a year of nothing',
    ).to.equal(true)
  })
})
