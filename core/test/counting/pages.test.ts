import { expect } from 'chai'
import fc from 'fast-check'
import { inPages, pageCode, pageOf, readOwnCode } from '@shelve/core'

describe('pages of a count sheet', () => {
  it('by hand: two bins on pages of four rows, then room for what else lies there', () => {
    const bins = ['A', 'A', 'A', 'A', 'B']
    const told = inPages(
      bins.map((bin, n) => ({ bin, n })),
      l => l.bin,
      4,
      2,
    ).map(p =>
      p.map(r => (r.kind === 'bin' ? `${r.name}${r.continued ? '…' : ''}:` : r.kind === 'line' ? r.line.n : '_')),
    )
    expect(told).to.deep.equal([
      ['A:', 0, 1, 2],
      ['A…:', 3, 'B:', 4],
      [':', '_', '_'],
    ])
    expect(inPages([], String, 4, 0)).to.deep.equal([[]])
  })
  it('every line once and in order, under its own bin; no page too long, none that ends with a heading', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 4 }), fc.integer({ min: 1, max: 9 })), { maxLength: 12 }),
        fc.integer({ min: 2, max: 12 }),
        fc.integer({ min: 0, max: 9 }),
        (groups, room, blanks) => {
          const lines = groups.flatMap(([bin, many]) => Array.from({ length: many }, () => String(bin)))
          const pages = inPages(
            lines.map((bin, n) => ({ bin, n })),
            l => l.bin,
            room,
            blanks,
          )
          expect(pages.flat().flatMap(r => (r.kind === 'line' ? [r.line.n] : []))).to.deep.equal(lines.map((_, n) => n))
          expect(pages.flat().filter(r => r.kind === 'blank').length).to.equal(blanks)
          for (const page of pages) {
            expect(page.length).to.be.at.most(room)
            if (page.length) expect([page[0]!.kind, page.at(-1)!.kind === 'bin']).to.deep.equal(['bin', false])
            let bin = ''
            for (const r of page)
              if (r.kind === 'bin') bin = r.name
              else if (r.kind === 'line') expect(r.line.bin).to.equal(bin)
          }
        },
      ),
    )
  })
  it('a page’s code says sheet and page', () => {
    const own = readOwnCode(pageCode(1234, 7))
    expect(own).to.deep.equal({ kind: 'sheet', number: 123407 })
    expect(pageOf(123407)).to.deep.equal({ sheet: 1234, page: 7 })
  })
})
