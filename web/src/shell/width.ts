import { type ShallowRef, shallowRef } from 'vue'

/** Whether the window is no wider than so many pixels; it follows when that changes. */
function within(pixels: number): ShallowRef<boolean> {
  const query = matchMedia(`(max-width: ${pixels}px)`)
  const is = shallowRef(query.matches)
  query.addEventListener('change', () => {
    is.value = query.matches
  })
  return is
}
/** Whether the window is as narrow as an upright tablet: lists then stand closer. */
export const narrow = within(1023)
/** Whether it is no wider than a tablet that lies on its side, or a small window at a desk. */
export const middling = within(1219)
