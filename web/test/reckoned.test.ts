import { expect } from 'chai'
import { ratio } from '@shelve/core'
import type { SlipLine } from '@shelve/contract'
import { freshLine } from '../src/ledger/fresh.ts'
import { otherThanReckoned, reckonedAnew } from '../src/jobs/reckoned.ts'

describe('more or less comes of a make than its lines were reckoned for', () => {
  const measure = { base: 'L', decimals: 3, packs: [{ name: 'pot', size: ratio(5n, 1n) }] }
  const out = (item: string, typed: string, more: Partial<SlipLine> = {}) =>
    freshLine({ id: `${item} ${typed}`, side: 'out', item, typed, ...more })
  const takes = (item: string, typed: string, more: Partial<SlipLine> = {}) =>
    freshLine({ id: `${item} ${typed}`, item, typed, ...more })
  const asked = { asked: '10' }

  for (const [what, lines, stands] of [
    ['as much as that', [out('soup', '10', asked)], undefined],
    ['as much, in its pack', [out('soup', '2', { ...asked, unit: 'pot' })], undefined],
    ['as much, in two lots', [out('soup', '4', asked), out('soup', '6')], undefined],
    ['more', [out('soup', '12.5', asked), takes('leeks', '3')], '12.5'],
    ['less, in its pack', [out('soup', '1', { ...asked, unit: 'pot' })], '5'],
    ['a second lot beside it', [out('soup', '10', asked), out('soup', '2')], '12'],
    ['another thing beside it', [out('soup', '10', asked), out('fat', '1')], undefined],
    ['nothing that can be read', [out('soup', 'some', asked)], undefined],
    ['nothing', [out('soup', '', asked)], undefined],
    ['what nobody reckoned', [out('soup', '12')], undefined],
    ['an item that is not known', [out('gone', '12', asked)], undefined],
  ] as const)
    it(`${what}: ${stands ? `it can be reckoned for ${stands}` : 'nothing is offered'}`, () => {
      const found = otherThanReckoned(lines, item => (item === 'gone' ? undefined : measure))
      expect(found?.stands).to.equal(stands)
    })

  it('amounts follow line by line; what was wasted, split or written beside stays', () => {
    const cold = { from: 'cold room' }
    const stand = [
      out('soup', '12', asked),
      out('fat', '0.1'),
      takes('leeks', '3'),
      takes('leeks', '1', { reason: 'spoiled' }),
      takes('stock', '2'),
      takes('stock', '8', cold),
      takes('salt', '0.1'),
      takes('salt', '0.2'),
      takes('pepper', '0.3'),
    ]
    const { amounts, more, left } = reckonedAnew(
      stand,
      [
        out('soup', '12', { asked: '12' }),
        out('fat', '0.12'),
        takes('leeks', '3.6'),
        takes('stock', '9.6', cold),
        takes('stock', '2.4'),
        takes('salt', '0.36'),
        takes('bay', '4'),
      ],
      'soup',
    )
    expect([...amounts].map(([id, { typed, asked }]) => [id, typed, asked])).to.deep.equal([
      ['soup 12', '12', '12'],
      ['fat 0.1', '0.12', ''],
      ['leeks 3', '3.6', ''],
      ['stock 8', '9.6', ''],
      ['stock 2', '2.4', ''],
    ])
    expect(more.map(l => l.item)).to.deep.equal(['bay'])
    expect(left).to.deep.equal(['salt'])
  })
})
