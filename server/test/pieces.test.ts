import { expect } from 'chai'
import {
  type IndexItem,
  ItemInput,
  type Item,
  type ItemYears,
  type LotRow,
  type LotTrace,
  type WorkingView,
} from '@shelve/contract'
import { isLong, jsonInPieces } from '../src/ground/index.ts'
import { createItem } from '../src/index.ts'
import { newItem, world, type World } from './client.ts'

/** What goes through much reads it some at a time: of more than one piece each row is there once, in its order. */
describe('more than is read at once', () => {
  const LOTS = 730
  const ITEMS = 620
  let w: World
  let pipe: Item
  let glue: Item
  /** The lots, in the order in which they go: by their last day, the second half of them first. */
  const expiry = (n: number) => new Date(Date.UTC(2027, 0, 1 + ((n + LOTS / 2) % LOTS))).toISOString().slice(0, 10)
  const codes = Array.from({ length: LOTS }, (_, n) => `L${String(n).padStart(3, '0')}`)
  const byExpiry = codes.map((code, n) => ({ code, day: expiry(n) })).sort((a, b) => (a.day < b.day ? -1 : 1))
  before(async () => {
    w = await world()
    pipe = await newItem(w.c, { name: 'Pipe', code: 'PIPE', identifiedBy: 'lot_expiry' })
    glue = await newItem(w.c, { name: 'Glue', code: 'GLUE', identifiedBy: 'lot_expiry' })
    w.app.setUp(() => {
      for (let n = 1; n <= ITEMS; n++)
        createItem(w.app, ItemInput.parse({ code: `N${n}`, name: `Nail ${n}`, unit: 'each', codes: [`NAIL-${n}`] }))
    })
    const line = (item: Item, code: string, day: string) =>
      w.c.line({ item: item.id, typed: '1', price: '2', lot: { code, expiry: day } })
    for (let from = 0; from < LOTS; from += 100)
      await w.c.must({
        kind: 'receipt',
        place: w.lab.id,
        head: { supplier: 'Fallow' },
        lines: [
          ...codes.slice(from, from + 100).map((code, n) => line(pipe, code, expiry(from + n))),
          line(glue, `G${from}`, '2027-01-01'),
        ],
      })
  })
  after(() => w.stop())

  it('the sheet of a count: an item after the other, lots in the order in which they go', async () => {
    const sheet = await w.c.get<{ lines: { item: string; lot: { code: string } | null; expected: string }[] }>(
      `/api/sheets?place=${w.lab.id}&figures=yes`,
    )
    const glues = Array.from({ length: Math.ceil(LOTS / 100) }, (_, i) => `G${100 * i}`)
    expect(sheet.lines.map(l => l.lot?.code)).to.deep.equal([...glues, ...byExpiry.map(l => l.code)])
    expect(sheet.lines.every(l => l.expected === '1')).to.equal(true)
    expect(sheet.lines.map(l => l.item)).to.deep.equal([...glues.map(() => glue.id), ...codes.map(() => pipe.id)])
  })

  it('lots by their last day and by their code, page by page and as a file', async () => {
    const paged = async (sort: string) => {
      const found: LotRow[] = []
      for (let next: string | null = ''; next !== null;) {
        const page: { rows: LotRow[]; next: string | null } = await w.c.get(
          `/api/lots?q=pipe&sort=${sort}&limit=200${next && `&cursor=${next}`}`,
        )
        found.push(...page.rows)
        next = page.next
      }
      return found.map(l => l.code)
    }
    expect(await paged('expiry')).to.deep.equal(byExpiry.map(l => l.code))
    expect(await paged('code')).to.deep.equal(codes)
    const file = await fetch(`${w.c.base}/api/lots?q=pipe&sort=code`, {
      headers: { cookie: w.c.cookie, accept: 'text/csv' },
    })
    const lines = (await file.text()).trim().split('\r\n').slice(1)
    expect(lines.map(l => l.split(',')[2])).to.deep.equal(codes)
  })

  it('what is on hand, what it is worth and its months are of all that it ever did', async () => {
    const working = (figure: string) => w.c.get<WorkingView>(`/api/workings/${figure}?item=${pipe.id}`)
    expect([(await working('on-hand')).figure, (await working('value')).figure]).to.deep.equal([
      String(LOTS),
      String(2 * LOTS),
    ])
    const { months, prices } = await w.c.get<ItemYears>(`/api/items/${pipe.id}/years`)
    expect([months.at(-1)!.received, months.at(-1)!.remained]).to.deep.equal([String(LOTS), String(LOTS)])
    expect(prices, 'the last sixty').to.have.length(60)
  })

  it('the index of a device holds every item by name, with its codes', async () => {
    const { items } = await w.c.get<{ items: IndexItem[] }>('/api/index')
    expect(items).to.have.length(ITEMS + 2)
    expect(items.map(i => i.name)).to.deep.equal(items.map(i => i.name).sort())
    expect(items.find(i => i.name === `Nail ${ITEMS}`)!.codes.map(c => c.code)).to.deep.equal([`NAIL-${ITEMS}`])
  })

  it('who got of a lot is found wherever it stands in all that its item did', async () => {
    const lots = (await w.c.get<{ rows: LotRow[] }>('/api/lots?q=pipe&sort=code&limit=500')).rows
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    const taken = [lots[3]!, lots[400]!]
    await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: taken.map(l => w.c.line({ item: pipe.id, typed: '1', lot: { id: l.id, code: l.code } })),
    })
    for (const l of [...taken, lots[4]!]) {
      const { got } = await w.c.get<LotTrace>(`/api/lots/${l.id}/trace`)
      expect(got.map(g => [g.code, g.quantity])).to.deep.equal(taken.includes(l) ? [[l.code, '1']] : [])
    }
  })

  it('an answer with a long list is written in pieces: the same text as in one', () => {
    const row = (n: number) => ({
      n,
      name: `"${n}" \u2028 é`,
      none: undefined,
      list: [n, undefined, null],
      at: new Date(n),
    })
    const rows = (many: number) => Array.from({ length: many }, (_, n) => row(n))
    for (const answer of [
      {},
      { none: undefined },
      { none: undefined, rows: [] },
      { rows: rows(1), next: null },
      { rows: rows(50), 'a "name"': { rows: rows(2) } },
      { rows: rows(51), next: 'x', none: undefined },
      { one: 1, rows: rows(1050), others: [undefined, ...rows(100)] },
    ]) {
      const pieces = [...jsonInPieces(answer)]
      expect(pieces.join('')).to.equal(JSON.stringify(answer))
      expect(Math.max(...pieces.map(p => p.length))).to.be.lessThan(51 * JSON.stringify(row(1000)).length)
    }
    expect([500, 501].map(many => isLong({ next: null, rows: rows(many) }))).to.deep.equal([false, true])
    expect([null, 'text', 7, rows(2)].map(isLong)).to.deep.equal([false, false, false, false])
  })
})
