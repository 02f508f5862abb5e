import { computed, ref, shallowRef } from 'vue'
import { alike, changesOf, type DifferingField, mergeHead, mergeLines, type ToldLine } from '@shelve/core'
import { ApiProblem, said } from '../shell/api.ts'
import { inOrder, newerThan, renamed, takenOff, withTheirs } from './lines.ts'
import type { Base, Draft, Ended, Options, Saved, Screen, Sent, Told } from './wire.ts'
import { readAgain, written } from './written.ts'
import { deviceKeeps, drawer, ownKey } from '../shell/drawer.ts'
import { records } from '../shell/put-back.ts'

/** Reasons for which a paper is not saved any more. */
const ENDED = new Set(['not_found', 'booked_already', 'asked_already', 'job_over'])

/**
 * The one owner of a paper that is being written: with every keystroke it is kept on the device, and soon after on the
 * server, line by line with the revision that was seen. What others save meanwhile is merged into the screen; where both
 * changed the same, both versions are shown and somebody says which stands.
 */
export function useDraft<H extends object, L extends { readonly id: string }>(options: Options<H, L>): Draft<L> {
  const { wire, kept, get } = options
  /** What is shown is typed on: it is never the very same thing that is known of the server's. */
  function set({ head, lines }: Screen<H, L>) {
    const here = new Set(get().lines)
    options.set({ head: clone(head), lines: lines.map(l => (here.has(l) ? l : clone(l))) })
  }
  const id = ref('')
  const savedAt = ref<string | null>(null)
  const trouble = ref('')
  const differing = shallowRef<ReadonlyMap<string, ToldLine<L>>>(new Map())
  const differingHead = shallowRef<{ by: string; fields: readonly DifferingField[] } | null>(null)
  const ended = shallowRef<Ended | null>(null)
  const company = shallowRef<readonly string[]>([])
  const unsettled = computed(() => differing.value.size + (differingHead.value?.fields.length ?? 0))
  let base: Base<H, L> = nothing()
  /** What was sent since the last answer, the latest last: heard of again it is no news. */
  let sent: Sent<H, L>[] = []
  let live = false
  /** Something became of the paper while it was being read: what was answered may be older. */
  let missed = false
  let timer: ReturnType<typeof setTimeout> | undefined
  let working: Promise<void> = Promise.resolve()
  let running = 0
  /** Counts the papers that stood here, each as often as it was opened: what is answered of one that was left is no news of the next. */
  let turn = 0
  const standing = () => {
    const mine = turn
    return () => mine === turn && live
  }

  function begin(paper: string) {
    turn++
    id.value = paper
    base = nothing()
    sent = []
    savedAt.value = null
    trouble.value = ''
    differing.value = new Map()
    differingHead.value = ended.value = null
    company.value = []
    live = true
    missed = false
    window.addEventListener('beforeunload', askBeforeLeaving)
  }
  /** Where the device keeps nothing, what is not saved is in this window alone: the browser asks before it goes. */
  const askBeforeLeaving = (e: Event) => {
    if (live && !deviceKeeps.value && unsaved() && !(options.empty() && base.version === 0)) e.preventDefault()
  }
  function close() {
    window.removeEventListener('beforeunload', askBeforeLeaving)
    // What the server has whole needs no copy on the device; what another window typed does, and what it had before a backup.
    const device = live && base.version > 0 && !unsaved() && !isOfOthers() ? readKept(id.value) : undefined
    if (device && alike(device.mine, get())) forget()
    live = false
    turn++
    clearTimeout(timer)
    ended.value = null
  }
  const keep = () => drawer.keep(ownKey(kept + id.value), written(get(), base, sent))
  const readKept = (paper: string) => readAgain<H, L>(drawer.read(ownKey(kept + paper)))
  const forget = (paper = id.value) => drawer.forget(ownKey(kept + paper))

  /** Takes a paper up: as the server has it, with what was typed on this device and not saved. */
  async function open(paper: string): Promise<'there' | 'here' | 'none' | 'left'> {
    const device = readKept(paper)
    begin(paper)
    live = false
    const mine = turn
    if (device) {
      base = { ...device.base, lines: new Map(device.base.lines) }
      sent = [...device.sent]
      set(device.mine)
    }
    try {
      const told = await wire.read(paper, 0)
      if (mine !== turn) return 'left'
      const newer = device && (isOfOthers() || told.version < base.version)
      if (device && !newer) hear(told)
      else if (!device) {
        base = { ...told, lines: new Map(told.lines.map(l => [l.id, l])), records: records() }
        set({ head: told.head, lines: inOrder(told) })
        told.shown?.()
      }
      savedAt.value = told.savedAt
      live = true
      if (newer) standUpon(told)
      if (missed) void heard(undefined)
      if (device && changes().lines.length) changed()
      return 'there'
    } catch (e) {
      if (mine !== turn) return 'left'
      // Without the server, or before it has heard of it: what is on this device.
      const away = !(e instanceof ApiProblem) || !ENDED.has(e.code)
      if (device && (away || base.version === 0 || isOfOthers() || unsaved())) {
        live = true
        if (!away && base.version > 0) endOrBegin(e)
        return 'here'
      }
      if (!away) forget(paper)
      return 'none'
    }
  }
  /** Whether what is known of the server's is of other records than it has by now: a backup was put in place. */
  const isOfOthers = () => base.version > 0 && (base.records ?? '') !== records()
  /**
   * What is there to hear of since the version that is known; where a backup was put in place, what the paper was before. Also
   * one that was put there by hand, so that nothing says so: then the server tells an older version than it told before.
   */
  async function readOn(older = false): Promise<void> {
    const stands = standing()
    const paper = id.value
    const told = await wire.read(paper, older ? 0 : base.version)
    if (!stands()) return
    if (!older && !isOfOthers() && told.version >= base.version) return hear(told)
    const whole = told.whole ? told : await wire.read(paper, 0)
    if (stands()) standUpon(whole)
  }
  /** What stands here is newer than what the server has: it is saved upon that. */
  function standUpon(told: Told<H, L>) {
    const upon = newerThan(told, base.lines, get())
    base = { ...upon.base, records: records() }
    sent = []
    differing.value = new Map()
    differingHead.value = null
    if (upon.mine !== get()) set(upon.mine)
    told.shown?.()
    changed()
  }
  /** It is over; or the server has it no more, since it was begun after the backup that was put in place, and it is begun anew. */
  function endOrBegin(e: ApiProblem) {
    if (e.code !== 'not_found' || !isOfOthers() || !wire.begin) return end(e)
    base = nothing()
    sent = []
    changed()
  }

  /** What the server tells is merged into the screen. */
  function hear(told: Told<H, L>) {
    const news = told.whole ? [...told.lines, ...takenOff(told, base.lines)] : told.lines
    merge(news)
    if (told.revision > base.revision || base.head === null) mergeHeads(told)
    base.version = told.version
    base.records = records()
    savedAt.value = base.savedAt = told.savedAt
    if (live) keep()
    told.shown?.()
  }
  function meet(news: readonly { readonly by: string; readonly revision: number; readonly id: string }[]) {
    const others = news.filter(t => t.by && t.by !== options.me() && (base.lines.get(t.id)?.revision ?? 0) < t.revision)
    if (others.length) company.value = [...new Set([...company.value, ...others.map(t => t.by)])]
  }
  function merge(news: readonly ToldLine<L>[]) {
    if (base.version > 0) meet(news)
    // What this device saved itself, though the answer got lost, is no news.
    for (const t of news) {
      const own = sent.some(s => s.lines.some(([line, content]) => line === t.id && alike(content, t.content)))
      if (own && (base.lines.get(t.id)?.revision ?? 0) < t.revision) base.lines.set(t.id, t)
    }
    const screen = get()
    const merged = mergeLines({ base: base.lines, mine: screen.lines }, news, alike)
    base.lines = merged.base
    const same = merged.mine.length === screen.lines.length && merged.mine.every((l, i) => l === screen.lines[i])
    if (!same) set({ head: screen.head, lines: merged.mine })
    const all = new Map([...differing.value, ...merged.differing])
    for (const [line, t] of all) {
      const here = merged.mine.find(l => l.id === line)
      if (here && t.content && alike(here, t.content)) {
        base.lines.set(line, t)
        all.delete(line)
      } else if (merged.base.get(line)?.revision === t.revision) all.delete(line)
    }
    differing.value = all
  }
  function mergeHeads({ head: theirs, revision, by }: Pick<Told<H, L>, 'head' | 'revision' | 'by'>) {
    const screen = get()
    const own = sent.some(s => s.head !== undefined && alike(s.head, theirs))
    const was = own ? theirs : (base.head ?? ({} as H))
    const { head, differing: fields } = mergeHead(was, screen.head, theirs)
    base.head = theirs
    base.revision = revision
    if (!alike(head, screen.head)) set({ head, lines: screen.lines })
    // What was not settled before is not settled by their saving something else.
    const asked = (differingHead.value?.fields ?? []).filter(f => !fields.some(x => x.field === f.field))
    tellHead(by, [...fields, ...asked.map(f => ({ ...f, theirs: theirs[f.field as keyof H] }))])
  }
  /** Fields of the head of which it is to be said which version stands; one that says what they say is settled. */
  function tellHead(by: string, fields: readonly DifferingField[]) {
    const { head } = get()
    const left = fields.filter(f => !alike(head[f.field as keyof H], f.theirs))
    differingHead.value = left.length ? { by, fields: left } : null
  }

  const changes = () => {
    const { head, lines } = get()
    const changed = base.head === null || !alike(head, base.head)
    return {
      ...(changed && !differingHead.value ? { head } : {}),
      lines: changesOf({ base: base.lines, mine: lines }, alike, differing.value),
    }
  }
  const unsaved = () => {
    const c = changes()
    return 'head' in c || c.lines.length > 0 || unsettled.value > 0
  }

  /** Something was typed. */
  function changed() {
    if (!live) return
    if (options.empty() && base.version === 0) {
      forget()
      return
    }
    if (differing.value.size) settleTyped()
    if (differingHead.value) tellHead(differingHead.value.by, differingHead.value.fields)
    keep()
    clearTimeout(timer)
    timer = setTimeout(() => void save(), options.soon)
  }
  /** A line that differed and was made to say what they say, or was taken off, has been settled by that. */
  function settleTyped() {
    const here = new Map(get().lines.map(l => [l.id, l]))
    const left = [...differing.value].filter(([line, t]) => {
      const mine = here.get(line)
      const settled = mine ? t.content !== null && alike(mine, t.content) : true
      if (settled) base.lines.set(line, t)
      return !settled
    })
    if (left.length < differing.value.size) differing.value = new Map(left)
  }
  /** One after the other: each stands on the revisions that the one before it made. */
  function queue(work: () => Promise<void>): Promise<void> {
    running++
    working = working.then(work, work).finally(() => {
      running--
    })
    return working
  }
  function save(leaving = false): Promise<void> {
    clearTimeout(timer)
    timer = undefined
    return leaving ? saveNow(true) : queue(() => saveNow(false))
  }
  async function saveNow(leaving: boolean): Promise<void> {
    if (!live || ended.value || (options.empty() && base.version === 0)) return
    const stands = standing()
    const what = changes()
    if (base.version > 0 && !('head' in what) && !what.lines.length) return
    const { head, lines } = clone(get())
    const now: Sent<H, L> = {
      head: 'head' in what ? head : undefined,
      lines: what.lines.map(c => [c.id, clone(c.content)] as const),
    }
    sent = [...sent, now].slice(-8)
    keep()
    try {
      const answer =
        base.version === 0 && wire.begin
          ? await wire.begin(id.value, head, lines)
          : await wire.save(id.value, what, base.revision, leaving)
      if (!stands()) return
      trouble.value = ''
      await took(answer, now)
    } catch (e) {
      if (!stands()) return
      await refused(e)
    }
  }
  /** What was saved stands there; what was not differs. */
  async function took(answer: Saved<H, L>, { head, lines }: Sent<H, L>) {
    const given = new Map(lines)
    for (const l of [...answer.lines, ...answer.stale.lines]) if (l.was !== null) rename(l.was, l.id)
    for (const l of answer.lines) {
      const was = given.get(l.was ?? l.id) ?? null
      const content = was && { ...was, id: l.id }
      base.lines.set(l.id, { revision: l.revision, position: l.position, content })
    }
    if (answer.stale.lines.length) merge(answer.stale.lines)
    if (answer.stale.head) {
      const { theirs, revision, by } = answer.stale.head
      mergeHeads({ head: theirs, revision, by })
    } else if (head) {
      base.head = head
      base.revision = answer.revision
    }
    savedAt.value = base.savedAt = answer.savedAt
    const before = base.version
    const alone = answer.before === before && !answer.lines.some(l => l.was !== null)
    sent = []
    if (before === 0) base.records = records()
    if (alone) base.version = answer.version
    keep()
    // Somebody else saved in between.
    if (!alone || isOfOthers()) await readOn(answer.before < before)
  }
  function rename(was: string, now: string) {
    const { head, lines } = get()
    const stands = base.lines.get(was)?.content
    set({ head, lines: renamed(lines, { was, now, stands: stands ? clone(stands) : null }) })
  }
  async function refused(e: unknown) {
    if (e instanceof ApiProblem && e.code === 'draft_there') await foundThere()
    else if (e instanceof ApiProblem && ENDED.has(e.code)) endOrBegin(e)
    else trouble.value = said(e)
  }
  /** It was begun from here and the answer got lost, or in another window. */
  async function foundThere() {
    try {
      hear(await wire.read(id.value, 0))
      changed()
    } catch (e) {
      trouble.value = said(e)
    }
  }
  function end(e: ApiProblem) {
    clearTimeout(timer)
    ended.value = {
      gone: e.code === 'not_found',
      message: e.message,
      // What was never saved and is booked was booked from here: the answer got lost.
      unsaved: base.version > 0 && unsaved(),
      added: (base.version > 0 ? changes().lines : []).flatMap(c => (c.seen === 0 && c.content ? [c.id] : [])),
    }
  }

  /** Something became of the paper: what others saved is read, what the version known says is no news. */
  function heard(version: number | undefined): Promise<void> {
    missed ||= !live
    if (!live || base.version === 0 || ended.value) return Promise.resolve()
    const stands = standing()
    return queue(async () => {
      // What waited may find another paper here.
      const isOld = version !== undefined && version <= base.version && !isOfOthers()
      if (!stands() || isOld) return
      try {
        await readOn()
      } catch (e) {
        if (stands() && e instanceof ApiProblem && ENDED.has(e.code)) endOrBegin(e)
      }
    })
  }
  function settleLine(line: string, mine: boolean) {
    const t = differing.value.get(line)
    if (!t) return
    differing.value = new Map([...differing.value].filter(([of]) => of !== line))
    base.lines.set(line, t)
    if (!mine) {
      const { head, lines } = get()
      set({ head, lines: withTheirs(lines, base.lines, t) })
    }
    changed()
  }
  function settleHead(field: string, mine: boolean) {
    const d = differingHead.value
    const one = d?.fields.find(f => f.field === field)
    if (!d || !one) return
    const fields = d.fields.filter(f => f !== one)
    differingHead.value = fields.length ? { by: d.by, fields } : null
    if (!mine) {
      const { head, lines } = get()
      set({ head: { ...head, [field]: one.theirs }, lines })
    }
    changed()
  }

  return {
    id,
    savedAt,
    trouble,
    differing,
    differingHead,
    unsettled,
    company,
    ended,
    version: () => base.version,
    begin,
    open,
    close,
    changed,
    save,
    saving: () => running > 0,
    hold: () => clearTimeout(timer),
    heard,
    settleLine,
    settleHead,
    seen: () => ({
      revision: base.revision,
      lines: get().lines.flatMap(l => {
        const stands = base.lines.get(l.id)
        return stands ? [{ id: l.id, revision: stands.revision }] : []
      }),
    }),
    unsaved,
    forget,
    drop: async () => {
      // What is thrown away is not saved any more: its own saving would be somebody's who wrote on it meanwhile.
      clearTimeout(timer)
      await working
      if (base.version > 0) await wire.drop(id.value, base.version)
    },
  }
}
const nothing = <H, L>(): Base<H, L> => ({ version: 0, revision: 0, head: null, lines: new Map(), savedAt: null })
const clone = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
