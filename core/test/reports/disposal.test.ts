// What is disposed of, in grams: worked by hand; a pound is NIST SP 811, Appendix B (from memory).
import { expect } from 'chai'
import { decimal, formatDecimal, gramsOf, ratio } from '@shelve/core'

describe('what is disposed of, in grams', () => {
  it('weighs by its unit, its density, or what one weighs: rounded once, half to even, to the milligram', () => {
    const grams = (q: string, unit: string, mass: string | null, density?: bigint) => {
      const measure = { base: unit, decimals: 6, packs: [], ...(density ? { density: ratio(density, 1000n) } : {}) }
      const x = gramsOf(decimal(q), measure, mass === null ? null : decimal(mass))
      return x === null ? null : formatDecimal(x)
    }
    expect(grams('1.5', 'kg', null)).to.equal('1500')
    expect(grams('2', 'lb', null)).to.equal('907.185')
    expect(grams('250', 'ml', null, 789n)).to.equal('197.25')
    expect(grams('3', 'box', '0.0005'), '1.5 mg').to.equal('0.002')
    expect(grams('1', 'box', '0.0005'), 'half a milligram').to.equal('0')
    expect(grams('7', 'box', '0.0005'), 'three and a half').to.equal('0.004')
    expect(grams('5', 'box', '0.0005'), 'two and a half').to.equal('0.002')
    expect(grams('2', 'kg', '1200'), 'its unit says it, whatever one is said to weigh').to.equal('2000')
    expect(grams('1', 'L', null)).to.equal(null)
    expect(grams('1', 'L', '1200'), 'what a litre weighs').to.equal('1200')
  })
})
