import type { SlipContent } from '@shelve/contract'

/**
 * Whether what was booked may change what a slip would do: it was about one of its items (`undefined`: about more than
 * were told). A line that names no item but a line or a difference may be about any.
 */
export const concernedBy = (
  lines: readonly Pick<SlipContent['lines'][number], 'item' | 'ref' | 'difference'>[],
  items: readonly string[] | undefined,
): boolean =>
  items === undefined ||
  lines.some(l => (l.item === null ? l.ref !== null || l.difference !== null : items.includes(l.item)))
