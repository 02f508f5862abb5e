import { once } from '../ground/index.ts'
import type { House } from './house.ts'

/** Deliveries with lines that nobody has priced yet, oldest first: their cost is only guessed. How many lines of each. */
export function unpricedSlips(house: House): { slip: number; lines: number }[] {
  return deliveries(house)
    .all()
    .map(([slip, lines]) => ({ slip, lines }))
}
const deliveries = once((house: House) =>
  house.store.client
    .prepare<[], [slip: number, lines: number]>(
      `select m.slip_id as slip, count(distinct m.line_id) as n from movement m indexed by movement_unpriced
    where m.goods is null and m.quantity > 0 and m.reverses is null and m.kind in ('receipt', 'direct')
      and not exists (select 1 from movement c where c.cost_seq = m.cost_seq and c.part = m.part and c.seq > m.seq and (c.goods is not null or c.reverses = m.seq)) group by m.slip_id order by m.slip_id limit 200`,
    )
    .safeIntegers(false)
    .raw(),
)
