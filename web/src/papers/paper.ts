import { computed, onUnmounted, type Ref, ref, type ShallowRef, shallowRef, toRaw } from 'vue'
import { ApiProblem, call, get, post, remove, said } from '../shell/api.ts'
import { live } from '../shell/events.ts'
import { useSession } from '../shell/session.ts'
import { useStrip } from '../shell/strip.ts'
import { useWay } from '../shell/way.ts'
import { useWrong } from '../shell/wrong.ts'
import { useDraft } from './draft.ts'
import { watchPaper } from './each-line.ts'
import type { PaperWire, Saved } from './wire.ts'

/** A paper as its room answers it: head and lines with their revisions, and whatever else is known of it. */
interface View<K extends ToldLine> {
  readonly id: string
  readonly revision: number
  readonly version: number
  readonly by: string
  readonly lines: readonly K[]
}
interface ToldLine {
  readonly id: string
  readonly revision: number
  readonly position: number
  readonly by: string
}
interface Stale<H, L> {
  readonly head: { readonly revision: number; readonly by: string; readonly theirs: H } | null
  readonly lines: readonly {
    readonly id: string
    readonly was: string | null
    readonly revision: number
    readonly position: number
    readonly by: string
    readonly theirs: Omit<L, 'id'> | null
  }[]
}
type Answered<H, L> = Omit<Saved<H, L>, 'stale'> & { readonly stale: Stale<H, L> }

interface Kind<H, L, K, V> {
  readonly id: () => string
  /** Where papers of its kind are: `/api/restock`. */
  readonly path: string
  /** Under this and its id a paper is kept on the device. */
  readonly kept: string
  readonly empty: H
  readonly headOf: (view: V) => H
  readonly lineOf: (line: K) => L
  readonly savedAt: (view: V) => string
  /** Whether it is still written on. */
  readonly open: (view: V) => boolean
  /** What is said of one that is not, by a code of its own. */
  readonly over: { readonly code: string; readonly detail: string }
  /** The paper in the answer to a saving. */
  readonly inAnswer: (saved: object) => V
  /** What happens that concerns it. */
  readonly concerns: readonly string[]
}

/**
 * One paper that is a resource of its own and is written by several: its lines as they stand on the screen, saved by
 * themselves and merged with what others save, and what the server knows of each.
 */
export function usePaper<H extends object, L extends { readonly id: string }, K extends ToldLine, V extends View<K>>(
  kind: Kind<H, L, K, V>,
) {
  const session = useSession()
  const strip = useStrip()
  const way = useWay()
  const view = shallowRef<V | null>(null) as ShallowRef<V | null>
  const paper = ref<{ head: H; lines: L[] }>({ head: kind.empty, lines: [] }) as Ref<{ head: H; lines: L[] }>
  const { wrong, unread } = useWrong()
  /** Lines (or the head) that the server refused, and why. */
  const refused = ref<{ line: string | null; field: string | null; message: string }[]>([])
  const over = () => new ApiProblem({ type: '', title: kind.over.code, status: 409, ...kind.over, fields: [] })
  const path = (of: string) => `${kind.path}/${of}`

  const wire: PaperWire<H, L> = {
    async read(of) {
      const v = await get<V>(path(of))
      const shown = () => {
        view.value = v
      }
      if (!kind.open(v)) {
        shown()
        throw over()
      }
      const lines = v.lines.map(l => ({
        id: l.id,
        revision: l.revision,
        position: l.position,
        by: l.by,
        content: kind.lineOf(l),
      }))
      const { version, revision, by } = v
      return { version, revision, by, savedAt: kind.savedAt(v), head: kind.headOf(v), lines, whole: true, shown }
    },
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
        const s = await call<Answered<H, L>>('PATCH', path(of), { revision, keepalive, body })
        refused.value = []
        view.value = kind.inAnswer(s)
        const stale = s.stale.lines.map(l => ({
          ...l,
          content: l.theirs && ({ ...l.theirs, id: l.id } as unknown as L),
        }))
        return { ...s, stale: { head: s.stale.head, lines: stale } }
      } catch (e) {
        if (e instanceof ApiProblem)
          refused.value = e.problem.fields.map(x => ({ line: x.line, field: x.field, message: x.message }))
        throw e
      }
    },
    drop: (of, version) => remove(path(of), { revision: version }),
  }
  const draft = useDraft<H, L>({
    wire,
    kept: kind.kept,
    get: () => toRaw(paper.value),
    set: ({ head, lines }) => {
      paper.value = { head, lines: [...lines] }
    },
    empty: () => false,
    soon: 500,
    me: () => session.me?.person.name ?? '',
  })
  watchPaper(
    () => paper.value.lines,
    () => paper.value.head,
    () => draft.changed(),
  )

  let opened = false
  let left = false
  async function load() {
    if (left) return
    const of = kind.id()
    if (opened && view.value && kind.open(view.value) && !draft.ended.value) return draft.heard(undefined)
    try {
      draft.close()
      opened = true
      if ((await draft.open(of)) === 'none' && !view.value) view.value = await get<V>(path(of))
      unread.value = ''
    } catch (e) {
      unread.value = said(e)
    }
  }
  const reload = live(load, e => kind.concerns.includes(e.kind))
  /** A page that is left or loaded anew takes with it what was typed last. */
  const leaving = () => draft.save(true)
  window.addEventListener('pagehide', leaving)
  onUnmounted(() => {
    window.removeEventListener('pagehide', leaving)
    left = true
    // What was pressed before it was left waits for what is on its way.
    void leaving().finally(() => draft.close())
  })

  const known = computed(() => new Map<string, K>(view.value?.lines.map(l => [l.id, l])))
  const open = computed(() => view.value !== null && kind.open(view.value))
  /** Whether what stands here is saved and nothing speaks against going on. */
  async function saved(): Promise<boolean> {
    await draft.save()
    if (draft.unsettled.value) wrong.value = 'Somebody else changed the same: say first which stands.'
    else if (draft.unsaved()) wrong.value = draft.trouble.value
    else wrong.value = ''
    const ready = !wrong.value && !refused.value.length
    if (!ready && !way.isHere())
      strip.say(
        wrong.value || 'What you left could not be saved, and nothing else was done with it. Open it again.',
        'bad',
      )
    return ready
  }
  /** What something does with the paper as it was seen; the answer is how it stands then. What is refused is told also to whoever has left. */
  async function does(what: string, body: object): Promise<boolean> {
    try {
      view.value = await post<V>(`${path(kind.id())}/${what}`, body, {
        // What was seen: of an open paper what stands on this screen, not what the server last told of it.
        revision: open.value ? draft.version() : view.value!.version,
      })
      wrong.value = ''
      draft.forget()
      return true
    } catch (e) {
      wrong.value = e instanceof ApiProblem ? (e.field('to') ?? e.message) : said(e)
      if (!way.isHere()) strip.say(wrong.value, 'bad')
      else if (e instanceof ApiProblem && e.code === 'saved_meanwhile') await reload()
      return false
    }
  }
  return { view, paper, known, open, wrong, refused, draft, reload, saved, does }
}
