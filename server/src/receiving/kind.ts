import { chargesOf, type Kind, outward, type Reading } from '../papers/index.ts'
import { inward } from './inward.ts'

const charges = (r: Reading): void => {
  r.charges = chargesOf(r.content.head, (code, field, detail) => r.no(null, code, field, detail))
}

export const kinds: readonly Kind[] = [
  {
    kind: 'receipt',
    prefix: 'RC',
    bringsNew: true,
    // Charges are spread over all of its lines.
    byItem: ({ head }) => !head.charges.some(c => c.amount.trim()),
    title: ({ content }) => (content.head.supplier ? `from ${content.head.supplier}` : 'a delivery'),
    begin: charges,
    lines: (r, line) => r.moved(line, (item, quantity) => inward(r, r.supplier(), line, item, quantity)),
  },
  {
    kind: 'opening',
    prefix: 'OP',
    bringsNew: true,
    title: ({ place }) => place ?? '',
    begin: charges,
    lines: (r, line) => r.moved(line, (item, quantity) => inward(r, r.house.accounts.opening, line, item, quantity)),
  },
  {
    kind: 'supplier_return',
    prefix: 'SR',
    title: ({ first }) => first,
    lines: (r, line) =>
      r.moved(line, (item, quantity) => {
        const credit = r.price(line, item, quantity)
        return credit === undefined ? [] : outward(r, line, item, quantity, r.supplier(), { goods: credit })
      }),
  },
]
