import { type Kind, outward } from '../papers/index.ts'

export const kinds: readonly Kind[] = [
  {
    kind: 'move',
    prefix: 'MV',
    title: ({ first, content }) => content.head.pick || first,
    lines: (r, line) => {
      // Of a list that is picked, what nobody took stays where it is.
      if (r.content.head.pick && !line.typed.trim()) return []
      return r.moved(line, (item, quantity) => {
        const to = r.place(line, line.to, 'to')
        return to === undefined ? [] : outward(r, line, item, quantity, to)
      })
    },
    end: r => {
      if (r.content.head.pick && !r.lines.length && !r.refusals.length) r.no(null, 'nothing_picked', 'lines')
    },
  },
]
