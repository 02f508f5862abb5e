import { v7 } from 'uuid'
import type { Effect, SlipContentInput } from '@shelve/contract'
import { idleStood, line } from './driver.ts'
import { median, time, type Row } from './measure.ts'
import type { Bench } from './rows.ts'

/**
 * How long the request loop stands still at most while something runs, beside a process that does nothing on the same
 * machine; and how long others wait meanwhile who ask for the least there is, again and again: these are clients on the
 * same machine, and wait for their own share of it too.
 */
async function waitBeside(
  b: Bench,
  run: () => Promise<unknown>,
): Promise<{ stood: number; idle: number; longest: number; ms: number }> {
  let on = true
  let longest = 0
  const asking = (async () => {
    while (on) {
      longest = Math.max(longest, (await time(() => b.driver.call('GET', '/api/health'))).ms)
      await new Promise(done => setTimeout(done, 1))
    }
  })()
  let ms = 0
  let stood = 0
  const idle = await idleStood(async () => {
    stood = await b.driver.stoodBeside(async () => void (ms = (await time(run)).ms))
  })
  on = false
  await asking
  return { stood, idle, longest, ms }
}

/** A count of 150 lines in one area, as somebody is writing it. */
function longCount(b: Bench): SlipContentInput {
  const cells = b.bare.db
    .prepare(
      `select i.uid as item, p.uid as place, lot.uid as lot, lot.code from balance b
      join item i on i.id = b.item_id join place p on p.id = b.place_id join lot on lot.id = b.lot_id
      where b.place_id in (select place_id from place_within w join place a on a.id = w.ancestor_id where a.uid = ?)
        and b.quantity > 0 and i.code <> 'HOT' limit 150`,
    )
    .all(b.stock.areas[0]) as { item: string; place: string; lot: string; code: string | null }[]
  return {
    kind: 'count',
    place: b.stock.areas[0]!,
    head: { blind: false },
    lines: cells.map(c =>
      line({
        item: c.item,
        from: c.place,
        lot: c.code === null ? null : { id: c.lot, code: c.code },
        counted: 'counted',
        typed: '7',
        again: '7',
      }),
    ),
  }
}

/** What it costs to save one line of a long count: what was typed alone travels, with the revision seen. */
async function savedKey(b: Bench, count: SlipContentInput): Promise<number> {
  const paper = v7()
  await b.driver.call('PUT', `/api/slips/${paper}`, count)
  const { id, ...line } = count.lines![3]!
  let seen = 1
  const save = async (typed: string) => {
    const r = await b.driver.call<{ version: number; lines: { revision: number }[] }>('PATCH', `/api/slips/${paper}`, {
      lines: [{ id, seen, position: 4, line: { ...line, typed, again: typed } }],
    })
    if (r.status !== 200 || !r.body.lines.length) throw new Error(`not saved: ${JSON.stringify(r.body).slice(0, 300)}`)
    seen = r.body.lines[0]!.revision
  }
  const keys: number[] = []
  for (let i = 0; i < (b.quick ? 10 : 30); i++) keys.push((await time(() => save(String(i + 2)))).ms)
  await b.driver.call('DELETE', `/api/slips/${paper}`)
  return median(keys)
}

/** What one key costs on a long count, and how long the loop stands still beside each heavy request. */
export async function loop(b: Bench): Promise<Row[]> {
  const count = longCount(b)
  const paper = v7()
  // As a screen asks: what was typed since goes up, and of what it was told before what differs comes down.
  let told: string | null = null
  const ask = async (typed: string) => {
    Object.assign(count.lines![3]!, { typed, again: typed })
    const since = told === null ? '' : `?since=${told}&lines=changed`
    const body = told === null ? count : { ...count, lines: [count.lines![3]!] }
    const r = await b.driver.call<Effect>('POST', `/api/slips/${paper}/effect${since}`, body)
    if (r.status !== 200) throw new Error(`no effect: ${JSON.stringify(r.body).slice(0, 300)}`)
    told = r.body.tag
  }
  const first = (await time(() => ask('1'))).ms
  // A sheet of 150 lines is some hundred keys; the first of them, while the code is still being compiled, are told apart.
  const keys: number[] = []
  for (let i = 0; i < 100; i++) keys.push((await time(() => ask(String(i + 2)))).ms)
  const key = median(keys.slice(50))
  const kept = await savedKey(b, count)
  const rows: Row[] = [
    {
      what: `one changed line of it saved, durable, median`,
      shelve: kept,
      unit: 'ms',
      goal: '≤ 15 ms',
      met: kept <= 15,
    },
    {
      what: `effect of one changed line of a count of ${count.lines!.length} lines, median`,
      shelve: key,
      unit: 'ms',
      goal: '≤ 15 ms',
      met: key <= 15,
      note: `keys 51 to 100; the first ten ${median(keys.slice(0, 10)).toFixed(0)} ms, the very first ${first.toFixed(0)} ms`,
    },
  ]
  const year = new Date(b.now).getUTCFullYear()
  const heavy: [string, () => Promise<unknown>][] = [
    ['the ledger as CSV', () => b.driver.drain('/api/ledger.csv', 'text/csv')],
    ['the ledger as a journal', () => b.driver.drain('/api/ledger.journal', 'text/plain')],
    ['all slips as CSV', () => b.driver.drain('/api/slips?state=booked', 'text/csv')],
    [
      'the stock list of an area as PDF',
      () => b.driver.drain(`/api/stock?place=${b.stock.areas[0]}`, 'application/pdf'),
    ],
    ['a search over slips', () => b.driver.drain('/api/slips?q=sort%201', 'application/json')],
    ['a year by month', () => b.driver.drain(`/api/look-back/months?year=${year - 1}`, 'application/json')],
    ['the description of the API', () => b.driver.drain('/api/openapi.json', 'application/json')],
    ['working everything out anew', () => b.driver.call('POST', '/api/verification')],
  ]
  for (const [what, run] of heavy) {
    const { stood, idle, longest, ms } = await waitBeside(b, run)
    const took = ms >= 1000 ? `${(ms / 1000).toFixed(1)} s` : `${ms.toFixed(0)} ms`
    rows.push({
      what: `longest stall of the request loop beside ${what}`,
      shelve: stood,
      unit: 'ms',
      goal: '≤ 50 ms',
      met: stood <= 50,
      bare: idle,
      note: `bare: a process that does nothing; others waited ${longest.toFixed(0)} ms at most; it took ${took}`,
    })
  }
  return rows
}
