import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'
import { v7 } from './uuid.ts'
import {
  SlipContent,
  type DraftSaved,
  type Effect,
  type EffectWorkingInput,
  type RefusalView,
  type SlipKind,
  type SlipLine,
  type SlipView,
  type WorkingView,
} from '@shelve/contract'
import { ApiProblem, call, get, said } from '../shell/api.ts'
import { useSession } from '../shell/session.ts'
import { unread } from '../ui/unread.ts'

const KEPT = 'shelve.slip.'
/** A fresh line with everything it may lack. */
export const freshLine = (more: Partial<SlipLine> = {}): SlipLine => ({
  id: v7(),
  item: null,
  typed: '',
  unit: null,
  lot: null,
  from: null,
  to: null,
  price: '',
  discount: '',
  reason: null,
  ref: null,
  difference: null,
  act: 'none',
  counted: 'not',
  countedAt: null,
  unitCost: '',
  again: '',
  override: false,
  note: '',
  direct: null,
  picture: null,
  ...more,
})
export const freshContent = (kind: SlipKind, place: string | null): SlipContent =>
  SlipContent.parse({ kind, place, head: {}, lines: [] })

/**
 * The one owner of the slip being written: keeps it on the device with every keystroke and on the server soon after,
 * asks what booking would do, and books it. Leaving and coming back finds it as it was.
 */
export const useSlip = defineStore('slip', () => {
  const session = useSession()
  const id = ref('')
  const content = ref<SlipContent>(freshContent('receipt', null))
  const revision = ref<number | undefined>()
  const savedAt = ref<string | null>(null)
  const effect = shallowRef<Effect | null>(null)
  const trouble = ref('')
  /** Somebody else saved this draft meanwhile. */
  const clash = ref(false)
  const booking = ref(false)
  const focused = ref<string | null>(null)
  /** Refusals are shown at their lines once booking was tried, or where a field was filled in wrongly. */
  const tried = ref(false)
  let asking: AbortController | undefined
  /** The content that the effect on the screen was asked for. */
  let effectFor = ''
  let saveTimer: ReturnType<typeof setTimeout> | undefined
  let askTimer: ReturnType<typeof setTimeout> | undefined
  let opened = false
  let saving: Promise<void> = Promise.resolve()

  /** A slip that says nothing yet is not worth keeping. */
  const empty = computed(
    () =>
      content.value.lines.length === 0 &&
      !content.value.head.supplier &&
      !content.value.head.note &&
      !content.value.taker,
  )
  const lineRefusals = (line: string): RefusalView[] => (effect.value?.refusals ?? []).filter(r => r.line === line)
  const headRefusals = computed(() => (effect.value?.refusals ?? []).filter(r => r.line === null))
  const effectOf = (line: string) => effect.value?.lines.find(l => l.line === line)

  /** Opens a draft by its id, or begins a new slip; one that was left on this device is taken up again. */
  async function open(kind: SlipKind, wanted: string | undefined): Promise<void> {
    opened = false
    effect.value = null
    trouble.value = ''
    clash.value = tried.value = false
    focused.value = null
    revision.value = undefined
    savedAt.value = null
    const left = wanted ?? localStorage.getItem(`${KEPT}open.${kind}`) ?? undefined
    const device = left ? read(left) : undefined
    if (left) {
      try {
        const s = await get<SlipView>(`/api/slips/${left}`)
        if (s.state === 'draft' && s.content?.kind === kind) {
          id.value = left
          revision.value = s.revision
          savedAt.value = s.savedAt
          content.value = device && device.base === s.revision ? device.content : s.content
          return begin(kind)
        }
        forget(left)
      } catch (e) {
        if (e instanceof ApiProblem && e.code === 'not_found' && !device) forget(left)
      }
      if (device && device.content.kind === kind && device.base === undefined) {
        id.value = left
        content.value = device.content
        return begin(kind)
      }
    }
    fresh(kind)
  }
  function fresh(kind: SlipKind) {
    id.value = v7()
    revision.value = undefined
    savedAt.value = null
    content.value = freshContent(kind, session.placeId)
    asking?.abort()
    asking = undefined
    effect.value = null
    trouble.value = ''
    tried.value = false
    begin(kind)
  }
  function begin(_kind: SlipKind) {
    opened = true
    ask(0)
  }
  const read = (slip: string): { content: SlipContent; base: number | undefined } | undefined => {
    try {
      return JSON.parse(localStorage.getItem(KEPT + slip) ?? '') as { content: SlipContent; base: number | undefined }
    } catch {
      return undefined
    }
  }
  function forget(slip: string) {
    localStorage.removeItem(KEPT + slip)
    for (let i = localStorage.length - 1; i >= 0; i--) {
      const k = localStorage.key(i)!
      if (k.startsWith(`${KEPT}open.`) && localStorage.getItem(k) === slip) localStorage.removeItem(k)
    }
  }

  watch(
    content,
    c => {
      if (!opened) return
      if (empty.value && revision.value === undefined) {
        forget(id.value)
        ask(0)
        return
      }
      localStorage.setItem(KEPT + id.value, JSON.stringify({ content: c, base: revision.value }))
      localStorage.setItem(`${KEPT}open.${c.kind}`, id.value)
      clearTimeout(saveTimer)
      saveTimer = setTimeout(() => void save(), 700)
      ask(50)
    },
    { deep: true },
  )
  // What could not be read is corrected, or the field is gone: then it is no trouble any more.
  watch(unread, (now, before) => {
    if (before && trouble.value === before) trouble.value = now ?? ''
  })
  watch(
    () => session.placeId,
    p => {
      if (opened && content.value.kind !== 'correction') content.value.place = p
    },
  )

  function save(): Promise<void> {
    clearTimeout(saveTimer)
    saving = saving.then(async () => {
      if (!opened || booking.value || (empty.value && revision.value === undefined)) return
      const slip = id.value
      try {
        const s = await call<DraftSaved>('PUT', `/api/slips/${slip}`, {
          body: content.value,
          ...(revision.value === undefined ? {} : { revision: revision.value }),
        })
        if (slip !== id.value) return
        revision.value = s.revision
        savedAt.value = s.savedAt
        trouble.value = ''
        localStorage.setItem(KEPT + slip, JSON.stringify({ content: content.value, base: s.revision }))
      } catch (e) {
        if (slip !== id.value) return
        if (e instanceof ApiProblem && (e.code === 'changed_meanwhile' || e.code === 'not_found')) clash.value = true
        else trouble.value = said(e)
      }
    })
    return saving
  }

  /** Asks what booking would do; only the latest answer counts. */
  function ask(wait: number) {
    clearTimeout(askTimer)
    askTimer = setTimeout(async () => {
      asking?.abort()
      asking = undefined
      // While it is being booked there is nothing to ask: it may be booked by now, which is news of this very slip.
      if (booking.value) return
      if (!content.value.lines.length) {
        effect.value = null
        return
      }
      const mine = (asking = new AbortController())
      const asked = JSON.stringify(content.value)
      try {
        const e = await call<Effect>('POST', `/api/slips/${id.value}/effect`, {
          body: content.value,
          signal: mine.signal,
        })
        if (asking === mine) {
          effect.value = e
          effectFor = asked
        }
      } catch (e) {
        if (asking === mine && (e as Error).name !== 'AbortError') trouble.value = said(e)
      }
    }, wait)
  }

  /** The working of a figure before or after, from the very booking that the effect is of. */
  const working =
    (line: string | null, figure: EffectWorkingInput['figure'], side: 'before' | 'after' = 'after') =>
    () =>
      call<WorkingView>('POST', `/api/slips/${id.value}/effect/working`, {
        body: { content: content.value, line, figure, side },
      })

  /** Adds a line, at the end or behind another. */
  function add(line: SlipLine, behind?: string) {
    const at = behind === undefined ? -1 : content.value.lines.findIndex(l => l.id === behind)
    content.value.lines.splice(at < 0 ? content.value.lines.length : at + 1, 0, line)
    focused.value = line.id
  }
  function remove(line: string) {
    content.value.lines = content.value.lines.filter(l => l.id !== line)
  }

  /** Books the slip as it stands at this moment, even where another one is opened while the answer is on its way. */
  async function book(): Promise<SlipView | undefined> {
    if (unread.value) {
      trouble.value = unread.value
      return undefined
    }
    const slip = id.value
    const sent = JSON.stringify(content.value)
    // Whoever books faster than the effect can be shown has seen nothing that could differ.
    const seen = effect.value?.ok && effectFor === sent ? effect.value.fingerprint : null
    tried.value = true
    booking.value = true
    clearTimeout(saveTimer)
    clearTimeout(askTimer)
    await saving
    try {
      const booked = await call<SlipView>('POST', `/api/slips/${slip}/booking`, {
        body: { content: JSON.parse(sent) as SlipContent, seen },
      })
      if (slip === id.value) opened = false
      forget(slip)
      return booked
    } catch (e) {
      // Another slip stands here by now: what is wrong with the one that was left is no business of it.
      if (slip !== id.value) return undefined
      if (e instanceof ApiProblem && e.problem.effect) {
        effect.value = e.problem.effect
        trouble.value = e.message
      } else if (e instanceof ApiProblem && e.problem.fields.length) {
        effect.value = {
          ...(effect.value ?? { seq: 0, fingerprint: '', lines: [] }),
          ok: false,
          refusals: e.problem.fields as RefusalView[],
        }
        trouble.value = ''
      } else trouble.value = said(e)
      return undefined
    } finally {
      booking.value = false
      if (opened && slip === id.value) ask(0)
    }
  }
  async function discard() {
    opened = false
    clearTimeout(saveTimer)
    await saving
    forget(id.value)
    if (revision.value !== undefined) await call('DELETE', `/api/slips/${id.value}`).catch(() => undefined)
    fresh(content.value.kind)
  }
  /** After a clash: what the other saved, or what is here. */
  async function settleClash(mine: boolean) {
    const s = await get<SlipView>(`/api/slips/${id.value}`).catch(() => undefined)
    if (!s || s.state === 'booked') {
      const c = content.value
      fresh(c.kind)
      if (mine) content.value = { ...c, lines: c.lines.map(l => ({ ...l, id: v7() })) }
    } else {
      revision.value = s.revision
      if (!mine && s.content) content.value = s.content
    }
    clash.value = false
    if (mine) void save()
  }
  return {
    id,
    content,
    revision,
    savedAt,
    effect,
    trouble,
    clash,
    booking,
    focused,
    tried,
    empty,
    headRefusals,
    lineRefusals,
    effectOf,
    open,
    fresh,
    add,
    remove,
    book,
    discard,
    save,
    working,
    ask: () => ask(0),
    settleClash,
  }
})
