/** Units that are offered where somebody says in what a thing is counted or measured; any other may be typed. */
export const UNITS = ['each', 'box', 'pack', 'bottle', 'vial', 'kg', 'g', 'L', 'ml', 'm'] as const
