import { begin, correctLine } from './resolving/correction.ts'
import { changeMethod } from './resolving/method-change.ts'
import type { Kind } from './resolving/reading.ts'

/** Kinds that are about other slips, or about items wherever they lie. */
export const kinds: readonly Kind[] = [
  {
    kind: 'correction',
    prefix: 'CR',
    action: 'reverse',
    title: ({ house, content }) => {
      const target = content.head.corrects ? house.rows.slip.get({ uid: content.head.corrects }) : undefined
      return target?.number ? `of ${target.number}` : ''
    },
    begin,
    read: correctLine,
  },
  {
    kind: 'method_change',
    prefix: 'CM',
    action: 'set_up',
    changesSetUp: true,
    title: ({ first }) => first,
    read: changeMethod,
  },
]
