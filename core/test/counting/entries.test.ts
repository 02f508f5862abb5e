import { expect } from 'chai'
import { type CountEntry, isWithin, judgeEntries } from '@shelve/core'

/** An entry in a word: whose, what (`=` confirmed), at which minute, and the second figure. */
const entry = (text: string, i: number): CountEntry => {
  const [, counter, said, at, again] = /^(\w+) (=|\d+)@(\d+)(?: again (\d+))?$/.exec(text)!
  return {
    line: `line ${i + 1}`,
    counter: counter === 'paper' ? null : counter!,
    counted: said === '=' ? null : BigInt(said!),
    at: Number(at),
    again: again === undefined ? null : BigInt(again),
  }
}
/** A hundred lie there until minute 10, then ten are taken. */
const expectedAt = (at: number) => (at < 10 ? 100n : 90n)

describe('what stands of the entries of one line (rules 24, 25, 26, 53)', () => {
  const TWO_PERCENT = (of: { counted: bigint; expected: bigint }) =>
    isWithin({ quantity: null, percent: 2_000_000n, value: null }, { ...of, worth: () => 0n })
  for (const [what, entries, stands] of [
    ['one counter, as expected', ['Ines 100@1'], 'line 1: 100 of 100'],
    ['within tolerance', ['Ines 99@1'], 'line 1: 99 of 100'],
    ['equal to the tolerance', ['Ines 98@1'], 'line 1: 98 of 100'],
    ['equal to it above', ['Ines 102@1'], 'line 1: 102 of 100'],
    ['one below', ['Ines 97@1'], 'count_twice'],
    ['one above', ['Ines 103@1'], 'count_twice'],
    ['beyond it, and the second figure equal', ['Ines 97@1 again 97'], 'line 1: 97 of 100'],
    ['beyond it, and the second figure another', ['Ines 97@1 again 98'], 'counts_differ'],
    ['confirmed', ['Ines =@1'], 'line 1: confirmed 100 of 100'],
    ['confirmed twice is once', ['Ines =@1', 'Ines =@2'], 'line 1: confirmed 100 of 100'],
    ['two heaps are one', ['Ines 40@1', 'Ines 60@2'], 'line 1: 100 of 100'],
    ['two heaps, neither of which would be within alone', ['Ines 10@1', 'Ines 89@2'], 'line 1: 99 of 100'],
    ['two heaps beyond it', ['Ines 10@1', 'Ines 20@2'], 'count_twice'],
    ['two heaps counted again, each', ['Ines 10@1 again 10', 'Ines 20@2 again 20'], 'line 1: 30 of 100'],
    ['two heaps counted again, together', ['Ines 10@1 again 30', 'Ines 20@2'], 'line 1: 30 of 100'],
    ['the last heap’s minute', ['Ines 40@1', 'Ines 50@10'], 'line 1: 90 of 90'],
    ['as expected, and a heap found elsewhere', ['Ines =@1', 'Ines 2@1'], 'line 1: 102 of 100'],
    ['two counters who agree', ['Ines 97@1', 'Tova 97@1'], 'line 1: 97 of 100'],
    ['two who agree, each against its own minute', ['Ines 97@1', 'Tova 87@10'], 'line 2: 87 of 90'],
    ['two with the same figure, which is another difference', ['Ines 95@1', 'Tova 95@10'], 'counters_differ'],
    ['two who differ by one, within tolerance', ['Ines 100@1', 'Tova 99@1'], 'counters_differ'],
    ['a second figure of one does not settle it', ['Ines 97@1 again 97', 'Tova 99@1'], 'counters_differ'],
    ['a second figure that agrees with the other’s', ['Ines 97@1 again 99', 'Tova 99@1'], 'line 2: 99 of 100'],
    ['a second figure against another minute', ['Ines 97@1 again 89', 'Tova 89@10'], 'counters_differ'],
    ['a second figure of both, crosswise', ['Ines 97@1 again 99', 'Tova 99@1 again 97'], 'counters_differ'],
    ['a third that agrees with one of them', ['Ines 97@1', 'Tova 99@2', 'Ruben 97@3'], 'line 3: 97 of 100'],
    ['three who all differ', ['Ines 97@1', 'Tova 99@1', 'Ruben 98@1'], 'counters_differ'],
    ['two pairs who differ', ['A 97@1', 'B 97@1', 'C 98@1', 'D 98@1'], 'counters_differ'],
    ['confirmed by one, counted so by another', ['Ines =@1', 'Tova 100@2'], 'line 2: 100 of 100'],
    ['confirmed by one, otherwise by another', ['Ines =@1', 'Tova 98@2'], 'counters_differ'],
    ['heaps of two counters', ['Ines 40@1', 'Tova 97@1', 'Ines 57@2'], 'line 1: 97 of 100'],
    ['a sheet on paper is a counter too', ['paper 97@1', 'Tova 98@1'], 'counters_differ'],
  ] as const)
    it(`${what}: ${stands}`, () => {
      const judged = judgeEntries(entries.map(entry), expectedAt, TWO_PERCENT)
      const told =
        'stands' in judged
          ? `${judged.stands.lines[0]}: ${judged.stands.confirmed ? 'confirmed ' : ''}${judged.stands.counted} of ${judged.stands.expected}`
          : judged.asks
      expect(told).to.equal(stands)
    })
  for (const [what, entries, stands] of [
    ['one alone, as expected', ['Ines 100@1'], 'second_counter'],
    ['one alone, confirmed', ['Ines =@1'], 'second_counter'],
    ['one alone, twice', ['Ines 97@1 again 97'], 'second_counter'],
    ['two who agree', ['Ines 97@1', 'Tova 97@1'], 'stands'],
    ['two who differ', ['Ines 97@1', 'Tova 98@1'], 'counters_differ'],
    ['two who differ, and one finds the other’s', ['Ines 97@1 again 98', 'Tova 98@1'], 'stands'],
  ] as const)
    it(`counted by two, ${what}: ${stands}`, () => {
      const judged = judgeEntries(entries.map(entry), expectedAt, TWO_PERCENT, true)
      expect('asks' in judged ? judged.asks : 'stands').to.equal(stands)
    })
  for (const [what, entries, first] of [
    ['the earliest of several, though another stands', ['Ines 95@2', 'Tova 97@1', 'Ruben 97@3'], 'Tova 97'],
    ['the first on the sheet of those at one minute', ['Ines 95@1', 'Tova 97@1', 'Ruben 97@3'], 'Ines 95'],
    ['all heaps of a counter, by the minute of the last', ['Ines 40@1', 'Tova 97@2', 'Ines 57@3'], 'Tova 97'],
    ['what was said before it was counted again', ['Ines 97@1 again 99', 'Tova 99@2'], 'Ines 97'],
  ] as const)
    it(`the first tally of a line (29): ${what}`, () => {
      const judged = judgeEntries(entries.map(entry), expectedAt, TWO_PERCENT)
      expect('stands' in judged && `${judged.first.counter} ${judged.first.counted}`).to.equal(first)
    })
  it('tells what each counter found', () => {
    const { by } = judgeEntries(['Ines 40@1', 'Tova 97@3', 'Ines 57@2'].map(entry), expectedAt, TWO_PERCENT)
    expect(by.map(t => [t.counter, t.lines, t.counted, t.at])).to.deep.equal([
      ['Ines', ['line 1', 'line 3'], 97n, 2],
      ['Tova', ['line 2'], 97n, 3],
    ])
  })
})
