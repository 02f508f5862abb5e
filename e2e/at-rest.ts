// When a view has come up: all that it asked for is answered; and what moved on it while it came.
import type { Page } from '@playwright/test'
import { expect } from './stage.ts'

/** Follows what a page asks of the server; gives what waits until all of it is answered and what comes into view gently has come. */
export function followed(page: Page): () => Promise<void> {
  const asked = new Set<unknown>()
  page.on('request', r => {
    const { pathname } = new URL(r.url())
    if (/^\/(api|assets)\//.test(pathname) && pathname !== '/api/events') asked.add(r)
  })
  page.on('requestfinished', r => void asked.delete(r))
  page.on('requestfailed', r => void asked.delete(r))
  return async () => {
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await expect
      .poll(async () => {
        // Two frames: what has come is drawn, and asks for more if it wants more.
        const held = await page.evaluate(async () => {
          await new Promise(drawn => requestAnimationFrame(() => requestAnimationFrame(drawn)))
          return (window as unknown as { held?: number }).held ?? 0
        })
        return asked.size + held
      }, 'all that is asked is answered')
      .toBe(0)
    await page.evaluate(() => Promise.all(document.getAnimations().map(a => a.finished.catch(() => undefined))))
  }
}

/** Goes to another view as somebody does who is in Shelve already: without loading all of it anew, where it is another view. */
export async function visit(page: Page, url: string, path: string): Promise<void> {
  const there = new URL(page.url())
  if (there.origin !== url || there.pathname === new URL(path, url).pathname) return void (await page.goto(url + path))
  await page.evaluate(to => {
    history.pushState(null, '', to)
    dispatchEvent(new PopStateEvent('popstate'))
  }, path)
}

/**
 * Every answer reaches the page a while later, so that what comes late is drawn late; and it is written down what moves
 * meanwhile. How much later is told by what is asked and by `seed`, none to four times `ms`: answers come in another order
 * with each seed, and in the same with the same.
 */
export async function slowly(page: Page, ms: number, seed: number): Promise<void> {
  await page.addInitScript(
    ([ms, seed]) => {
      const late = (path: string) =>
        ms * ([...path.replace(/[0-9a-f-]{36}/g, '')].reduce((h, c) => (h * 31 + c.charCodeAt(0)) % 9973, seed) % 5)
      const { fetch } = window
      const w = window as unknown as { held: number }
      w.held = 0
      window.fetch = async (...asked) => {
        w.held++
        try {
          const answer = await fetch(...asked)
          await new Promise(done => setTimeout(done, late(new URL(answer.url).pathname)))
          return answer
        } finally {
          w.held--
        }
      }
      const moved: string[] = []
      Object.assign(window, { moved })
      interface Shift extends PerformanceEntry {
        readonly hadRecentInput: boolean
        readonly sources: readonly { node: Node | null; previousRect: DOMRectReadOnly; currentRect: DOMRectReadOnly }[]
      }
      const acts = 'a[href], button, input, select, textarea'
      // What comes up in the frame in which it is pushed away was nowhere else before.
      const drawn = new WeakMap<Element, number>()
      const frames: number[] = []
      const claims = new Set<string>()
      Object.assign(window, { claims })
      let changed = true
      new MutationObserver(() => (changed = true)).observe(document, {
        childList: true,
        subtree: true,
        characterData: true,
      })
      const look = (at: number) => {
        frames.push(at)
        for (const p of changed ? document.querySelectorAll('main p, main li, main span') : []) {
          const said = p.textContent!.trim()
          if (/^(Nothing|Nobody|None|No|There is no)\b/.test(said)) claims.add(said)
        }
        changed = false
        for (const e of document.querySelectorAll(acts)) if (!drawn.has(e)) drawn.set(e, at)
        requestAnimationFrame(look)
      }
      requestAnimationFrame(look)
      new PerformanceObserver(list => {
        for (const e of list.getEntries() as Shift[])
          for (const { node, previousRect: from, currentRect: to } of e.hadRecentInput ? [] : e.sources) {
            const of = node instanceof Element ? node : node?.parentElement
            const what = [of?.closest(acts), ...(of?.querySelectorAll(acts) ?? [])].find(
              act => act && drawn.get(act)! < frames.findLast(at => at <= e.startTime)!,
            )
            // What only grew to one side has stayed where it was.
            const across = Math.min(Math.abs(from.left - to.left), Math.abs(from.right - to.right))
            const down = Math.min(Math.abs(from.top - to.top), Math.abs(from.bottom - to.bottom))
            if (!what || Math.max(across, down) < 4) continue
            const name = what.getAttribute('aria-label') ?? what.textContent ?? ''
            moved.push(`${what.tagName} “${name.trim().slice(0, 40)}” from ${from.x}, ${from.y} to ${to.x}, ${to.y}`)
          }
      }).observe({ type: 'layout-shift', buffered: true })
    },
    [ms, seed] as const,
  )
}
/** What is to be touched and went elsewhere since that was asked last. */
export const moved = (page: Page) =>
  page.evaluate(() => (window as unknown as { moved?: string[] }).moved?.splice(0) ?? [])
/** What was said not to be, since that was asked last, and is said no more: it was not known yet. */
export const flashed = (page: Page) =>
  page.evaluate(() => {
    const { claims } = window as unknown as { claims: Set<string> }
    const now = document.querySelector('main')!.textContent!
    const gone = [...claims].filter(said => !now.includes(said))
    claims.clear()
    return gone
  })
