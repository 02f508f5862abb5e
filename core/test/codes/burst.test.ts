// When keys are a scan: a sentence of the rule a row. The paces are those of a table, in milliseconds; no clock is asked.
import { expect } from 'chai'
import fc from 'fast-check'
import { GS, PAUSE, QUICK, SLOW, STUTTER, readBurst, type BurstAsHeard, type BurstKey } from '@shelve/core'

const EAN = '9529990000018'
const GS1 = `01095299900000181727063010LOT7`
const TODAY = '2026-11-27'

/** Keys at a pace: `9529~990` stands for a pause of 400 ms, `9529^990` for one of two seconds; `gap` before each other key. */
function keysOf(text: string, gap: number | ((n: number) => number)): BurstKey[] {
  const out: BurstKey[] = []
  let pause = 0
  for (const sign of text)
    if (sign === '~') pause = 400
    else if (sign === '^') pause = 2000
    else {
      out.push({ sign, since: pause || (typeof gap === 'number' ? gap : gap(out.length)) })
      pause = 0
    }
  return out
}
const heard = (text: string, gap: number | ((n: number) => number), more: Partial<BurstAsHeard> = {}) => {
  const r = readBurst({
    keys: keysOf(text, gap),
    ending: typeof gap === 'number' ? gap : gap(0),
    free: false,
    today: TODAY,
    ...more,
  })
  return r.as === 'typed' ? 'typed' : `${r.as} ${r.code}`
}
/** A typed amount, a breath, and a burst. */
const after = (typed: string, code: string, gap: number, breath = 300): BurstKey[] => [
  ...keysOf(typed, 110),
  ...keysOf(code, gap).map((k, i) => (i === 0 ? { ...k, since: breath } : k)),
]
const free = { free: true }
const set = { habit: { pace: 90, prefix: '' } }
const prefixed = { habit: { pace: null, prefix: '~~' } }

describe('what keys are that Enter ended', () => {
  const rows: [string, () => string, string][] = [
    ['35 ms a key is a scan anywhere', () => heard('LAB-00017', 35), 'scan LAB-00017'],
    ['36 is not, in a field', () => heard('LAB-00017', 36), 'typed'],
    ['four signs are the least', () => heard('8900', 8), 'scan 8900'],
    ['three are none', () => heard('890', 8), 'typed'],
    ['a quick typist’s 1250', () => heard('1250', 60), 'typed'],
    ['… also where two of its keys were rolled', () => heard('1250', n => (n === 2 ? 20 : 70)), 'typed'],
    ['… and where nothing has the focus', () => heard('1250', 60, free), 'typed'],
    ['a short code with one key late', () => heard('SV-30', n => (n === 2 ? 90 : 8)), 'scan SV-30'],
    ['a short code with two keys late', () => heard('SV-30', n => (n === 2 || n === 3 ? 90 : 8)), 'typed'],
    ['90 ms a key with a check digit', () => heard(EAN, 90), `scan ${EAN}`],
    ['… an eight-digit one', () => heard('95299907', 90), 'scan 95299907'],
    ['… at the limit', () => heard(EAN, SLOW), `scan ${EAN}`],
    ['… past it', () => heard(EAN, SLOW + 1), 'typed'],
    ['… a wrong check digit', () => heard('9529990000019', 90), 'typed'],
    ['a GS1 code at 90 ms a key', () => heard(GS1, 90), `scan ${GS1}`],
    [
      '… with separators',
      () => heard(`0109529990000018` + `10LOT7${GS}17270630`, 90),
      `scan 010952999000001810LOT7${GS}17270630`,
    ],
    ['… and a sign for its kind', () => heard(`]C1${GS1}`, 90), `scan ]C1${GS1}`],
    ['a command of our own at 90', () => heard('SVC-BOOK', 90), 'scan SVC-BOOK'],
    ['a place of our own at 90', () => heard('SVP00017', 90), 'scan SVP00017'],
    ['a code without a check digit at 90, in a field', () => heard('LAB-00017', 90), 'typed'],
    ['… where nothing has the focus', () => heard('LAB-00017', 90, free), 'scan LAB-00017'],
    ['… after the stroke that leads to the strip', () => heard('/IS-7233', 60, free), 'scan IS-7233'],
    ['… which is part of what a quick scanner sends', () => heard('/IS-7233', 8, free), 'scan /IS-7233'],
    ['… with the pace of this device', () => heard('LAB-00017', 90, set), 'scan LAB-00017'],
    ['… at another pace', () => heard('LAB-00017', 140, set), 'typed'],
    ['a hand at the device’s mean pace', () => heard('LAB-00017', n => (n % 2 ? 45 : 135), set), 'typed'],
    ['an amount at the device’s pace', () => heard('1250', 90, set), 'typed'],
    ['… with a mark', () => heard('12.50', 90, set), 'typed'],
    ['a word at the device’s pace', () => heard('thanks', 90, set), 'typed'],
    ['a word where nothing has the focus', () => heard('gloves', 90, free), 'typed'],
    ['words where nothing has the focus', () => heard('box 12', 90, free), 'typed'],
    ['what the prefix stands before, at any pace', () => heard('  ', PAUSE, prefixed), 'typed'],
    [
      '… its code',
      () =>
        readBurst({
          keys: [...'~~AB1'].map(sign => ({ sign, since: 140 })),
          ending: 140,
          ...prefixed,
          free: false,
          today: TODAY,
        }).as,
      'scan',
    ],
    ['a stutter', () => heard('952999~0000018', 8), `scan ${EAN}`],
    ['… of a code without a check digit', () => heard('LAB-~00017', 8), 'scan LAB-00017'],
    ['… two of them', () => heard('LAB~-00~017', 8), 'scan LAB-00017'],
    ['… of a slow scanner', () => heard('952999~0000018', 90), `scan ${EAN}`],
    ['… of a slow one without a check digit, in a field', () => heard('LAB-~00017', 90), 'typed'],
    ['… where nothing has the focus', () => heard('LAB-~00017', 90, free), 'scan LAB-00017'],
    ['… at the pace of this device', () => heard('LAB-~00017', 90, set), 'scan LAB-00017'],
    ['after the first sign', () => heard('9~529990000018', 8), `scan ${EAN}`],
    ['a long one, of a code with a check digit', () => heard('952999000^0018', 8), `scan ${EAN}`],
    ['… of a code without: only a tail is known to belong', () => heard('LAB-0^0017', 8), 'part 0017'],
    ['… of a slow one', () => heard('LAB-0^0017', 90, free), 'typed'],
    ['… behind a code that never ended', () => heard(`LAB-00017^${EAN}`, 8), `scan ${EAN}`],
  ]
  for (const [what, is, should] of rows) it(what, () => expect(is()).to.equal(should))

  /** All keys `gap` apart, but for those that are named. */
  const but =
    (late: Readonly<Record<number, number>>, gap = 8) =>
    (n: number): number =>
      late[n] ?? gap
  const spoken = { habit: { pace: null, prefix: '##' } }
  const paced = { habit: { pace: 100, prefix: '' } }
  const edges: [string, () => string, string][] = [
    ['150 ms is no pause', () => heard('LAB-00017', but({ 1: PAUSE })), 'scan LAB-00017'],
    [
      '151 is one, and a single sign before it may have been typed',
      () => heard('LAB-00017', but({ 1: PAUSE + 1 })),
      'scan AB-00017',
    ],
    ['four signs, one of them late', () => heard('8900', but({ 2: 90 })), 'scan 8900'],
    ['… two of them', () => heard('8900', but({ 2: 90, 3: 90 })), 'typed'],
    ['eight signs, half of their gaps quick', () => heard('ABCD-123', n => (n % 2 ? 8 : 90)), 'scan ABCD-123'],
    ['… three of eight', () => heard('ABCD-123', n => (n > 0 && n < 4 ? 8 : 90)), 'typed'],
    ['seven signs have no room for that', () => heard('ABC-123', n => (n % 2 ? 8 : 90)), 'typed'],
    ['at this device’s pace: six tenths of it', () => heard('LAB-0017', 60, paced), 'scan LAB-0017'],
    ['… less', () => heard('LAB-0017', 59, paced), 'typed'],
    ['… fourteen tenths', () => heard('LAB-0017', 140, paced), 'scan LAB-0017'],
    ['… more', () => heard('LAB-0017', 141, paced), 'typed'],
    ['… one gap of eight beside it', () => heard('LAB-0017', but({ 3: 45 }, 100), paced), 'scan LAB-0017'],
    ['… two of eight', () => heard('LAB-0017', but({ 3: 45, 5: 45 }, 100), paced), 'typed'],
    ['… a single sign before a pause', () => heard('L~AB-00017', 90, set), 'scan AB-00017'],
    ['… behind two that belong together', () => heard('LA~B~C-00017', 90, set), 'scan C-00017'],
    ['slow, where nothing has the focus: words before a number', () => heard('box 1234', 90, free), 'typed'],
    ['… a number behind a code', () => heard('A-123 9', 90, free), 'typed'],
    ['… our sign within a word', () => heard('xsvc-go', 90, free), 'typed'],
    ['… our sign before what is no command', () => heard('SVC-ZZZZ', 90, free), 'scan SVC-ZZZZ'],
    ['… eight digits that prove nothing', () => heard('12345678', 90, free), 'scan 12345678'],
    ['… seven', () => heard('1234567', 90, free), 'typed'],
    ['… four signs that are no amount', () => heard('12AB', 90, free), 'scan 12AB'],
    ['… at the limit', () => heard('LAB-00017', SLOW, free), 'scan LAB-00017'],
    ['… past it', () => heard('LAB-00017', SLOW + 1, free), 'typed'],
    ['… with a stutter of a second', () => heard('LAB-00017', but({ 4: STUTTER }, 90), free), 'scan LAB-00017'],
    ['… of more', () => heard('LAB-00017', but({ 4: STUTTER + 1 }, 90), free), 'typed'],
    ['… long after the key before it', () => heard('^LAB-00017', 90, free), 'scan LAB-00017'],
    ['a sign for its kind before an article', () => heard(`]E0${EAN}`, 90), `scan ]E0${EAN}`],
    ['… behind it is none', () => heard(`${EAN}]E0`, 90), 'typed'],
    ['a GS1 article alone', () => heard(`010${EAN}`, 90), `scan 010${EAN}`],
    ['a GS1 lot alone has no check digit', () => heard('10LOTABCDEFGHIJ12', 90), 'typed'],
    ['behind the prefix, at any pace', () => heard('##AB1', PAUSE, spoken), 'scan AB1'],
    ['… one sign', () => heard('##A', 140, spoken), 'scan A'],
    ['… nothing', () => heard('##', 140, spoken), 'typed'],
    ['… slower than a pause', () => heard('##AB1', PAUSE + 1, spoken), 'typed'],
    ['… after what was typed', () => heard('1250##AB1', 140, spoken), 'scan AB1'],
    ['a stutter of a second', () => heard('LAB-00017', but({ 5: STUTTER })), 'scan LAB-00017'],
    ['… of more: a tail', () => heard('LAB-00017', but({ 5: STUTTER + 1 })), 'part 0017'],
    ['two signs long before a burst may have been typed', () => heard('LA^B-0017', 8), 'scan B-0017'],
    ['… three are its head', () => heard('LAB^-0017', 8), 'part -0017'],
    ['… two behind another burst', () => heard('XYZW^LA^B-0017', 8), 'scan B-0017'],
    ['a head with one late key in its middle', () => heard('LAB-CDE~00017', but({ 4: 90 })), 'scan LAB-CDE00017'],
  ]
  for (const [what, is, should] of edges) it(what, () => expect(is()).to.equal(should))

  it('says where it begins, and how slow its slowest key was; of nothing it says nothing', () => {
    const of = (keys: BurstKey[]) => readBurst({ keys, ending: 8, free: false, today: TODAY })
    expect(of(keysOf('LAB-00017', but({ 3: 30 })))).to.deep.equal({
      as: 'scan',
      code: 'LAB-00017',
      from: 0,
      slowest: 30,
    })
    expect(of(after('1250', EAN, 8))).to.deep.equal({ as: 'scan', code: EAN, from: 4, slowest: 8 })
    expect(of(after('1250', '890', 8)), 'three quick keys behind an amount').to.deep.equal({ as: 'typed' })
    expect(of([])).to.deep.equal({ as: 'typed' })
  })

  it('a burst behind a typed amount is the burst alone', () => {
    for (const [typed, code, gap] of [
      ['1250', EAN, 8],
      ['12', 'LAB-00017', 8],
      ['1', EAN, 90],
      ['12', EAN.slice(1), 8],
      ['9', '95299907', 8],
    ] as const) {
      const r = readBurst({ keys: after(typed, code, gap), ending: gap, free: false, today: TODAY })
      expect(r.as === 'scan' ? [r.code, r.from] : r.as, `${typed} ${code}`).to.deep.equal(
        // A hand's digits before twelve that prove nothing by themselves are left out as well.
        [code, typed.length],
      )
    }
  })
  it('a hand, however it types, is never a scan but where it writes a whole code with its check digit', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ sign: fc.constantFrom(...'0123456789abcxyz.,-'), since: fc.integer({ min: 45, max: 900 }) }),
          {
            minLength: 1,
            maxLength: 14,
          },
        ),
        keys => {
          const r = readBurst({ keys, ending: 60, free: false, today: TODAY })
          if (r.as !== 'typed') expect(r.code).to.match(/^(\d{8}|\d{12,14})$/)
        },
      ),
    )
  })
  it('a burst at any quick pace, stuttering anywhere up to a second, is all of it', () => {
    fc.assert(
      fc.property(
        fc.stringMatching(/^[A-Z]{2}[A-Z0-9-]{6,18}$/),
        fc.integer({ min: 1, max: QUICK }),
        fc.nat(),
        fc.integer({ min: 1, max: STUTTER }),
        (code, gap, where, late) => {
          // A pause leaves two signs on either side: what stands alone before a pause may as well have been typed.
          const at = 2 + (where % (code.length - 3))
          const keys = [...code].map((sign, i) => ({ sign, since: i === at ? late : gap }))
          expect(readBurst({ keys, ending: gap, free: false, today: TODAY })).to.include({ as: 'scan', code })
        },
      ),
    )
  })
})
