import type { Directive } from 'vue'

/** What a field that is for codes does with one; false where it is none for this field, and goes its usual way. */
export type CodeTaker = (code: string) => boolean | Promise<boolean>
const takers = new WeakMap<Element, CodeTaker>()

/** Keys that a field is given in place of those that were typed: no scanner sent them. */
export const given = new WeakSet<Event>()

/** Writes into a field as if it had been typed: whoever listens hears of it. */
export function write(el: HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement, value: string): void {
  Object.getOwnPropertyDescriptor(Object.getPrototypeOf(el), 'value')!.set!.call(el, value)
  for (const t of ['input', 'change']) el.dispatchEvent(new Event(t, { bubbles: true }))
}
const fieldOf = (el: HTMLElement): HTMLInputElement | HTMLSelectElement | null =>
  el instanceof HTMLInputElement || el instanceof HTMLSelectElement ? el : el.querySelector('input')

/**
 * `v-code`: this field is for a code. What is scanned while it has the focus goes into it and nowhere else: instead of
 * what stood there, or as the taker it is given says. Stands on the field or around it.
 */
export const code: Directive<HTMLElement, CodeTaker | undefined> = {
  mounted: set,
  updated: set,
}
function set(el: HTMLElement, { value }: { value: CodeTaker | undefined }): void {
  const field = fieldOf(el)
  if (!field) return
  takers.set(
    field,
    value ??
      (text => {
        // A separator cannot be written down.
        write(field, text.replaceAll('\x1d', ''))
        return true
      }),
  )
}
/** What the field that had the focus does with a code; undefined where it is for something else. */
export const takerOf = (el: Element | null): CodeTaker | undefined => (el ? takers.get(el) : undefined)

declare module 'vue' {
  interface GlobalDirectives {
    vCode: typeof code
  }
}
