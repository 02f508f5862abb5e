import { computed } from 'vue'
import type { RestockHead, RestockLine, RestockLineView, RestockSaved, RestockView } from '@shelve/contract'
import { usePaper } from '../papers/paper.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'

const plain = ({ id, item, place, typed, unit, why }: RestockLine): RestockLine => ({
  id,
  item,
  place,
  typed,
  unit,
  why,
})

/** One restock slip: what stands on it, written by several where it is open, with what the server knows of each line. */
export function useRestockPaper(id: () => string) {
  const session = useSession()
  const index = useIndex()
  const written = usePaper<RestockHead, RestockLine, RestockLineView, RestockView>({
    id,
    path: '/api/restock',
    kept: 'restock.',
    empty: { source: { kind: 'nobody', id: null }, note: '' },
    headOf: v => ({ source: v.source, note: v.note }),
    lineOf: plain,
    savedAt: v => v.createdAt,
    open: v => v.state === 'open',
    over: { code: 'asked_already', detail: 'This was asked for already: it is not changed any more.' },
    inAnswer: s => (s as RestockSaved).slip,
    concerns: ['restock', 'mail', 'booked', 'setup', 'stock', 'job'],
  })
  const { view, paper, known, open, refused } = written

  /** A line with what the server knows of it; of one that it has not heard of yet, what is known here. */
  function told(l: RestockLine): Omit<RestockLineView, 'levels'> & { levels: RestockLineView['levels'] | null } {
    const is = known.value.get(l.id)
    const item = index.byId.get(l.item)
    return {
      ...(is ?? {
        revision: 0,
        late: false,
        cancelled: null,
        position: 0,
        by: '',
        quantity: '0',
        unread: null,
        owed: '0',
        levels: null,
        elsewhere: [],
        code: item?.code ?? '',
        name: item?.name ?? '',
        base: item?.unit ?? '',
        placeName: session.placeName(l.place),
      }),
      ...plain(l),
      // Typed on: what was said of it before is of another text.
      unread: is && is.typed === l.typed && is.unit === l.unit ? is.unread : null,
    }
  }
  /** The lines as they are written here, or as they were asked for. */
  const lines = computed(() => (open.value ? paper.value.lines : (view.value?.lines ?? [])))
  /** Whether what stands here is saved and nothing speaks against going on; else the keyboard is led to what does. */
  async function settled(): Promise<boolean> {
    if (!(await written.saved()) || refused.value.length) return false
    const line = paper.value.lines.find(l => told(l).unread)
    if (line) document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)?.focus()
    return !line
  }
  return { ...written, lines, told, settled }
}
