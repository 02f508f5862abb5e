import { onScopeDispose, shallowRef } from 'vue'
import type { BookedSlip, Effect, SlipContentInput } from '@shelve/contract'
import { ApiProblem, call, said } from '../shell/api.ts'
import { bookSlip } from './book-slip.ts'
import { v7 } from '../shell/uuid.ts'
import { unread } from '../ui/unread.ts'

/**
 * A slip written beside another one: looked at with every change, then booked as it was seen. It keeps its id, so that a
 * second try is the same slip. `wrong` hears what went wrong, in words.
 */
export function useTrial(content: () => SlipContentInput, wrong: (message: string) => void) {
  const id = v7()
  const effect = shallowRef<Effect | null>(null)
  let looking: AbortController | undefined
  /** Shows nothing, until the next look. */
  function forget(): void {
    looking?.abort()
    looking = undefined
    effect.value = null
  }
  /** What is asked at this moment: whoever books before it has come books by that, not by what was seen of something else. */
  let asked: Promise<void> | undefined
  const look = (): Promise<void> => (asked = ask())
  async function ask(): Promise<void> {
    looking?.abort()
    const mine = (looking = new AbortController())
    try {
      const e = await call<Effect>('POST', `/api/slips/${id}/effect`, { body: content(), signal: mine.signal })
      if (looking === mine) effect.value = e
    } catch (e) {
      if ((e as Error).name !== 'AbortError') wrong(said(e))
    }
  }
  async function book(): Promise<BookedSlip | undefined> {
    await asked
    // What stands in a field and cannot be read is not left out in silence.
    if (unread.value) {
      wrong(unread.value)
      return undefined
    }
    try {
      return await bookSlip(id, { content: content(), seen: effect.value?.ok ? effect.value.fingerprint : null })
    } catch (e) {
      wrong(e instanceof ApiProblem ? (e.problem.fields[0]?.message ?? e.message) : said(e))
      return undefined
    }
  }
  onScopeDispose(() => looking?.abort())
  return { id, effect, look, forget, book }
}
