import { computed } from 'vue'
import { isCounted, type SlipLine } from '@shelve/contract'
import { freshLine } from '../ledger/fresh.ts'
import { useSlip } from '../ledger/slip-store.ts'
import { useSession } from '../shell/session.ts'

/** How a sheet is gone through. */
export type Mode = 'walk' | 'grid' | 'review'
export { isCounted }
export const isLeftOut = (l: SlipLine): boolean => l.counted === 'left_out'
/** What a line of a count is about: an item, or a lot of it, in a place. Several may have counted it. */
export const cellOf = (l: SlipLine): string => `${l.item} ${l.lot?.id ?? l.lot?.code ?? ''} ${l.from}`

/** The entries of a count that several write: each belongs to whoever counted. */
export function useEntries() {
  const slip = useSlip()
  const session = useSession()
  const me = () => session.me!.person.id
  const isMine = (l: SlipLine): boolean => l.counter === null || l.counter === me()
  /** Whoever counts blind, or where two count unseen by each other, is not shown what others found. */
  const isHidden = (l: SlipLine): boolean =>
    (slip.content.head.blind || slip.content.head.byTwo) && isCounted(l) && !isMine(l)
  const nameOf = (l: SlipLine): string => (l.counter === null ? '' : (slip.counters[l.counter] ?? 'somebody'))
  /** Lines of the sheet, and how many of them somebody has counted. */
  const lines = computed(() => new Set(slip.content.lines.map(cellOf)).size)
  const counted = computed(() => new Set(slip.content.lines.filter(isCounted).map(cellOf)).size)
  /** Entries by what they are of. */
  const entries = computed(() => {
    const out = new Map<string, SlipLine[]>()
    for (const l of slip.content.lines.filter(isCounted)) out.set(cellOf(l), [...(out.get(cellOf(l)) ?? []), l])
    return out
  })
  /** Whether more than one counted what a line is about. */
  const isShared = (l: SlipLine): boolean => new Set(entries.value.get(cellOf(l))?.map(e => e.counter)).size > 1

  /** Whether there is a line of one's own beside what somebody else counted, whether anything stands on it yet or not. */
  const hasOwn = (l: SlipLine): boolean => slip.content.lines.some(x => x !== l && cellOf(x) === cellOf(l) && isMine(x))
  /** Puts a line of one's own beside what somebody else counted; gives its id. */
  function beside(l: SlipLine): string {
    const own = freshLine({ item: l.item, lot: l.lot && { ...l.lot }, from: l.from })
    slip.add(own, l.id)
    return own.id
  }
  /** Writes what was counted: on the line, or, where somebody else has counted it, as an entry of one's own beside theirs. */
  function write(l: SlipLine, counted: SlipLine['counted'], typed: string, at: string | null): void {
    const said = { counted, typed, countedAt: counted === 'not' ? null : at, again: '' }
    if (!isCounted(l) || isMine(l)) {
      // Why it was left out, or what it weighed, is said of what stood there before.
      if (isLeftOut(l) || l.note.startsWith('weighs ')) l.note = ''
      Object.assign(l, said, { counter: counted === 'not' ? null : me() })
      return
    }
    const own = entries.value.get(cellOf(l))?.find(isMine)
    if (own) Object.assign(own, said, { counter: counted === 'not' ? null : me() })
    else if (counted !== 'not')
      slip.add(freshLine({ item: l.item, lot: l.lot && { ...l.lot }, from: l.from, ...said, counter: me() }), l.id)
  }
  /**
   * Something that moved near a count was on the other side of it than the minutes say. What counts as done before it was after:
   * nothing that its counter entered of it stands later than `turned`. What counts as after it was before: the last of it stands there.
   */
  function turn(l: SlipLine, { before, turned }: { readonly before: boolean; readonly turned: string }): void {
    const own = (entries.value.get(cellOf(l)) ?? []).filter(e => e.counter === l.counter)
    const minute = (e: SlipLine) => (e.countedAt === null ? Infinity : Date.parse(e.countedAt))
    const last = own.toSorted((a, b) => minute(a) - minute(b)).at(-1)
    for (const e of own) if (before ? minute(e) > Date.parse(turned) : e === last) e.countedAt = turned
  }
  /** What stays of the sheet, in words; `unread` lines are said elsewhere. */
  const notCounted = (unread = 0): string => {
    const left = rest.value.length
    const leftOut = out.value.length
    const said = [
      left ? `${left} not counted: ${left === 1 ? 'it stays as it is' : 'they stay as they are'}.` : '',
      leftOut ? `${leftOut} left out.` : '',
    ].filter(Boolean)
    return said.length ? said.join(' ') : unread ? '' : 'Everything is counted.'
  }
  /** Takes an entry off: the line of the sheet stays, as not counted, where nothing else stands of it. */
  function takeOff(l: SlipLine): void {
    const others = slip.content.lines.some(x => x !== l && cellOf(x) === cellOf(l))
    if (others) slip.remove(l.id)
    else Object.assign(l, { counted: 'not', typed: '', countedAt: null, counter: null, again: '' })
  }
  /** Lines that nobody has counted or left out: the rest of the sheet. */
  const rest = computed(() =>
    slip.content.lines.filter(l => !isCounted(l) && !isLeftOut(l) && !entries.value.has(cellOf(l))),
  )
  /** Lines that are left out on purpose, and that nobody has counted after all. */
  const out = computed(() => slip.content.lines.filter(l => isLeftOut(l) && !entries.value.has(cellOf(l))))
  /** Leaves lines out on purpose, with why; they are no more to be counted, and the report says so. */
  function leaveOut(of: readonly SlipLine[], why: string): void {
    for (const l of of)
      Object.assign(l, { counted: 'left_out', typed: '', countedAt: null, counter: me(), again: '', note: why.trim() })
  }
  /** They are to be counted after all. */
  function takeIn(l: SlipLine): void {
    Object.assign(l, { counted: 'not', counter: null, note: '' })
  }
  /** Whether a line waits for me: nobody has counted it, or, where two count each line, I have not. */
  function waits(l: SlipLine): boolean {
    if (isLeftOut(l)) return false
    if (!slip.content.head.byTwo) return l.counted === 'not'
    const of = entries.value.get(cellOf(l)) ?? []
    return !of.some(isMine) && (of.length < 2 || !of.includes(l)) && (l.counted === 'not' || of[0] === l)
  }
  /** All of them are as the books say; gives what takes that back. */
  function confirmRest(at: string): () => void {
    const ids = new Set(rest.value.map(l => l.id))
    for (const l of rest.value) write(l, 'confirmed', '', at)
    return () => {
      for (const l of slip.content.lines)
        if (ids.has(l.id) && l.counted === 'confirmed' && isMine(l)) write(l, 'not', '', null)
    }
  }
  return {
    notCounted,
    rest,
    out,
    leaveOut,
    takeIn,
    waits,
    confirmRest,
    isMine,
    isHidden,
    isShared,
    nameOf,
    hasOwn,
    beside,
    lines,
    counted,
    write,
    takeOff,
    turn,
  }
}
