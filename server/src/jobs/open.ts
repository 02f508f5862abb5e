/** Jobs that are not over: what they need is demand, and what comes of them is on its way. As the statement says it. */
export const OPEN = ['planned', 'picking', 'in_work'] as const
