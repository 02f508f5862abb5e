import { ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue'
import { said } from '../shell/api.ts'

export interface Preview {
  /** What was drawn last; while `drawing` it is of an earlier choice. */
  readonly pdf: ShallowRef<Blob | null>
  readonly drawing: Ref<boolean>
  readonly wrong: Ref<string>
}

/**
 * A paper as it will look, which follows what is chosen at once: `chosen` says what is to be drawn (null: nothing), and
 * whatever it depends on is watched. One at a time is drawn, and always the last choice in the end, so that what is opened
 * or saved is never of an earlier one.
 */
export function usePreview<T>(chosen: () => T | null, draw: (of: T) => Promise<Blob>): Preview {
  const pdf = shallowRef<Blob | null>(null)
  const drawing = ref(false)
  const wrong = ref('')
  let wanted = ''
  async function follow() {
    while (drawing.value) {
      const now = wanted
      if (now === 'null') {
        pdf.value = null
        wrong.value = ''
      } else
        try {
          const drawn = await draw(JSON.parse(now) as T)
          if (now !== wanted) continue
          pdf.value = drawn
          wrong.value = ''
        } catch (e) {
          if (now !== wanted) continue
          pdf.value = null
          wrong.value = said(e)
        }
      drawing.value = false
    }
  }
  watch(
    () => JSON.stringify(chosen()),
    now => {
      wanted = now
      if (drawing.value) return
      drawing.value = true
      void follow()
    },
    { immediate: true },
  )
  return { pdf, drawing, wrong }
}
