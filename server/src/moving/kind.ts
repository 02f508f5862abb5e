import { type Kind, outward, refuseUnusable } from '../papers/index.ts'
import { opened } from './opened.ts'
import { sent } from './sent.ts'

export const kinds: readonly Kind[] = [
  {
    kind: 'move',
    prefix: 'MV',
    title: ({ first, content }) => content.head.pick || first,
    byItem: () => true,
    lines: (r, line) => {
      // Of a list that is picked, what nobody took stays where it is.
      if (r.content.head.pick && !line.typed.trim()) return []
      return r.moved(line, (item, quantity) => {
        const to = r.place(line, line.to, 'to')
        if (to === undefined) return []
        // What is picked for a job is to be used: only what may be is taken.
        const picked = r.content.head.pick !== ''
        const lines = outward(r, line, item, quantity, to, { usable: picked })
        if (picked) for (const l of lines) refuseUnusable(r, line, l.lotId)
        return lines
      })
    },
    end: r => {
      if (r.content.head.pick && !r.lines.length && !r.refusals.length) r.no(null, 'nothing_picked', 'lines')
    },
  },
  ...sent,
  ...opened,
]
