import { expect } from 'chai'
import { concernedBy } from '../src/ledger/concerned.ts'

describe('what was booked concerns a slip that is being written', () => {
  const gloves = { item: 'gloves', ref: null, difference: null }
  for (const [what, lines, items, asks] of [
    ['about one of its items', [gloves], ['acid', 'gloves'], true],
    ['about others', [gloves], ['acid'], false],
    ['about nothing that is told', [gloves], [], false],
    ['about more than could be told', [gloves], undefined, true],
    ['a line that takes back another', [{ ...gloves, item: null, ref: 'a line' }], ['acid'], true],
    ['a line that closes a difference', [{ ...gloves, item: null, difference: 'one' }], ['acid'], true],
    ['a line that is empty yet', [{ ...gloves, item: null }], ['acid'], false],
    ['no line yet', [], ['acid'], false],
  ] as const)
    it(`${what}: ${asks ? 'it is asked anew' : 'nothing is asked'}`, () => {
      expect(concernedBy(lines, items)).to.equal(asks)
    })
})
