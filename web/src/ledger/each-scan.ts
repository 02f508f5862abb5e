import { computed, ref, type Ref } from 'vue'
import type { BookedSlip, CodeMeaning, IndexItem, SlipContent, SlipKind } from '@shelve/contract'
import { remembered } from '../shell/remembered.ts'
import { useIndex } from '../shell/index-store.ts'
import { useScan } from '../scan/store.ts'
import { useSlip } from './slip-store.ts'

/** A slip that was booked just now; `back`: the number of the slip that took it back. */
export interface JustBooked {
  readonly slip: BookedSlip
  readonly what: string
  readonly back: string | null
}
/** So many stay on the screen. */
const SHOWN = 8

/** At the counter each scan may be a slip of its own, booked at once; what was booked last stays on the screen, to be taken back. */
export function useEachScan(
  kind: Ref<SlipKind>,
  addItem: (item: IndexItem, pack?: string | null, meaning?: CodeMeaning) => void,
  book: () => Promise<void>,
) {
  const slip = useSlip()
  const index = useIndex()
  const scan = useScan()
  const chosen = remembered('each-scan', ['no', 'yes'], 'no')
  const on = computed({
    get: () => kind.value === 'issue' && chosen.value === 'yes',
    set: yes => {
      chosen.value = yes ? 'yes' : 'no'
    },
  })
  const booked = ref<JustBooked[]>([])
  let queue: Promise<void> = Promise.resolve()
  /** One after the other: what is being booked is no longer written on, by no key either. */
  function scanned(item: IndexItem, pack: string | null = null, meaning?: CodeMeaning) {
    if (!on.value || !meaning) return addItem(item, pack, meaning)
    queue = queue.then(async () => {
      addItem(item, pack, meaning)
      await book()
    })
    scan.goesOn(queue)
  }
  /** The next one is for the same, until something else is said; what was booked are the lines that were handed in. */
  function goesOn({ head, taker }: SlipContent, lines: SlipContent['lines'], done: BookedSlip) {
    Object.assign(slip.content.head, { job: head.job, costCentre: head.costCentre, among: head.among })
    slip.content.taker = taker
    const what = lines
      .map(({ item, typed, unit }) => {
        const of = item === null ? undefined : index.byId.get(item)
        return `${of?.name ?? ''} ${typed} ${unit ?? of?.unit ?? ''}`
      })
      .join(', ')
    booked.value = [{ slip: done, what, back: null }, ...booked.value].slice(0, SHOWN)
  }
  function takenBack(id: string, back: string) {
    booked.value = booked.value.map(b => (b.slip.id === id ? { ...b, back } : b))
  }
  return { on, booked, scanned, goesOn, takenBack }
}
