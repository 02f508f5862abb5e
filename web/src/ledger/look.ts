import { type Effect, saidOf, type SlipContent, wholeAgain } from '@shelve/contract'
import { call, query } from '../shell/api.ts'

/** What booking a slip would do by now; of a long count only what differs from the look before crosses the wire. */
export async function lookAt(
  slip: string,
  content: SlipContent,
  before: Effect | null,
  signal: AbortSignal,
): Promise<Effect> {
  // As they are sent: what is written on meanwhile is told by the next look.
  const body = saidOf(content)
  const lines = content.lines.map(l => l.id)
  const look = (since: string | null) =>
    call<Effect>('POST', `/api/slips/${slip}/effect${query({ since })}`, { body, signal })
  return wholeAgain(await look(before?.tag ?? null), before, lines) ?? look(null)
}
