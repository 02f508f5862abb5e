import { computed, type ComputedRef, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { isTexts, usePreference } from '../shell/preferences.ts'

export interface Saved {
  readonly name: string
  readonly query: Readonly<Record<string, string>>
}
const isSaved = (x: unknown): x is Saved[] =>
  Array.isArray(x) &&
  x.every(
    s =>
      typeof s === 'object' &&
      s !== null &&
      typeof (s as Saved).name === 'string' &&
      typeof (s as Saved).query === 'object',
  )

/**
 * How somebody likes a list: which columns it has, and filters kept by a name; kept per person, on every device. The
 * filter itself stands in the address.
 */
export function useList(
  name: string,
  columns: readonly string[],
): {
  shows: ComputedRef<ReadonlySet<string>>
  toggle: (column: string) => void
  saved: Ref<Saved[]>
  filtered: ComputedRef<Record<string, string>>
  keep: (as: string) => Promise<boolean>
  drop: (as: string) => Promise<boolean>
  apply: (s: Saved) => void
} {
  const route = useRoute()
  const router = useRouter()
  const hidden = usePreference<string[]>(`${name}-hidden`, [], isTexts)
  const saved = usePreference<Saved[]>(`${name}-filters`, [], isSaved)
  const shows = computed(() => new Set(columns.filter(c => !hidden.value.value.includes(c))))
  const toggle = (column: string) =>
    void hidden.keep(
      hidden.value.value.includes(column)
        ? hidden.value.value.filter(c => c !== column)
        : [...hidden.value.value, column],
    )
  const filtered = computed(() =>
    Object.fromEntries(
      Object.entries(route.query).flatMap(([k, v]) =>
        typeof v === 'string' && v !== '' && k !== 'place' ? [[k, v]] : [],
      ),
    ),
  )
  const keep = (as: string) =>
    saved.keep(
      [...saved.value.value.filter(s => s.name !== as), { name: as, query: filtered.value }].sort((a, b) =>
        a.name.localeCompare(b.name),
      ),
    )
  const drop = (as: string) => saved.keep(saved.value.value.filter(s => s.name !== as))
  const apply = (s: Saved) => void router.replace({ query: { ...s.query } })
  return { shows, toggle, saved: saved.value, filtered, keep, drop, apply }
}
