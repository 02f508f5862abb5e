import { type Kind, outward } from '../papers/index.ts'
import { bringBack } from './bring-back.ts'

export const kinds: readonly Kind[] = [
  {
    kind: 'issue',
    prefix: 'IS',
    title: ({ receiver }) => `to ${receiver ?? 'somebody'}`,
    lines: (r, line) =>
      r.moved(line, (item, quantity) => outward(r, line, item, quantity, r.usedBy(), { usable: true })),
  },
  {
    kind: 'bring_back',
    prefix: 'BB',
    title: ({ receiver, first }) => (receiver ? `from ${receiver}` : first),
    lines: bringBack,
  },
]
