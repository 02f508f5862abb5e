import Database from 'better-sqlite3'
import { v7 } from 'uuid'
import { median, time, type Row } from './measure.ts'
import type { Bench } from './rows.ts'

const [JOBS, NEEDS] = [10_000, 5]
/**
 * Jobs for which things were picked and used, all in one area: of each a place is left, and a row of nothing of each of its
 * items. Written past the booking function: a list and an issue for each would take minutes.
 */
export function pickedBefore(file: string, now: number): void {
  const db = new Database(file)
  const first = (text: string) => db.prepare(text).pluck().get() as number
  const area = first("select min(id) from place where kind = 'area'")
  const cells = db
    .prepare('select item_id as item, min(lot_id) as lot from balance where quantity > 0 group by item_id limit ?')
    .all(NEEDS) as { item: number; lot: number }[]
  const statements = {
    account: db.prepare("insert into account (kind, name) values ('place', ?)"),
    place: db.prepare(
      `insert into place (id, uid, parent_id, kind, name, walk, active, revision, open_shelf) values (?, ?, ?, 'with_job', ?, ?, 1, 1, 0)`,
    ),
    within: db.prepare(
      'insert into place_within (ancestor_id, place_id) select ancestor_id, ? from place_within where place_id = ? union select ?, ?',
    ),
    job: db.prepare("insert into job (uid, code, name, state) values (?, ?, ?, 'done')"),
    plan: db.prepare(
      `insert into job_plan (job_id, place_id, time, reference, note, typed, wanted, repeats, revision, version, saved_by, created_at, created_by)
       values (?, ?, '', '', '', '1', 1000000, '', 1, 1, 1, ?, 1)`,
    ),
    with: db.prepare('insert into job_with (place_id, job_id) values (?, ?)'),
    need: db.prepare(
      `insert into need (uid, job_id, item_id, quantity, typed, optional, note, position, revision, saved_by)
       values (?, ?, ?, 1000000, '1', 0, '', ?, 1, 1)`,
    ),
    balance: db.prepare(
      'insert or ignore into balance (item_id, lot_id, place_id, quantity, last_effective_at) values (?, ?, ?, 0, ?)',
    ),
  }
  db.transaction(() => {
    for (let n = 0; n < JOBS; n++) {
      const name = `With PICKED-${n}`
      const place = Number(statements.account.run(name).lastInsertRowid)
      statements.place.run(place, v7(), area, name, 1000 + n)
      statements.within.run(place, area, place, place)
      const job = Number(statements.job.run(v7(), `PICKED-${n}`, `Work ${n}`).lastInsertRowid)
      statements.plan.run(job, area, now - n * 3_600_000)
      statements.with.run(place, job)
      for (const [i, { item, lot }] of cells.entries()) {
        statements.need.run(v7(), job, item, i)
        statements.balance.run(item, lot, place, now - n * 3_600_000)
      }
    }
  })()
  db.close()
}

/** A list is begun for one job more: its place is made, and every screen is told. */
export async function picking(b: Bench): Promise<Row[]> {
  const took: number[] = []
  for (let n = 0; n < 12; n++) {
    const lines = Array.from({ length: NEEDS }, (_, i) => ({ id: v7(), item: b.stock.items[i * 20]!, typed: '1' }))
    const job = await b.driver.call<{ id: string }>('POST', '/api/jobs', {
      name: `Pick ${n}`,
      place: b.stock.areas[0]!,
      lines,
    })
    const id = v7()
    const { ms, value } = await time(() => b.driver.call('POST', '/api/picks', { id, jobs: [job.body.id] }))
    if (value.status !== 201) throw new Error(`a list: ${JSON.stringify(value.body).slice(0, 300)}`)
    // What is measured next is planned for nobody else.
    const gone = [
      await b.driver.call('DELETE', `/api/slips/${id}`),
      await b.driver.call('POST', `/api/jobs/${job.body.id}/state`, { state: 'dropped' }),
    ]
    if (gone.some(r => r.status >= 300)) throw new Error(`a list stays: ${JSON.stringify(gone).slice(0, 300)}`)
    took.push(ms)
  }
  const ms = median(took)
  return [
    {
      what: `a list is begun for a job, after ${JOBS} others for which things were picked`,
      shelve: ms,
      unit: 'ms',
      goal: '≤ 100 ms',
      met: ms <= 100,
      note: `median of 12; longest ${Math.max(...took).toFixed(0)} ms`,
    },
  ]
}
