import { computed, ref } from 'vue'
import type { SlipLine } from '@shelve/contract'
import { useSlip } from '../ledger/slip-store.ts'

type Own = NonNullable<SlipLine['direct']>
/** The slip that was made a list, as long as no line of it says so itself. */
const begun = ref<string | null>(null)
/** Whom the first line is for, where a card said it before there was one. */
const first = ref<Own | null>(null)

/** A list on paper is entered in one go: each line says itself for whom it is, and by whom it was taken. */
export function useEachOwn() {
  const slip = useSlip()
  const on = computed(
    () => slip.content.kind === 'issue' && (begun.value === slip.id || slip.content.lines.some(l => l.direct !== null)),
  )
  const nobody = (): Own => ({ job: null, costCentre: null, person: '' })
  /** What was for all so far stands on each line. */
  function begin() {
    const { head, lines } = slip.content
    const own = { job: head.job, costCentre: head.costCentre, person: slip.content.taker }
    begun.value = slip.id
    first.value = own.job || own.costCentre ? own : null
    for (const l of lines) l.direct = { ...own }
    Object.assign(head, { job: null, costCentre: null, among: [] })
    slip.content.taker = ''
  }
  /** One for all again: whom the first line is for. */
  function end() {
    const { head, lines } = slip.content
    const own = lines[0]?.direct ?? first.value
    begun.value = null
    for (const l of lines) l.direct = null
    if (own) {
      Object.assign(head, { job: own.job, costCentre: own.costCentre })
      slip.content.taker = own.person
    }
  }
  /** As on paper, the next line is for whom the last one was, until something else is said. */
  const next = (): Own | null =>
    on.value ? { ...(slip.content.lines.at(-1)?.direct ?? first.value ?? nobody()) } : null
  /** A card or a badge says it of the line that is written, or of the first one. */
  function say(line: SlipLine | undefined, more: Partial<Own>) {
    if (line) line.direct = { ...(line.direct ?? nobody()), ...more }
    else first.value = { ...(first.value ?? nobody()), ...more }
  }
  return { on, begin, end, next, say, first }
}
