// Papers: each letter in a face that has it, and nothing beyond their edge, however long names are.
import { expect } from 'chai'
import type { LotView } from '@shelve/contract'
import { broken, columnWidths, fitted } from '../src/printing/typeset.ts'
import type { Part } from '../src/printing/paper.ts'
import { runsOf, widthOf } from '../src/printing/faces.ts'
import { newItem, world } from './client.ts'
import { piecesOf, symbolsOf, textOf } from './pdf.ts'

const LONG =
  'bis(trimethylsilyl)-2,2,2-trifluoroacetamid-hexamethyldisilazan-dimethylformamid, for the second bench by the window'
const CODE = 'WX4Z7'.repeat(12)
const wide = (parts: readonly Part[], size: number) =>
  parts.reduce((sum, p) => sum + widthOf(p.text, p.font ?? 'Next', size, p.bold), 0)

async function stockroom() {
  const w = await world()
  const get = async (path: string, body?: unknown) => {
    const r = await fetch(w.c.base + path, {
      method: body ? 'POST' : 'GET',
      headers: { cookie: w.c.cookie, accept: 'application/pdf', 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    })
    expect(r.status, path).to.equal(200)
    return new Uint8Array(await r.arrayBuffer())
  }
  const receive = (lines: readonly object[]) =>
    w.c.must({ kind: 'receipt', place: w.lab.id, head: { supplier: 'S' }, lines: lines.map(l => w.c.line(l)) })
  return { w, get, receive }
}

describe('papers', () => {
  for (const [text, face, runs] of [
    ['Acetone, pure 5 °C ± 1', 'Next', ['Next Acetone, pure 5 °C ± 1']],
    ['Pipette tips 200 µl', 'Next', ['Next Pipette tips 200 μl']],
    ['Resistor 4 Ω', 'Mono', ['Mono Resistor 4 Ω']],
    ['β-Amylase', 'Next', ['Wide β', 'Next -Amylase']],
    ['H₂O → Ж', 'Mono', ['Mono H', 'WideMono ₂', 'Mono O ', 'WideMono →', 'Mono  ', 'WideMono Ж']],
    ['12\u202f345 non\u2011woven', 'Next', ['Next 12\u00a0345 non-woven']],
    ['soft\u00adly, to\u200dgether, ❤\ufe0f', 'Next', ['Next softly, together, ', 'Wide ❤']],
    ['', 'Next', ['Next ']],
  ] as const)
    it(`“${text}” is set in ${face} as ${runs.length} run${runs.length === 1 ? '' : 's'}`, () => {
      const missing: string[] = []
      const got = runsOf(text, face, l => missing.push(l))
      expect(got.map(r => `${r.face} ${r.text}`)).to.deep.equal(runs)
      expect(missing).to.deep.equal([])
    })

  it('what no face has is told, once for each time it stands there', () => {
    const missing: string[] = []
    expect(runsOf('水 a 水', 'Next', l => missing.push(l))).to.deep.equal([{ text: '水 a 水', face: 'Next' }])
    expect(missing).to.deep.equal(['水', '水'])
  })

  it('a line is shortened part by part, those that give way first first, and never wider than it may be', () => {
    const parts: Part[] = [
      { text: CODE, font: 'Mono', gives: 2 },
      { text: ' · lot ' },
      { text: `BEGIN${CODE}END`, font: 'Mono', bold: true, gives: 3, middle: true },
      { text: ` · ${LONG}`, gives: 1 },
    ]
    const all = wide(parts, 8)
    expect(fitted({ width: all, size: 8, parts }), 'what fits stays').to.deep.equal(parts)
    const cut = (width: number) => fitted({ width, size: 8, parts }).map((p, i) => p.text !== parts[i]!.text)
    expect(cut(all - 1)).to.deep.equal([false, false, false, true])
    const [code, , , packs] = parts.map(p => wide([p], 8))
    expect(cut(all - packs! - 10)).to.deep.equal([true, false, false, true])
    expect(cut(all - packs! - code! - 10)).to.deep.equal([true, false, true, true])
    for (let width = all; width > 130; width -= 7) {
      const now = fitted({ width, size: 8, parts })
      expect(wide(now, 8), `at ${width}`).to.be.at.most(width)
      expect(now[2]!.text, `at ${width}`).to.match(/^BEG.*END$/)
      // No more is taken than must be: one letter more of the one that was cut last would not fit.
      const last = now.findLast((p, i) => p.text !== parts[i]!.text && p.text.length > 6)
      if (last) expect(wide(now, 8) + widthOf('W', 'Mono', 8, true), `at ${width}`).to.be.above(width - 12)
    }
  })

  for (const [text, lines] of [
    ['', []],
    ['Agar', ['Agar']],
    ['Agar plates, marine', ['Agar plates,', 'marine']],
    ['Agar plates, marine, of the better sort', ['Agar plates,', 'marine, of th…']],
    ['Acetylsalicylic-acid, pure', ['Acetylsalicylic', '-acid, pure']],
  ] as const)
    it(`“${text}” stands on ${lines.length} lines of 70 points, bold`, () => {
      expect(broken(text, 70, 10, 2)).to.deep.equal(lines)
      for (const l of lines) expect(widthOf(l, 'Next', 10, true)).to.be.at.most(70)
    })

  it('columns: words that fit stay whole; else figures keep their width, and the others have the same each, the narrow ones less', () => {
    const n = (text: string) => ({ text, font: 'Mono' as const, alignment: 'right' })
    const body = [
      [{ text: 'code' }, { text: 'name' }, { text: 'state' }, n('value')],
      [{ text: CODE }, { text: LONG }, { text: 'short' }, n('123 456.78')],
    ]
    const [code, state, value] = [
      widthOf(CODE, 'Next', 8) + 0.5,
      widthOf('short', 'Next', 8) + 0.5,
      widthOf('123 456.78'.split(' ')[1]!, 'Mono', 8) + 0.5,
    ]
    const name = widthOf('trifluoroacetamid-', 'Next', 8) + 0.5
    const longest = Math.max(name, widthOf('bis(trimethylsilyl)-2,2,2-', 'Next', 8) + 0.5)
    const need = code + longest + state + value
    expect(columnWidths(body, need + 0.01, 8), 'all words fit').to.equal(undefined)
    const tight = columnWidths(body, need - 1, 8)!
    expect(tight.reduce((a, b) => a + b)).to.be.closeTo(need - 1, 0.01)
    expect(tight.map(x => Math.round(x * 10))).to.deep.equal(
      [code - 1, longest, state, value].map(x => Math.round(x * 10)),
    )
    const narrow = columnWidths(body, value + state + 100, 8)!
    expect(narrow[0]).to.be.closeTo(50, 0.01)
    expect(narrow[1]).to.be.closeTo(50, 0.01)
    expect(narrow[3]).to.be.closeTo(value, 0.01)
    const least = columnWidths(body, value + 30, 8)!
    expect(least.reduce((a, b) => a + b)).to.be.closeTo(value + 30, 0.01)
    expect(least.every(x => x > 0)).to.equal(true)
  })

  it('a list of things with names as long as they may be has all its columns, none over another, none beyond the edge', async () => {
    const { w, get, receive } = await stockroom()
    const items = []
    for (const [i, name] of [LONG, 'β-Amylase, 200 µl → H₂O', '温水, warm water'].entries())
      items.push(
        await newItem(w.c, {
          name: name.slice(0, 120),
          code: i ? `B-${i}` : CODE,
          unit: 'Doppelfachbeutelchen',
          decimals: 1,
        }),
      )
    await receive(items.map(i => ({ item: i.id, typed: '1234.5', price: '7' })))
    const pages = await piecesOf(await get('/api/stock'))
    const heads = pages[0]!.pieces.filter(p => /Bold/.test(p.face)).map(p => p.text)
    expect(heads.join(' ')).to.match(/code name .*on hand.*unit .*value/)
    for (const { width, pieces } of pages)
      for (const p of pieces) {
        expect(p.to, `“${p.text}”`).to.be.at.most(width - 39)
        const over = pieces.find(o => o !== p && Math.abs(o.y - p.y) < 2 && o.from > p.from && o.from < p.to - 0.5)
        expect(over?.text, `over “${p.text}”`).to.equal(undefined)
      }
    const pieces = pages.flatMap(p => p.pieces)
    // What the first face has not is drawn by the second, in the middle of a word.
    for (const letter of ['β', '→', '₂']) expect(pieces.find(p => p.text.includes(letter))!.face).to.match(/^DejaVu/)
    expect(pieces.find(p => /200 μl/.test(p.text))!.face).to.match(/^Atkinson/)
    expect((await textOf(await get('/api/stock'))).flat().join(' ')).to.match(
      /No face for U\+6E29, U\+6C34: an empty box/,
    )
    expect((await textOf(await get('/api/slips'))).flat().join(' ')).not.to.match(/No face/)
  })

  it('sheets have as many pages as they say, each with its code; a roll one label for each, and its symbol is read', async () => {
    const { w, get, receive } = await stockroom()
    const items = []
    for (let i = 0; i < 30; i++)
      items.push(
        await newItem(w.c, {
          name: `${i} ${LONG}`.slice(0, 120),
          code: `${i}${CODE}`.slice(0, 60),
          unit: i % 2 ? 'Doppelfachbeutelchen' : 'pre-cut strip, large',
          identifiedBy: 'lot_expiry',
        }),
      )
    await receive(
      items.map((x, i) => ({
        item: x.id,
        typed: '1',
        lot: { code: `${i}-${CODE}`.slice(0, 60), expiry: '2028-09-30' },
      })),
    )
    for (const blind of [true, false]) {
      const pages = await textOf(await get('/api/sheet-preview', { areas: [w.lab.id], blind, extra: 3 }))
      for (const [n, lines] of pages.entries())
        expect(lines.join(' '), `page ${n + 1}`).to.match(new RegExp(`page ${n + 1} of ${pages.length} `))
      for (const { width, pieces } of await piecesOf(await get('/api/sheet-preview', { areas: [w.lab.id], blind })))
        for (const p of pieces.filter(x => !/not printed yet/.test(x.text)))
          expect(p.to, `“${p.text}”`).to.be.at.most(width - 38)
    }
    const [lot] = (await w.c.get<{ rows: LotView[] }>(`/api/items/${items[7]!.id}/lots`)).rows
    for (const size of ['roll', 'sheet']) {
      const labels = await get('/api/label-papers', {
        labels: [{ item: items[7]!.id, lot: lot!.id, count: 3 }],
        size,
        skip: 0,
      })
      const symbols = await symbolsOf(labels)
      expect(symbols.map(s => s.length)).to.deep.equal(size === 'roll' ? [1, 1, 1] : [3])
    }
  })
})
