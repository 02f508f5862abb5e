import { idleStood } from './driver.ts'
import { time, type Row } from './measure.ts'
import { supply, type Bench } from './rows.ts'

const DAY = 86_400_000
const JSON_ = 'application/json'

/** Whatever goes through much when it is asked: lists of all and of one place, what is behind figures, reports. */
function everyList(b: Bench): string[] {
  const [area, other] = b.stock.areas as [string, string]
  const { hot, job } = b.stock
  const item = b.stock.items[7]!
  const day = (back: number) => new Date(b.now - back * DAY).toISOString().slice(0, 10)
  const year = new Date(b.now).getUTCFullYear()
  const months = `from=${day(300).slice(0, 7)}&to=${day(1).slice(0, 7)}`
  const behind = `state=booked&from=${day(600)}&to=${day(570)}`
  const of = (path: string) => [path, `${path}?place=${area}`]
  return [
    ...['index', 'items', 'items?q=item%2012', 'categories', 'audit', 'people', 'places', 'suppliers', 'months'],
    ...[...of('stock'), 'stock?sort=-value', `stock?place=${other}&state=none`],
    ...[...of('lots'), 'lots?sort=code', 'lots?q=item%2011'],
    ...[...of('today'), ...of('short'), ...of('expiring'), ...of('restock'), ...of('transfers'), ...of('picks')],
    ...[...of('count-areas'), ...of('differences'), 'count-groups', `sheets?place=${area}`],
    ...[...of('slips'), 'slips?q=sort', 'slips?q=zzzz', 'slips?kind=count', 'slips?mine=yes', 'slips?category=none'],
    ...[`slips?item=${item}`, `slips?item=${hot}`, `slips?party=job&partyId=${job}`],
    ...['used', 'wasted', 'received'].map(flow => `slips?${behind}&flow=${flow}`),
    ...[hot, item].flatMap(i => ['', '/stock', '/movements', '/years', '/lots', '/needs'].map(x => `items/${i}${x}`)),
    ...[hot, item].flatMap(i =>
      ['on-hand', 'available', 'unit-cost', 'value', 'days', 'state'].map(f => `workings/${f}?item=${i}`),
    ),
    ...of('workings/stock-value'),
    ...['was', 'books'].flatMap(reading =>
      [30, 300, 700].flatMap(back => [`past?reading=${reading}&day=${day(back)}`]),
    ),
    ...['was', 'books'].map(reading => `past?reading=${reading}&day=${day(100)}&place=${area}`),
    ...[`look-back/months?year=${year - 1}`, `look-back/by?by=category&flow=used&${months}`],
    ...['waste', 'disposal', 'trimmed', 'activity', 'accounts'].map(x => `look-back/${x}?${months}`),
    ...[`budgets?year=${year}`, 'jobs', 'jobs/planned', 'jobs/over', 'templates', 'search?q=item%2012'],
    `often?kind=issue&place=${area}`,
    ...things(b),
  ].map(path => `/api/${path}`)
}
/** What there is of one thing, of those of which most is to be told: a lot that moved all the time, a job that is made again and again. */
function things(b: Bench): string[] {
  const uid = (text: string) => b.bare.db.prepare(text).pluck().get() as string
  const lot = uid("select uid from lot where item_id = (select id from item where code = 'HOT') limit 1")
  const slip = uid('select uid from slip where id = (select slip_id from movement order by seq limit 1)')
  const made = b.made.map(id => `jobs/${id}`)
  return [
    `lots/${lot}`,
    `lots/${lot}/trace`,
    `slips/${slip}`,
    ...made,
    'places',
    'cost-centres',
    'account-codes',
    'codes/C-0007',
  ]
}
/** Those that are taken out as files too. */
const asFiles = (lists: readonly string[]) =>
  lists.filter(l => /^\/api\/(items|stock|lots|expiring|short|past|items\/[^/]+\/movements)(\?(?!.*place).*)?$/.test(l))

interface Longest {
  stood: number
  beside: string
  ms: number
  slowest: string
}

/**
 * How long the request loop stands still at most beside any list, working or report there is, each asked twice; beside the
 * same as files; and beside the stock list that is asked right after everything was received.
 */
export async function besideEveryList(b: Bench): Promise<Row[]> {
  const lists = everyList(b)
  const twice = lists.flatMap(l => [[l, JSON_] as const, [l, JSON_] as const])
  const files = asFiles(lists).map(l => [l, 'text/csv'] as const)
  const rows = [
    await rowOf(b, `any of ${lists.length} lists, workings and reports, each asked twice`, twice),
    await rowOf(b, `any of ${files.length} of them as CSV`, files),
  ]
  await supply(b)
  rows.push(await rowOf(b, 'the stock list right after every item was received', [['/api/stock', JSON_]]))
  return rows
}

async function rowOf(b: Bench, what: string, asked: readonly (readonly [string, string])[]): Promise<Row> {
  const longest: Longest = { stood: 0, beside: '', ms: 0, slowest: '' }
  const named = (path: string) => path.replace('/api/', '').replaceAll(/[0-9a-f]{8}-[0-9a-f-]{27}/g, '…')
  const idle = await idleStood(async () => {
    for (const [path, accept] of asked) {
      let ms = 0
      const stood = await b.driver.stoodBeside(
        async () => void (ms = (await time(() => b.driver.drain(path, accept))).ms),
      )
      if (stood > longest.stood) Object.assign(longest, { stood, beside: named(path) })
      if (ms > longest.ms) Object.assign(longest, { ms, slowest: named(path) })
    }
  })
  const which = asked.length > 1 ? `it was \`${longest.beside}\`; the slowest, \`${longest.slowest}\`,` : 'it'
  const took = longest.ms >= 1000 ? `${(longest.ms / 1000).toFixed(1)} s` : `${longest.ms.toFixed(0)} ms`
  return {
    what: `longest stall of the request loop beside ${what}`,
    shelve: longest.stood,
    unit: 'ms',
    goal: '≤ 50 ms',
    met: longest.stood <= 50,
    bare: idle,
    note: `bare: a process that does nothing; ${which} took ${took}`,
  }
}
