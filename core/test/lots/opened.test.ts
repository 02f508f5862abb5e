// Containers that are opened: what they are called, and what is in them by their weight. Figures worked out by hand.
import { expect } from 'chai'
import fc from 'fast-check'
import {
  containerCode,
  decimal,
  formatDecimal,
  isWeighable,
  leftByWeight,
  type Measure,
  ratio,
  readWeight,
  tareOfFull,
  weightSaid,
} from '@shelve/core'

const KG: Measure = { base: 'kg', decimals: 3, packs: [] }
/** Ethanol: 0.789 g in a millilitre (from memory). */
const ETHANOL: Measure = { base: 'mL', decimals: 1, packs: [], density: ratio(789n, 1000n) }
const VIAL: Measure = { base: 'vial', decimals: 0, packs: [] }
const left = (gross: string, tare: string, m: Measure) => {
  const x = leftByWeight(decimal(gross), decimal(tare), m)
  return x === undefined ? undefined : formatDecimal(x)
}

describe('what is left in an opened container, by its weight', () => {
  it('gross less tare, in the item’s unit, rounded once', () => {
    // 812 − 85 = 727 g; 727 ÷ 0.789 = 921.4195… ml
    expect(left('812', '85', ETHANOL)).to.equal('921.4')
    expect(left('812', '85', KG)).to.equal('0.727')
    expect(left('85.0005', '85', KG), 'half a gram of a thousandth: half to even').to.equal('0')
    expect(left('86.5', '85', KG), '1.5 g').to.equal('0.002')
    expect(left('85', '85', ETHANOL)).to.equal('0')
    expect(left('84', '85', KG), 'lighter than empty').to.equal('-0.001')
    expect(left('812', '85', VIAL), 'no weight says how many vials there are').to.equal(undefined)
    expect(isWeighable(KG)).to.equal(true)
    expect(isWeighable(ETHANOL)).to.equal(true)
    expect(isWeighable(VIAL)).to.equal(false)
    expect(isWeighable({ ...ETHANOL, density: undefined as never })).to.equal(false)
  })
  it('the empty weight of what was weighed full gives back what was in it', () => {
    // 1 000 ml × 0.789 = 789 g of 874 g
    expect(formatDecimal(tareOfFull(decimal('874'), decimal('1000'), ETHANOL)!)).to.equal('85')
    expect(tareOfFull(decimal('874'), decimal('1'), VIAL)).to.equal(undefined)
    fc.assert(
      fc.property(fc.bigInt(1n, 50_000n), fc.bigInt(1n, 900n), (tenths, grams) => {
        const content = tenths * 100_000n
        const gross = grams * 1_000_000n + 50_000_000_000n
        const tare = tareOfFull(gross, content, ETHANOL)!
        expect(leftByWeight(gross, tare, ETHANOL)).to.equal(content)
      }),
    )
  })
  it('weights are grams where nothing else is said; what is no weight says so', () => {
    const read = (t: string) => {
      const r = readWeight(t)
      return r.ok ? formatDecimal(r.quantity) : r.code
    }
    expect(
      ['812', '0.812 kg', '1.250 kg', '1,250 kg', '1.250', '1 lb', '3 ml', '2 case', '-1', ''].map(read),
    ).to.deep.equal([
      '812',
      '812',
      '1250',
      '1250',
      'ambiguous',
      '453.59237',
      'other_dimension',
      'unknown_unit',
      'negative',
      'empty',
    ])
    expect(weightSaid(decimal('85'))).to.equal('85 g')
    expect(weightSaid(decimal('999.5'))).to.equal('999.5 g')
    expect(weightSaid(decimal('1000'))).to.equal('1 kg')
  })
  it('a container is called as its lot, with the first number that is free', () => {
    const taken = new Set(['A7/1', 'A7/3'])
    expect(containerCode('A7', c => taken.has(c))).to.equal('A7/2')
    expect(containerCode('A7', () => false)).to.equal('A7/1')
  })
})
