import {
  type DraftHead,
  type DraftLine,
  type DraftSaved,
  type DraftView,
  lineSaid,
  saidOf,
  type SlipContent,
  type SlipLine,
} from '@shelve/contract'
import { call, get, remove } from '../shell/api.ts'
import type { PaperWire, Saved, Told } from '../papers/wire.ts'
import { freshContent, freshLine } from './fresh.ts'

/** What a slip says of the whole, field beside field: each is merged for itself. */
export type FlatHead = Omit<DraftHead, 'head'> & SlipContent['head']

export const flat = ({ place, effectiveAt, taker, head }: DraftHead): FlatHead => ({
  place,
  effectiveAt,
  taker,
  ...head,
})
export function nested({ place, effectiveAt, taker, ...head }: FlatHead): DraftHead {
  return { place, effectiveAt, taker, head }
}
const EMPTY = freshContent('issue', null)
/** As told; what shows value is absent for whoever may not see it. */
const flatTold = (head: DraftHead): FlatHead => ({ ...flat(EMPTY), ...flat(head) })
const whole = (id: string, line: DraftLine | null): SlipLine | null =>
  line === null ? null : freshLine({ ...line, id })
const saved = (s: DraftSaved): Saved<FlatHead, SlipLine> => ({
  ...s,
  stale: {
    head: s.stale.head && { ...s.stale.head, theirs: flatTold(s.stale.head.theirs) },
    lines: s.stale.lines.map(l => ({ ...l, content: whole(l.id, l.theirs) })),
  },
})

/** How slips are read and saved; `kind` is what is begun, and what was read, `counters` the names of those who counted. */
export function slipWire(
  kind: { value: SlipContent['kind'] },
  counters: { value: Readonly<Record<string, string>> },
): PaperWire<FlatHead, SlipLine> {
  return {
    async read(id, since): Promise<Told<FlatHead, SlipLine>> {
      const d = await get<DraftView>(`/api/slips/${id}/draft${since ? `?since=${since}` : ''}`)
      kind.value = d.kind
      counters.value = { ...counters.value, ...d.counters }
      return {
        ...d,
        whole: since === 0,
        head: flatTold(d.head),
        lines: d.lines.map(l => ({ ...l, content: whole(l.id, l.line) })),
      }
    },
    begin: async (id, head, lines) =>
      saved(
        await call<DraftSaved>('PUT', `/api/slips/${id}`, {
          body: saidOf({ kind: kind.value, ...nested(head), lines: [...lines] }),
        }),
      ),
    save: async (id, { head, lines }, revision, keepalive) =>
      saved(
        await call<DraftSaved>('PATCH', `/api/slips/${id}`, {
          revision,
          keepalive,
          body: {
            ...(head ? { head: nested(head) } : {}),
            lines: lines.map(({ content, ...l }) => ({ ...l, line: content && lineSaid(content) })),
          },
        }),
      ),
    drop: (id, version) => remove(`/api/slips/${id}`, { revision: version }),
  }
}
