import { computed, nextTick, type Ref } from 'vue'
import { decimal, formatDecimal, ONE, plainly, readQuantity } from '@shelve/core'
import type { CodeMeaning, IndexItem, SlipKind, SlipLine } from '@shelve/contract'
import { useEachOwn } from '../issuing/each-own.ts'
import { useIndex } from '../shell/index-store.ts'
import { useFormat } from '../ui/format.ts'
import { freshLine } from './fresh.ts'
import { oneMore } from './one-more.ts'
import { type Way, wayOf } from './kind.ts'
import { KINDS } from './kinds.ts'
import { useSlip } from './slip-store.ts'

const quantityOf = (line: string | null) =>
  document.querySelector<HTMLInputElement>(`[data-line="${line}"] [data-quantity]`)

/** The lines of the slip being written: added by hand and by scan, several lots of one item under each other. */
export function useLines(kindOf: Ref<SlipKind>) {
  const slip = useSlip()
  const index = useIndex()
  const f = useFormat()
  const kind = computed(() => KINDS[kindOf.value]!)
  const own = useEachOwn()

  const firstPack = (item: IndexItem) =>
    kind.value.pack === 'buying'
      ? (item.packs.find(p => p.buying && !p.issuing)?.name ?? null)
      : kind.value.pack === 'container'
        ? index.container(item)
        : null
  /** What comes in is written down as it stands on the label; what goes out is a lot that is known. */
  const lotOf = (lot: NonNullable<CodeMeaning['lot']>, way: Way): SlipLine['lot'] => ({
    ...lot,
    id: way.lot === 'out' ? lot.id : null,
  })
  /** The lines of a side, in the order in which they stand; all where the slip has no sides. */
  const of = (side: SlipLine['side']): SlipLine[] =>
    kind.value.out ? slip.content.lines.filter(l => l.side === side) : slip.content.lines
  const inOrder = () => (kind.value.out ? [...of('out'), ...of('in')] : slip.content.lines)
  /** The keyboard goes to a line's quantity once it is drawn: of that line, wherever something else has put it meanwhile. */
  const toQuantity = (line: string | null) => void nextTick(() => quantityOf(line)?.focus())
  function addItem(item: IndexItem, pack: string | null = null, meaning?: CodeMeaning, side: SlipLine['side'] = 'in') {
    const way = wayOf(kind.value, { side })
    // Scanning the same thing again adds one of what the code stands on to its line; another lot or pack is a line of its own.
    const lotCode = meaning?.lot?.code ?? ''
    // Each container that is opened is a line of its own; on a list only the line that was written last is gone on with.
    const among = kind.value.opens ? [] : own.on.value ? of(side).slice(-1) : of(side)
    const fits = among.filter(
      l =>
        l.item === item.id && (!meaning || l.unit === pack || l.asked) && (!lotCode || (l.lot?.code ?? '') === lotCode),
    )
    const step = decimal(meaning?.quantity ?? '1')
    const again = fits.find(l => l.asked && !l.typed.trim()) ?? fits[0]
    // What is awaited and scanned has come, all of it; what is scanned again is one more.
    if (again?.asked && !again.typed.trim()) {
      again.typed = step === ONE ? again.asked : plainly(step)
      slip.focused = again.id
      return
    }
    if (again && meaning) {
      again.typed = oneMore(again.typed, step)
      if (!again.lot && meaning.lot) again.lot = lotOf(meaning.lot, way)
      slip.focused = again.id
      return
    }
    const lots = way.lot === 'in' && item.identifiedBy !== 'quantity'
    const there =
      !meaning &&
      !lots &&
      !own.on.value &&
      of(side).find(l => l.item === item.id && l.unit === (pack ?? firstPack(item)))
    if (there) {
      slip.focused = there.id
      toQuantity(there.id)
      return
    }
    const last = of(side).at(-1)
    slip.add(
      freshLine({
        item: item.id,
        side,
        // What is handed in may be any part of what was taken; all else is one, until something else is typed over it.
        typed: !meaning && kindOf.value === 'bring_back' ? '' : plainly(step),
        // A code stands on what it says; of what is opened on one container, where it says nothing else.
        unit: meaning && (!kind.value.opens || meaning.quantity) ? pack : (pack ?? firstPack(item)),
        reason: kind.value.reason ? (last?.reason ?? null) : null,
        to: kindOf.value === 'move' ? (last?.to ?? null) : null,
        direct: own.next(),
        lot: meaning?.lot && way.lot !== 'none' ? lotOf(meaning.lot, way) : null,
      }),
      lots ? of(side).findLast(l => l.item === item.id)?.id : undefined,
    )
    toQuantity(slip.focused)
  }
  /** Lots of one item that came together stand under each other and are added up: its first line with all that follow it. */
  const groups = computed(() => {
    const out: { first: SlipLine; lines: SlipLine[] }[] = []
    for (const line of inOrder()) {
      const last = out.at(-1)
      if (
        last &&
        wayOf(kind.value, line).lot === 'in' &&
        last.first.side === line.side &&
        line.item !== null &&
        last.first.item === line.item &&
        index.byId.get(line.item)?.identifiedBy !== 'quantity'
      )
        last.lines.push(line)
      else out.push({ first: line, lines: [line] })
    }
    return out
  })
  const groupOf = (line: SlipLine) => groups.value.find(g => g.lines.includes(line))!
  /** How much of all its lots together, in the base unit; undefined while a number cannot be read. */
  function together(line: SlipLine): string | undefined {
    const g = groupOf(line)
    const item = line.item ? index.byId.get(line.item) : undefined
    if (g.first !== line || g.lines.length < 2 || !item) return undefined
    let sum = 0n
    for (const l of g.lines) {
      const r = readQuantity(l.typed, index.measure(item), l.unit ?? undefined, true)
      if (!r.ok) return undefined
      sum += r.quantity
    }
    return `${f.number(formatDecimal(sum))} ${item.unit}, ${g.lines.length} lots`
  }
  /** One more lot of what this line brought: same unit, same price. */
  function anotherLot(line: SlipLine) {
    slip.add(
      freshLine({ item: line.item, unit: line.unit, side: line.side, price: line.price, to: line.to }),
      groupOf(line).lines.at(-1)!.id,
    )
    toQuantity(slip.focused)
  }
  function step(from: string, by: 1 | -1) {
    const lines = inOrder()
    const next = lines[lines.findIndex(l => l.id === from) + by]
    const target = next
      ? quantityOf(next.id)
      : by > 0
        ? document.querySelector<HTMLInputElement>('[data-add] input')
        : null
    target?.focus()
    target?.select()
  }
  return { addItem, of, groupOf, together, anotherLot, step }
}
