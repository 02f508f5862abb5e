import { expect } from 'chai'
import { v7 } from 'uuid'
import type { Item, MovementRow, SlipContentInput } from '@shelve/contract'
import { verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

/** Each of these was answered with a 500, or with a wrong figure, once. */
describe('odd input', () => {
  let w: World
  let flour: Item
  before(async () => {
    w = await world()
    flour = await newItem(w.c, { code: 'FLR', name: 'Flour' })
    for (const typed of ['10', '1', '2', '3', '4']) {
      w.clock.now += 60_000
      await receive({ item: flour.id, typed, price: '2' })
    }
  })
  after(() => w.stop())
  const receive = (line: object, more: object = {}) =>
    w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'Müller' }, lines: [w.c.line(line)], ...more })
  const refused = async (content: SlipContentInput): Promise<unknown[]> => {
    const r = await w.c.book(content)
    return [r.status, ...new Set(r.body.fields.map(f => f.code))]
  }

  it('a cursor that somebody made up is as good as none, on every list', async () => {
    const made = ['WzBd', 'WzEsMiwieCJd', 'W10', 'WyJhIl0', 'WzEuNSwyXQ', 'WzEsMl0', 'x', 'bnVsbA']
    for (const list of ['/api/items', '/api/slips', '/api/stock', `/api/items/${flour.id}/movements`])
      for (const cursor of made)
        expect((await w.c.call('GET', `${list}?cursor=${cursor}`)).status, `${list} ${cursor}`).to.equal(200)
  })

  it('a list is put in the order of its own columns, and of nothing else', async () => {
    for (const sort of ['valueOf', 'constructor', '-toString', 'nonsense'])
      expect((await w.c.call('GET', `/api/stock?sort=${sort}`)).status, sort).to.equal(400)
    expect((await w.c.call('GET', '/api/stock?sort=-days')).status).to.equal(200)
  })

  it('two lines of a restock slip with one id are refused', async () => {
    const line = { id: v7(), item: flour.id, place: w.lab.id, typed: '3' }
    const r = await w.c.call('POST', '/api/restock', {
      id: v7(),
      source: { kind: 'nobody', id: null },
      lines: [line, line],
    })
    expect([r.status, r.body.code]).to.deep.equal([422, 'invalid'])
  })

  it('nothing above what the books can hold is booked: prices, charges, standard costs, counts', async () => {
    const dear = '9999999999'
    const big = await receive({ item: flour.id, typed: '1', price: '1' })
    const standard = await newItem(w.c, { code: 'STD', name: 'Bolts' })
    await receive({ item: standard.id, typed: '900000000', price: '1' })
    for (const [what, content, code] of [
      [
        'a price put right',
        {
          kind: 'correction',
          head: { corrects: big.id },
          lines: [w.c.line({ ref: big.lines[0]!.id, item: flour.id, act: 'price', price: dear })],
        },
        'price_out_of_range',
      ],
      [
        'an invoice',
        {
          kind: 'correction',
          head: { corrects: big.id },
          lines: [w.c.line({ ref: big.lines[0]!.id, act: 'invoice', price: dear })],
        },
        'price_out_of_range',
      ],
      [
        'freight',
        {
          kind: 'receipt',
          place: w.lab.id,
          head: { supplier: 'Müller', charges: [{ label: 'Freight', amount: '9999999999999', basis: 'value' }] },
          lines: [w.c.line({ item: flour.id, typed: '1', price: '1' })],
        },
        'price_out_of_range',
      ],
      [
        'a standard cost',
        {
          kind: 'method_change',
          head: { method: 'standard' },
          lines: [w.c.line({ item: standard.id, unitCost: '999999999' })],
        },
        'too_large',
      ],
      [
        'a surplus',
        {
          kind: 'count',
          place: w.lab.id,
          lines: [
            w.c.line({
              item: (await newItem(w.c, { code: 'NEW', name: 'New' })).id,
              from: w.lab.id,
              counted: 'counted',
              typed: '999999999',
              again: '999999999',
              unitCost: '9999999999',
            }),
          ],
        },
        'too_large',
      ],
    ] as const)
      expect(await refused(content as unknown as SlipContentInput), what).to.deep.equal([422, code])
    expect(verify(w.app).faults).to.deep.equal([])
  })

  it('names that differ only in the size of their letters are one, in any script', async () => {
    await receive({ item: flour.id, typed: '1', price: '2' }, { head: { supplier: 'MÜLLER' } })
    await receive({ item: flour.id, typed: '1', price: '2' }, { head: { supplier: 'mu\u0308ller' } })
    const { rows } = await w.c.get<{ rows: { name: string }[] }>('/api/suppliers')
    expect(rows.map(r => r.name)).to.deep.equal(['Müller'])
    await newItem(w.c, { code: 'ÄPFEL', name: 'Apples' })
    const r = await w.c.call('POST', '/api/items', { code: 'äpfel', name: 'Apples too', unit: 'each' })
    expect([r.status, r.body.code]).to.deep.equal([409, 'code_taken'])
  })

  it('the running balance of a later page is right also where something was booked in between, before it', async () => {
    const page = (cursor?: string) =>
      w.c.get<{ rows: MovementRow[]; next: string | null }>(
        `/api/items/${flour.id}/movements?limit=2${cursor ? `&cursor=${cursor}` : ''}`,
      )
    const first = await page()
    const at = new Date(w.clock.now - 3_600_000).toISOString()
    await receive({ item: flour.id, typed: '100', price: '2' }, { effectiveAt: at })
    const rows: MovementRow[] = [...first.rows]
    for (let next = first.next; next;) {
      const p = await page(next)
      rows.push(...p.rows)
      next = p.next
    }
    const late = rows.findIndex(r => r.change === '100')
    expect(late, 'it falls on a page that is read after it was booked').to.be.greaterThan(1)
    for (const [i, r] of rows.entries()) {
      const below = rows.slice(i).reduce((s, x) => s + Number(x.change), 0)
      if (i > 1) expect(Number(r.balance), `what remained after movement ${r.seq}`).to.equal(below)
    }
  })
})
