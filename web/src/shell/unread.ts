import { shallowReactive } from 'vue'

/** What of the page could not be read, and what reads it once more. */
export interface Unread {
  readonly why: string
  readonly again: () => Promise<void>
}
/** By what reads it; gone as soon as it can be read, or nobody looks at it any more. */
export const unread = shallowReactive(new Map<object, Unread>())
