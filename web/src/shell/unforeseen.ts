import type { App } from 'vue'
import { ApiProblem, said } from './api.ts'
import { useStrip } from './strip.ts'

/** A part of the screen that could not be loaded: `renewWhenUpgraded` has words of its own for it. */
const NOT_LOADED = /preload|imported module|importing a module/i
/**
 * Nothing that goes wrong is silent: what no screen has words for is said in the strip, and to whoever reads the console. Of
 * a session that is over the way to sign in speaks; what was given up on purpose is no fault.
 */
export function sayUnforeseen(app: App): void {
  const tell = (e: unknown) => {
    if (e instanceof DOMException && e.name === 'AbortError') return
    if (e instanceof ApiProblem && e.problem.status === 401) return
    console.error(e)
    if (NOT_LOADED.test(String(e))) return
    useStrip().say(
      e instanceof ApiProblem
        ? said(e)
        : 'Something went wrong on this screen. What you typed is kept: load it anew, and look at what stands there.',
      'bad',
    )
  }
  app.config.errorHandler = tell
  window.addEventListener('unhandledrejection', e => {
    e.preventDefault()
    tell(e.reason)
  })
}
