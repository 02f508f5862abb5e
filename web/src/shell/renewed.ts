import type { Router } from 'vue-router'
import { get, said } from './api.ts'
import { useStrip } from './strip.ts'

const KEY = 'shelve.renewed'
/**
 * A page that was open while Shelve was upgraded asks for parts of the version before, which are gone. It is loaded anew,
 * there where it was going; what was typed is kept on the device. Where the server is only away it stays and says so, and
 * it never loads itself anew twice in a row.
 */
export function renewWhenUpgraded(router: Router): void {
  let wanted: string | undefined
  router.onError((_error, to) => {
    wanted = to.fullPath
  })
  window.addEventListener('vite:preloadError', () => {
    void (async () => {
      const strip = useStrip()
      try {
        await get('/api/health')
      } catch (e) {
        strip.say(said(e), 'bad')
        return
      }
      if (renewedLately()) {
        strip.say('A part of this screen could not be loaded. Try again in a moment; what you typed is kept.', 'bad')
        return
      }
      renewedNow()
      location.assign(wanted ?? router.currentRoute.value.fullPath)
    })()
  })
}

const SOON = 10_000
function renewedLately(): boolean {
  try {
    return Date.now() - Number(sessionStorage.getItem(KEY) ?? 0) < SOON
  } catch {
    // Where the browser keeps nothing: a page that was loaded just now finds the same again.
    return performance.now() < SOON
  }
}
function renewedNow(): void {
  try {
    sessionStorage.setItem(KEY, String(Date.now()))
  } catch {
    // Then how long it has been there has to say it.
  }
}
