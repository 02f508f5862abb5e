/** What slips of this room say, beside what every slip does. */
export const FIELDS = { waste: { head: ['reason'], line: ['lot', 'from', 'reason', 'override', 'accepts'] } } as const
