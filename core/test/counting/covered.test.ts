import { expect } from 'chai'
import { coverage, type LineState } from '@shelve/core'

/** `a counted` … a cell, how its line stands. */
const states = (text: string) =>
  text
    .split(', ')
    .filter(Boolean)
    .map(of => {
      const [cell, state] = of.split(' ') as [string, LineState]
      return { cell, state, line: `${cell} ${state}` }
    })
const cells = (text: string) =>
  text
    .split(' ')
    .filter(Boolean)
    .map(cell => ({ cell, line: `${cell} lay` }))

describe('how far a sheet covers what is to be counted', () => {
  for (const [what, lines, lay, done, covered] of [
    ['all counted', 'a counted, b counted', 'a b', '', '2 counted, out: , open: '],
    ['one not', 'a counted, b open', 'a b', '', '1 counted, out: , open: b open'],
    ['one left out on purpose', 'a counted, b left_out', 'a b', '', '1 counted, out: b left_out, open: '],
    ['what lay there and stands on no line', 'a counted', 'a b', '', '1 counted, out: , open: b lay'],
    ['what came since', 'a counted', 'a', '', '1 counted, out: , open: '],
    ['counted by one, open for another', 'a open, a counted', 'a', '', '1 counted, out: , open: '],
    ['left out by one, counted by another', 'a left_out, a counted', 'a', '', '1 counted, out: , open: '],
    ['left out by one, open for another', 'a open, a left_out', 'a', '', '0 counted, out: a left_out, open: '],
    ['what the one that it completes counted', 'b counted', 'a b', 'a', '1 counted, out: , open: '],
    ['which does not count what nobody did', 'b open', 'a b c', 'a', '0 counted, out: , open: b open, c lay'],
    ['nothing there, nothing said', '', '', '', '0 counted, out: , open: '],
  ] as const)
    it(`${what}: ${covered}`, () => {
      const { counted, leftOut, open } = coverage(states(lines), cells(lay), new Set(done.split(' ')))
      expect(`${counted} counted, out: ${leftOut.join(', ')}, open: ${open.join(', ')}`).to.equal(covered)
    })
})
