import type { SlipLine } from '@shelve/contract'
import type { DraftLine } from '@shelve/core'
import { type Kind, outward, type Reading } from '../papers/index.ts'
import { wastedBy } from '../waste/index.ts'
import { bringBack, recharge } from './bring-back.ts'
import type { House } from './house.ts'

export const kinds = (house: House): readonly Kind[] => [
  {
    kind: 'issue',
    prefix: 'IS',
    title: ({ receiver }) => `to ${receiver ?? 'somebody'}`,
    lines: (r, line) => (line.reason === null ? issued(r, line) : spoiled(house, r, line)),
  },
  {
    kind: 'bring_back',
    prefix: 'BB',
    title: ({ receiver, first }) => (receiver ? `from ${receiver}` : first),
    lines: (r, line) => bringBack(house, r, line),
  },
  {
    kind: 'recharge',
    prefix: 'CH',
    title: ({ receiver }) => `to ${receiver ?? 'somebody'}`,
    lines: recharge,
  },
]

const issued = (r: Reading, line: SlipLine): DraftLine[] =>
  r.moved(line, (item, quantity) => outward(r, line, item, quantity, r.usedBy(), { usable: true }))

/** What spoiled while it was handed out or used: wasted, of the job that it was for. */
function spoiled(house: House, r: Reading, line: SlipLine): DraftLine[] {
  const to = wastedBy(house, r, line)
  const lines = r.moved(line, (item, quantity) => outward(r, line, item, quantity, to))
  return lines.map(l => ({ ...l, jobId: r.job() }))
}
