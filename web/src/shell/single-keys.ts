import { ref, watch } from 'vue'
import { usePreference } from './preferences.ts'
import { useSession } from './session.ts'

/**
 * Whether a key alone does something on every screen: `/`, `?`. Whoever speaks to their device, or whose hand slips, switches that
 * off (WCAG 2.2, 2.1.4); what Alt or Ctrl begins stays.
 */
export const singleKeys = ref(true)
const isSaid = (x: unknown): x is 'on' | 'off' => x === 'on' || x === 'off'
let arranged: ReturnType<typeof usePreference<'on' | 'off'>> | undefined

/** Whoever is signed in has them as they arranged it, on every device. To be called in the set-up of the frame. */
export function followSingleKeys(): void {
  const session = useSession()
  watch(
    () => session.me?.person.id,
    person => {
      singleKeys.value = true
      if (!person) return
      const mine = (arranged = usePreference<'on' | 'off'>('single-keys', 'on', isSaid))
      void mine.ready.then(() => {
        if (mine === arranged) singleKeys.value = mine.value.value === 'on'
      })
    },
    { immediate: true },
  )
}
export function keepSingleKeys(on: boolean): void {
  singleKeys.value = on
  void arranged?.keep(on ? 'on' : 'off')
}
