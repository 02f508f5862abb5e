import { computed, shallowRef, watch } from 'vue'
import { get } from './api.ts'
import { type Happened } from './events.ts'
import { useReading } from './reading.ts'

interface Page<T> {
  readonly rows: readonly T[]
  readonly next: string | null
}

/**
 * A list that the server gives page by page. `path` is its question, with the cursor of the page wanted; what it reads (a
 * filter, the place one works in) is followed: another question is asked at once, and an answer to one that is no longer
 * asked is dropped, so that rows of two questions never stand in one list. `first` is the first page as it was answered,
 * with its totals.
 */
export function usePages<T, P extends Page<T> = Page<T>>(
  path: (cursor?: string) => string,
  concerns?: (e: Happened) => boolean,
) {
  const { it: first, reload } = useReading<P>(() => path(), concerns)
  // Tens of thousands of rows are replaced as a whole, never changed one by one.
  const rows = shallowRef<readonly T[]>([])
  const next = shallowRef<string | null>(null)
  watch(
    first,
    page => {
      rows.value = page?.rows ?? []
      next.value = page?.next ?? null
    },
    { flush: 'sync' },
  )
  let loading = false
  async function more(): Promise<void> {
    if (!next.value || loading) return
    loading = true
    try {
      const after = next.value
      const asked = path(after)
      const page = await get<Page<T>>(asked)
      // Another question is asked by now, or another list stands there since the first page was read anew.
      if (asked !== path(after) || next.value !== after) return
      rows.value = [...rows.value, ...page.rows]
      next.value = page.next
    } finally {
      loading = false
    }
  }
  return { rows, first, next, more, reload, loaded: computed(() => first.value !== undefined) }
}
