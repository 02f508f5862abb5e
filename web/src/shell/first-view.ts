import { shallowRef } from 'vue'
import type { Router } from 'vue-router'
import { get } from './api.ts'

/** Whether nothing could be shown yet, since the server went away while the page came. */
export const unreached = shallowRef(false)
/** So long until it is asked once more (ms). */
const AGAIN = 2_000

/**
 * A page of which the first view cannot be had stays empty: nobody is there who could say so. It is said, and as soon as the
 * server answers the page is loaded anew.
 */
export function comeWhenReached(router: Router): void {
  const ask = () =>
    setTimeout(
      () =>
        void get('/api/health').then(
          () => location.reload(),
          () => ask(),
        ),
      AGAIN,
    )
  router.onError(() => {
    if (unreached.value || router.currentRoute.value.matched.length) return
    unreached.value = true
    ask()
  })
}
