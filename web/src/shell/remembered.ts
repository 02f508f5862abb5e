import { ref, watch, type Ref } from 'vue'
import { drawer } from './drawer.ts'

/** A choice that this device keeps: what was chosen last, where it is still one of those there are. */
export function remembered<T extends string>(name: string, among: readonly T[], first: T): Ref<T> {
  const key = `shelve.chosen.${name}`
  const kept = drawer.read(key) as T | null
  const chosen = ref(kept && among.includes(kept) ? kept : first) as Ref<T>
  watch(chosen, c => drawer.keep(key, c))
  return chosen
}
