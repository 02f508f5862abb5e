import { computed, shallowRef, watch } from 'vue'
import { get } from './api.ts'
import { type Happened, live } from './events.ts'

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
  const first = shallowRef<P>()
  // Tens of thousands of rows are replaced as a whole, never changed one by one.
  const rows = shallowRef<readonly T[]>([])
  const next = shallowRef<string | null>(null)
  /** Of which question the rows are. */
  let of = ''
  const answer = async <A>(cursor?: string): Promise<A | undefined> => {
    const asked = path()
    const page = await get<A>(path(cursor))
    return asked === path() ? page : undefined
  }
  const reload = live(async () => {
    const asked = path()
    try {
      const page = await answer<P>()
      if (!page) return
      first.value = page
      rows.value = page.rows
      next.value = page.next
      of = asked
    } catch (e) {
      // What stands there answers another question: nobody takes it for this one's.
      if (of !== path()) {
        first.value = undefined
        rows.value = []
        next.value = null
      }
      throw e
    }
  }, concerns)
  watch(
    () => path(),
    () => void reload(),
  )
  let loading = false
  async function more(): Promise<void> {
    if (!next.value || loading) return
    loading = true
    try {
      const after = next.value
      const page = await answer<Page<T>>(after)
      // Another list stands there when the first page was read anew meanwhile.
      if (!page || next.value !== after) return
      rows.value = [...rows.value, ...page.rows]
      next.value = page.next
    } finally {
      loading = false
    }
  }
  return { rows, first, next, more, reload, loaded: computed(() => first.value !== undefined) }
}
