import { ref, watch, type Ref } from 'vue'

/** A choice that this device keeps: what was chosen last, where it is still one of those there are. */
export function remembered<T extends string>(name: string, among: readonly T[], first: T): Ref<T> {
  const key = `shelve.chosen.${name}`
  const kept = localStorage.getItem(key) as T | null
  const chosen = ref(kept && among.includes(kept) ? kept : first) as Ref<T>
  watch(chosen, c => localStorage.setItem(key, c))
  return chosen
}
