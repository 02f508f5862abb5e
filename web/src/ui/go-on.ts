import { onScopeDispose } from 'vue'

/** Ctrl + Enter, wherever the keyboard is on a screen: what its main button does. A dialog has its own. */
export function useGoOn(go: () => unknown): void {
  const key = (e: KeyboardEvent) => {
    if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey) || document.querySelector('[role="dialog"]')) return
    e.preventDefault()
    void go()
  }
  window.addEventListener('keydown', key)
  onScopeDispose(() => window.removeEventListener('keydown', key))
}
