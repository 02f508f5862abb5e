/** The fields of the paper that is written, by what they are for: where the keyboard goes. */

/** Whether a field of the paper has the keyboard already. */
export const takesKeys = (el: Element | null): boolean =>
  Boolean(el?.closest('.paper input, .paper select, .paper textarea'))
/** Whom it is for or from, else the box for items. */
export function toFirst(): void {
  document.querySelector<HTMLElement>('.paper [data-for], .paper [data-add] input')?.focus()
}
export function toFirstLine(): void {
  const box = document.querySelector<HTMLInputElement>('.paper [data-quantity]')
  box?.focus()
  box?.select()
}
export function toItemBox(): void {
  document.querySelector<HTMLInputElement>('[data-add] input')?.focus()
}
/** All is written down that is moved: where does it go? */
export function toGoal(): void {
  document.querySelector<HTMLElement>('.paper [data-all-to]')?.focus()
}
