import { type ShallowRef, shallowRef, watch } from 'vue'
import { get } from './api.ts'
import { type Happened, live } from './events.ts'

/**
 * What one question answers, as it is now; undefined until it is answered. `question` is its path: what that reads (a place, a
 * span) is followed, and an answer to one that is no longer asked is dropped. Where another question cannot be answered, what stands is of the one before, and goes: nobody reads
 * the shelves of one place under the name of another.
 */
export function useReading<T>(
  question: () => string,
  concerns?: (e: Happened) => boolean,
): { it: Readonly<ShallowRef<T | undefined>>; reload: () => Promise<void> } {
  const it = shallowRef<T>()
  let of = ''
  const reload = live(async () => {
    const asked = question()
    try {
      const answer = await get<T>(asked)
      if (asked !== question()) return
      it.value = answer
      of = asked
    } catch (e) {
      if (of !== question()) it.value = undefined
      throw e
    }
  }, concerns)
  watch(question, () => void reload())
  return { it, reload }
}
