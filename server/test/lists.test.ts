import { expect } from 'chai'
import fc from 'fast-check'
import { v7 } from 'uuid'
import { decimal } from '@shelve/core'
import type { Item, ItemStock, MovementRow, ShortRow, SlipRow, StockRow } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

type Page<T> = { rows: T[]; next: string | null; total: number | null; value?: string }
describe('lists', () => {
  let w: World
  let items: Item[]
  let job: string
  let acids: string
  before(async () => {
    w = await world()
    const { c, lab } = w
    job = (await c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Titration' })).id
    const chemicals = (await c.ok<{ id: string }>('POST', '/api/categories', { name: 'Chemicals' })).id
    acids = (await c.ok<{ id: string }>('POST', '/api/categories', { name: 'Acids', parent: chemicals })).id
    items = []
    for (let n = 0; n < 23; n++)
      items.push(
        await newItem(c, {
          code: `K${String(n).padStart(2, '0')}`,
          name: `${n % 2 ? 'Filter' : 'Élixir'} no ${n}`,
          unit: n % 3 ? 'each' : 'L',
          decimals: n % 3 ? 0 : 2,
          identifiedBy: n % 5 ? 'quantity' : 'lot_expiry',
          category: n % 4 ? null : acids,
        }),
      )
    const shed = (await c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    for (const [n, it] of items.entries()) {
      if (n % 6)
        await c.ok('PUT', '/api/levels', {
          item: it.id,
          place: lab.id,
          minimum: String(2 + (n % 7)),
          target: String(10 + (n % 7)),
        })
      if (n % 4 === 3) continue
      w.clock.now += 60_000
      await c.must({
        kind: 'receipt',
        place: n % 7 === 1 ? shed : lab.id,
        head: { supplier: `Supplier ${n % 3}` },
        lines: [
          c.line({
            item: it.id,
            typed: String(1 + ((n * 7) % 19)),
            price: String(1 + n / 4),
            lot: n % 5 ? null : { code: `L${n}`, expiry: `2027-0${1 + (n % 8)}-15` },
          }),
        ],
      })
      if (n % 3 === 1) {
        w.clock.now += 60_000
        await c.must({
          kind: 'issue',
          place: n % 7 === 1 ? shed : lab.id,
          taker: n % 2 ? 'Wren' : 'Oskar',
          head: { job },
          lines: [c.line({ item: it.id, typed: '1' })],
        })
      }
    }
  })
  after(() => w.stop())
  /** A list page by page. */
  async function paged<T>(path: string, limit: number): Promise<T[]> {
    const out: T[] = []
    for (let cursor = ''; ;) {
      const p = await w.c.get<Page<T>>(`${path}${path.includes('?') ? '&' : '?'}limit=${limit}${cursor}`)
      expect(p.rows.length).to.be.at.most(limit)
      out.push(...p.rows)
      if (!p.next) return out
      cursor = `&cursor=${encodeURIComponent(p.next)}`
    }
  }

  it('stock: page by page in any order is the whole list in that order, and what is filtered is what fits', async () => {
    const columns = [
      'name',
      'code',
      'category',
      'onHand',
      'available',
      'state',
      'value',
      'firstExpiry',
      'days',
    ] as const
    const whole = (await w.c.get<Page<StockRow>>('/api/stock?limit=500')).rows
    expect(whole.map(r => r.code).sort(), 'all items, also those of which nothing lies anywhere').to.deep.equal(
      items.map(i => i.code).sort(),
    )
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...columns),
        fc.boolean(),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom('', `&place=${w.lab.id}`),
        fc.constantFrom('', '&state=short', '&state=in_range', '&state=out', '&state=none'),
        fc.constantFrom('', '&q=filter', '&q=no%201', '&q=K1'),
        async (column, down, limit, place, state, q) => {
          const path = `/api/stock?sort=${down ? '-' : ''}${column}${place}${state}${q}`
          const rows = await paged<StockRow>(path, limit)
          expect(new Set(rows.map(r => r.item)).size, 'no row twice').to.equal(rows.length)
          expect(rows).to.deep.equal((await w.c.get<Page<StockRow>>(`${path}&limit=500`)).rows)
          const base = (await w.c.get<Page<StockRow>>(`/api/stock?limit=500${place}`)).rows
          const words = decodeURIComponent(q.slice(3)).toLowerCase().split(' ').filter(Boolean)
          const fits = base.filter(
            r =>
              (!state || r.levels.state === state.slice(7)) &&
              words.every(x => r.name.toLowerCase().includes(x) || r.code.toLowerCase().includes(x)),
          )
          expect(rows.map(r => r.code).sort()).to.deep.equal(fits.map(r => r.code).sort())
          if (column === 'onHand' || column === 'value') {
            const of = (r: StockRow) => decimal(column === 'value' ? r.value! : r.levels.onHand)
            rows
              .slice(1)
              .forEach((r, i) =>
                expect(down ? of(rows[i]!) >= of(r) : of(rows[i]!) <= of(r), `${column} at ${i}`).to.equal(true),
              )
          }
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 40) },
    )
  })
  it('stock: a category is its whole subtree; the value is the sum of the rows; places add up to everywhere', async () => {
    const under = await w.c.get<Page<StockRow>>(`/api/stock?limit=500&category=${acids}`)
    expect(under.rows.length).to.equal(items.filter((_, n) => n % 4 === 0).length)
    const whole = await w.c.get<Page<StockRow>>('/api/stock?limit=500')
    const sum = (p: Page<StockRow>) => p.rows.reduce((s, r) => s + decimal(r.value!), 0n)
    expect(sum(whole)).to.equal(decimal(whole.value!))
    const areas = (await w.c.get<{ rows: { id: string; kind: string }[] }>('/api/places')).rows.filter(
      p => p.kind === 'area',
    )
    let parts = 0n
    for (const a of areas) parts += decimal((await w.c.get<Page<StockRow>>(`/api/stock?place=${a.id}`)).value!)
    expect(parts).to.equal(decimal(whole.value!))
  })
  it('stock and movements as CSV are what is shown, by RFC 4180, and start no formula', async () => {
    const sly = await newItem(w.c, { code: '=1+1', name: '@sum, "quoted" and +more' })
    await w.c.received(w.lab.id, 'S', w.c.line({ item: sly.id, typed: '3', price: '2' }))
    const csv = await w.c.call('GET', `/api/stock?q=${encodeURIComponent('=1+1')}`, undefined, { accept: 'text/csv' })
    expect(csv.headers.get('content-type')).to.match(/^text\/csv/)
    expect(csv.headers.get('content-disposition')).to.match(/attachment; filename="stock-.*\.csv"/)
    const [head, line] = csv.text.trim().split('\r\n')
    expect(head!.split(',').slice(0, 4)).to.deep.equal(['code', 'name', 'category', 'place'])
    expect(line).to.match(/^'=1\+1,"'@sum, ""quoted""/)
    const moved = await w.c.call('GET', `/api/items/${sly.id}/movements`, undefined, { accept: 'text/csv' })
    expect(moved.text.trim().split('\r\n')).to.have.length(2)
  })

  it('movements of every item run back from what is there, in any place', async () => {
    for (const it of items)
      for (const place of ['', `place=${w.lab.id}`]) {
        const rows = await paged<MovementRow>(`/api/items/${it.id}/movements?${place}`, 1)
        const stock = await w.c.get<ItemStock>(`/api/items/${it.id}/stock`)
        const here = place ? (stock.places.find(p => p.place === w.lab.id)?.levels.onHand ?? '0') : stock.onHand
        expect(rows[0]?.balance ?? '0', `${it.code} ${place}`).to.equal(here)
        rows
          .slice(0, -1)
          .forEach((r, i) => expect(decimal(r.balance) - decimal(r.change)).to.equal(decimal(rows[i + 1]!.balance)))
        if (rows.length) expect(decimal(rows.at(-1)!.balance)).to.equal(decimal(rows.at(-1)!.change))
      }
  })

  it('slips: found by number, item, person and about, page by page, drafts mine first', async () => {
    const all = await paged<SlipRow>('/api/slips?state=booked', 4)
    expect(all).to.deep.equal((await w.c.get<Page<SlipRow>>('/api/slips?state=booked&limit=500')).rows)
    expect(all.map(s => s.at)).to.deep.equal(
      all
        .map(s => s.at)
        .sort()
        .reverse(),
    )
    const search = async (q: string) =>
      (await w.c.get<Page<SlipRow>>(`/api/slips?limit=500&q=${encodeURIComponent(q)}`)).rows
    expect((await search('RC-0002')).map(s => s.number)).to.deep.equal(['RC-0002'])
    expect((await search('titration')).every(s => s.kind === 'issue')).to.equal(true)
    expect((await search('Wren')).every(s => s.taker === 'Wren')).to.equal(true)
    expect((await search(items[4]!.code)).length, 'a delivery and an issue of it').to.equal(2)
    const both = await search('wren TITRA')
    expect(both.length, 'each word somewhere').to.be.greaterThan(0)
    expect(both.every(s => s.taker === 'Wren' && s.title.includes('itration'))).to.equal(true)
    expect(
      (await search('Wr')).map(s => s.id),
      'also a word too short for the index',
    ).to.deep.equal((await search('Wren')).map(s => s.id))
    expect(await search('Wren Oskar'), 'and all of them').to.deep.equal([])
    expect(await search('"~'), 'a mark means nothing to the index').to.deep.equal([])
    expect(await search('wre"n*'), 'nor in a word').to.deep.equal([])
    expect(await search('100%'), 'a mark is no wildcard').to.deep.equal([])
    expect(
      (await w.c.get<Page<SlipRow>>(`/api/slips?kind=issue&place=${w.lab.id}&limit=500`)).rows.every(
        s => s.kind === 'issue' && s.place === 'Wet lab',
      ),
    ).to.equal(true)

    await w.c.ok('POST', '/api/people', { name: 'Ruben', signIn: 'ruben', password: 'long enough', role: 'keeper' })
    const ruben = new (w.c.constructor as new (b: string) => typeof w.c)(w.c.base)
    await ruben.ok('POST', '/api/session', { signIn: 'ruben', password: 'long enough' })
    const draft = (c: typeof w.c) => c.ok('PUT', `/api/slips/${v7()}`, { kind: 'waste', place: w.lab.id, lines: [] })
    await draft(w.c)
    w.clock.now += 60_000
    await draft(ruben)
    expect((await ruben.get<Page<SlipRow>>('/api/slips?state=draft')).rows.map(s => s.mine)).to.deep.equal([
      true,
      false,
    ])
    expect((await w.c.get<Page<SlipRow>>('/api/slips?state=draft')).rows.map(s => s.mine)).to.deep.equal([true, false])
    expect((await ruben.get<Page<SlipRow>>('/api/slips?state=draft&mine=yes')).rows).to.have.length(1)
  })

  it('what is short is what stands at or below its minimum, the most urgent first, with what lies elsewhere', async () => {
    const rows = (await w.c.get<{ rows: ShortRow[] }>('/api/short')).rows
    const stock = (await w.c.get<Page<StockRow>>(`/api/stock?place=${w.lab.id}&limit=500`)).rows
    const short = stock.filter(
      r => r.levels.minimum !== null && decimal(r.levels.available) <= decimal(r.levels.minimum),
    )
    expect(rows.map(r => r.code).sort()).to.deep.equal(short.map(r => r.code).sort())
    for (const r of rows)
      expect(decimal(r.levels.bring), r.code).to.equal(decimal(r.levels.target!) - decimal(r.levels.available))
    const firstNotOut = rows.findIndex(r => r.levels.state !== 'out')
    expect(rows.slice(firstNotOut).every(r => r.levels.state !== 'out')).to.equal(true)
    const inShed = rows.find(r => r.elsewhere.length)!
    expect(inShed.elsewhere[0]!.place).to.equal('Shed')
  })
})
