// Freight of a delivery that comes late, is put right, or was none: what lay there and what was used are charged anew.
import { expect } from 'chai'
import { verify } from '@shelve/server'
import { v7 } from 'uuid'
import type { Item, SlipContentInput, SlipView } from '@shelve/contract'
import { newItem, person, world, type World } from './client.ts'

describe('freight of a booked delivery', () => {
  let w: World
  let acid: Item
  let gloves: Item
  let job: string
  before(async () => {
    w = await world()
    acid = await newItem(w.c, { name: 'Acid', code: 'ACD' })
    gloves = await newItem(w.c, { name: 'Gloves', code: 'GLV' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
  })
  after(() => w.stop())
  const freight = (amount: string, basis: 'value' | 'quantity' | 'weight' = 'value') => ({
    label: 'Freight',
    amount,
    basis,
  })
  const put = (slip: SlipView, charges: ReturnType<typeof freight>[], line = slip.lines[0]!): SlipContentInput => ({
    kind: 'correction',
    place: w.lab.id,
    head: { corrects: slip.id, charges },
    lines: [w.c.line({ ref: line.id, act: 'charges', item: line.item!.id })],
  })
  const worth = async (item: Item) =>
    (await w.c.get<{ value: string }>(`/api/items/${item.id}/stock?place=${w.lab.id}`)).value
  const faults = () => verify(w.app).faults

  it('comes later, is put right by another basis, and is none any more; each time the shelf and the job get their part', async () => {
    // 10 of acid at 6 and 20 of gloves at 2: 60 and 40. Half of the acid is used.
    const slip = await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'Thole' },
      lines: [
        w.c.line({ item: acid.id, typed: '10', price: '6' }),
        w.c.line({ item: gloves.id, typed: '20', price: '2' }),
      ],
    })
    expect(slip.charges).to.deep.equal([])
    w.clock.now += 60_000
    await w.c.must({ kind: 'issue', place: w.lab.id, head: { job }, lines: [w.c.line({ item: acid.id, typed: '5' })] })
    w.clock.now += 60_000
    const states: [ReturnType<typeof freight>[], string, string, string][] = [
      // 15 by value: 9 to the acid, 6 to the gloves; 4.5 of the acid's with the half that is used.
      [[freight('15')], '34.5', '46', '10.5'],
      // 15 by quantity: 5 and 10.
      [[freight('15', 'quantity')], '32.5', '50', '12.5'],
      // Two of them: 10 by value (6, 4), 3 by quantity (1, 2).
      [[freight('10'), freight('3', 'quantity')], '33.5', '46', '9.5'],
      // None: as it was.
      [[], '30', '40', '0'],
      [[freight('100')], '60', '80', '70'],
    ]
    let before = 0
    for (const [charges, ofAcid, ofGloves, more] of states) {
      const content = put(slip, charges, slip.lines[charges.length % 2])
      const effect = await w.c.effect(content)
      expect(effect.refusals).to.deep.equal([])
      const booked = await w.c.must(content)
      expect([await worth(acid), await worth(gloves)], JSON.stringify(charges)).to.deep.equal([ofAcid, ofGloves])
      // What stock changed by is what it is more than before.
      expect(Number(booked.value)).to.be.closeTo(Number(more) - before, 1e-9)
      expect(effect.value).to.equal(booked.value)
      before = Number(more)
      const now = await w.c.get<SlipView>(`/api/slips/${slip.id}`)
      expect(now.charges).to.deep.equal(charges)
      w.clock.now += 60_000
    }
    // Taken back as a whole, nothing of it is left anywhere.
    const issue = (await w.c.get<{ rows: { id: string; kind: string }[] }>('/api/slips?kind=issue&limit=1')).rows[0]!
    for (const id of [issue.id, slip.id])
      await w.c.ok('POST', `/api/slips/${id}/reversal`, { id: v7(), lines: null, why: '' })
    expect([await worth(acid), await worth(gloves)]).to.deep.equal(['0', '0'])
  })

  it('is refused of what has none, where it cannot be spread or read, and to whoever may not see what things cost', async () => {
    const slip = await w.c.received(
      w.lab.id,
      'Thole',
      w.c.line({ item: acid.id, typed: '4' }),
      w.c.line({ item: gloves.id, typed: '1' }),
    )
    const code = async (content: SlipContentInput, c = w.c) => (await c.book(content)).body.code
    expect(await code(put(slip, [freight('5')])), 'without any price').to.equal('basis_zero')
    expect(await code(put(slip, [freight('5', 'weight')]))).to.equal('basis_unknown')
    expect(await code(put(slip, [freight('five')]))).to.equal('not_a_price')
    const issue = await w.c.must({
      kind: 'issue',
      place: w.lab.id,
      head: { job },
      lines: [w.c.line({ item: acid.id, typed: '1' })],
    })
    expect(await code(put(issue, [freight('5')]))).to.equal('has_no_price')
    // Said on two lines it is once.
    const twice = put(slip, [freight('5', 'quantity')])
    twice.lines!.push(w.c.line({ ref: slip.lines[1]!.id, act: 'charges', item: gloves.id }))
    await w.c.must(twice)
    expect((await w.c.get<SlipView>(`/api/slips/${slip.id}`)).charges).to.deep.equal([freight('5', 'quantity')])
    const who = await person(w, 'kim', 'requester', w.lab.id)
    const hidden = await who.get<SlipView>(`/api/slips/${slip.id}`)
    expect(hidden.charges.map(c => c.amount)).to.deep.equal([undefined])
    expect(faults()).to.deep.equal([])
  })
})
