import { shallowRef } from 'vue'
import type { Router } from 'vue-router'
import { ApiProblem, get, noAnswer, said } from './api.ts'

/** Why nothing can be shown yet; empty where something is, or will be in a moment. */
export const unreached = shallowRef('')
/** So long until it is asked once more (ms). */
const AGAIN = 2_000

/**
 * A page of which the first view cannot be had stays empty: nobody is there who could say so. It is said; where the server went
 * away while the page came, the page is loaded anew as soon as it answers.
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
  router.onError((e: unknown) => {
    if (unreached.value || router.currentRoute.value.matched.length) return
    const answered = e instanceof ApiProblem && !noAnswer(e)
    unreached.value = answered ? said(e) : 'The server cannot be reached. Shelve opens by itself as soon as it answers.'
    if (!answered) ask()
  })
}
