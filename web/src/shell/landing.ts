import { nextTick, onScopeDispose } from 'vue'
import type { Router } from 'vue-router'
import { asks } from './under-way.ts'

const FIELDS = 'input, select, textarea'

/** The heading of the work, so that the next Tab is in it and a reader says where one is. */
export function toHeading(): boolean {
  const heading = document.querySelector<HTMLElement>('main h1')
  if (!heading) return false
  heading.tabIndex = -1
  heading.focus({ preventScroll: true })
  return true
}

/**
 * A screen whose first thing came later says where the keyboard begins. Where somebody is already, in the strip, a field
 * or a dialog, they stay; by touch nothing jumps.
 */
export async function landOn(selector: string): Promise<void> {
  await nextTick()
  const now = document.activeElement
  if (matchMedia('(pointer: coarse)').matches || asks()) return
  if (now?.closest('main, header') && !now.matches('main h1')) return
  document.querySelector<HTMLElement>(`main ${selector}`)?.focus()
}

/** Where the keyboard lands when another screen comes up: in the field that the screen chose, else at its heading. */
export function useLanding(router: Router): void {
  let frame = 0
  const stop = () => cancelAnimationFrame(frame)
  const land = (tries: number) => {
    const now = document.activeElement
    // A screen has chosen, somebody is typing, or a dialog asks.
    if (now?.closest('main')?.contains(now) && now.matches(FIELDS)) return
    if ((now instanceof HTMLInputElement && now.value) || now?.closest('[role="dialog"]')) return
    if (!toHeading() && tries > 0) frame = requestAnimationFrame(() => land(tries - 1))
  }
  const leave = router.afterEach((to, from, stayed) => {
    stop()
    if (!stayed && to.path !== from.path) frame = requestAnimationFrame(() => land(300))
  })
  onScopeDispose(() => {
    stop()
    leave()
  })
}
