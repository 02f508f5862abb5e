import { expect } from 'chai'
import { decimalTyped, numberTyped } from '../src/ui/typed.ts'

describe('a number as it is typed', () => {
  it('is sent as a number, nothing as nothing, and what is none as it stands', () => {
    for (const [typed, sent] of [
      ['', null],
      ['   ', null],
      ['0', 0],
      [' 30 ', 30],
      ['１２', 12],
      ['30 days', '30 days'],
      ['1.5', 1.5],
      ['1,5', 1.5],
      ['-3', -3],
      ['1e3', '1e3'],
      ['9'.repeat(13), '9'.repeat(13)],
    ] as const)
      expect(numberTyped(typed), typed).to.equal(sent)
  })
  it('an amount takes a comma or a point', () => {
    for (const [typed, sent] of [
      [' 2,5 ', '2.5'],
      ['2.5', '2.5'],
      ['', ''],
      ['1,250.5', '1250.5'],
      ['1.250.000', '1250000'],
      ['5.', '5'],
      ['1.255', '1.255'],
      ['1.25.5', '1.25.5'],
      ['two', 'two'],
    ] as const)
      expect(decimalTyped(typed)).to.equal(sent)
  })
})
