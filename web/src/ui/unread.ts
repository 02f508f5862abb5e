import { computed, onUnmounted, shallowReactive, watchEffect } from 'vue'

const standing = shallowReactive(new Map<symbol, string>())
/**
 * What stands in a field on the screen and cannot be read, in words; `undefined` where everything can. Whatever books or
 * sends asks this first: nothing is taken in place of what is standing there.
 */
export const unread = computed<string | undefined>(() => standing.values().next().value)

/** A field says what cannot be read in it, for as long as it is on the screen. */
export function sayUnread(message: () => string | undefined): void {
  const me = Symbol('field')
  watchEffect(
    () => {
      const m = message()
      if (m) standing.set(me, m)
      else standing.delete(me)
    },
    { flush: 'sync' },
  )
  onUnmounted(() => standing.delete(me))
}
