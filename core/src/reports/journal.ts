import { formatDecimal } from '../quantity/decimal.ts'

/** One movement with the names that the journal shows. `date` is the day it happened, in the organisation's zone. */
export interface JournalLine {
  readonly date: string
  readonly slip: string
  readonly kind: string
  readonly item: string
  /** Account path without the item: `place:Wet lab:B3`, `supplier:Quillfern`. */
  readonly from: string
  readonly to: string
  readonly fromStock: boolean
  readonly toStock: boolean
  readonly quantity: bigint
  readonly value: bigint
}

/** A name as it may stand in an account: no separators, no marks that a reader takes for something else. */
export const journalName = (name: string): string =>
  name
    .replace(/[:;"()[\]{}@=|*\t\r\n]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim() || '-'

/**
 * Gives each key a name of its own: the one wished for, or, where another key has that already, the same with the next
 * number that is free. What was named first keeps its name, so that a longer ledger names what it had as before.
 */
export function namesApart<K>(): (key: K, wished: string) => string {
  const given = new Map<K, string>()
  const taken = new Set<string>()
  return (key, wished) => {
    const known = given.get(key)
    if (known !== undefined) return known
    let name = wished
    for (let n = 2; taken.has(name); n++) name = `${wished} ${n}`
    taken.add(name)
    given.set(key, name)
    return name
  }
}

/**
 * The ledger as plain-text double entry, readable by Debian's `ledger` and `hledger` alike: quantity and value as
 * postings of their own, every amount written with six decimals, no prices, one item an account, commodity names quoted
 * and begun with `i:` (a commodity called `h` or `m` would be taken for time).
 */
export function* journal(lines: Iterable<JournalLine>, currency: string): Generator<string> {
  let open = ''
  const named = namesApart<string>()
  for (const l of lines) {
    const head = `${l.date} (${journalName(l.slip)}) ${journalName(l.kind)}`
    const text: string[] = []
    const item = named(l.item, journalName(l.item))
    if (l.quantity !== 0n)
      text.push(
        posting(`qty:${l.to}:${item}`, l.quantity, `"i:${item}"`),
        posting(`qty:${l.from}:${item}`, -l.quantity, `"i:${item}"`),
      )
    if (l.value !== 0n && !(l.fromStock && l.toStock))
      text.push(
        posting(`val:${l.toStock ? 'stock' : l.to}:${item}`, l.value, currency),
        posting(`val:${l.fromStock ? 'stock' : l.from}:${item}`, -l.value, currency),
      )
    if (!text.length) continue
    yield (head === open ? '' : `${open ? '\n' : ''}${head}\n`) + text.join('')
    open = head
  }
}
const posting = (account: string, amount: bigint, commodity: string): string =>
  `    ${account}  ${formatDecimal(amount, 6)} ${commodity}\n`
