import { expect } from 'chai'
import { beginsWith, exactLetters, foundBy, plainLetters } from '../../src/index.ts'

describe('letters that are looked for', () => {
  for (const [text, exact, plain] of [
    ['Pipette tips 200 µl', 'pipette tips 200 μl', 'pipette tips 200 ul'],
    ['Crème fraîche', 'crème fraîche', 'creme fraiche'],
    ['Cre\u0300me', 'crème', 'creme'],
    ['ÅRSMØDE', 'årsmøde', 'arsmode'],
    ['Straße, Œuf, Æble', 'straße, œuf, æble', 'strasse, oeuf, aeble'],
    ['Łódź, Þing, Đak, Ħal, ılık', 'łódź, þing, đak, ħal, ılık', 'lodz, thing, dak, hal, ilik'],
    ['H₂SO₄, 5 m²', 'h2so4, 5 m2', 'h2so4, 5 m2'],
    ['Жир', 'жир', 'жир'],
    ['plain, as it is', 'plain, as it is', 'plain, as it is'],
    ['', '', ''],
  ] as const)
    it(`“${text}”: “${exact}”, plainly “${plain}”`, () => {
      expect([exactLetters(text), plainLetters(text)]).to.deep.equal([exact, plain])
    })
  it('a plain letter means either, a special one only itself', () => {
    const finds = (text: string, word: string) => foundBy(text).includes(exactLetters(word))
    expect(['øl', 'ol', 'OL', 'ø', 'öl'].map(w => finds('Fadøl', w))).to.deep.equal([true, true, true, true, false])
    expect(['ol', 'øl'].map(w => finds('Carol', w))).to.deep.equal([true, false])
    // Both signs for a millionth are one: of the unit, and the Greek letter.
    expect(['5 \u00b5l', '5 \u03bcl', '5 ul'].map(w => finds('tips 5 \u00b5l', w))).to.deep.equal([true, true, true])
    expect(['år', 'ar', 'är', 'mø'].map(t => beginsWith('Årsmøde', t))).to.deep.equal([true, true, false, false])
  })
})
