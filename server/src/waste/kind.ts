import { type Kind, outward } from '../papers/index.ts'
import type { House } from './house.ts'
import { wastedBy } from './wasted.ts'

/** What spoiled or broke goes from its shelf to the account of its reason. */
export const kinds = (house: House): readonly Kind[] => [
  {
    kind: 'waste',
    prefix: 'WA',
    title: ({ first }) => first || 'waste',
    byItem: () => true,
    lines: (r, line) => r.moved(line, (item, quantity) => outward(r, line, item, quantity, wastedBy(house, r, line))),
  },
]
