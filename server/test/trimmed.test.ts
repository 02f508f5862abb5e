// What jobs trim of what they take: it stands in the cost of what they make, and beside what was wasted of the same. Worked out by hand.
import { expect } from 'chai'
import { v7 } from 'uuid'
import { decimal, lossOf, ONE, over, type Formula, ratio } from '@shelve/core'
import type { SlipView, Trimmed } from '@shelve/contract'
import { kitchen } from './kitchen.ts'
import { person, world, type World } from './client.ts'

type Found = { id: string }
describe('what jobs trim', () => {
  it('is the loss of each line, weighed by what it takes', () => {
    const line = (item: number, amount: string, loss: bigint, fixed = '0') => ({
      item,
      amount: decimal(amount),
      fixed: decimal(fixed),
      loss: ratio(loss, 100n),
    })
    const formula: Formula = {
      output: 9,
      base: 2n * ONE,
      yields: ratio(1n),
      batch: null,
      lines: [line(1, '1', 20n), line(2, '0.8', 20n), line(2, '1', 0n), line(3, '0', 50n, '0.25'), line(4, '1', 0n)],
    }
    // Of 2 wanted: 0.8 net and 20 % lost are 1 taken, 0.2 of it lost; 1 more without loss: 0.2 of 2.
    expect([1, 2, 3, 4, 5].map(i => lossOf(formula, 2n * ONE, i)).map(r => over(r, ratio(1n)))).to.deep.equal([
      ratio(1n, 5n),
      ratio(1n, 10n),
      ratio(1n, 2n),
      ratio(0n),
      ratio(0n),
    ])
    // Of 4 wanted what is fixed counts once: the same part of it.
    expect(lossOf(formula, 4n * ONE, 3)).to.deep.equal(ratio(1n, 2n))
  })

  let w: World
  let k: Awaited<ReturnType<typeof kitchen>>
  before(async () => {
    w = await world()
    k = await kitchen(w)
    await k.makeAll()
  })
  after(() => w.stop())
  const told = async (more = '', c = w.c) => {
    const r = await c.get<Trimmed>(`/api/look-back/trimmed?from=2026-11&to=2026-11${more}`)
    return r.rows.map(x => [x.name, x.taken, x.trimmed, x.value, x.wasted, x.wastedValue])
  }

  it('by item, of what was taken and is not taken back; typed amounts say nothing of it; what was wasted stands beside', async () => {
    expect(await told()).to.deep.equal([])
    const job = async (more: object) => {
      const { id } = await w.c.ok<Found>('POST', '/api/jobs', { place: w.lab.id, template: k.ids['STK'], ...more })
      const draft = v7()
      await w.c.ok('POST', `/api/jobs/${id}/make`, { id: draft, typed: '' })
      const r = await w.c.bookSeen(await w.c.draft(draft))
      expect(r.status, r.text).to.equal(201)
      return r.body
    }
    // Stock for 4.5: 0.6 onion ÷ 0.9 and 0.4 carrot ÷ 0.85 for each 4.5 L: 0.667 and 0.471 are taken.
    const first = await job({ typed: '4.5' })
    const taken = Object.fromEntries(first.lines.map(l => [l.item!.name, l.quantity]))
    expect([taken['onion'], taken['carrot']]).to.deep.equal(['0.667', '0.471'])
    const both = [
      ['onion', '0.667', '0.0667', '0.08004', '0', '0'],
      ['carrot', '0.471', '0.07065', '0.063585', '0', '0'],
    ]
    expect(await told()).to.deep.equal(both)
    const reason = (await w.c.get<{ rows: Found[] }>('/api/waste-reasons')).rows[0]!.id
    await w.c.must({
      kind: 'waste',
      place: w.lab.id,
      head: { reason },
      lines: [w.c.line({ item: k.items['onion']!.id, typed: '0.5' })],
    })
    both[0] = ['onion', '0.667', '0.0667', '0.08004', '0.5', '0.6']
    expect(await told()).to.deep.equal(both)
    // A second one is a mistake: taken back it trimmed nothing.
    const second = await job({ typed: '2' })
    expect((await told()).map(r => r[0])).to.deep.equal(['onion', 'carrot'])
    expect((await told())[0]![1]).to.not.equal('0.667')
    await w.c.ok<SlipView>('POST', `/api/slips/${second.id}/reversal`, { id: v7() })
    expect(await told()).to.deep.equal(both)
    const csv = await w.c.call('GET', '/api/look-back/trimmed?from=2026-11&to=2026-11', undefined, {
      accept: 'text/csv',
    })
    expect(csv.text.split('\r\n').slice(0, 2)).to.deep.equal([
      'code,name,unit,taken,trimmed,value trimmed,wasted,value wasted',
      'ONION,onion,kg,0.667,0.0667,0.08004,0.5,0.6',
    ])
    expect(await told().then(r => r.length)).to.equal(2)
    // Of what somebody typed it is not known what of it is lost.
    await job({ typed: '1', lines: [{ id: v7(), item: k.items['carrot']!.id, typed: '0.3' }] })
    expect((await told()).map(r => r[1] === '0.471')).to.deep.equal([false, true])
    expect((await w.c.get<Trimmed>('/api/look-back/trimmed?from=2026-10&to=2026-10')).rows).to.deep.equal([])
  })
  it('of the places that one may look into, and of nobody who sees no values', async () => {
    const shed = (await w.c.ok<Found>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    expect(await told(`&place=${shed}`)).to.deep.equal([])
    const keeper = await person(w, 'Mirja', 'keeper', shed)
    expect(await told('', keeper)).to.deep.equal([])
    const asks = await person(w, 'Sorrel', 'requester')
    expect((await asks.call('GET', '/api/look-back/trimmed?from=2026-11&to=2026-11')).status).to.equal(403)
  })
})
