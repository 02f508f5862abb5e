import { type Kind, outward } from '../papers/index.ts'

export const kinds: readonly Kind[] = [
  {
    kind: 'move',
    prefix: 'MV',
    title: ({ first }) => first,
    lines: (r, line) =>
      r.moved(line, (item, quantity) => {
        const to = r.place(line, line.to, 'to')
        return to === undefined ? [] : outward(r, line, item, quantity, to)
      }),
  },
]
