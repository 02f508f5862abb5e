/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  receipt: {
    head: ['supplier', 'deliveryNote', 'charges', 'job', 'costCentre'],
    line: ['lot', 'from', 'to', 'price', 'discount', 'direct'],
  },
  opening: { head: ['supplier', 'deliveryNote', 'charges'], line: ['lot', 'from', 'to', 'price', 'discount'] },
  supplier_return: { head: ['supplier', 'deliveryNote'], line: ['lot', 'from', 'price', 'ref', 'accepts'] },
} as const
