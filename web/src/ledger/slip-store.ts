import { defineStore } from 'pinia'
import { computed, ref, shallowRef, toRaw, watch } from 'vue'
import {
  type BookedSlip,
  type Effect,
  type EffectWorkingInput,
  type RefusalView,
  saidOf,
  type SlipContent,
  type SlipKind,
  type SlipLine,
  type WorkingView,
} from '@shelve/contract'
import { useDraft } from '../papers/draft.ts'
import { watchPaper } from '../papers/each-line.ts'
import { ApiProblem, call, said } from '../shell/api.ts'
import type { Happened } from '../shell/events.ts'
import { drawer, ownKey } from '../shell/drawer.ts'
import { useSession } from '../shell/session.ts'
import { unread } from '../ui/unread.ts'
import { bookSlip } from './book-slip.ts'
import { concernedBy } from './concerned.ts'
import { pressedOnce } from './pressed.ts'
import { freshContent } from './fresh.ts'
import { looking } from './look.ts'
import { flat, type FlatHead, nested, slipWire } from './slip-wire.ts'
import { v7 } from '../shell/uuid.ts'

/** What else may change the effect of any slip. */
const ASKS = new Set(['setup', 'stock'])
const KEPT = 'slip.'

/**
 * The slip being written: its paper (kept, saved, merged line by line: see papers/draft.ts), what booking would do, and
 * booking it. Leaving and coming back finds it as it was.
 */
export const useSlip = defineStore('slip', () => {
  const session = useSession()
  const content = ref<SlipContent>(freshContent('receipt', null))
  const effect = shallowRef<Effect | null>(null)
  /** Counts up whenever it is known what booking would do, or known not to be told. */
  const looks = ref(0)
  const booking = ref(false)
  const focused = ref<string | null>(null)
  /** Refusals are shown at their lines once booking was tried, or where a field was filled in wrongly. */
  const tried = ref(false)
  let asking: AbortController | undefined
  /** The content that the effect on the screen was asked for. */
  let effectFor = ''
  let askTimer: ReturnType<typeof setTimeout> | undefined
  let opened = false
  /** A slip that is handed in for booking is saved first: another one is opened after that. */
  let handing: Promise<unknown> = Promise.resolve()
  /** A slip that is booked while it is still being read waits for that. */
  let opening: Promise<void> | undefined
  /** What was handed in without an answer: the same again is answered as what became of it. */
  const unanswered = shallowRef<{ slip: string; body: object; says: string } | null>(null)
  const discarding = ref(false)

  /** A slip that says nothing yet is not worth keeping. */
  const empty = computed(
    () =>
      content.value.lines.length === 0 &&
      !content.value.head.supplier &&
      !content.value.head.note &&
      !content.value.taker,
  )
  /** What stands there, read past what follows it: all of it is written down with every key, and a list may be long. */
  const raw = () => toRaw(content.value)
  const kind = ref<SlipKind>('receipt')
  const counters = ref<Readonly<Record<string, string>>>({})
  const draft = useDraft<FlatHead, SlipLine>({
    wire: slipWire(kind, counters),
    kept: KEPT,
    get: () => ({ head: flat(raw()), lines: raw().lines }),
    set: ({ head, lines }) => {
      content.value = { kind: content.value.kind, ...nested(head), lines: [...lines] }
    },
    empty: () => empty.value,
    soon: 700,
    me: () => session.me?.person.name ?? '',
  })
  const { id, trouble } = draft
  const lookAt = looking()
  /** Booked by this very screen, as it stands here, though the answer got lost. */
  const bookedUnheard = computed(
    () =>
      unanswered.value?.slip === id.value &&
      draft.ended.value !== null &&
      !draft.ended.value.gone &&
      !draft.ended.value.unsaved,
  )
  /** What became of it elsewhere; what is booked or thrown away from here is no news. */
  const ended = computed(() => (booking.value || discarding.value || bookedUnheard.value ? null : draft.ended.value))
  /** Counts up where the slip on the screen should be handed in again by itself: it is booked, and the answer is wanted. */
  const wanted = ref(0)
  watch(
    () => bookedUnheard.value && !booking.value,
    b => {
      if (b) wanted.value++
    },
  )
  const lineRefusals = (line: string): RefusalView[] => (effect.value?.refusals ?? []).filter(r => r.line === line)
  const headRefusals = computed(() => (effect.value?.refusals ?? []).filter(r => r.line === null))
  const effectOf = (line: string) => effect.value?.lines.find(l => l.line === line)

  function clear() {
    asking?.abort()
    asking = undefined
    effect.value = null
    tried.value = false
    focused.value = null
  }
  /** Opens a draft by its id, or begins a new slip; one that was left on this device is taken up again. */
  function open(wantedKind: SlipKind, wanted: string | undefined): Promise<void> {
    const mine = openNow(wantedKind, wanted).finally(() => {
      if (opening === mine) opening = undefined
    })
    return (opening = mine)
  }
  async function openNow(wantedKind: SlipKind, wanted: string | undefined): Promise<void> {
    await handing
    opened = false
    draft.close()
    clear()
    const left = wanted ?? drawer.read(ownKey(`${KEPT}open.${wantedKind}`)) ?? undefined
    if (left) {
      kind.value = wantedKind
      content.value = freshContent(wantedKind, null)
      const found = await draft.open(left)
      if (found === 'left') return
      if (found !== 'none' && kind.value === wantedKind) return begin()
      draft.close()
      if (found === 'none') forget(left)
    }
    fresh(wantedKind)
  }
  function fresh(of: SlipKind) {
    kind.value = of
    content.value = freshContent(of, session.placeId)
    draft.begin(v7())
    clear()
    begin()
  }
  function begin() {
    opened = true
    ask(0)
  }
  function forget(slip: string) {
    draft.forget(slip)
    for (const k of drawer.names())
      if (k.startsWith(ownKey(`${KEPT}open.`)) && drawer.read(k) === slip) drawer.forget(k)
  }

  function changed() {
    const c = content.value
    if (!opened) return
    draft.changed()
    if (empty.value && draft.version() === 0) {
      forget(id.value)
      ask(0)
      return
    }
    // A list that is picked has a page of its own: it is not what one goes on with when something else is moved.
    if (!c.head.pick) drawer.keep(ownKey(`${KEPT}open.${c.kind}`), id.value)
    ask(50)
  }
  watchPaper(
    () => content.value.lines,
    () => ({ ...content.value, lines: undefined }),
    changed,
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

  /** What happened elsewhere: to this very slip, or to what it is about. */
  function heard(e: Happened) {
    if (e.detail.slip === id.value && (e.kind === 'draft' || e.kind === 'booked')) {
      if (!booking.value) void draft.heard(e.kind === 'draft' ? e.detail.version : undefined)
    } else if (e.kind === 'reload') {
      void draft.heard(undefined)
      if (bookedUnheard.value) wanted.value++
      ask(0)
    } else if (e.kind === 'booked' ? concernedBy(content.value.lines, e.detail.items) : ASKS.has(e.kind)) ask(0)
  }

  /** Asks what booking would do; only the latest answer counts. */
  function ask(wait: number) {
    clearTimeout(askTimer)
    askTimer = setTimeout(async () => {
      asking?.abort()
      asking = undefined
      // While it is being booked there is nothing to ask: it may be booked by now, which is news of this very slip.
      if (booking.value || draft.ended.value) return void looks.value++
      if (!content.value.lines.length) {
        effect.value = null
        return
      }
      const mine = (asking = new AbortController())
      const asked = JSON.stringify(raw())
      try {
        const e = await lookAt(id.value, raw(), effect.value, mine.signal)
        if (asking !== mine) return
        ;[effect.value, effectFor] = [e, asked]
        looks.value++
      } catch (e) {
        if (asking !== mine || (e as Error).name === 'AbortError') return
        looks.value++
        // What became of the slip is said by its paper.
        if (e instanceof ApiProblem && e.code === 'booked_already') void draft.heard(undefined)
        else trouble.value = said(e)
      }
    }, wait)
  }

  /** The working of a figure before or after, from the very booking that the effect is of. */
  const working =
    (line: string | null, figure: EffectWorkingInput['figure'], side: 'before' | 'after' = 'after', from = false) =>
    () =>
      call<WorkingView>('POST', `/api/slips/${id.value}/effect/working`, {
        body: { content: saidOf(content.value), line, figure, side, from },
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

  /** What is handed in: by what was seen of it where the server has it, else what it says. Undefined where it cannot be. */
  async function hand(): Promise<{ body: object; says: string } | undefined> {
    if (bookedUnheard.value) return unanswered.value!
    // What is typed while it is saved is saved too.
    for (let round = 0; round < 3 && (draft.version() > 0 || round === 0); round++) {
      if (draft.version() > 0 || draft.saving()) await draft.save()
      if (!draft.unsaved()) break
    }
    draft.hold()
    const says = JSON.stringify(raw())
    if (draft.unsettled.value) {
      trouble.value = 'Somebody else changed the same: say first which stands.'
      return undefined
    }
    if (draft.version() === 0) return { body: { content: saidOf(JSON.parse(says) as SlipContent) }, says }
    if (draft.ended.value || draft.unsaved()) return undefined
    return { body: { draft: draft.seen() }, says }
  }

  const pressing = pressedOnce(() => JSON.stringify(raw()))
  /** Whether it is to be booked now: where it is pressed once more while it is booked, only as what it has become since. */
  async function mayBook(): Promise<boolean> {
    if (!booking.value) return true
    const slip = id.value
    return (await pressing.again()) && !booking.value && opened && slip === id.value
  }
  /** What is said of a slip that was not booked, or may not have been, to whoever has left it. */
  const leftBehind = (slip: string): string =>
    unanswered.value?.slip === slip
      ? 'Whether the slip you left is booked is not known: the server did not answer. Look for it in the ledger.'
      : 'The slip you left is not booked. It lies among the drafts, with what is missing.'
  /** What was handed in last, to be booked: what is typed after that is no part of it. */
  let lastIn: SlipContent | undefined
  const handedIn = (): SlipContent => lastIn ?? content.value
  /** Books the slip as it stands at this moment, even where another one is opened while the answer is on its way. */
  function book(): Promise<BookedSlip | undefined> {
    if (unread.value) {
      trouble.value = unread.value
      return Promise.resolve(undefined)
    }
    tried.value = true
    booking.value = true
    return pressing.first(bookNow)
  }
  async function bookNow(): Promise<BookedSlip | undefined> {
    clearTimeout(askTimer)
    // What stands here by now is meant; only where it is still being read is that waited for.
    if (opening) await opening.catch(() => undefined)
    const slip = id.value
    try {
      const handed = await (handing = hand())
      if (!handed) return undefined
      // Whoever books faster than the effect can be shown has seen nothing that could differ.
      const seen = effect.value?.ok && effectFor === handed.says ? effect.value.fingerprint : null
      unanswered.value = { slip, ...handed }
      lastIn = JSON.parse(handed.says) as SlipContent
      const booked = await bookSlip(slip, { ...handed.body, seen })
      unanswered.value = null
      if (slip === id.value) {
        opened = false
        draft.close()
      }
      forget(slip)
      return booked
    } catch (e) {
      // Only what the server refuses is known not to be booked from here.
      if (e instanceof ApiProblem && e.problem.status >= 400 && e.problem.status < 500) unanswered.value = null
      // Another slip stands here by now: what is wrong with the one that was left is no business of it.
      if (slip === id.value) refused(e)
      return undefined
    } finally {
      booking.value = false
      if (opened && slip === id.value) {
        draft.changed()
        ask(0)
      }
    }
  }
  function refused(e: unknown) {
    trouble.value = said(e)
    if (!(e instanceof ApiProblem)) return
    if (e.code === 'saved_meanwhile' || e.code === 'booked_otherwise') void draft.heard(undefined)
    if (e.problem.effect) effect.value = e.problem.effect
    else if (e.problem.fields.length) {
      effect.value = {
        ...(effect.value ?? {
          seq: 0,
          fingerprint: '',
          notes: [],
          witness: null,
          lines: [],
          tag: null,
          since: null,
          without: [],
        }),
        ok: false,
        refusals: e.problem.fields as RefusalView[],
      }
      trouble.value = ''
    }
  }
  /** Throws the slip away; not where somebody else saved it meanwhile: then what they wrote is shown first. */
  async function discard(): Promise<boolean> {
    const slip = id.value
    discarding.value = true
    try {
      await draft.drop().catch((e: unknown) => {
        // What somebody else threw away is gone too.
        if (!(e instanceof ApiProblem && e.code === 'not_found')) throw e
      })
      forget(slip)
      // Another slip stands here by now.
      if (slip !== id.value) return true
      opened = false
      draft.close()
      fresh(content.value.kind)
      return true
    } catch (e) {
      if (slip !== id.value) return false
      await draft.heard(undefined)
      trouble.value = said(e)
      draft.changed()
      return false
    } finally {
      discarding.value = false
    }
  }
  /** It was booked or thrown away elsewhere: on with a new slip, of some lines of this one, or of none. */
  function goOn(lines: readonly string[]) {
    const was = content.value
    forget(id.value)
    fresh(was.kind)
    if (lines.length)
      content.value = {
        ...was,
        lines: was.lines.filter(l => lines.includes(l.id)).map(l => ({ ...l, id: v7() })),
      }
  }
  return {
    id,
    content,
    savedAt: draft.savedAt,
    effect,
    looks,
    trouble,
    differing: draft.differing,
    differingHead: draft.differingHead,
    company: draft.company,
    counters,
    ended,
    wanted,
    settleLine: draft.settleLine,
    settleHead: draft.settleHead,
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
    handedIn,
    mayBook,
    leftBehind,
    discard,
    save: () => draft.save(),
    working,
    ask: () => ask(0),
    heard,
    goOn,
  }
})
