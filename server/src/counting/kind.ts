import { refuse } from '@shelve/core'
import type { Kind } from '../papers/index.ts'
import { closeDifference } from './close-difference.ts'
import { countLine, judgeCounts } from './count-line.ts'
import { entryOf } from './entry.ts'
import { groupOf } from './groups.ts'

export const kinds: readonly Kind[] = [
  {
    kind: 'count',
    prefix: 'CT',
    title: ({ house, content, place }) =>
      (content.head.group === null ? undefined : groupOf(house, content.head.group)?.name) ?? place ?? '',
    read: countLine,
    byItem: () => true,
    entry: entryOf,
    end: r => {
      judgeCounts(r)
      if (!r.counts.length && !r.refusals.length)
        r.refusals.push(refuse(r.empty ? 'nothing_to_tally' : 'nothing_counted', null, 'lines'))
    },
  },
  { kind: 'closing', prefix: 'CL', title: ({ first }) => first, read: closeDifference },
]
