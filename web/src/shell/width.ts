import { shallowRef } from 'vue'

const query = matchMedia('(max-width: 1023px)')
/** Whether the window is as narrow as an upright tablet: lists then stand closer. */
export const narrow = shallowRef(query.matches)
query.addEventListener('change', () => {
  narrow.value = query.matches
})
