/** From the quantity of one line of a paper to that of the next or the one before; after the last, to where another is added. */
export function step(i: number, by: 1 | -1): void {
  const box = document.querySelectorAll<HTMLInputElement>('[data-line]')[i + by]
  ;(box ?? (by > 0 ? document.querySelector<HTMLInputElement>('[data-add] input') : null))?.focus()
  box?.select()
}
