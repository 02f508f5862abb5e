import { onScopeDispose } from 'vue'
import { type RouteLocationNormalized, type RouteLocationRaw, type Router, useRouter } from 'vue-router'
import { useStrip } from './strip.ts'
import { asks, isUnderWay, letGoOfScan, scansStand, typedStands } from './under-way.ts'

/** Where somebody is on the way to: chosen, and not there yet. */
let bound: RouteLocationNormalized | undefined
/** Takes note of where somebody is on the way to. */
export function followWay(router: Router): void {
  const there = (to: RouteLocationNormalized) => {
    if (bound === to) bound = undefined
  }
  router.beforeEach(to => {
    bound = to
  })
  router.afterEach(there)
  router.onError((_, to) => there(to))
}

export interface Way {
  /** Whether somebody is on this screen still, and has not chosen another. */
  readonly isHere: () => boolean
  /** Leads on from this screen. */
  readonly push: (to: RouteLocationRaw) => Promise<void>
  /** Leads on from this screen, and Back does not lead to it. */
  readonly replace: (to: RouteLocationRaw) => Promise<void>
}
/**
 * Where a screen leads to once it was answered. Whoever has gone on to something else meanwhile stays there, also where they
 * are only on the way: what they scan and type next is meant for that.
 */
export function useWay(): Way {
  const router = useRouter()
  let left = false
  onScopeDispose(() => (left = true))
  const isHere = () => !left && (!bound || bound.path === router.currentRoute.value.path)
  const leads = (how: 'push' | 'replace') => async (to: RouteLocationRaw) => {
    if (isHere()) await router[how](to)
  }
  return { isHere, push: leads('push'), replace: leads('replace') }
}

/** As often as somebody has chosen where to go; and where they are waiting to go. */
let chosen = 0
let waitsFor = ''
/** After so long it is said what they wait for (ms). */
const SAID = 1_000
const STILL =
  'What was scanned is still being looked up. Choose that work once more, or press Escape, and it is let go of.'
/** So long whoever goes is kept by what they typed: longer only a server that cannot be asked takes (ms). */
const PATIENCE = 3_000
/**
 * Whoever scans or types and then chooses another work means it for the one they leave: it stands there first, or it is known
 * that it leads nowhere. Where something is asked by then, as of a code that nobody knows, they stay with the question. Of
 * several that are chosen meanwhile the last is meant.
 */
export async function leave(router: Router, to: RouteLocationRaw): Promise<void> {
  const { path, fullPath } = router.resolve(to)
  // Chosen once more: they do not want to wait for it.
  if (waitsFor === fullPath) return letGoOfScan()
  // By a key as by a click: the field that is left hears of it.
  if (path !== router.currentRoute.value.path) (document.activeElement as HTMLElement | null)?.blur()
  if (await stillWants(fullPath)) await router.push(to)
}
/** Once what was scanned and typed stands: whether they still want to go there. Another choice keeps them, and a question that came up. */
async function stillWants(to: string): Promise<boolean> {
  const mine = ++chosen
  const asked = asks()
  const strip = useStrip()
  waitsFor = to
  const late = setTimeout(() => strip.say(STILL, 'bad'), SAID)
  await scansStand()
  clearTimeout(late)
  if (strip.message?.text === STILL) strip.clear()
  if (isUnderWay()) await Promise.race([typedStands(), new Promise(ok => setTimeout(ok, PATIENCE))])
  if (mine !== chosen) return false
  waitsFor = ''
  return asked || !asks()
}
/** The links of a page, and whoever goes back, wait for what was scanned and typed as its keys do. Gives what ends that. */
export function linksWait(router: Router): () => void {
  // Only who goes back, which the address shows by then: a scan that leads somewhere itself would wait for itself.
  const free = router.beforeEach((to, from) => {
    const back = location.pathname + location.search + location.hash === to.fullPath
    if (back && to.path !== from.path && isUnderWay()) return stillWants(to.fullPath)
  })
  const click = (e: MouseEvent) => {
    const link = e.target instanceof Element ? e.target.closest<HTMLAnchorElement>('a[href]') : null
    // Another window is opened at once, and a file is fetched.
    if (!isUnderWay() || !link || e.button || e.ctrlKey || e.metaKey || e.shiftKey || e.altKey || link.target) return
    const { origin, pathname, search, hash } = new URL(link.href)
    if (origin !== location.origin || pathname === location.pathname || !router.resolve(pathname).name) return
    // A link that was pressed for nothing by now leads nowhere by itself.
    e.preventDefault()
    void leave(router, pathname + search + hash)
  }
  window.addEventListener('click', click, true)
  return () => {
    free()
    window.removeEventListener('click', click, true)
  }
}
