// One generated table: each role that has one place × each route × each id in its path, query and body that may be another place's.
import { expect } from 'chai'
import { v7 } from 'uuid'
import type { z } from 'zod'
import { api, type Operation, type Place, type Thing, thingOf } from '@shelve/contract'
import { MAY, type Action, type Role } from '../src/rights/roles.ts'
import { Client, newItem, person, sendPicture, world, type World } from './client.ts'

/** Things that stand in a place; all else is the organisation's, and known to whoever works in it. */
const PLACED = [
  'place',
  'slip',
  'draft',
  'line',
  'difference',
  'sheet',
  'count_group',
  'restock',
  'picture',
  'session',
] as const
type Placed = (typeof PLACED)[number]
type Step = string | 0

interface Inside {
  readonly type: string
  readonly shape?: Record<string, z.ZodType>
  readonly element?: z.ZodType
  readonly innerType?: z.ZodType
  readonly options?: readonly z.ZodType[]
  readonly in?: z.ZodType
  readonly entries?: Record<string, string>
  readonly values?: readonly unknown[]
}
const inside = (s: z.ZodType): Inside => (s as unknown as { _zod: { def: Inside } })._zod.def

/** Every place in a schema where the id of something placed may stand: how one gets there, and which option of each union one takes. */
function positions(
  s: z.ZodType,
  path: Step[] = [],
  taken: number[] = [],
  seen: z.ZodType[] = [],
): { path: Step[]; taken: number[]; thing: Placed }[] {
  if (seen.includes(s)) return []
  const thing = thingOf(s)
  if (thing) return (PLACED as readonly Thing[]).includes(thing) ? [{ path, taken, thing: thing as Placed }] : []
  const def = inside(s)
  const on = [...seen, s]
  if (def.shape) return Object.entries(def.shape).flatMap(([k, of]) => positions(of, [...path, k], taken, on))
  if (def.element) return positions(def.element, [...path, 0], taken, on)
  if (def.options) return def.options.flatMap((o, i) => positions(o, path, [...taken, i], on))
  const within = def.innerType ?? def.in
  return within ? positions(within, path, taken, on) : []
}

/** Of what kind a slip is that says such a thing: tried one after the other. */
const KINDS = ['receipt', 'correction', 'bring_back', 'count', 'closing', 'issue', 'move', 'waste', 'method_change']
let kind = ''

/** What stands in fields whose schema asks for more than a text. */
const FITTING: Record<string, unknown> = {
  typed: '1',
  size: '1',
  day: '2026-11-25',
  month: '2026-10',
  from: '2026-10',
  to: '2026-11',
  cursor: undefined,
  reading: 'was',
  year: 2026,
  name: 'x',
  email: 'x@example.com',
  pin: '1234',
}
/** A value that a schema takes, with one id put where a position says; what need not be there is left out. */
function value(
  s: z.ZodType,
  key: string,
  ids: (t: Thing) => string,
  at?: { path: Step[]; taken: number[]; id: string },
): unknown {
  const thing = thingOf(s)
  if (thing) return at && !at.path.length ? at.id : ids(thing)
  const def = inside(s)
  if (def.shape) {
    const out: Record<string, unknown> = {}
    for (const [k, of] of Object.entries(def.shape)) {
      const here = at?.path[0] === k ? { ...at, path: at.path.slice(1) } : undefined
      if (here || !of.safeParse(undefined).success) out[k] = value(of, k, ids, here)
    }
    // One of several that are each left out at will may be wanted.
    for (const [k, of] of Object.entries(def.shape))
      if (!(k in out) && !s.safeParse(out).success) {
        out[k] = value(inside(of).innerType ?? of, k, ids)
        if (!s.safeParse(out).success) delete out[k]
      }
    return out
  }
  if (def.element) return [value(def.element, key, ids, at && { ...at, path: at.path.slice(1) })]
  if (def.options) {
    const [first, ...rest] = at?.taken ?? []
    return value(def.options[first ?? 0]!, key, ids, at && first !== undefined ? { ...at, taken: rest } : undefined)
  }
  const within = def.innerType ?? def.in
  if (within) return value(within, key, ids, at)
  if (key === 'kind' && s.safeParse(kind).success) return kind
  if (s.safeParse(FITTING[key]).success) return FITTING[key]
  if (def.values) return def.values[0]
  if (def.entries) return Object.values(def.entries)[0]
  return [
    1,
    '1',
    'x',
    true,
    null,
    '2026-11-25',
    '2026-10',
    '2026-11-25T08:00:00.000Z',
    'EUR',
    'x@example.com',
    'long enough words',
  ].find(v => s.safeParse(v).success)
}

describe('ids that are not yours, in every field of every request', () => {
  let w: World
  let shed: Place
  const theirs = {} as Record<Placed, string>
  const mine = {} as Record<Thing, string>
  const who = {} as Record<Role, Client>
  before(async () => {
    w = await world()
    const id = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Shed', kind: 'area' })).id
    shed = (await w.c.get<{ rows: Place[] }>('/api/places')).rows.find(p => p.id === id)!
    const rope = await newItem(w.c, { name: 'Secret rope', code: 'ROP' })
    const tick = () => {
      w.clock.now += 60_000
    }
    const picture = async () => ((await (await sendPicture(w.c)).json()) as { id: string }).id
    const lies = async (place: string, into: Partial<Record<Thing, string>>) => {
      tick()
      const pictureId = await picture()
      const receipt = await w.c.must({
        kind: 'receipt',
        place,
        head: { supplier: 'Thole', pictures: [pictureId] },
        lines: [w.c.line({ item: rope.id, typed: '30', price: '77.31' })],
      })
      tick()
      await w.c.must({
        kind: 'count',
        place,
        lines: [w.c.line({ item: rope.id, from: place, counted: 'counted', typed: '28', again: '28' })],
      })
      const draft = v7()
      await w.c.ok('PUT', `/api/slips/${draft}`, {
        kind: 'receipt',
        place,
        head: { supplier: 'Thole' },
        lines: [w.c.line({ item: rope.id, typed: '2' })],
      })
      const differences = (await w.c.get<{ rows: { id: string; place: { id: string } }[] }>('/api/differences')).rows
      const [sheet] = (
        await w.c.ok<{ rows: { id: string }[] }>('POST', '/api/sheets', { areas: [place], blind: false })
      ).rows
      const group = await w.c.ok<{ id: string }>('POST', '/api/count-groups', {
        name: `Secret group of ${place}`,
        place,
        items: [rope.id],
      })
      const restock = v7()
      await w.c.ok('POST', '/api/restock', {
        id: restock,
        source: { kind: 'nobody', id: null },
        lines: [{ id: v7(), item: rope.id, place, typed: '3' }],
      })
      Object.assign(into, {
        place,
        slip: receipt.id,
        line: receipt.lines[0]!.id,
        draft,
        difference: differences.find(d => d.place.id === place)!.id,
        sheet: sheet!.id,
        count_group: group.id,
        restock,
        picture: pictureId,
      })
    }
    await lies(shed.id, theirs)
    await lies(w.lab.id, mine)
    theirs.session = (await w.c.get<{ rows: { id: string; current: boolean }[] }>('/api/sessions')).rows.find(
      s => s.current,
    )!.id
    mine.item = rope.id
    mine.job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { name: 'Ours', place: w.lab.id })).id
    for (const role of Object.keys(MAY) as Role[]) who[role] = await person(w, `lab-${role}`, role, w.lab.id)
  })
  after(() => w.stop())
  const ids = (t: Thing): string => (t === 'own' ? v7() : (mine[t] ?? v7()))
  /** All there is in the database, but what happened. */
  const everything = () => {
    const { client } = w.app.store
    const tables = client
      .prepare(
        "select name from sqlite_master where type = 'table' and name not in ('event') and name not like 'slip_search%' and name not like 'sqlite_%' order by name",
      )
      .pluck()
      .all() as string[]
    return JSON.stringify(
      tables.map(t => [t, client.prepare(`select * from "${t}"`).raw().all()]),
      (_key, v: unknown) => (typeof v === 'bigint' ? String(v) : v),
    )
  }

  it('is found by nobody, changes nothing, and tells nothing', async () => {
    const unmade: string[] = []
    let asked = 0
    const before = everything()
    for (const [name, o] of Object.entries(api as Record<string, Operation>)) {
      // They ask for nobody's place, and end the session that asks.
      if (o.right === 'none' || ['signOut', 'changeHands'].includes(name)) continue
      for (const part of ['params', 'query', 'body'] as const)
        for (const p of positions(o[part])) {
          const put = (of: 'params' | 'query' | 'body') =>
            value(o[of], of, ids, of === part ? { ...p, id: theirs[p.thing] } : undefined)
          const made = () =>
            [put('params'), put('query'), put('body')] as [Record<string, string>, Record<string, string>, unknown]
          const fits = (all: unknown[]) =>
            all.every((v, i) => o[(['params', 'query', 'body'] as const)[i]!].safeParse(v).success)
          const request = KINDS.map(k => {
            kind = k
            return made()
          }).find(fits)
          const at = `${name} ${part} ${p.path.join('.')}${p.taken.length ? ` (${p.taken.join('.')})` : ''}`
          if (!request) {
            unmade.push(at)
            continue
          }
          const [params, query, body] = request
          const path = o.path.replace(/:(\w+)/g, (_m, k: string) =>
            k === 'figure' ? 'on-hand' : (params[k] ?? 'today'),
          )
          const search = new URLSearchParams(
            Object.entries(query).flatMap(([k, v]) => (v === undefined || v === null ? [] : [[k, String(v)]])),
          )
          for (const role of Object.keys(MAY) as Role[]) {
            const wanted: Action = o.right === 'set_up_here' ? 'set_up' : (o.right as Action)
            // Whoever books nothing writes on no draft of others: what they begin has an id of its own.
            const own = MAY[role].includes('book') || part === 'params' ? path : path.replace(mine.draft, v7())
            const r = await who[role].call(
              o.method.toUpperCase(),
              `${own}?${search}`,
              o.method === 'get' ? undefined : body,
            )
            asked++
            const said = `${role}: ${at}: ${r.status} ${r.text.slice(0, 200)}`
            if (
              !MAY[role].includes(wanted) ||
              (wanted === 'set_up' && o.right === 'set_up') ||
              wanted === 'close_month'
            )
              expect([r.status, r.body.code], said).to.deep.equal([403, 'not_allowed'])
            else
              expect(`${r.status} ${r.body.code}`, said).to.match(
                part === 'body' ? /^422 unknown_\w+$/ : /^404 not_found$/,
              )
            expect(r.text, said).to.not.match(/Shed|77\.31|Secret/)
          }
        }
    }
    expect(unmade, 'requests that the table cannot make').to.deep.equal([])
    expect(asked, 'a table that found hardly anything would hold nothing').to.be.greaterThan(300)
    expect(everything()).to.equal(before)
  })
})
