import { type Effect, type Said, saidOf, type SlipContent, wholeAgain } from '@shelve/contract'
import { ApiProblem, call, query } from '../shell/api.ts'

/** What the lines said at a look, by their ids, in their order. */
interface Sent {
  readonly tag: string
  readonly lines: ReadonlyMap<string, string>
}

/** The lines that say something else than at a look, or are new behind all of that; undefined where that does not tell it. */
function changedSince(sent: Sent, said: Said, lines: ReadonlyMap<string, string>): Said['lines'] | undefined {
  const ids = lines.keys()
  for (const id of sent.lines.keys()) if (ids.next().value !== id) return undefined
  return said.lines.filter(l => sent.lines.get(l.id) !== lines.get(l.id))
}

/**
 * Asks what booking a slip would do by now, look after look: of a long slip only what was written since the look before
 * goes up, and only what differs from it comes down.
 */
export function looking() {
  let sent: Sent | undefined
  return async (slip: string, content: SlipContent, before: Effect | null, signal: AbortSignal): Promise<Effect> => {
    // As they are sent: what is written on meanwhile is told by the next look.
    const said = saidOf(content)
    const lines = new Map(said.lines.map(l => [l.id, JSON.stringify(l)]))
    const since = before?.tag ?? null
    const ask = (of: { since?: string | null; lines?: 'changed' }, body: Said) =>
      call<Effect>('POST', `/api/slips/${slip}/effect${query(of)}`, { body, signal })
    const changed = sent?.tag === since ? changedSince(sent, said, lines) : undefined
    const told = changed
      ? await ask({ since, lines: 'changed' }, { ...said, lines: changed }).catch((e: unknown) => {
          if (e instanceof ApiProblem && e.code === 'look_forgotten') return ask({ since }, said)
          throw e
        })
      : await ask({ since }, said)
    const now = wholeAgain(told, before, [...lines.keys()]) ?? (await ask({}, said))
    sent = now.tag === null ? undefined : { tag: now.tag, lines }
    return now
  }
}
