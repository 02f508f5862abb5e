/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  issue: {
    head: ['job', 'costCentre', 'among'],
    line: ['lot', 'from', 'reason', 'override', 'accepts', 'direct', 'leaves'],
  },
  bring_back: { head: ['job', 'costCentre'], line: ['lot', 'to', 'ref', 'reason'] },
  recharge: { head: ['job', 'costCentre'], line: ['ref'] },
} as const
