import { GIVING_KINDS, type Movement, type Quantity, usedOf } from '@shelve/core'
import { once } from '../ground/index.ts'
import { lastCommitted } from '../ledger/index.ts'
import { comesBack, needReader } from './of-needs.ts'
import type { House } from './house.ts'

const GIVEN_BACK = GIVING_KINDS.filter(k => k !== 'recharge')
/** What is given back, and not charged to somebody else, as a statement lists it. */
export const GIVEN_BACK_TEXT = GIVEN_BACK.map(k => `'${k}'`).join(', ')
/**
 * What of a column of a movement `of` was used for the need that the movement says: what is given back, and what takes back what
 * was used, goes off; both at once counts.
 */
export const net = (of: string, column: string) =>
  `iif((${of}.kind in (${GIVEN_BACK_TEXT})) = (${of}.reverses is not null), ${of}.${column}, -${of}.${column})`

/** Of a need of which more movements tell than this what they come to is kept. */
const FEW = 50
/** Of so many needs at most. */
const MOST = 5000

/**
 * What was used for some needs so far, net of what came back; `also`: with movements that are not written yet. It is asked
 * anew after each booking, and a job that is made again and again has thousands of movements for a need: what is
 * committed of these is added up once and kept, what was written since is added each time.
 */
export const soFarReader = once((house: House) => {
  const lastOne = lastCommitted(house)
  const said = house.store.client
    .prepare<unknown[], [need: number, count: number, last: number, sum: string]>(
      `select n.value ->> 0, count(*), max(m.seq), cast(sum(iif(m.kind = 'move', 0, ${net('m', 'quantity')})) as text)
       from json_each(:needs) n join movement m on m.need_id = n.value ->> 0 and m.seq > n.value ->> 1
       group by 1, m.seq > :committed order by 3`,
    )
    .safeIntegers(false)
    .raw()
  const known = new Map<number, { readonly seq: number; readonly sum: Quantity }>()
  const keep = (need: number, count: number, at: { readonly seq: number; readonly sum: Quantity }) => {
    if (count <= FEW && !known.has(need)) return
    if (known.size >= MOST) known.clear()
    known.set(need, at)
  }
  return (needs: readonly number[], also: readonly Movement[] = []): ReadonlyMap<number, Quantity> => {
    const committed = lastOne()
    const asked = needs.map(n => [n, known.get(n)?.seq ?? 0])
    const sums = new Map(needs.map(n => [n, known.get(n)?.sum ?? 0n]))
    for (const [need, count, seq, more] of said.all({ needs: JSON.stringify(asked), committed })) {
      const sum = sums.get(need)! + BigInt(more)
      sums.set(need, sum)
      if (seq <= committed) keep(need, count, { seq, sum })
    }
    const { chargedOn, unwritten } = needReader(house)
    const more = [...chargedOn(JSON.stringify(needs)), ...unwritten(also).filter(m => m.kind !== 'move')]
    const beside = usedOf(more.map(m => ({ needId: m.needId, quantity: comesBack(m) ? -m.quantity : m.quantity })))
    for (const [need, quantity] of beside) sums.set(need, (sums.get(need) ?? 0n) + quantity)
    return sums
  }
})
