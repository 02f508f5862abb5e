import { expect } from 'chai'
import { textOf } from '../src/ui/text-of.ts'

const utf16 = (text: string, little: boolean) =>
  Uint8Array.from(
    [0xfeff, ...Array.from(text, c => c.charCodeAt(0))].flatMap(n => (little ? [n & 255, n >> 8] : [n >> 8, n & 255])),
  )

describe('the text of a file', () => {
  for (const [name, bytes] of [
    ['UTF-8', new TextEncoder().encode('5 µl; Grønne æbler, 10 £')],
    ['UTF-8 with a mark', new TextEncoder().encode('\ufeff5 µl; Grønne æbler, 10 £')],
    ['UTF-16, the low byte first', utf16('5 µl; Grønne æbler, 10 £', true)],
    ['UTF-16, the high byte first', utf16('5 µl; Grønne æbler, 10 £', false)],
    // What it has beyond ISO 8859-1 (the sign of the euro) Node 20 does not read, browsers do.
    ['windows-1252', Uint8Array.from('5 \xb5l; Gr\xf8nne \xe6bler, 10 \xa3', c => c.charCodeAt(0))],
  ] as const)
    it(`${name} is read as it was written`, () => {
      expect(textOf(bytes)).to.equal('5 µl; Grønne æbler, 10 £')
    })
  it('of nothing is nothing', () => {
    expect(textOf(new Uint8Array())).to.equal('')
  })
})
