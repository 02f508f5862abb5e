/** What slips of this room say, beside what every slip does. */
export const FIELDS = { move: { head: [], line: ['lot', 'from', 'to', 'override', 'accepts'] } } as const
