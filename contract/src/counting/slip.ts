/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  count: {
    head: ['blind', 'sheet', 'group', 'rest', 'byTwo'],
    line: ['lot', 'from', 'counted', 'countedAt', 'counter', 'again', 'unitCost'],
  },
  closing: { head: [], line: ['difference', 'act', 'to'] },
} as const
