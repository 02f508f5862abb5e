// The demonstration with names as long as the contract lets them be (contract/common.ts): what no page was drawn for.
import { join } from 'node:path'
import Database from 'better-sqlite3'

/** As somebody writes who says all of it; as chemists do, with hardly a place to break it; and a little longer than usual. */
const BEHIND = [
  ' for the second bench by the window, as ordered for the winter, with whatever belongs to it and comes with it in one box',
  ' bis(trimethylsilyl)-2,2,2-trifluoroacetamid-hexamethyldisilazan-dimethylformamid',
  ', double, for cold rooms and for whoever works there',
]
const longer = (text: string, n: number) => (text + BEHIND[n % BEHIND.length]).slice(0, 120)
/** Every other one; what a test looks for keeps its code. */
const coded = (text: string, n: number) => (n % 2 ? `${text}-${'WX4Z7'.repeat(12)}`.slice(0, 60) : text)
const UNITS = ['pre-cut strip, large', 'Doppelfachbeutelchen']

/** Writes them into the database of a server that has not started yet. */
export function lengthened(data: string, keep: readonly string[]): void {
  const db = new Database(join(data, 'shelve.sqlite'))
  const each = (table: string, column: string, of: (text: string, n: number) => string) => {
    const change = db.prepare(`update ${table} set ${column} = ? where id = ?`)
    const rows = db.prepare(`select id, ${column} as text from ${table} where ${column} is not null`).all() as {
      id: number
      text: string
    }[]
    for (const [n, { id, text }] of rows.entries()) if (!keep.includes(text)) change.run(of(text, n), id)
  }
  db.transaction(() => {
    // What was counted in a unit never changes it: here it is only called otherwise.
    const stays = db.prepare("select sql from sqlite_master where name in ('item_unit_stays', 'pack_stays')").all() as {
      sql: string
    }[]
    db.exec('drop trigger item_unit_stays; drop trigger pack_stays')
    each('item', 'unit', (text, n) => (n % 2 ? UNITS[(n >> 1) % 2]! : text))
    for (const table of ['item', 'pack', 'category', 'place', 'person', 'supplier', 'waste_reason', 'job'])
      each(table, 'name', longer)
    for (const table of ['cost_centre', 'template', 'organisation', 'count_group']) each(table, 'name', longer)
    for (const table of ['item', 'job', 'cost_centre', 'lot']) each(table, 'code', coded)
    each('need', 'note', longer)
    for (const { sql } of stays) db.exec(sql)
  })()
  db.close()
}
