import { once } from '../ground/index.ts'
import type { House } from './house.ts'

/** The last movement that is committed for sure: what is only being written may yet be undone, and nothing is kept of it. */
export const lastCommitted = once((house: House) => {
  const last = (): number => house.ledger.lastSeq.get()!.seq
  let committed = house.writing ? 0 : last()
  house.onMoved(() => {
    committed = last()
  })
  return (): number => (house.writing ? committed : (committed = last()))
})
