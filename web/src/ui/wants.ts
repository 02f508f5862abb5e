import type { Directive } from 'vue'
import { useStrip } from '../shell/strip.ts'

/**
 * `v-wants="…"`: a button that cannot do its work yet says what it wants, in words; empty, it can. It looks grey and does
 * nothing, but keeps the focus, is read out with what it wants, and says it when it is pressed, by Enter in its form too.
 */
export const wants: Directive<HTMLButtonElement, string> = {
  mounted(button, { value }) {
    tell(button, value)
    button.addEventListener(
      'click',
      e => {
        const missing = button.dataset.wants
        if (!missing) return
        e.preventDefault()
        e.stopImmediatePropagation()
        // Clicked twice where once was enough: what was done by the first is what is said.
        if (e.detail < 2) useStrip().say(missing, 'bad')
      },
      true,
    )
  },
  updated(button, { value, oldValue }) {
    tell(button, value)
    // What was wanted is there: it is said no more.
    const strip = useStrip()
    if (oldValue && oldValue !== value && strip.message?.text === oldValue) strip.clear()
  },
}
function tell(button: HTMLButtonElement, missing: string): void {
  if (missing) {
    button.dataset.wants = button.title = missing
    button.setAttribute('aria-disabled', 'true')
  } else if (button.dataset.wants) {
    delete button.dataset.wants
    button.removeAttribute('title')
    button.removeAttribute('aria-disabled')
  }
}

declare module 'vue' {
  interface GlobalDirectives {
    vWants: typeof wants
  }
}
