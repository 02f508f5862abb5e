import { computed, ref } from 'vue'

/**
 * What went wrong, in words, for one line of a screen that reads itself anew again and again: of what somebody did it stays
 * until they do something again, however often is read meanwhile (`wrong`); of reading until that works (`unread`).
 */
export function useWrong() {
  const acted = ref('')
  const unread = ref('')
  const wrong = computed({
    get: () => acted.value || unread.value,
    set: words => {
      acted.value = words
    },
  })
  return { wrong, unread }
}
