import Database from 'better-sqlite3'
import { v7 } from 'uuid'
import { median, times, type Row } from './measure.ts'
import { type Bench, issue } from './rows.ts'

const CHAINS = 10
const NEEDS = 20
/** Each begins a job by a template of three levels: two parts are planned with it, so that there are 300. */
const JOBS = 100

/** What is made of twenty things, one of which is made of twenty, one of which is made of twenty. */
async function recipes(b: Bench): Promise<string[]> {
  const made = async <T>(path: string, body: object) => {
    const r = await b.driver.call<T>('POST', path, body)
    if (r.status !== 201) throw new Error(`${path}: ${JSON.stringify(r.body).slice(0, 300)}`)
    return r.body
  }
  const templates: string[] = []
  for (let chain = 0; chain < CHAINS; chain++) {
    let part: string | undefined
    let template = ''
    for (let depth = 0; depth < 3; depth++) {
      const code = `MADE-${chain}-${depth}`
      const item: { id: string } = await made('/api/items', {
        code,
        name: code,
        unit: 'each',
        identifiedBy: 'quantity',
      })
      // Of one area, so that they lie where the job is done.
      const takes = Array.from(
        { length: part ? NEEDS - 1 : NEEDS },
        (_, i) => b.stock.items[(((chain * 3 + depth) * 8 + i) % 250) * 20]!,
      )
      const lines = [...takes, ...(part ? [part] : [])].map(of => ({ id: v7(), item: of, typed: '1' }))
      template = (
        await made<{ id: string }>('/api/templates', { code, name: code, makes: { item: item.id, typed: '1' }, lines })
      ).id
      part = item.id
    }
    templates.push(template)
  }
  return templates
}

/** Whether all planned jobs can be met, worked out anew after a booking took of what they need. */
export async function jobs(b: Bench): Promise<Row[]> {
  const templates = await recipes(b)
  const began = await times(JOBS, async i => {
    const r = await b.driver.call('POST', '/api/jobs', {
      template: templates[i % CHAINS]!,
      place: b.stock.areas[0]!,
      typed: '1',
      day: new Date(b.now + (1 + (i % 30)) * 86_400_000).toISOString().slice(0, 10),
    })
    if (r.status !== 201) throw new Error(`a job: ${JSON.stringify(r.body).slice(0, 300)}`)
  })
  const list = () => b.driver.call<{ rows: { needs: number }[] }>('GET', '/api/jobs/planned')
  const { rows } = (await list()).body
  const needs = rows.reduce((sum, r) => sum + r.needs, 0)
  const anew: number[] = []
  for (let i = 0; i < (b.quick ? 8 : 20); i++) {
    await b.driver.book(issue(b, 20))
    anew.push(...(await times(1, list)))
  }
  const again = median(await times(b.quick ? 8 : 20, list))
  // What the server has written: the bare database's own copy knows no jobs.
  const db = new Database(b.file, { readonly: true })
  const bare = median(
    await times(b.quick ? 8 : 20, () =>
      db
        .prepare(
          `select n.id, n.job_id, n.quantity, p.day, b.place_id, b.lot_id, b.quantity as lies from need n
           join job j on j.id = n.job_id join job_plan p on p.job_id = j.id
           left join balance b on b.item_id = n.item_id and b.quantity > 0
           where j.state in ('planned', 'picking', 'in_work') order by p.day, n.id`,
        )
        .all(),
    ),
  )
  db.close()
  return [
    {
      what: `whether ${rows.length} planned jobs with ${needs} needs on three levels can be met`,
      shelve: median(anew),
      unit: 'ms',
      bare,
      ratio: median(anew) / bare,
      goal: '≤ 300 ms',
      met: rows.length === 3 * JOBS && median(anew) <= 300,
      note: `each after a booking; asked again ${again.toFixed(1)} ms`,
    },
    {
      what: 'a job of three levels is begun by its template, with its parts',
      shelve: median(began),
      unit: 'ms',
      goal: '',
      met: null,
    },
  ]
}
