import { SlipHead } from '@shelve/contract'
import { canonical, type Fault, formatDecimal, readMoney } from '@shelve/core'
import { sha256 } from '../ground/index.ts'
import type { House } from './house.ts'

interface BookedSlip {
  readonly id: number
  readonly number: string
  readonly head: string
  readonly lines: string
  readonly count: number
  readonly request: string
}

/** Booked slips with what was typed on them, as it is kept: never read through the contract, which may be stricter by now. */
const booked = (house: House): IterableIterator<BookedSlip> =>
  house.store.client
    .prepare(
      `select s.id, s.number, s.head, s.request_hash as request,
        (select concat('[', group_concat(concat('["', l.uid, '",', l.content, ']'), ','), ']') from (
          select uid, content from slip_line where slip_id = s.id order by position, uid) l) as lines,
        (select count(*) from slip_line where slip_id = s.id) as count
      from slip s where s.state = 'booked' order by s.last_seq`,
    )
    .safeIntegers(false)
    .iterate() as IterableIterator<BookedSlip>

/**
 * What was typed on a booked slip is what was handed in when it was booked (its hash is sealed with the slip), and the
 * charges of a delivery are those that were typed.
 */
export function checkContent(house: House, faults: Fault[]): void {
  const charges = keptCharges(house)
  for (const s of booked(house)) {
    const typed = typedOn(s)
    if (!typed) {
      faults.push({
        check: 'content',
        where: s.number,
        kept: 'lines or head that nobody can read',
        right: 'what was booked',
      })
      continue
    }
    const { head, lines } = typed
    if (sha256(canonical({ ...head, lines })) !== s.request)
      faults.push({ check: 'content', where: s.number, kept: 'lines or head that differ', right: 'what was booked' })
    const right =
      ['receipt', 'opening'].includes(head.kind) || lines.some(l => 'act' in l && l.act === 'charges')
        ? typedCharges(head.head ?? {}, head.kind === 'correction')
        : ''
    const kept = charges.get(s.id) ?? ''
    if (kept !== right) faults.push({ check: 'charges', where: s.number, kept, right })
  }
}

/** What was typed on a slip; undefined where it cannot be read. Its lines come as one text: what stands in one may not pass for two. */
function typedOn(s: BookedSlip) {
  try {
    const lines = (JSON.parse(s.lines) as [string, object][]).map(([id, content]) => ({ ...content, id }))
    const head = JSON.parse(s.head) as { kind: string; head?: { charges?: unknown } }
    return lines.length === s.count ? { head, lines } : undefined
  } catch {
    return undefined
  }
}

/** What was typed; a correction that leaves none says so by a row of nothing. */
function typedCharges(head: { readonly charges?: unknown }, corrects: boolean): string {
  // Nearly all say nothing of charges.
  if (!corrects && (head.charges === undefined || (Array.isArray(head.charges) && !head.charges.length))) return ''
  const read = SlipHead.pick({ charges: true }).safeParse(head)
  if (!read.success) return 'charges that can be read'
  const typed = read.data.charges
    .flatMap(c => {
      const amount = readMoney(c.amount)
      return amount ? [`${formatDecimal(amount)} by ${c.basis}`] : []
    })
    .join(', ')
  return typed || (corrects ? '0 by value' : '')
}

function keptCharges(house: House): Map<number, string> {
  const rows = house.store.client
    .prepare(`select by_id as slip, amount, basis from charge order by by_id, position`)
    .all() as { slip: bigint; amount: bigint; basis: string }[]
  const out = new Map<number, string>()
  for (const r of rows) {
    const before = out.get(Number(r.slip))
    out.set(Number(r.slip), `${before === undefined ? '' : `${before}, `}${formatDecimal(r.amount)} by ${r.basis}`)
  }
  return out
}

/** Closed months follow each other without a gap, as many as were ever closed, each sealed with the chain as it stood. */
export function checkMonths(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `select m.name, m.starts_at as startsAt, m.ends_at as endsAt, m.last_seq as lastSeq, m.head_hash as headHash,
        (select s.hash from slip s where s.last_seq <= m.last_seq order by s.last_seq desc limit 1) as hash
      from month m order by m.starts_at`,
    )
    .safeIntegers(false)
    .all() as {
    name: string
    startsAt: number
    endsAt: number
    lastSeq: number
    headHash: string
    hash: string | null
  }[]
  const closed = house.store.client.prepare(`select next from counter where kind = 'month'`).pluck().get() as
    bigint | undefined
  // Books whose months were all closed before they were counted do not know how many there were.
  const ever = closed === undefined ? rows.length : Number(closed) - 1
  if (rows.length !== ever)
    faults.push({
      check: 'months',
      where: 'closed months',
      kept: String(rows.length),
      right: `${ever}, as were closed`,
    })
  for (const [i, m] of rows.entries()) {
    const before = rows[i - 1]
    if (before && before.endsAt !== m.startsAt)
      faults.push({ check: 'months', where: m.name, kept: `follows ${before.name}`, right: 'the month before it' })
    if (before && before.lastSeq > m.lastSeq)
      faults.push({ check: 'months', where: m.name, kept: String(m.lastSeq), right: `${before.lastSeq} or later` })
    if (m.headHash !== (m.hash ?? ''))
      faults.push({ check: 'months', where: m.name, kept: 'another hash', right: 'that of the last slip before it' })
  }
}

/** What is said to be taken for a need of a job is of that item, and went to that job (or was put with it) or came back from it. */
export function checkNeeds(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `select m.seq, n.id as need from movement m join need n on n.id = m.need_id
      join account f on f.id = m.from_id join account t on t.id = m.to_id
      where n.item_id <> m.item_id or not (ifnull(f.job_id, 0) = n.job_id or ifnull(t.job_id, 0) = n.job_id
        or ifnull(m.job_id, 0) = n.job_id
        or exists (select 1 from job_with w where w.job_id = n.job_id and w.place_id in (m.from_id, m.to_id)))`,
    )
    .safeIntegers(false)
    .all() as { seq: number; need: number }[]
  for (const r of rows)
    faults.push({
      check: 'needs',
      where: `movement ${r.seq}`,
      kept: `taken for need ${r.need}`,
      right: 'a need of that item, of the job it went to',
    })
}

/** The job that a booked slip stands under is the one that it names. */
export function checkSlipJobs(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `select s.number, ifnull(j.code, 'none') as kept, ifnull(n.code, 'none') as said from slip s
      left join job j on j.id = s.job_id left join job n on n.uid = json_extract(s.head, '$.head.job')
      where s.state = 'booked' and s.corrects_id is null and ifnull(j.id, 0) <> ifnull(n.id, 0)`,
    )
    .all() as { number: string; kept: string; said: string }[]
  for (const r of rows)
    faults.push({ check: 'needs', where: `slip ${r.number}`, kept: `for ${r.kept}`, right: `for ${r.said}` })
}

/** What a slip sends lies in a place of its own, and that place is of no other slip; what is on its way came there by it. */
export function checkTransits(house: House, faults: Fault[]): void {
  const rows = house.store.client
    .prepare(
      `select p.name, s.number, s.kind, s.state from transit t join place p on p.id = t.place_id
      left join slip s on s.id = t.slip_id
      where ifnull(s.kind, '') <> 'dispatch' or ifnull(s.state, '') <> 'booked' or p.kind <> 'transit' or not exists
        (select 1 from movement m where m.slip_id = t.slip_id and m.to_id = t.place_id)
      union all
      select p.name, s.number, s.kind, 'sent elsewhere' from movement m
      join slip s on s.id = m.slip_id and s.kind = 'dispatch' join place p on p.id = m.to_id
      left join transit t on t.place_id = m.to_id
      where m.quantity > 0 and ifnull(t.slip_id, 0) <> m.slip_id`,
    )
    .all() as { name: string; number: string | null; kind: string | null; state: string | null }[]
  for (const r of rows)
    faults.push({
      check: 'transits',
      where: r.name,
      kept: `by ${r.number ?? 'no slip'}, ${r.kind ?? ''} ${r.state ?? ''}`.trim(),
      right: 'by the booked slip that sent what lies there',
    })
}
