import { onScopeDispose } from 'vue'
import { allStands, asks } from '../shell/under-way.ts'

/** An item that is still being looked for by its name is no line yet: the box takes the first that is found. */
const seeks = (of: EventTarget | null) =>
  of instanceof HTMLInputElement && of.value.trim() !== '' && of.closest('[data-add]') !== null
interface GoOn {
  /** What the screen is about: where that is something else by then, nothing is done. */
  readonly of?: () => unknown
  /** Once what the screen is about stands there, or is known not to come. */
  readonly opened?: () => unknown
}
/**
 * What a screen's main button does, also by Ctrl + Enter wherever the keyboard is on it (a dialog has its own): once the screen
 * has come, and what was scanned or typed before stands there. Not where something is asked by then, the screen was left, or
 * it is about something else than it was when it was pressed. Gives what a press does.
 */
export function useGoOn(go: () => unknown, { of, opened }: GoOn = {}): () => Promise<void> {
  let left = false
  const pressed = async () => {
    const what = of?.()
    const asked = asks()
    await opened?.()
    await allStands()
    if (left || what !== of?.() || (asks() && !asked)) return
    await go()
  }
  const key = (e: KeyboardEvent) => {
    if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey) || asks() || seeks(e.target)) return
    e.preventDefault()
    void pressed()
  }
  // Before any box sees it: a list that is open keeps Enter to itself.
  window.addEventListener('keydown', key, true)
  onScopeDispose(() => {
    left = true
    window.removeEventListener('keydown', key, true)
  })
  return pressed
}
