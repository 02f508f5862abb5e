import { onMounted, onUnmounted, type Ref } from 'vue'
import { type RouteLocationRaw, useRouter } from 'vue-router'
import { takesText } from '../scan/scanner.ts'
import { singleKeys } from './single-keys.ts'
import { leave } from './way.ts'

/** On an Apple keyboard Alt writes other characters, `#` and `€` by digits: there Ctrl and a digit, which write nothing, lead to a work. */
export const APPLE = /Mac|iPhone|iPad/.test(navigator.platform)
/** Whether a key leads to a work: in a field (`typing`) no character that it writes is taken away. */
const leads = (e: KeyboardEvent, typing: boolean): boolean =>
  /^Digit\d$/.test(e.code) &&
  (e.altKey ? !e.ctrlKey && !(APPLE && typing && e.key !== e.code.at(-1)) : APPLE && e.ctrlKey && !e.metaKey)
/** The keys that work on every screen: Alt and a digit for each work, a stroke for the scan strip, a question mark for help. */
export function useKeys(tabs: Readonly<Ref<readonly { readonly to: RouteLocationRaw }[]>>, help: () => void): void {
  const router = useRouter()
  const key = (e: KeyboardEvent) => {
    const at = e.target instanceof Element ? e.target : null
    // A box that is ticked takes no letters.
    const typing = takesText(at) || at?.closest('select, [contenteditable]') != null
    // Whoever is in the strip already, and has written nothing, means no stroke.
    const begins = at instanceof HTMLInputElement && at.id === 'scan-strip' && !at.value
    if (leads(e, typing)) {
      e.preventDefault()
      const work = tabs.value[(Number(e.code.at(-1)) + 9) % 10]
      if (work) void leave(router, work.to)
    } else if (!singleKeys.value) {
      // Nothing is done by a key alone.
    } else if (e.key === '/' && !e.ctrlKey && (!typing || begins)) {
      e.preventDefault()
      document.getElementById('scan-strip')?.focus()
    } else if (e.key === '?' && !typing) {
      e.preventDefault()
      help()
    }
  }
  // Before any field hears it: a list that is open does not keep it.
  onMounted(() => window.addEventListener('keydown', key, true))
  onUnmounted(() => window.removeEventListener('keydown', key, true))
}
