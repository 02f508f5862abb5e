import { v7 } from 'uuid'
import { line } from './driver.ts'
import { time, type Row } from './measure.ts'
import type { Bench } from './rows.ts'

const DAY = 86_400_000
/** As much as one slip, job or file may hold. */
const [LINES, NEEDS, ASKED, JOBS] = [500, 200, 300, 500]
type Write = readonly [what: string, write: () => Promise<unknown>]

/** How long whoever writes next to nothing waits at most while something else is written. */
async function waitedBeside(b: Bench, run: () => Promise<unknown>): Promise<{ waited: number; ms: number }> {
  let on = true
  let waited = 0
  let n = 0
  const little = () => b.driver.call('PUT', '/api/preferences/bench', { value: String(n++) })
  await little()
  const beside = (async () => {
    while (on) {
      waited = Math.max(waited, (await time(little)).ms)
      await new Promise(done => setTimeout(done, 1))
    }
  })()
  const { ms } = await time(run)
  on = false
  await beside
  return { waited, ms }
}

/** What holds up everybody else who writes, since one writes after the other: the largest there is of each sort. */
export async function besideEveryWrite(b: Bench): Promise<Row[]> {
  const writes = [...slips(b), ...(await papers(b)), ...setUp(b)]
  let longest = { waited: 0, ms: 0, what: '' }
  for (const [what, write] of writes) {
    const found = { ...(await waitedBeside(b, write)), what }
    if (found.waited > longest.waited) longest = found
  }
  return [
    {
      what: `the least there is to write waits beside the largest there is, of ${writes.length} sorts; longest`,
      shelve: longest.waited,
      unit: 'ms',
      goal: '≤ 1 000 ms',
      met: longest.waited <= 1000,
      note: `beside ${longest.what}, which took ${longest.ms.toFixed(0)} ms`,
    },
  ]
}

async function ok<T>(b: Bench, method: string, path: string, body?: unknown, headers: Record<string, string> = {}) {
  const r = await b.driver.call<T>(method, path, body, headers)
  if (r.status >= 300) throw new Error(`${method} ${path}: ${r.status} ${JSON.stringify(r.body).slice(0, 300)}`)
  return r.body
}
/** Items of the first area, again and again. */
const itemAt = (b: Bench, n: number) => b.stock.items[(n % 250) * 20]!
const times = <T>(n: number, of: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => of(i))

function slips(b: Bench): Write[] {
  const [place, other] = b.stock.areas as [string, string]
  const some = (more: (i: number) => object) => times(LINES, i => line({ item: itemAt(b, i), typed: '1', ...more(i) }))
  const lot = (i: number) => ({ price: '2', lot: { code: `W${i}`, expiry: '2031-01-31' } })
  let issued = ''
  const book = (content: Parameters<Bench['driver']['book']>[0]) => b.driver.book(content)
  const head = { job: b.stock.job }
  return [
    [
      `a delivery of ${LINES} lines`,
      () => book({ kind: 'receipt', place, head: { supplier: 'Supplier 1' }, lines: some(lot) }),
    ],
    [
      `an issue of ${LINES} lines`,
      async () => (issued = await book({ kind: 'issue', place, head, lines: some(() => ({})) })),
    ],
    [`a move of ${LINES} lines`, () => book({ kind: 'move', place, lines: some(() => ({ to: other })) })],
    [`a count of ${LINES} lines`, () => book(count(b, other))],
    [`an issue of ${LINES} lines taken back`, () => ok(b, 'POST', `/api/slips/${issued}/reversal`, { id: v7() })],
  ]
}
function count(b: Bench, place: string): Parameters<Bench['driver']['book']>[0] {
  const cells = b.bare.db
    .prepare(
      `select i.uid as item, p.uid as place, lot.uid as lot, lot.code from balance b
      join item i on i.id = b.item_id join place p on p.id = b.place_id join lot on lot.id = b.lot_id
      where b.place_id in (select place_id from place_within w join place a on a.id = w.ancestor_id where a.uid = ?)
        and b.quantity > 0 and i.code <> 'HOT' limit ${LINES}`,
    )
    .all(place) as { item: string; place: string; lot: string; code: string | null }[]
  const said = { counted: 'counted', typed: '7', again: '7' } as const
  const lines = cells.map(c =>
    line({ item: c.item, from: c.place, lot: c.code === null ? null : { id: c.lot, code: c.code }, ...said }),
  )
  return { kind: 'count', place, head: { blind: false }, lines }
}

async function papers(b: Bench): Promise<Write[]> {
  const [place] = b.stock.areas as [string]
  const day = new Date(b.now + 3 * DAY).toISOString().slice(0, 10)
  const restock = v7()
  let job = ''
  const asked = times(ASKED, i => ({
    id: v7(),
    item: b.stock.items[i * 10]!,
    place: b.stock.areas[(i * 10) % 20]!,
    typed: '5',
  }))
  const file = times(JOBS, i => `W${i},Job ${i},${day},C-${String((i % 250) * 20).padStart(4, '0')},2`)
  const text = ['reference,name,day,item,quantity', ...file].join('\n')
  const { rows } = await ok<{ rows: { id: string }[] }>(b, 'GET', '/api/items?q=BENCH-RAW')
  const lots = await ok<{ rows: { id: string }[] }>(b, 'GET', `/api/items/${rows[0]!.id}/lots`)
  const needs = times(NEEDS, i => ({ id: v7(), item: itemAt(b, i), typed: '3' }))
  return [
    [
      `a job of ${NEEDS} needs`,
      async () =>
        (job = (await ok<{ id: string }>(b, 'POST', '/api/jobs', { name: 'Large', place, day, lines: needs })).id),
    ],
    ['what is set aside for it', () => ok(b, 'POST', `/api/jobs/${job}/reservations`, {})],
    ['that it is over', () => ok(b, 'POST', `/api/jobs/${job}/state`, { state: 'dropped' })],
    [`${JOBS} jobs from elsewhere`, () => ok(b, 'POST', '/api/jobs/brought', { place, text })],
    [
      `a restock slip of ${ASKED} lines`,
      () => ok(b, 'POST', '/api/restock', { id: restock, source: { kind: 'nobody' }, lines: asked }),
    ],
    [
      'that it was asked for',
      () => ok(b, 'POST', `/api/restock/${restock}/asking`, { where: 'by telephone' }, { 'if-match': '1' }),
    ],
    [
      'a recall of 10 100 lots',
      () => ok(b, 'POST', `/api/lots/${lots.rows[0]!.id}/recall`, { held: 'held', why: 'bench' }),
    ],
  ]
}

function setUp(b: Bench): Write[] {
  const [id] = b.stock.areas as [string]
  return [
    [
      'an area is renamed',
      async () => {
        const { rows } = await ok<{ rows: { id: string; parent: string | null; revision: number }[] }>(
          b,
          'GET',
          '/api/places',
        )
        const { parent, revision } = rows.find(p => p.id === id)!
        await ok(
          b,
          'PUT',
          `/api/places/${id}`,
          { name: 'First area', parent, kind: 'area' },
          { 'if-match': String(revision) },
        )
      },
    ],
    ['an area is filled up', () => b.driver.call('POST', `/api/places/${b.stock.areas[1]}/refill`)],
    [
      'settings',
      async () => {
        const { settings } = await ok<{ settings: object }>(b, 'GET', '/api/session')
        await ok(b, 'PUT', '/api/settings', { ...settings, aheadDays: 9 })
      },
    ],
  ]
}
