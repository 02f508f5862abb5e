import { randomBytes } from 'node:crypto'
import Database from 'better-sqlite3'
import { groupBy } from '@shelve/core'

interface Cell {
  item: bigint
  lot: bigint
  place: bigint
  pool: bigint
  used: bigint
}

/**
 * The bare database: the same rows, the same driver and settings, hand-written SQL, no computation. What Shelve does is
 * measured against this, in the same run on the same machine.
 */
export class Bare {
  readonly db: Database.Database
  #seq: bigint
  #slip: bigint
  #line: bigint
  constructor(file: string) {
    this.db = new Database(file)
    this.db.defaultSafeIntegers(true)
    this.db.pragma('journal_mode = WAL')
    this.db.pragma('synchronous = FULL')
    this.db.pragma('foreign_keys = ON')
    this.db.pragma('wal_autocheckpoint = 2000')
    this.db.pragma('cache_size = -32000')
    const max = (t: string, c: string) =>
      this.db.prepare(`select coalesce(max(${c}), 0) from ${t}`).pluck().get() as bigint
    this.#seq = max('movement', 'seq')
    this.#slip = max('slip', 'id')
    this.#line = max('slip_line', 'id')
    const cells = this.db
      .prepare(
        `select b.item_id as item, max(b.lot_id) as lot, b.place_id as place, m.pool_id as pool, m.to_id as used
          from balance b join movement m on m.seq = (select max(seq) from movement
          where item_id = b.item_id and from_id = b.place_id) where b.quantity > 0
          group by b.place_id, b.item_id order by b.place_id, b.item_id`,
      )
      .all() as Cell[]
    // What is used all the time lies by itself.
    this.#areas = [...groupBy(cells, c => c.place).values()].filter(of => of.length > 1)
    this.#by = max('person', 'id')
  }
  #by: bigint
  /** What lies in each area, of each item one lot: an issue of twenty lines takes twenty items there, as Shelve's does. */
  readonly #areas: Cell[][]
  #book?: (n: number, turn: bigint) => void

  /**
   * Writes the rows that an issue of `n` lines leaves behind: paper, movements, balances, pools, number, event; one durable
   * commit. Of other items with every slip, an area after the other; `same`: of the same ones each time.
   */
  issue(n: number, same = false): void {
    this.#book ??= this.#prepare()
    this.#book(n, same ? 0n : this.#slip)
  }
  #prepare() {
    const { db } = this
    const slip = db.prepare(
      `insert into slip (id, uid, kind, state, revision, version,
        created_at, created_by, saved_at, saved_by, taker, title, head)
        values (?, ?, 'issue', 'draft', 1, 1, ?, ?, ?, ?, '', 'to Work', ?)`,
    )
    const seal = db.prepare(
      `update slip set state = 'booked', number = ?, effective_at = ?, booked_at = ?, booked_by = ?,
        request_hash = ?, first_seq = ?, last_seq = ?, chain_version = 1, hash = ?
        where id = ?`,
    )
    const line = db.prepare(
      'insert into slip_line (id, uid, slip_id, position, revision, saved_by, content) values (?, ?, ?, ?, 1, ?, ?)',
    )
    const move = db.prepare(
      `insert into movement (seq, cost_seq, part, ord, kind, slip_id, line_id, item_id, lot_id, pool_id, from_id, to_id, quantity, value,
        goods, charges, effective_at, booked_at, booked_by)
        values (?, ?, 0, 0, 'out', ?, ?, ?, ?, ?, ?, ?, 1000000, 1234567, null, 0, ?, ?, ?)`,
    )
    const balance = db.prepare(
      `update balance set quantity = quantity - 1, last_effective_at = ?
        where item_id = ? and lot_id = ? and place_id = ?`,
    )
    const pool = db.prepare('update pool set quantity = quantity - 1, value = value - 1 where id = ?')
    const event = db.prepare("insert into event (at, kind, detail) values (?, 'booked', '{}')")
    const counter = db.prepare("update counter set next = next + 1 where kind = 'issue'")
    const sealed = db.prepare('insert into sealed_bytes (slip_id, bytes) values (?, ?)')
    const bytes = randomBytes(65_536)
    // As long as what Shelve keeps of them.
    const head = 'h'.repeat(120)
    const content = 'c'.repeat(70)
    return db.transaction((n: number, turn: bigint) => {
      const area = this.#areas[Number(turn) % this.#areas.length]!
      const from = Math.floor(Number(turn) / this.#areas.length) * n
      const now = BigInt(Date.now())
      const id = ++this.#slip
      slip.run(id, `bare-${id}`, now, this.#by, now, this.#by, head)
      const first = this.#seq + 1n
      for (let i = 0; i < n; i++) {
        const c = area[(from + i) % area.length]!
        const l = ++this.#line
        const seq = ++this.#seq
        line.run(l, `bare-${l}`, id, i, this.#by, content)
        move.run(seq, seq, id, l, c.item, c.lot, c.pool, c.place, c.used, now, now, this.#by)
        balance.run(now, c.item, c.lot, c.place)
        pool.run(c.pool)
      }
      counter.run()
      event.run(now)
      seal.run(`BARE-${id}`, now, now, this.#by, 'r'.repeat(64), first, this.#seq, `${id}`.padStart(64, 'h'), id)
      sealed.run(id, bytes.subarray(0, 300 + 55 * n))
    }).immediate
  }

  /** What lies in an area, by item, sorted by name: the first hundred. */
  stock(area: bigint): number {
    return this.db
      .prepare(
        `select i.name, sum(b.quantity) from balance b join item i on i.id = b.item_id
          where b.place_id in (select place_id from place_within where ancestor_id = ?) group by b.item_id
          order by i.name limit 100`,
      )
      .all(area).length
  }
  history(item: bigint): number {
    return this.db
      .prepare(
        `select m.*, s.number from movement m join slip s on s.id = m.slip_id where m.item_id = ?
          order by m.effective_at desc, m.seq desc limit 30`,
      )
      .all(item).length
  }
  /** A past day, worked out from the first movement on. */
  past(at: bigint): number {
    return this.db
      .prepare(
        `select item_id, sum(q) from (select item_id, quantity as q from movement
          where effective_at < ? and to_id in (select id from place) union all select item_id, -quantity
          from movement where effective_at < ? and from_id in (select id from place)) group by item_id`,
      )
      .all(at, at).length
  }
  /** A year of value by month and account, straight from the movements. */
  year(year: number): number {
    const [from, to] = [Date.UTC(year, 0, 1), Date.UTC(year + 1, 0, 1)]
    return this.db
      .prepare(
        `select strftime('%m', effective_at / 1000, 'unixepoch') as month, to_id, sum(value) from movement
          where effective_at >= ? and effective_at < ? group by 1, 2`,
      )
      .all(from, to).length
  }
  /** Reads every movement once. */
  readAll(): number {
    let n = 0
    for (const _ of this.db.prepare('select * from movement').raw().iterate()) n++
    return n
  }
}
