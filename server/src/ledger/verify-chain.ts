import type { Statement } from 'better-sqlite3'
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

type Written = [seq: number, slip: number, text: string]
/** So many movements are read at once. */
const PIECE = 8192

/** The movements of one slip after the other, as they are sealed, read piece by piece: a million at once cost more to keep than to read. */
class SlipBySlip {
  readonly #read: Statement<[after: number], Written>
  readonly #waiting = new Map<number, string[]>()
  #piece: readonly Written[] = []
  #at = 0
  #last = 0
  movements = 0
  constructor({ store }: House) {
    this.#read = store.client
      .prepare<[number], Written>(
        `select seq, slip_id, ${MOVEMENT_TEXT} from movement where seq > ? order by seq limit ${PIECE}`,
      )
      .safeIntegers(false)
      .raw()
  }
  #upTo(last: number): void {
    for (;;) {
      const next = this.#piece[this.#at]
      if (next) {
        const [seq, slip, text] = next
        if (seq > last) return
        const list = this.#waiting.get(slip)
        if (list) list.push(text)
        else this.#waiting.set(slip, [text])
        this.movements++
        this.#at++
        continue
      }
      this.#piece = this.#read.all(this.#last)
      this.#at = 0
      if (!this.#piece.length) return
      this.#last = this.#piece.at(-1)![0]
    }
  }
  /** Those of a slip, which reach up to `lastSeq`. */
  take(slip: number, lastSeq: number): readonly string[] {
    this.#upTo(lastSeq)
    const list = this.#waiting.get(slip) ?? []
    this.#waiting.delete(slip)
    return list
  }
  /** The slips of movements that nobody asked for. */
  left(): Iterable<number> {
    this.#upTo(Infinity)
    return this.#waiting.keys()
  }
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
  lastSeq: number
}

/** The chain of hashes from the first slip on, and that what stands in the tables is what was hashed. Gives the last hash. */
function checkSlips(house: House, faults: Fault[]): Omit<ChainSays, 'faults'> {
  const written = new SlipBySlip(house)
  const rows = house.store.client
    .prepare(
      `select s.id, s.uid, s.number, s.kind, s.effective_at as effectiveAt, s.booked_at as bookedAt, p.uid as bookedBy,
        s.taker, s.request_hash as request, s.hash, b.bytes, s.chain_version as version,
        w.uid as witness, s.last_seq as lastSeq
      from slip s left join person p on p.id = s.booked_by left join person w on w.id = s.witness_id left join sealed_bytes b on b.slip_id = s.id
      where s.state = 'booked' order by s.last_seq`,
    )
    .safeIntegers(false)
    .iterate() as IterableIterator<SealedRow>
  let head = CHAIN_START
  let broken = false
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
    const kept = written.take(s.id, s.lastSeq)
    const bytes = sealedText({ ...s, slip: s.uid }, kept)
    if (bytes !== text)
      faults.push({
        check: 'sealed',
        where: s.number,
        kept: `a slip with ${kept.length} movements that differs`,
        right: 'what was sealed',
      })
  }
  for (const id of written.left())
    faults.push({ check: 'sealed', where: `slip ${id}`, kept: 'movements of a slip that is not booked', right: 'none' })
  return { movements: written.movements, headHash: head }
}
