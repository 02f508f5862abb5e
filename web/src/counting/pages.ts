import { reactive, watch } from 'vue'
import type { PrintedSheetView } from '@shelve/contract'
import { useSlip } from '../ledger/slip-store.ts'

/** On which page of a printed sheet each line is entered, and the time that stands on each page, as far as it was said. */
export function usePages() {
  const slip = useSlip()
  const times = reactive<Record<number, string | null>>({})
  const pageOf = reactive(new Map<string, number>())
  let last = 0
  function begin(sheet: PrintedSheetView) {
    last = sheet.firstPage + sheet.pages - 1
    for (const l of sheet.lines) pageOf.set(l.id, l.page)
    take()
  }
  /** The time that most lines of a page bear: one that was said to stand before or after something has a moment of its own. */
  function timeOf(page: number): string | null {
    const times = new Map<string, number>()
    for (const l of slip.content.lines)
      if (l.countedAt && pageOf.get(l.id) === page) times.set(l.countedAt, (times.get(l.countedAt) ?? 0) + 1)
    const whole = (time: string) => (time.endsWith(':00.000Z') ? 1 : 0)
    return [...times].sort(([s, a], [t, b]) => b - a || whole(t) - whole(s))[0]?.[0] ?? null
  }
  /** What was added by hand, also by somebody else, stands on the last page, where there is room for it. */
  function take() {
    if (!last) return
    for (const l of slip.content.lines) {
      const page = pageOf.get(l.id) ?? last
      pageOf.set(l.id, page)
    }
    for (const page of new Set(pageOf.values())) times[page] ??= timeOf(page)
  }
  watch(() => slip.content.lines.map(l => l.id + l.countedAt).join(), take)
  return { times, pageOf, begin }
}
