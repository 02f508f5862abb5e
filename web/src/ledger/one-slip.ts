import type { SlipContent } from '@shelve/contract'
import { noAnswer } from '../shell/api.ts'
import { v7 } from '../shell/uuid.ts'

/**
 * Sends a slip that is written by one press, under an id of its own. Pressed again while it is on its way, or after an answer
 * that was lost, it is the same slip: nothing is begun or booked twice.
 */
export function oneSlip<T>(
  send: (id: string, content: SlipContent) => Promise<T>,
): (content: SlipContent) => Promise<T> {
  let going: Promise<T> | undefined
  let unanswered: { says: string; id: string; content: SlipContent } | undefined
  /** What stands on it: its lines have other ids each time. */
  const says = (c: SlipContent) => JSON.stringify({ ...c, lines: c.lines.map(l => ({ ...l, id: '' })) })
  async function sent(content: SlipContent): Promise<T> {
    const what = says(content)
    const it = unanswered?.says === what ? unanswered : { says: what, id: v7(), content }
    unanswered = it
    try {
      const answer = await send(it.id, it.content)
      unanswered = undefined
      return answer
    } catch (e) {
      if (!noAnswer(e)) unanswered = undefined
      throw e
    }
  }
  return content =>
    (going ??= sent(content).finally(() => {
      going = undefined
    }))
}
