import type { Directive } from 'vue'

/** `v-focus`: the keyboard is there when a field comes up, with what stands in it chosen; `v-focus="false"`: it is not. */
export const focus: Directive<HTMLInputElement | HTMLSelectElement, boolean | undefined> = {
  mounted(field, { value }) {
    if (value !== false) {
      field.focus()
      if (field instanceof HTMLInputElement) field.select()
    }
  },
}

declare module 'vue' {
  interface GlobalDirectives {
    vFocus: typeof focus
  }
}
