import { expect } from 'chai'
import fc from 'fast-check'
import {
  COMMANDS,
  GS,
  checkDigit,
  commandCode,
  decimal,
  gs1Date,
  gtin14,
  isGtin,
  isSscc,
  normaliseCode,
  ownCode,
  proposeCode,
  readGs1,
  readOwnCode,
} from '@shelve/core'

const TODAY = '2026-11-25'
const gtin = '09521041500218'

describe('numbers with check digits (GS1 General Specifications 7.9, from memory; the package gs1 1.0.2 agrees)', () => {
  it('finds the digits of the known examples', () => {
    expect(checkDigit('629104150021')).to.equal(3)
    expect(checkDigit('37610425002123456')).to.equal(9)
    expect(isGtin('9521041500218') && isSscc('376104250021234569')).to.equal(true)
    expect(gtin14('9521041500218')).to.equal(gtin)
    expect(normaliseCode(' 9521041500218 ')).to.equal(gtin)
    expect(normaliseCode('abc-1')).to.equal('ABC-1')
  })
  it('notices any single wrong digit', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^\d{13}$/), fc.nat(12), fc.integer({ min: 1, max: 9 }), (body, at, by) => {
        const code = body + checkDigit(body)
        const wrong = code.slice(0, at) + ((Number(code[at]) + by) % 10) + code.slice(at + 1)
        expect(isGtin(code)).to.equal(true)
        expect(isGtin(wrong)).to.equal(false)
      }),
    )
  })
})

describe('GS1 element strings (GS1 General Specifications 3 and 7.12, from memory)', () => {
  const read = (t: string, lost = false) => {
    const r = readGs1(t, TODAY, lost)
    return r.ok ? r.reading : r.code
  }
  it('reads article, lot, expiry, serial, count and weight at once', () => {
    expect(read(`]C101${gtin}17270331${'10'}E2417${GS}21A7${GS}3016`)).to.deep.include({
      gtin,
      lot: 'E2417',
      expiry: '2027-03-31',
      serial: 'A7',
      count: decimal('16'),
    })
    expect(read(`01${gtin}3103001250`)).to.deep.include({ gtin, weight: decimal('1.25') })
    expect(read(`01${gtin}3202000100`)).to.deep.include({ weight: 453_592n })
    expect(read('(01)09521041500218(17)280200(10)AB/1')).to.deep.include({ lot: 'AB/1', expiry: '2028-02-29' })
    expect(read(`]d2${GS}00376104250021234569`)).to.deep.include({ sscc: '376104250021234569' })
  })
  it('takes a lot to the end where nothing ends it, and cuts it where the separators are known to be lost', () => {
    const text = `01${gtin}10E2417${'17270331'}`
    expect(read(text)).to.deep.include({ lot: 'E241717270331' })
    expect(read(text, true)).to.deep.include({ lot: 'E2417', expiry: '2027-03-31' })
    // Too long for a lot: the separator must have been lost, and one cut fits.
    expect(read(`01${gtin}10LOT-ABCDEFGHIJKL17270331`)).to.deep.include({
      lot: 'LOT-ABCDEFGHIJKL',
      expiry: '2027-03-31',
    })
  })
  it('refuses with the place what cannot be', () => {
    expect(read('0109521041500219')).to.equal('wrong_check_digit')
    expect(read(`01${gtin}17271331`)).to.equal('not_a_date')
    expect(read(`01${gtin}99X`)).to.equal('unknown_ai')
    expect(read('0106291041')).to.equal('too_short')
    expect(read('hello')).to.equal('not_gs1')
    expect(read(`(10)${'X'.repeat(21)}`)).to.equal('too_long')
  })
  it('day 00 is the last of the month; the century follows the fifty-year rule', () => {
    expect(gs1Date('270200', TODAY)).to.equal('2027-02-28')
    expect(gs1Date('761231', TODAY)).to.equal('2076-12-31')
    expect(gs1Date('771231', TODAY)).to.equal('1977-12-31')
    expect(gs1Date('000101', '2060-01-01')).to.equal('2100-01-01')
    expect(gs1Date('270230', TODAY)).to.equal(undefined)
  })
  it('reads back what it was made of, with separators, for any lot and serial', () => {
    const word = fc.stringMatching(/^[A-Z0-9./-]{1,20}$/)
    fc.assert(
      fc.property(word, word, (lot, serial) => {
        expect(read(`01${gtin}10${lot}${GS}17300101${'21'}${serial}`)).to.deep.include({
          gtin,
          lot,
          serial,
          expiry: '2030-01-01',
        })
      }),
    )
  })
  it('never throws on any text', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.stringMatching(/^[0-9A-Z()\x1d]{0,40}$/)), fc.boolean(), (t, lost) => {
        readGs1(t, TODAY, lost)
      }),
      { numRuns: 400 },
    )
  })
})

describe('codes of our own', () => {
  it('read back what they name, and no others', () => {
    fc.assert(
      fc.property(fc.constantFrom('item', 'lot', 'place', 'person', 'job'), fc.nat(9_999_999), (kind, n) => {
        expect(readOwnCode(ownCode(kind, n).toLowerCase())).to.deep.equal({ kind, number: n })
      }),
    )
    for (const c of COMMANDS) expect(readOwnCode(commandCode(c))).to.deep.equal({ kind: 'command', command: c })
    expect(readOwnCode('SVP00128')).to.equal(undefined)
    expect(readOwnCode('SVC-DANCE')).to.equal(undefined)
  })
})

describe('the code that is proposed for a new item', () => {
  const rows: [string, string[], string][] = [
    ['Weighing boats', [], 'WEI-B'],
    ['Weighing boats', ['WEI-B'], 'WEI-B2'],
    ['Weighing boats', ['WEI-B', 'WEI-B2'], 'WEI-B3'],
    ['Nitrile gloves, medium, blue, long cuff', [], 'NIT-GMB'],
    ['Salt', [], 'SALT'],
    ['Éprouvette 5 ml', [], 'EPR-5M'],
    ['ταινία μόνωσης', [], 'ΤΑΙ-Μ'],
    ['?!', [], 'ITEM'],
    ['', ['ITEM'], 'ITEM2'],
  ]
  for (const [name, taken, code] of rows)
    it(`${name || 'nothing'} is ${code}`, () => expect(proposeCode(name, c => taken.includes(c))).to.equal(code))
})
