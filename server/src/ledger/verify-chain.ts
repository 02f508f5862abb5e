import { brokenLink, CHAIN_START, CHAIN_VERSION, type Fault } from '@shelve/core'
import { sha256 } from '../ground/index.ts'
import type { House } from './house.ts'
import { MOVEMENT_TEXT, sealedText, unpacked } from './sealed.ts'
import { checkContent, checkMonths } from './verify-papers.ts'

/** What the chain says of the books: how many movements it seals, and its last hash. */
export interface ChainSays {
  readonly movements: number
  readonly headHash: string
  readonly faults: Fault[]
}

/** What was sealed: the chain, that what stands in the tables is what was hashed, what was typed, and the closed months. */
export function verifyChain(house: House): ChainSays {
  return house.store.client.transaction(() => {
    const faults: Fault[] = []
    const says = checkSlips(house, faults)
    checkContent(house, faults)
    checkMonths(house, faults)
    return { ...says, faults }
  })()
}

interface SealedRow {
  id: number
  uid: string
  number: string
  kind: string
  effectiveAt: number
  bookedAt: number
  bookedBy: string
  taker: string
  request: string
  hash: string
  bytes: Buffer | null
  version: number
  witness: string | null
  /** Its movements as they are sealed, and how many. */
  written: string | null
  movements: number
}

/**
 * Something of the movements that a slip `s` wrote, one after the other: whichever way they are found, they come in the order
 * of writing. They cross from the database as one text: a text for each of a million costs more to keep than to read.
 */
const ofSlip = (what: string): string =>
  `(select ${what} from movement where seq between s.first_seq and s.last_seq and slip_id = s.id)`

/** The chain of hashes from the first slip on, and that what stands in the tables is what was hashed. Gives the last hash. */
function checkSlips(house: House, faults: Fault[]): Omit<ChainSays, 'faults'> {
  const rows = house.store.client
    .prepare(
      `select s.id, s.uid, s.number, s.kind, s.effective_at as effectiveAt, s.booked_at as bookedAt, p.uid as bookedBy,
        s.taker, s.request_hash as request, s.hash, b.bytes, s.chain_version as version,
        w.uid as witness, ${ofSlip('count(*)')} as movements, ${ofSlip(`group_concat(${MOVEMENT_TEXT}, ',')`)} as written
      from slip s left join person p on p.id = s.booked_by left join person w on w.id = s.witness_id left join sealed_bytes b on b.slip_id = s.id
      where s.state = 'booked' order by s.last_seq`,
    )
    .safeIntegers(false)
    .iterate() as IterableIterator<SealedRow>
  let head = CHAIN_START
  let broken = false
  let movements = 0
  for (const s of rows) {
    const text = s.bytes && unpacked(s.bytes, s.version)
    // One broken link is said once: what follows it is chained to what is kept.
    if (!broken && brokenLink([{ slip: s.id, hash: s.hash, bytes: text ?? '' }], sha256, head) !== undefined) {
      broken = true
      faults.push({
        check: 'hashes',
        where: s.number,
        kept: 'a hash that does not fit its slip and the one before',
        right: 'an unbroken chain',
      })
    }
    head = s.hash
    if (s.version !== CHAIN_VERSION)
      faults.push({
        check: 'sealed',
        where: s.number,
        kept: `version ${s.version}`,
        right: `a version known here: ${CHAIN_VERSION}`,
      })
    movements += s.movements
    const bytes = sealedText({ ...s, slip: s.uid }, s.written ?? '')
    if (bytes !== text)
      faults.push({
        check: 'sealed',
        where: s.number,
        kept: `a slip with ${s.movements} movements that differs`,
        right: 'what was sealed',
      })
  }
  const all = house.store.client.prepare('select count(*) from movement').pluck().safeIntegers(false).get() as number
  if (all !== movements)
    for (const id of strays(house))
      faults.push({
        check: 'sealed',
        where: `slip ${id}`,
        kept: 'movements of a slip that is not booked',
        right: 'none',
      })
  return { movements: all, headHash: head }
}

/** The slips of movements that stand outside of what any booked slip says it wrote. */
const strays = (house: House): number[] =>
  house.store.client
    .prepare(
      `select distinct m.slip_id from movement m left join slip s on s.id = m.slip_id and s.state = 'booked'
      where s.id is null or m.seq not between s.first_seq and s.last_seq`,
    )
    .pluck()
    .safeIntegers(false)
    .all() as number[]
