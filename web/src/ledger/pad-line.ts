import { computed, ref, watch } from 'vue'
import { useIndex } from '../shell/index-store.ts'
import { pressed } from '../ui/pad.ts'
import { useSlip } from './slip-store.ts'

/** The line whose number is pressed on the keys below the lines: the first key replaces what stood there, as typing would. */
export function usePadLine() {
  const slip = useSlip()
  const index = useIndex()
  const line = computed(() => slip.content.lines.find(l => l.id === slip.focused))
  const item = computed(() => (line.value?.item ? index.byId.get(line.value.item) : undefined))
  const begun = ref<string | null>(null)
  watch(
    () => slip.focused,
    () => {
      begun.value = null
    },
  )
  function press(key: string) {
    const now = line.value!
    now.typed = pressed(begun.value === now.id ? now.typed : '', key, item.value!.unit)
    begun.value = now.id
  }
  const packs = computed(() =>
    item.value
      ? [
          ...item.value.packs.map(p => ({ name: p.name, note: `${p.size} ${item.value!.unit}` })),
          { name: item.value.unit, note: '' },
        ]
      : [],
  )
  return { line, item, packs, press }
}
