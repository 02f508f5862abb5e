/** What slips of this room say, beside what every slip does. */
export const FIELDS = {
  make: {
    head: ['job', 'extra', 'goesOn', 'corrects'],
    line: ['side', 'lot', 'from', 'to', 'share', 'reason', 'asked', 'override', 'accepts'],
  },
} as const
