import type { LocationQueryRaw } from 'vue-router'
import { saidOf, type SlipContent } from '@shelve/contract'
import { call, said } from '../shell/api.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { oneSlip } from './one-slip.ts'

/** Begins a slip on which something stands already, and leads there: it is looked at and booked like any other. */
export function useBeginning(): (content: SlipContent, query?: LocationQueryRaw) => Promise<void> {
  const way = useWay()
  const strip = useStrip()
  const begun = oneSlip(async (id, content) => {
    await call('PUT', `/api/slips/${id}`, { body: saidOf(content) })
    return id
  })
  return async (content, query = {}) => {
    try {
      await way.push({ name: content.kind, params: { id: await begun(content) }, query })
    } catch (e) {
      strip.say(said(e), 'bad')
    }
  }
}
