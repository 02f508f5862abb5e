import { shallowRef } from 'vue'
import type { PutBack } from '@shelve/contract'
import { drawer } from './drawer.ts'

/** When a backup was put in place last, as the server says it; an empty text: never. Undefined until it has said so. */
const at = shallowRef<string>()
/** Which records it is that the server has: what is known of others is known of none of these. */
export const records = (): string => at.value ?? ''
/** What is to be done where they are others than a moment ago. */
const whenOthers: (() => void)[] = []
export const onOtherRecords = (does: () => void): void => void whenOthers.push(does)
/** The server says which records it has: with each answer, in its stream, and where it says who is signed in. */
export function recordsAre(now: string | undefined): void {
  if (!now || now === at.value) {
    at.value ??= ''
    return
  }
  const others = at.value !== undefined
  at.value = now
  if (others) for (const does of whenOthers) does()
}

const KEPT = 'shelve.putBack'
/** What whoever sits here is to be told, until they have seen it. */
export const untold = shallowRef<PutBack | null>(null)
/** `known`: whether this device knew the server before; else it has nothing that could be missing. */
export function tellOf(putBack: PutBack | null | undefined, known: boolean): void {
  recordsAre(putBack?.at)
  if (!putBack || drawer.read(KEPT) === putBack.at) return
  if (known) untold.value = putBack
  else drawer.keep(KEPT, putBack.at)
}
export function seenPutBack(): void {
  if (untold.value) drawer.keep(KEPT, untold.value.at)
  untold.value = null
}
