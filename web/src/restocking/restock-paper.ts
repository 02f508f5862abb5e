import { computed, onUnmounted, ref, shallowRef, watch } from 'vue'
import type { RestockHead, RestockLine, RestockLineView, RestockSaved, RestockView } from '@shelve/contract'
import { useDraft } from '../papers/draft.ts'
import type { PaperWire } from '../papers/wire.ts'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useIndex } from '../shell/index-store.ts'
import { useSession } from '../shell/session.ts'

const EMPTY: RestockHead = { source: { kind: 'nobody', id: null }, note: '' }
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
  const view = shallowRef<RestockView | null>(null)
  const paper = ref<{ head: RestockHead; lines: RestockLine[] }>({ head: EMPTY, lines: [] })
  const wrong = ref('')
  /** Lines that the server refused, and why. */
  const refused = ref<{ line: string | null; message: string }[]>([])

  const wire: PaperWire<RestockHead, RestockLine> = {
    async read(of) {
      const v = await get<RestockView>(`/api/restock/${of}`)
      if (of === id()) view.value = v
      if (v.state !== 'open') throw asked()
      const lines = v.lines.map(l => ({
        id: l.id,
        revision: l.revision,
        position: l.position,
        by: l.by,
        content: plain(l),
      }))
      return { ...v, savedAt: v.createdAt, head: { source: v.source, note: v.note }, lines, whole: true }
    },
    begin: () => Promise.reject(asked()),
    async save(of, { head, lines }, revision, keepalive) {
      const body = {
        ...(head ? { head } : {}),
        lines: lines.map(({ content, ...l }) => {
          if (content === null) return { ...l, line: null }
          const { id: _, ...line } = content
          return { ...l, line }
        }),
      }
      try {
        const s = await call<RestockSaved>('PATCH', `/api/restock/${of}`, { revision, keepalive, body })
        refused.value = []
        if (of === id()) view.value = s.slip
        const stale = s.stale.lines.map(l => ({ ...l, content: l.theirs && { ...l.theirs, id: l.id } }))
        return { ...s, stale: { head: s.stale.head, lines: stale } }
      } catch (e) {
        if (e instanceof ApiProblem) refused.value = e.problem.fields.map(x => ({ line: x.line, message: x.message }))
        throw e
      }
    },
    drop: (of, version) => call('DELETE', `/api/restock/${of}`, { revision: version }),
  }
  const draft = useDraft<RestockHead, RestockLine>({
    wire,
    kept: 'restock.',
    get: () => paper.value,
    set: ({ head, lines }) => {
      paper.value = { head, lines: [...lines] }
    },
    empty: () => false,
    soon: 500,
    me: () => session.me?.person.name ?? '',
  })
  watch(paper, () => draft.changed(), { deep: true })

  let opened = ''
  async function load() {
    const of = id()
    if (opened === of && view.value?.state === 'open' && !draft.ended.value) return draft.heard(undefined)
    try {
      draft.close()
      opened = of
      if ((await draft.open(of)) === 'none' && view.value?.id !== of)
        view.value = await get<RestockView>(`/api/restock/${of}`)
    } catch (e) {
      wrong.value = said(e)
    }
  }
  const reload = live(load, e => ['restock', 'mail', 'booked', 'setup', 'stock'].includes(e.kind))
  watch(id, () => void reload())
  /** A page that is left or loaded anew takes with it what was typed last. */
  const leaving = () => void draft.save(true)
  window.addEventListener('pagehide', leaving)
  onUnmounted(() => {
    window.removeEventListener('pagehide', leaving)
    leaving()
    draft.close()
  })

  const known = computed(() => new Map(view.value?.lines.map(l => [l.id, l])))
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
  const open = computed(() => view.value?.state === 'open')
  /** The lines as they are written here, or as they were asked for. */
  const lines = computed(() => (open.value ? paper.value.lines : (view.value?.lines ?? [])))
  /** Whether what stands here is saved and nothing speaks against going on; else the keyboard is led to what does. */
  async function settled(): Promise<boolean> {
    await draft.save()
    if (draft.unsettled.value) wrong.value = 'Somebody else changed the same: say first which stands.'
    else if (draft.unsaved()) wrong.value = draft.trouble.value
    else wrong.value = ''
    if (wrong.value || refused.value.length) return false
    const line = paper.value.lines.find(l => told(l).unread)
    if (line) document.querySelector<HTMLInputElement>(`[data-line="${line.id}"]`)?.focus()
    return !line
  }
  /** What something does with the slip as it was seen; the answer is how it stands then. */
  async function does(path: string, body: object): Promise<boolean> {
    try {
      view.value = await call<RestockView>('POST', `/api/restock/${id()}/${path}`, {
        body,
        // What was seen: of an open slip what stands on this screen, not what the server last told of it.
        revision: open.value ? draft.version() : view.value!.version,
      })
      wrong.value = ''
      draft.forget()
      return true
    } catch (e) {
      wrong.value = e instanceof ApiProblem ? (e.field('to') ?? e.message) : said(e)
      if (e instanceof ApiProblem && e.code === 'saved_meanwhile') await reload()
      return false
    }
  }
  return { view, paper, lines, open, wrong, refused, draft, told, reload, settled, does }
}
const asked = () =>
  new ApiProblem({
    type: '',
    title: 'asked already',
    status: 409,
    code: 'asked_already',
    detail: 'This was asked for already: it is not changed any more.',
    fields: [],
  })
