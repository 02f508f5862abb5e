import { expect } from 'chai'
import fc from 'fast-check'
import { asWasSaid, saidOf, SlipContent, type SlipContentInput, type SlipView } from '@shelve/contract'
import { packed, unpacked } from '../src/ledger/sealed.ts'
import { newItem, world } from './client.ts'

/** Any slip, some of it said and some not. */
const uuid = fc.uuid({ version: 7 })
const maybe = <T>(x: fc.Arbitrary<T>) => fc.option(x, { nil: undefined })
const content: fc.Arbitrary<SlipContentInput> = fc.record({
  // The one kind that may say whatever there is to say.
  kind: fc.constant('correction' as const),
  place: fc.option(uuid),
  taker: maybe(fc.constantFrom('', 'Wren')),
  head: maybe(
    fc.record({
      supplier: fc.constantFrom('', 'Thole'),
      blind: fc.boolean(),
      job: fc.option(uuid),
      charges: fc.constantFrom([], [{ label: '', amount: '4', basis: 'value' as const }]),
    }),
  ),
  lines: fc.uniqueArray(
    fc.record({
      id: uuid,
      item: fc.option(uuid),
      typed: fc.constantFrom('', '2 case + 3'),
      lot: fc.constantFrom(null, { code: 'A', expiry: '2027-01-31' }, { code: '' }),
      act: fc.constantFrom('none' as const, 'take_back' as const),
      counted: fc.constantFrom('not' as const, 'confirmed' as const),
      override: fc.boolean(),
      unit: fc.option(fc.constantFrom('', 'case')),
    }),
    { maxLength: 5, selector: l => l.id },
  ),
})

describe('what a slip says', () => {
  it('is all of it, without what goes without saying; and from it the whole slip comes back', () => {
    fc.assert(
      fc.property(content, given => {
        const whole = SlipContent.parse(given)
        const said = saidOf(whole)
        expect(asWasSaid(JSON.parse(JSON.stringify(said)) as typeof said)).to.deep.equal(whole)
        expect(saidOf(asWasSaid(said)), 'twice is once').to.deep.equal(said)
      }),
    )
    const line = { id: '01a21000-0000-7000-8000-000000000001', item: null }
    expect(saidOf(SlipContent.parse({ kind: 'issue', lines: [line] }))).to.deep.equal({
      kind: 'issue',
      lines: [{ id: line.id }],
    })
  })

  it('stays readable when the contract has become stricter since: a booked slip is shown as it was', async () => {
    const w = await world()
    const it = await newItem(w.c, { name: 'Gloves' })
    const booked = await w.c.received(w.lab.id, 'S', w.c.line({ item: it.id, typed: '1', price: '1', note: 'x' }))
    // As it would stand there if notes had once been longer than the contract takes today.
    const { client } = w.app.store
    client.exec('drop trigger slip_line_booked_stays')
    client.prepare("update slip_line set content = json_set(content, '$.note', ?)").run('y'.repeat(5000))
    const seen = await w.c.get<SlipView>(`/api/slips/${booked.id}`)
    expect(seen.lines[0]!.note).to.equal('y'.repeat(5000))
    await w.stop()
  })

  it('a line that stands on another draft is refused there, and no longer once that draft is thrown away', async () => {
    const w = await world()
    const it = await newItem(w.c, { name: 'Gloves' })
    const draft = '01a21000-0000-7000-8000-000000000009'
    const content = { kind: 'receipt' as const, place: w.lab.id, lines: [w.c.line({ item: it.id, typed: '1' })] }
    await w.c.ok('PUT', `/api/slips/${draft}`, content)
    const asked = () => w.c.call('POST', '/api/slips/01a21000-0000-7000-8000-000000000008/effect', content)
    expect((await asked()).body.code).to.equal('line_of_another_slip')
    await w.c.ok('DELETE', `/api/slips/${draft}`)
    expect((await asked()).status).to.equal(200)
    await w.stop()
  })

  it('what was sealed comes back byte for byte, whatever it is; what cannot be read is said to be so', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 2000 }), text => {
        expect(unpacked(packed(text), 1)).to.equal(text)
      }),
    )
    expect([unpacked(Buffer.from('no'), 1), unpacked(packed('{}'), 9)]).to.deep.equal([undefined, undefined])
  })
})
