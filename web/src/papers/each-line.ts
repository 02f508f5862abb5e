import { effectScope, getCurrentScope, onScopeDispose, ref, watch } from 'vue'

/**
 * Calls `changed` once for whatever changed on a paper: its head, any of its lines, or which they are. Each line is followed
 * by itself: with every key one is gone through, however long the list is.
 */
export function watchPaper(lines: () => readonly object[], head: () => object, changed: () => void): void {
  const followed = new Map<object, () => void>()
  const touched = ref(0)
  const touch = () => {
    touched.value++
  }
  // A line may come while some screen begins, and stays when that one is left.
  const scope = effectScope(true)
  if (getCurrentScope()) onScopeDispose(() => scope.stop())
  const follow = (line: object) => scope.run(() => watch(line, touch, { deep: true, flush: 'sync' }))!
  watch(
    () => [...lines()],
    now => {
      const here = new Set(now)
      for (const [line, leave] of followed)
        if (!here.has(line)) {
          leave()
          followed.delete(line)
        }
      // At once, so that nothing that is typed on a new line is missed.
      for (const line of here) if (!followed.has(line)) followed.set(line, follow(line))
      touch()
    },
    { immediate: true, flush: 'sync' },
  )
  watch(head, touch, { deep: true, flush: 'sync' })
  watch(touched, changed)
}
