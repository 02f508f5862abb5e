import type { Category } from '@shelve/contract'
import { upwards } from '@shelve/core'

/** A category with those above it, the nearest first: what one does not say the next one hands down. */
export const categoriesUp = (categories: readonly Category[], id: string | null): Iterable<Category> => {
  const at = (uid: string | null) => categories.find(c => c.id === uid)
  return upwards(at(id), c => at(c.parent))
}
