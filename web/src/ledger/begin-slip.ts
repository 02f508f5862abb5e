import type { LocationQueryRaw } from 'vue-router'
import { saidOf, type SlipContent } from '@shelve/contract'
import { call, noAnswer, said } from '../shell/api.ts'
import { useStrip } from '../shell/strip.ts'
import { v7 } from '../shell/uuid.ts'
import { useWay } from '../shell/way.ts'

/**
 * Begins a slip on which something stands already, and leads there: it is looked at and booked like any other. Pressed again
 * while it is on its way, or after an answer that was lost, it is the same slip.
 */
export function useBeginning(): (content: SlipContent, query?: LocationQueryRaw) => Promise<void> {
  const way = useWay()
  const strip = useStrip()
  let going: Promise<void> | undefined
  let unanswered: { says: string; id: string; body: SlipContent } | undefined
  /** What stands on it: its lines have other ids each time. */
  const says = (c: SlipContent) => JSON.stringify({ ...c, lines: c.lines.map(l => ({ ...l, id: '' })) })
  async function begin(content: SlipContent, query: LocationQueryRaw): Promise<void> {
    const what = says(content)
    const it = unanswered?.says === what ? unanswered : { says: what, id: v7(), body: content }
    unanswered = it
    try {
      await call('PUT', `/api/slips/${it.id}`, { body: saidOf(it.body) })
      unanswered = undefined
      await way.push({ name: content.kind, params: { id: it.id }, query })
    } catch (e) {
      if (!noAnswer(e)) unanswered = undefined
      strip.say(said(e), 'bad')
    }
  }
  return (content, query = {}) =>
    (going ??= begin(content, query).finally(() => {
      going = undefined
    }))
}
