import {
  computed,
  type ComputedRef,
  onScopeDispose,
  type Ref,
  shallowReactive,
  type ShallowRef,
  shallowRef,
  watch,
} from 'vue'
import { get, noAnswer, said } from './api.ts'
import { type Happened, live } from './events.ts'

const behinds = shallowReactive(new Set<ComputedRef<boolean>>())
/** Something that stands on the page answers another question than the one that is asked now. */
export const isBehind = computed(() => [...behinds].some(b => b.value))
/** A part of the page says whether what stands there is of the question before, for as long as it is on the screen. */
export function sayBehind(behind: () => boolean): void {
  const it = computed(behind)
  behinds.add(it)
  onScopeDispose(() => behinds.delete(it))
}

/**
 * What one question answers, as it is now; undefined until it is answered. `question` is its path, undefined where nothing
 * is asked; what it reads (a place, a span) is followed: another question is asked at once, and the one before is given up.
 * What stands until then is marked by the frame as what it is, of the question before. Where the other cannot be answered,
 * that goes: nobody reads the shelves of one place under the name of another. `wrong` is why it was refused, where the view
 * says that itself.
 */
export function useReading<T>(
  question: () => string | undefined,
  concerns?: (e: Happened) => boolean,
  wrong?: Ref<string>,
): { it: Readonly<ShallowRef<T | undefined>>; reload: () => Promise<void> } {
  const it = shallowRef<T>()
  const of = shallowRef<string>()
  let running: AbortController | undefined
  const stands = (answer: T | undefined, asked?: string) => {
    it.value = answer
    of.value = asked
    if (wrong) wrong.value = ''
  }
  const reload = live(async () => {
    const asked = question()
    if (asked === undefined) return stands(undefined)
    const mine = (running = new AbortController())
    try {
      const answer = await get<T>(asked, mine.signal)
      if (asked === question()) stands(answer, asked)
    } catch (e) {
      if (mine.signal.aborted || asked !== question()) return
      // What the server does not answer may be read again later: that the frame says, and does.
      const refused = wrong && !noAnswer(e)
      if (of.value !== asked || refused) stands(undefined)
      if (!refused) throw e
      wrong.value = said(e)
    }
  }, concerns)
  watch(question, () => {
    running?.abort()
    void reload()
  })
  sayBehind(() => it.value !== undefined && of.value !== question())
  return { it, reload }
}

/**
 * What there is to choose from (categories, suppliers), as it is now, also while somebody else adds to it or renames it; what
 * cannot be read is read again by itself. `come` ends when the first answer is there.
 */
export function useChoices<T>(
  path: string,
  concerns: (e: Happened) => boolean = e => e.kind === 'setup',
): { choices: ComputedRef<readonly T[]>; come: Promise<void>; reload: () => Promise<void> } {
  const { it, reload } = useReading<{ rows: readonly T[] }>(() => path, concerns)
  const come = new Promise<void>(done => {
    const stop = watch(it, rows => {
      if (!rows) return
      stop()
      done()
    })
  })
  return { choices: computed(() => it.value?.rows ?? []), come, reload }
}
