/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  move: { head: ['pick', 'picker'], line: ['lot', 'from', 'to', 'asked', 'override', 'accepts'] },
  dispatch: { head: ['towards', 'carrier', 'due'], line: ['lot', 'from', 'accepts'] },
  arrival: { head: ['sent'], line: ['lot', 'to', 'asked'] },
  relabel: { head: [], line: ['lot', 'from', 'to', 'opened'] },
} as const
