import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface StripAction { readonly label: string; readonly run: () => void }
/** The strip at the foot that says what was done, and offers to undo it. */
export const useStrip = defineStore('strip', () => {
  const message = ref<{ text: string; tone: 'good' | 'bad'; actions: StripAction[]; key: number } | null>(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  function say(text: string, tone: 'good' | 'bad' = 'good', actions: StripAction[] = [], stay = actions.length ? 20_000 : 6_000) {
    clearTimeout(timer)
    message.value = { text, tone, actions, key: Date.now() }
    timer = setTimeout(() => { message.value = null }, stay)
  }
  return { message, say, clear: () => { message.value = null } }
})
