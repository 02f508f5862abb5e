import { deflateRawSync, inflateRawSync } from 'node:zlib'
import { canonical, CHAIN_VERSION, type Movement } from '@shelve/core'

/**
 * Text that sealed bytes of a version are made of, for compressing them: what recurs most stands last. A version's text is
 * never changed, or what was sealed by it could not be read any more; a new way of writing gets a new version and text.
 */
const DICTIONARIES: Readonly<Record<number, Buffer>> = {
  1: Buffer.from(
    [
      '"kind":"method_change","kind":"supplier_return","kind":"bring_back","kind":"correction","kind":"closing","kind":"opening"',
      '"kind":"event_out","kind":"event_in","kind":"standard","kind":"found","kind":"close","kind":"direct","kind":"back"',
      '"kind":"count","kind":"waste","kind":"move","kind":"receipt","kind":"issue"',
      '],"number":"CR-0001","request":"","slip":"01a","taker":"","version":1}',
      '{"bookedAt":17,"bookedBy":"01a","effectiveAt":17,"kind":"issue","movements":[',
      '"goods":"000000","invoice":"amount","itemId":,"kind":"difference","ord":-1,"ord":1,"part":1,"refCostSeq":1,"refPart":0,',
      '{"bookedAt":17,"bookedBy":1,"charges":"0","costSeq":1,"effectiveAt":17,"from":1,"goods":null,"invoice":null,"itemId":1,',
      '"kind":"receipt","lotId":1,"mass":null,"ord":0,"part":0,"poolId":1,"quantity":"000000","refCostSeq":null,"refPart":null,',
      '"revalues":null,"reverses":null,"seq":1,"tallyId":null,"to":1,"value":"00000","weight":null},',
      '{"bookedAt":17,"bookedBy":1,"charges":"0","costSeq":1,"effectiveAt":17,"from":1,"goods":null,"invoice":null,"itemId":1,',
      '"kind":"out","lotId":1,"mass":null,"ord":0,"part":0,"poolId":1,"quantity":"1000000","refCostSeq":null,"refPart":null,',
      '"revalues":null,"reverses":null,"seq":1,"tallyId":null,"to":1,"value":"00000","weight":null}',
    ].join(''),
  ),
}

/**
 * The bytes of a slip as they are kept. The hash is over the text, so how it is kept may change: three is half as slow as six,
 * and a slip of forty movements 150 bytes longer (measured). Nearly every slip fits one chunk, which is taken from the heap each time.
 */
export const packed = (text: string, version = CHAIN_VERSION): Buffer =>
  deflateRawSync(text, { level: 3, chunkSize: 4096, dictionary: DICTIONARIES[version]! })

/** The text that a slip was hashed over; undefined where it cannot be read (damaged, or of an unknown version). */
export function unpacked(bytes: Uint8Array, version: number): string | undefined {
  const dictionary = DICTIONARIES[version]
  if (!dictionary) return undefined
  try {
    return inflateRawSync(bytes, { dictionary }).toString()
  } catch {
    return undefined
  }
}

const text = (x: bigint | null): string => (x === null ? 'null' : `"${x}"`)

/** The canonical bytes of a movement as it is sealed with its slip. */
export const movementBytes = (m: Movement): string =>
  `{"bookedAt":${m.bookedAt},"bookedBy":${m.bookedBy},"charges":${text(m.charges)}` +
  `,"costSeq":${m.costSeq},"effectiveAt":${m.effectiveAt},"from":${m.from}` +
  `,"goods":${text(m.goods)},"invoice":${m.invoice === null ? 'null' : `"${m.invoice}"`}` +
  `,"itemId":${m.itemId}` +
  (m.jobId === undefined ? '' : `,"jobId":${m.jobId}`) +
  `,"kind":"${m.kind}","lotId":${m.lotId},"mass":${text(m.mass)}` +
  (m.needId === undefined ? '' : `,"needId":${m.needId}`) +
  `,"ord":${m.ord},"part":${m.part},"poolId":${m.poolId},"quantity":${text(m.quantity)}` +
  `,"refCostSeq":${m.refCostSeq},"refPart":${m.refPart},"revalues":${m.revalues}` +
  `,"reverses":${m.reverses},"seq":${m.seq},"tallyId":${m.tallyId},"to":${m.to}` +
  `,"value":${text(m.value)},"weight":${text(m.weight ?? null)}}`

const amount = (column: string): string => `ifnull('"' || ${column} || '"', 'null')`
const count = (column: string): string => `ifnull(${column}, 'null')`
const word = amount
const ifSaid = (name: string, column: string): string => `ifnull(',"${name}":' || ${column}, '')`
/**
 * The same as an expression of SQL over a row of `movement`. Verification reads a million of them, and a string costs less to
 * fetch than thirty columns; and what was sealed is held against something that did not write it. `concat` copies once where
 * each `||` copies what there is so far.
 */
export const MOVEMENT_TEXT = `concat(${[
  `'{"bookedAt":', booked_at, ',"bookedBy":', booked_by, ',"charges":', ${amount('charges')}`,
  `',"costSeq":', cost_seq, ',"effectiveAt":', effective_at, ',"from":', from_id, ',"goods":', ${amount('goods')}`,
  `',"invoice":', ${word('invoice')}, ',"itemId":', item_id, ${ifSaid('jobId', 'job_id')}`,
  `',"kind":"', kind, '","lotId":', lot_id, ',"mass":', ${amount('mass')}, ${ifSaid('needId', 'need_id')}`,
  `',"ord":', ord, ',"part":', part, ',"poolId":', pool_id, ',"quantity":', ${amount('quantity')}`,
  `',"refCostSeq":', ${count('ref_cost_seq')}, ',"refPart":', ${count('ref_part')}, ',"revalues":', ${count('revalues')}`,
  `',"reverses":', ${count('reverses')}, ',"seq":', seq, ',"tallyId":', ${count('tally_id')}, ',"to":', to_id`,
  `',"value":', ${amount('value')}, ',"weight":', ${amount('weight')}, '}'`,
].join(', ')})`

/** What is sealed of a slip beside its movements. */
export interface Sealing {
  readonly slip: string
  readonly number: string
  readonly kind: string
  readonly effectiveAt: number
  readonly bookedAt: number
  readonly bookedBy: string
  readonly taker: string
  readonly request: string
  readonly version: number
  /** Who was there, where somebody was asked for. */
  readonly witness: string | null
}
/**
 * The text that a slip is hashed over, with the bytes of its movements in the order of writing, a comma between them: what
 * `canonical` gives of both, written out, since a slip of many lines waits for it.
 */
export const sealedText = (s: Sealing, movements: string): string =>
  `{"bookedAt":${s.bookedAt},"bookedBy":${canonical(s.bookedBy)},"effectiveAt":${s.effectiveAt}` +
  `,"kind":${canonical(s.kind)},"movements":[${movements}]` +
  `,"number":${canonical(s.number)},"request":${canonical(s.request)},"slip":${canonical(s.slip)}` +
  `,"taker":${canonical(s.taker)},"version":${s.version}` +
  (s.witness === null ? '}' : `,"witness":${canonical(s.witness)}}`)
