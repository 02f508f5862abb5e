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
  /** What was added by hand, also by somebody else, stands on the last page, where there is room for it. */
  function take() {
    if (!last) return
    for (const l of slip.content.lines) {
      const page = pageOf.get(l.id) ?? last
      pageOf.set(l.id, page)
      if (l.countedAt) times[page] ??= l.countedAt
    }
  }
  watch(() => slip.content.lines.map(l => l.id + l.countedAt).join(), take)
  return { times, pageOf, begin }
}
