/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  move: { head: ['pick', 'picker'], line: ['lot', 'from', 'to', 'asked', 'override', 'accepts'] },
} as const
