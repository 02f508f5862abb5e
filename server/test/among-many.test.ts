// What is one's own is found and shown, however much there is of other places.
import { expect } from 'chai'
import { v7 } from 'uuid'
import {
  type CountArea,
  type Item,
  type PickRow,
  type PickView,
  type PrintedSheet,
  SlipContent,
  type Today,
} from '@shelve/contract'
import { bookNow } from '@shelve/server'
import { sheet } from '../src/counting/tables.ts'
import { callerOf } from '../src/people/index.ts'
import { type Client, newItem, person, world, type World } from './client.ts'

type Found = { id: string }
describe('one’s own among much that is of other places', () => {
  let w: World
  let cove: string
  let mate: Client
  let rope: Item
  before(async () => {
    w = await world()
    cove = (await w.c.ok<Found>('POST', '/api/places', { name: 'Cove', kind: 'area', countEveryDays: 7 })).id
    mate = await person(w, 'mate', 'keeper', cove)
    rope = await newItem(w.c, { name: 'Rope', code: 'ROPE', identifiedBy: 'lot' })
    const lines = (many: number, first: number) =>
      Array.from({ length: many }, (_, n) =>
        w.c.line({ item: rope.id, typed: '5', price: '1', lot: { code: `LOT-${String(first + n).padStart(3, '0')}` } }),
      )
    const head = { supplier: 'Aster' }
    await w.c.must({ kind: 'receipt', place: cove, head, lines: lines(1, 0) })
    await w.c.must({ kind: 'receipt', place: w.lab.id, head, lines: lines(50, 1) })
  })
  after(() => w.stop())
  const plan = async (name: string, place: string, c = w.c) =>
    (
      await c.ok<Found>('POST', '/api/jobs', {
        name,
        place,
        day: '2026-11-27',
        lines: [{ id: v7(), item: rope.id, typed: '4' }],
      })
    ).id

  it('a job and a lot are found by whoever keeps their place', async () => {
    await plan('Mooring', cove)
    for (let n = 0; n < 45; n++) await plan(`Mooring ${n}`, w.lab.id)
    const found = async (q: string, kind: string) =>
      (await mate.get<{ rows: { kind: string; name: string }[] }>(`/api/search?q=${q}`)).rows
        .filter(r => r.kind === kind)
        .map(r => r.name)
    expect([await found('Mooring', 'plan'), await found('LOT-', 'lot')]).to.deep.equal([['Mooring'], ['LOT-000']])
  })

  it('a sheet that waits, on Today and where it is entered', async () => {
    const lab = w.reading.places.id(w.lab.id)!
    let number = 100
    const others = (many: number, slipId: number | null) => {
      for (let n = 0; n < many; n++)
        w.app.db
          .insert(sheet)
          .values({
            ...{ uid: v7(), placeId: lab, number: number++, firstPage: 1, blind: true, extra: 0, pages: 1, slipId },
            ...{ printedAt: w.clock.now, printedBy: 1 },
          })
          .run()
    }
    others(110, null)
    const { rows } = await mate.ok<{ rows: PrintedSheet[] }>('POST', '/api/sheets', { areas: [cove], blind: true })
    const counted = w.app.store.client
      .prepare("select min(id) from slip where state = 'booked'")
      .pluck()
      .get() as bigint
    number = 1000
    others(510, Number(counted))
    const today = await mate.get<Today>('/api/today')
    expect(today.waiting.flatMap(x => x.sheet?.id ?? [])).to.deep.equal([rows[0]!.id])
    const { sheets } = await mate.get<{ rows: CountArea[]; sheets: PrintedSheet[] }>('/api/count-areas')
    expect(sheets.map(s => s.id)).to.deep.equal([rows[0]!.id])
  })

  it('a list that lies ready to be fetched', async () => {
    const picked = async (place: string) => {
      const [job, id] = [await plan('Rigging', place), v7()]
      await w.c.ok('POST', '/api/picks', { id, jobs: [job] })
      return { id, to: (await w.c.get<PickView>(`/api/picks/${id}`)).places[0]!.id }
    }
    const caller = callerOf(w.app, w.c.cookie.split('=')[1])!
    const putDown = (place: string, to: string, pick: string) =>
      bookNow(
        w.app,
        caller,
        v7(),
        SlipContent.parse({
          kind: 'move',
          place,
          head: { pick },
          lines: [{ id: v7(), item: rope.id, typed: '1', asked: '1', from: place, to }],
        }),
      )
    const [mine, other] = [await picked(cove), await picked(w.lab.id)]
    putDown(cove, mine.to, 'Mine')
    for (let n = 0; n < 101; n++) putDown(w.lab.id, other.to, `Other ${n}`)
    w.reading.moveOn()
    const { rows } = await mate.get<{ rows: PickRow[] }>('/api/picks')
    expect(rows.filter(r => r.state === 'ready').map(r => r.name)).to.deep.equal(['Mine'])
  })
})
