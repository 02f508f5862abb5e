import Database from 'better-sqlite3'
import type { Stocked } from './stock.ts'
import type { Bare } from './bare.ts'
import { line, type Driver } from './driver.ts'
import { inTurn, median, quantile, time, times, type Row } from './measure.ts'

export interface Bench {
  readonly driver: Driver
  readonly bare: Bare
  readonly stock: Stocked
  readonly now: number
  readonly file: string
  readonly quick: boolean
  /** Jobs that are made again and again, as soon as there are any. */
  readonly made: string[]
}
const DAY = 86_400_000
/** After so many bookings what they run through is compiled (measured: from 5.4 to some 4.2 times the bare transaction on the way). */
const WARM = 2400
let turn = 0

/** An issue of `n` lines in one of the areas: other items every time. */
export function issue(b: Bench, n: number) {
  const area = turn++ % b.stock.areas.length
  const first = Math.floor(turn / b.stock.areas.length) * n
  return {
    kind: 'issue' as const,
    place: b.stock.areas[area]!,
    head: { job: b.stock.job },
    lines: Array.from({ length: n }, (_, k) =>
      line({ item: b.stock.items[((first + k) % 250) * 20 + area]!, typed: '1' }),
    ),
  }
}
/** Enough of everything for what is to be issued. */
export async function supply(b: Bench): Promise<void> {
  for (let area = 0; area < 20; area++)
    for (let part = 0; part < 250; part += 50) {
      await b.driver.book({
        kind: 'receipt',
        place: b.stock.areas[area]!,
        head: { supplier: 'Supplier 1' },
        lines: Array.from({ length: 50 }, (_, k) => {
          const i = (part + k) * 20 + area
          return line({
            item: b.stock.items[i]!,
            typed: '5000',
            price: '2.5',
            lot:
              i % 20 < 5
                ? { code: `BENCH-${b.now}`, expiry: new Date(b.now + 700 * DAY).toISOString().slice(0, 10) }
                : null,
          })
        }),
      })
    }
}
const verdict = (what: string, shelve: number, bare: number, goal: string, met: boolean | null, note = ''): Row => ({
  what,
  shelve,
  unit: 'ms',
  bare,
  ratio: shelve / bare,
  goal,
  met,
  note,
})

export async function bookings(b: Bench): Promise<Row[]> {
  const n = b.quick ? 60 : 300
  const book = () => b.driver.book(issue(b, 20))
  // A server that was just started runs code that is not compiled yet: that is told apart.
  const first = await times(n, book)
  await times(b.quick ? 0 : WARM - n, book)
  for (let i = 0; i < 30; i++) b.bare.issue(20)
  const [one, bareOne] = await inTurn(n, book, () => b.bare.issue(20))
  const whole = await times(n, () => b.driver.book(issue(b, 20), true))
  const rows = [
    verdict(
      'book a 20-line issue over HTTP, one client, median',
      median(one),
      median(bareOne),
      '≤ 4 × and ≤ 8 ms',
      median(one) <= 4 * median(bareOne) && median(one) <= 8,
      `99 %: ${quantile(one, 0.99).toFixed(1)} ms; told its number, as screens ask; told back whole ${median(whole).toFixed(1)} ms; the first ${n} after a start ${median(first).toFixed(1)} ms`,
    ),
  ]
  const capacity = await sustained(b, 20, b.quick ? 2000 : 5000)
  const paced = await pacedClients(b, capacity / 2, b.quick ? 3000 : 10_000)
  rows.push({
    what: `the same, 8 clients paced at half of capacity (${(capacity / 2).toFixed(0)} slips/s), median`,
    shelve: median(paced),
    unit: 'ms',
    goal: '≤ 15 ms',
    met: median(paced) <= 15,
  })
  rows.push({
    what: '… 99 %',
    shelve: quantile(paced, 0.99),
    unit: 'ms',
    goal: '≤ 60 ms',
    met: quantile(paced, 0.99) <= 60,
  })
  const before = countSlips(b)
  const rate = await sustained(b, 5, b.quick ? 2000 : 10_000, booked => {
    const found = countSlips(b) - before
    if (found !== booked) throw new Error(`${booked} slips acknowledged, ${found} in the books`)
  })
  const began = process.hrtime.bigint()
  let slips = 0
  while (Number(process.hrtime.bigint() - began) / 1e6 < (b.quick ? 1000 : 4000)) {
    b.bare.issue(5)
    slips++
  }
  const bareRate = slips / (Number(process.hrtime.bigint() - began) / 1e9)
  rows.push({
    what: 'sustained bookings of 5 lines, 8 clients, none lost, none twice',
    shelve: rate,
    unit: 'slips/s',
    bare: bareRate,
    ratio: rate / bareRate,
    goal: '≥ 0.35 ×',
    met: rate >= 0.35 * bareRate,
  })
  return rows
}
function countSlips(b: Bench): number {
  const db = new Database(b.file, { readonly: true })
  const n = Number(db.prepare("select count(*) from slip where state = 'booked'").pluck().get())
  db.close()
  return n
}
async function sustained(b: Bench, n: number, ms: number, after?: (booked: number) => void): Promise<number> {
  const until = Date.now() + ms
  let booked = 0
  const began = Date.now()
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      while (Date.now() < until) {
        await b.driver.book(issue(b, n))
        booked++
      }
    }),
  )
  const rate = booked / ((Date.now() - began) / 1000)
  after?.(booked)
  return rate
}
/** 8 clients, each starting a slip at its beat, whether or not the last was answered: what waits counts. */
async function pacedClients(b: Bench, perSecond: number, ms: number): Promise<number[]> {
  const taken: number[] = []
  const gap = 8000 / perSecond
  const until = Date.now() + ms
  await Promise.all(
    Array.from({ length: 8 }, async (_, client) => {
      const running: Promise<void>[] = []
      for (let beat = Date.now() + (gap * client) / 8; beat < until; beat += gap) {
        const wait = beat - Date.now()
        if (wait > 0) await new Promise(done => setTimeout(done, wait))
        const due = beat
        running.push(
          b.driver.book(issue(b, 20)).then(() => {
            taken.push(Date.now() - due)
          }),
        )
      }
      await Promise.all(running)
    }),
  )
  return taken
}

export async function lists(b: Bench): Promise<Row[]> {
  const n = b.quick ? 15 : 40
  const area = (i: number) => b.stock.areas[i % 20]!
  const get = (path: string) =>
    b.driver.call('GET', path).then(r => {
      if (r.status !== 200) throw new Error(`${path}: ${r.status}`)
    })
  const ids = b.bare.db.prepare("select id from place where kind = 'area' order by id").pluck().all() as bigint[]
  const bare = median(await times(n, i => b.bare.stock(ids[i % 20]!)))
  const rows: Row[] = []
  const paths: [string, (i: number) => string][] = [
    ['first page', i => `/api/stock?place=${area(i)}`],
    ['filtered by words', i => `/api/stock?place=${area(i)}&q=sort%20${i % 37}`],
    ['sorted by value', i => `/api/stock?place=${area(i)}&sort=-value`],
    ['all places, sorted by days it lasts', () => '/api/stock?sort=days'],
  ]
  // What is measured first is compiled by then, as what is measured last is.
  await times(b.quick ? 8 : 120, i => get(paths[i % 4]![1](i)))
  for (const [what, path] of paths) {
    const t = median(await times(n, i => get(path(i))))
    rows.push(verdict(`stock list, ${what}`, t, bare, '≤ 20 ms', t <= 20))
  }
  let on = true
  const busy = Array.from({ length: 8 }, async () => {
    while (on) {
      await b.driver.book(issue(b, 5))
      await new Promise(done => setTimeout(done, 20))
    }
  })
  const beside = median(await times(n, i => get(paths[i % 4]![1](i))))
  on = false
  await Promise.all(busy)
  rows.push(verdict('stock list beside 8 booking clients', beside, bare, '≤ 50 ms', beside <= 50))

  const hot = b.bare.db.prepare("select id from item where code = 'HOT'").pluck().get() as bigint
  const moved = Number(b.bare.db.prepare('select count(*) from movement where item_id = ?').pluck().get(hot))
  const bareHistory = median(await times(n, () => b.bare.history(hot)))
  const firstPage = () => get(`/api/items/${b.stock.hot}/movements?limit=30`)
  await times(n, firstPage)
  const first = median(await times(n, firstPage))
  rows.push(verdict(`an item’s movements (${moved} of them), first page`, first, bareHistory, '≤ 10 ms', first <= 10))
  let cursor = ''
  for (let i = 0; i < 60; i++) {
    const page: { body: { next: string | null } } = await b.driver.call(
      'GET',
      `/api/items/${b.stock.hot}/movements?limit=100${cursor ? `&cursor=${encodeURIComponent(cursor)}` : ''}`,
    )
    cursor = page.body.next ?? cursor
  }
  const deep = median(
    await times(n, () => get(`/api/items/${b.stock.hot}/movements?limit=30&cursor=${encodeURIComponent(cursor)}`)),
  )
  rows.push(verdict('… after 6 000 of them, or at the end', deep, bareHistory, '≤ 10 ms', deep <= 10))

  const day = (i: number) => new Date(b.now - (10 + ((i * 97) % 700)) * DAY).toISOString().slice(0, 10)
  const barePast = median(await times(4, i => b.bare.past(BigInt(b.now - (10 + ((i * 97) % 700)) * DAY))))
  for (const [what, more] of [
    ['as the books stood, with values', '&reading=books'],
    ['as it was', '&reading=was'],
  ] as const) {
    const t = median(
      await times(b.quick ? 8 : 16, i => get(`/api/past?day=${day(i)}${more}${i % 2 ? `&place=${area(i)}` : ''}`)),
    )
    rows.push(verdict(`a past day, ${what}`, t, barePast, '≤ 150 ms', t <= 150))
  }
  return rows
}

/** Today, what to ask for, and looking back: the first time, when its sums are built, and after. */
export async function looking(b: Bench): Promise<Row[]> {
  const n = b.quick ? 8 : 20
  const get = (path: string) =>
    b.driver.call('GET', path).then(r => {
      if (r.status !== 200) throw new Error(`${path}: ${r.status} ${JSON.stringify(r.body).slice(0, 300)}`)
      return r
    })
  const area = (i: number) => b.stock.areas[i % 20]!
  const ids = b.bare.db.prepare("select id from place where kind = 'area' order by id").pluck().all() as bigint[]
  const bareStock = median(await times(n, i => b.bare.stock(ids[i % 20]!)))
  await get('/api/today')
  const today = median(await times(n, () => get('/api/today')))
  const rows = [verdict('Today, all places', today, bareStock, '≤ 50 ms', today <= 50)]
  const restock = median(await times(n, i => get(`/api/restock?place=${area(i)}`)))
  rows.push(verdict('what to ask for in a place', restock, bareStock, '', null))
  const year = new Date(b.now).getUTCFullYear()
  const bareYear = median(await times(3, () => b.bare.year(year)))
  const first = (await time(() => get(`/api/look-back/months?year=${year}`))).ms
  rows.push(verdict('a year by month, the first time after a start', first, bareYear, '', null))
  const again = median(await times(n, i => get(`/api/look-back/months?year=${year - (i % 2)}`)))
  rows.push(verdict('a year by month, after that', again, bareYear, '≤ 150 ms', again <= 150))
  const by = median(
    await times(n, () => get(`/api/look-back/by?by=cost_centre&flow=used&from=${year}-01&to=${year}-12`)),
  )
  rows.push(verdict('used by cost centre in a year', by, bareYear, '≤ 150 ms', by <= 150))
  const { body } = (await get('/api/months')) as { body: { next: { month: string } } }
  const close = (
    await time(() =>
      b.driver.call('POST', '/api/months', { month: body.next.month }).then(r => {
        if (r.status !== 201) throw new Error(JSON.stringify(r.body))
      }),
    )
  ).ms
  rows.push(verdict('closing a month', close, bareYear, '≤ 1 000 ms', close <= 1000))
  return rows
}

/** Corrects the price of the first delivery of the most used item: everything after it is valued anew. */
export async function correction(b: Bench): Promise<Row[]> {
  const slip = b.bare.db
    .prepare(
      "select s.uid, l.uid as line, m.pool_id as pool from movement m join slip s on s.id = m.slip_id join slip_line l on l.id = m.line_id where m.item_id = (select id from item where code = 'HOT') order by m.seq limit 1",
    )
    .get() as { uid: string; line: string; pool: bigint }
  const later = Number(b.bare.db.prepare('select count(*) from movement where pool_id = ?').pluck().get(slip.pool))
  const id = (n: number) =>
    `01a21000-0000-7000-8000-${String(b.now + n)
      .padStart(12, '0')
      .slice(-12)}`
  const waits: number[] = []
  let on = true
  const beside = (async () => {
    while (on) {
      waits.push((await time(() => b.driver.book(issue(b, 5)))).ms)
      await new Promise(done => setTimeout(done, 10))
    }
  })()
  const { ms } = await time(() =>
    b.driver
      .call('POST', `/api/slips/${id(1)}/booking`, {
        content: {
          kind: 'correction',
          head: { corrects: slip.uid, why: 'bench' },
          lines: [line({ ref: slip.line, act: 'price', price: '2.75' })],
        },
        seen: null,
      })
      .then(r => {
        if (r.status !== 201) throw new Error(JSON.stringify(r.body).slice(0, 500))
      }),
  )
  on = false
  await beside
  const bare = (await time(() => b.bare.db.prepare('select * from movement where pool_id = ?').all(slip.pool).length))
    .ms
  return [
    verdict(
      `a correction that replays ${later} movements`,
      ms,
      bare,
      '≤ 1 000 ms',
      ms <= 1000,
      `a booking beside it waited ${Math.max(...waits).toFixed(0)} ms at most`,
    ),
  ]
}
