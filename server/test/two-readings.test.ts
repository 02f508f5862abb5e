import { expect } from 'chai'
import type { Item, RefusalView, SlipContentInput, SlipView } from '@shelve/contract'
import { verify } from '@shelve/server'
import { newItem, world, type World } from './client.ts'

type Line = NonNullable<SlipContentInput['lines']>[number]
/** Rule 58: `1.250` of money may be one and a quarter, or 1 250. Whoever typed it is asked, in every field that takes money. */
describe('58: an amount of money that may be read in two ways is asked', () => {
  let w: World
  let gloves: Item
  let receipt: SlipView
  const line = (more: Partial<Line> = {}) => w.c.line({ item: gloves.id, typed: '2', ...more })
  const slip = (kind: SlipContentInput['kind'], lines: Line[], head: object = {}): SlipContentInput => ({
    kind,
    place: w.lab.id,
    head,
    lines,
  })
  const correction = (more: Partial<Line>) =>
    slip('correction', [line({ ref: receipt.lines[0]!.id, typed: '', ...more })], {
      corrects: receipt.id,
      supplier: 'Orlin',
    })
  beforeEach(async () => {
    w = await world()
    gloves = await newItem(w.c, { name: 'Gloves' })
    receipt = await w.c.must(slip('receipt', [line({ typed: '2000', price: '1' })], { supplier: 'Orlin' }))
  })
  afterEach(() => w.stop())

  const fields: [string, string, (text: string) => SlipContentInput, worth: [string, string]][] = [
    [
      'price of a delivery',
      'price',
      t => slip('receipt', [line({ price: t })], { supplier: 'Orlin' }),
      ['2.5', '2500'],
    ],
    [
      'discount',
      'discount',
      t => slip('receipt', [line({ price: '2000', discount: t })], { supplier: 'Orlin' }),
      ['3998.75', '2750'],
    ],
    [
      'freight',
      'charges',
      t =>
        slip('receipt', [line({ price: '1' })], {
          supplier: 'Orlin',
          charges: [{ label: 'Freight', amount: t, basis: 'value' }],
        }),
      ['3.25', '1252'],
    ],
    ['price of what was there from the start', 'price', t => slip('opening', [line({ price: t })]), ['2.5', '2500']],
    [
      'what is credited',
      'price',
      t => slip('supplier_return', [line({ price: t })], { supplier: 'Orlin' }),
      ['-2', '-2'],
    ],
    [
      'what one costs that was found',
      'unitCost',
      t => slip('count', [line({ from: w.lab.id, typed: '2001', again: '2001', counted: 'counted', unitCost: t })]),
      ['1', '1'],
    ],
    ['price put right', 'price', t => correction({ act: 'price', price: t }), ['500', '2498000']],
    ['invoice of so much more', 'price', t => correction({ act: 'invoice', price: t }), ['1.25', '1250']],
    ['invoice of so much less', 'price', t => correction({ act: 'invoice', price: `-${t}` }), ['-1.25', '-1250']],
    ['amount of an invoice', 'invoiced', t => correction({ act: 'invoiced_as', invoiced: t }), ['-1998.75', '-750']],
    [
      'standard cost',
      'unitCost',
      t => slip('method_change', [line({ typed: '', unitCost: t })], { method: 'standard' }),
      ['500', '2498000'],
    ],
  ]
  for (const [what, field, content, worth] of fields)
    it(`${what}: 1.250 and 1,250 are asked; 1.2500 is one and a quarter, 1250 and 1.250,0 are the other`, async () => {
      for (const text of ['1.250', '1,250']) {
        const r = await w.c.book(content(text))
        expect(r.status).to.equal(422)
        const [no, ...more] = r.body.fields as unknown as RefusalView[]
        expect([no!.code, no!.field, more.length]).to.deep.equal(['ambiguous', field, 0])
        expect(no!.message).to.equal(`${text} could be 1.25 or 1250. Which one?`)
      }
      const effect = async (text: string) => (await w.c.effect(content(text))).value
      expect([await effect('1.2500'), await effect('1250'), await effect('1.250,0')]).to.deep.equal([
        worth[0],
        worth[1],
        worth[1],
      ])
      await w.c.must(content('1.2500'))
      expect(verify(w.app).faults).to.deep.equal([])
    })
})
