import type { SlipLine } from '@shelve/contract'
import { methodChangeLines } from '@shelve/core'
import { methodOfPools } from '../../ledger/index.ts'
import type { Reading } from './reading.ts'

/** All that lies of an item goes into the pools of another cost method; or its standard cost is another from now on. */
export function changeMethod(r: Reading, line: SlipLine): void {
  const item = r.item(line)
  if (!item) return
  const { method } = r.content.head
  if (method === null) return r.once('method_needed', 'method')
  if (r.content.effectiveAt !== null) return r.once('only_now', 'effectiveAt')
  const same = methodOfPools(r.house, item.id) === method
  if (same && method !== 'standard') return r.no(line, 'same_method', 'method', { method })
  const said = line.unitCost.trim()
  if (method === 'standard' && !said) return r.no(line, 'standard_needed', 'unitCost')
  const standard = said ? r.money(line, said, 'unitCost') : 0n
  if (standard === undefined) return
  // A standard cost is set anew by a slip of its own: what lies there is worth the new one at once.
  if (same) {
    const [any] = r.house.rows.itemLots.all({ item: item.id })
    if (!any) return r.no(line, 'nothing_lies', 'item', { name: item.name })
    return void r.changes.push({ type: 'standard', lineId: r.id(line), itemId: item.id, lotId: any.id, cost: standard })
  }
  const lies = r.books.lotBalances(item.id).filter(b => b.quantity > 0n)
  const before = new Map(lies.map(b => [b.lotId, r.books.poolOf(item.id, b.lotId)]))
  r.books.making.changePools(item.id, method, standard)
  r.lines.push(
    ...methodChangeLines(lies, {
      itemId: item.id,
      lineId: r.id(line),
      relabel: r.house.accounts.relabel,
      poolBefore: l => before.get(l)!,
      poolAfter: l => r.books.poolOf(item.id, l),
    }),
  )
  // Nothing lies anywhere: there is nothing to book, the pools alone are changed.
  if (!lies.length) r.no(line, 'nothing_lies', 'item', { name: item.name })
}
