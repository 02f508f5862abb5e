import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface StripAction {
  readonly label: string
  readonly run: () => void
}
/** The strip at the foot that says what was done, and offers to undo it. */
export const useStrip = defineStore('strip', () => {
  const message = ref<{ text: string; tone: 'good' | 'bad'; actions: StripAction[]; key: number } | null>(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  function say(
    text: string,
    tone: 'good' | 'bad' = 'good',
    actions: StripAction[] = [],
    stay = actions.length ? 20_000 : 6_000,
  ) {
    clearTimeout(timer)
    message.value = { text, tone, actions, key: Date.now() }
    timer = setTimeout(() => {
      message.value = null
    }, stay)
  }
  /** What is missing yet, where a key or a card asked for what cannot be done: what was done just now, and may be taken back, stays. */
  function wants(missing: string) {
    if (!message.value?.actions.length) say(missing, 'bad')
  }
  /** Does what one of its buttons would, if it stands there: for the printed card. */
  function act(label: string) {
    const found = message.value?.actions.find(a => a.label === label)
    if (!found) return say('There is nothing just booked to take back. Open the slip in the ledger.', 'bad')
    message.value = null
    found.run()
  }
  return {
    message,
    say,
    wants,
    act,
    clear: () => {
      message.value = null
    },
  }
})
