import { expect } from 'chai'
import { verify } from '@shelve/server'
import fc from 'fast-check'
import { v7 } from 'uuid'
import { api, type Effect, type Item, type Operation, type SlipContentInput } from '@shelve/contract'
import { openApiDocument } from '@shelve/contract/openapi'
import { hasWords } from '../src/papers/words.ts'
import { Client, newItem, world, type World } from './client.ts'

const operations = Object.entries(api as Record<string, Operation>)
const filled = (path: string, id = v7()) =>
  path.replace(':figure', 'on-hand').replace(':code', 'X').replace(':name', 'today').replace(':id', id)

describe('who may do what', () => {
  let w: World
  let keeper: Client
  before(async () => {
    w = await world()
    await w.c.ok('POST', '/api/people', { name: 'Ruben', signIn: 'ruben', password: 'long enough', role: 'keeper' })
    keeper = new Client(w.c.base)
    await keeper.ok('POST', '/api/session', { signIn: 'ruben', password: 'long enough' })
  })
  after(() => w.stop())

  it('every route asks for a session, but those that make one', async () => {
    const nobody = new Client(w.c.base)
    for (const [name, o] of operations) {
      const r = await nobody.call(o.method.toUpperCase(), filled(o.path), o.method === 'get' ? undefined : {})
      if (o.right === 'none') expect(r.status, name).to.not.equal(401)
      else expect([r.status, r.body.code], name).to.deep.equal([401, 'not_signed_in'])
    }
    for (const path of ['/api/events', '/api/ledger.csv', '/api/ledger.jsonl', '/api/ledger.journal'])
      expect((await nobody.call('GET', path)).status, path).to.equal(401)
  })
  it('a wrong password, an ended session, another site, and a second first run are refused', async () => {
    expect((await keeper.call('POST', '/api/session', { signIn: 'ruben', password: 'wrong' })).body.code).to.equal(
      'wrong_sign_in',
    )
    expect((await w.c.call('PUT', '/api/settings', {}, { origin: 'https://elsewhere.example' })).body.code).to.equal(
      'other_origin',
    )
    expect(
      (
        await w.c.call('POST', '/api/start', {
          organisation: { name: 'X', zone: 'UTC', currency: 'EUR', decimalMark: '.', dateOrder: 'dmy' },
          manager: { name: 'Y', signIn: 'yy', password: 'long enough' },
          area: 'Z',
        })
      ).body.code,
    ).to.equal('already_set_up')
    const brief = new Client(w.c.base)
    await brief.ok('POST', '/api/session', { signIn: 'ruben', password: 'long enough' })
    await brief.ok('DELETE', '/api/session')
    expect((await brief.call('GET', '/api/session')).status).to.equal(401)
    const { cookie } = keeper
    w.clock.now += 15 * 86_400_000
    expect(
      (await new Client(w.c.base).call('GET', '/api/session', undefined, { cookie })).status,
      'sessions expire',
    ).to.equal(401)
    w.clock.now -= 15 * 86_400_000
  })
})

describe('every refusal of a slip says what is so and what can be done', () => {
  let w: World
  let it1: Item
  let lots: Item
  let serial: Item
  let job: string
  before(async () => {
    w = await world()
    it1 = await newItem(w.c, { name: 'Gloves', unit: 'box', packs: [{ name: 'case', size: '10' }] })
    lots = await newItem(w.c, { name: 'Reagent', unit: 'L', decimals: 2, identifiedBy: 'lot_expiry' })
    serial = await newItem(w.c, { name: 'Probe', identifiedBy: 'serial' })
    job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    await w.c.must({
      kind: 'receipt',
      place: w.lab.id,
      head: { supplier: 'S' },
      lines: [
        w.c.line({ item: it1.id, typed: '5', price: '1' }),
        w.c.line({ item: lots.id, typed: '2', price: '1', lot: { code: 'OLD', expiry: '2026-11-24' } }),
        w.c.line({ item: serial.id, typed: '1', price: '9', lot: { code: 'P1' } }),
      ],
    })
  })
  after(() => w.stop())
  const receipt = (line: object, head: object = { supplier: 'S' }): SlipContentInput => ({
    kind: 'receipt',
    place: w.lab.id,
    head,
    lines: [w.c.line(line)],
  })
  const issue = (line: object, more: object = {}): SlipContentInput => ({
    kind: 'issue',
    place: w.lab.id,
    head: { job },
    lines: [w.c.line(line)],
    ...more,
  })
  /** A code, what calls it forth, and where one could be mixed up with another, what must stand in its words. */
  const cases: [string, () => SlipContentInput, RegExp?][] = [
    ['quantity_negative', () => receipt({ item: it1.id, typed: '-5' })],
    ['quantity_zero', () => receipt({ item: it1.id, typed: '0' })],
    ['too_large', () => receipt({ item: it1.id, typed: '99999999999' })],
    ['too_many_decimals', () => receipt({ item: it1.id, typed: '1.5' }), /Nearest are 1\b.* and 2\b/],
    ['quantity_not_a_quantity', () => receipt({ item: it1.id, typed: 'many' }), /“many”/],
    ['unknown_unit', () => receipt({ item: it1.id, typed: '1 pallet' }), /“pallet”.*box, case/],
    [
      'quantity_other_dimension',
      () => receipt({ item: lots.id, typed: '1 kg', lot: { code: 'NEW', expiry: '2030-01-01' } }),
      /^kg .* in L\b/,
    ],
    ['quantity_empty', () => receipt({ item: it1.id })],
    ['unknown_item', () => receipt({ item: v7(), typed: '1' })],
    ['item_needed', () => receipt({ typed: '1' })],
    ['supplier_needed', () => receipt({ item: it1.id, typed: '1' }, {})],
    ['not_a_price', () => receipt({ item: it1.id, typed: '1', price: 'dear' })],
    ['lot_needed', () => receipt({ item: lots.id, typed: '1' })],
    ['expiry_needed', () => receipt({ item: lots.id, typed: '1', lot: { code: 'NEW' } })],
    ['expiry_differs', () => receipt({ item: lots.id, typed: '1', lot: { code: 'OLD', expiry: '2030-01-01' } })],
    ['item_without_lots', () => receipt({ item: it1.id, typed: '1', lot: { code: 'L1' } })],
    ['serial_needed', () => receipt({ item: serial.id, typed: '1' })],
    ['serial_already_here', () => receipt({ item: serial.id, typed: '1', lot: { code: 'P1' } })],
    ['serial_is_one', () => receipt({ item: serial.id, typed: '2', lot: { code: 'P2' } })],
    [
      'basis_zero',
      () => ({
        ...receipt({ item: it1.id, typed: '1' }),
        head: { supplier: 'S', charges: [{ label: 'Freight', amount: '5', basis: 'value' as const }] },
      }),
    ],
    ['insufficient_stock', () => issue({ item: it1.id, typed: '6' })],
    ['for_whom', () => issue({ item: it1.id, typed: '1' }, { head: {} })],
    ['in_the_future', () => issue({ item: it1.id, typed: '1' }, { effectiveAt: '2026-11-25T11:00:00Z' })],
    ['insufficient_stock', () => issue({ item: it1.id, typed: '1' }, { effectiveAt: '2026-11-01T11:00:00Z' })],
    ['insufficient_stock', () => issue({ item: lots.id, typed: '1' })],
    ['no_lines', () => ({ kind: 'issue', place: w.lab.id, head: { job } })],
    ['place_needed', () => ({ ...issue({ item: it1.id, typed: '1' }), place: null })],
    ['reason_needed', () => ({ kind: 'waste', place: w.lab.id, lines: [w.c.line({ item: it1.id, typed: '1' })] })],
    [
      'unknown_difference',
      () => ({ kind: 'closing', place: w.lab.id, lines: [w.c.line({ difference: v7(), act: 'close' })] }),
    ],
    [
      'unknown_slip',
      () => ({ kind: 'correction', head: { corrects: v7() }, lines: [w.c.line({ ref: v7(), act: 'take_back' })] }),
    ],
    ['unknown_line', () => ({ kind: 'bring_back', place: w.lab.id, lines: [w.c.line({ ref: v7(), typed: '1' })] })],
  ]
  cases.forEach(([code, content, words], n) =>
    it(`${n + 1}. ${code}`, async () => {
      const seq = (await w.c.get<{ seq: number }>('/api/health')).seq
      const r = await w.c.book(content())
      expect([r.status, r.body.fields.map(f => f.code)].flat())
        .to.include(422)
        .and.to.include(code)
      for (const f of r.body.fields)
        expect((hasWords(f.code) || f.code.startsWith('unknown_')) && f.message.length > 15, f.code).to.equal(true)
      if (words) expect(r.body.fields.find(f => f.code === code)!.message).to.match(words)
      expect(r.headers.get('content-type')).to.contain('application/problem+json')
      expect((await w.c.get<{ seq: number }>('/api/health')).seq, 'nothing half done').to.equal(seq)
    }),
  )
  it('an expired lot is refused for a job, taken by a manager with a reason, and may go to waste', async () => {
    const [lot] = (await w.c.get<{ rows: { id: string; state: string }[] }>(`/api/items/${lots.id}/lots`)).rows
    expect(lot!.state).to.equal('expired')
    const line = { item: lots.id, typed: '1', lot: { id: lot!.id } }
    expect((await w.c.book(issue(line))).body.code).to.equal('lot_not_usable')
    expect(
      (await w.c.book(issue({ ...line, override: true }, { head: { job, why: 'tested, still good' } }))).status,
    ).to.equal(201)
    const reason = (await w.c.get<{ rows: { id: string }[] }>('/api/waste-reasons')).rows[0]!.id
    expect(
      (
        await w.c.book({
          kind: 'waste',
          place: w.lab.id,
          head: { reason },
          lines: [w.c.line({ item: lots.id, typed: '1' })],
        })
      ).status,
    ).to.equal(201)
  })
  it('1.500 is asked about where it can be both; two people cannot retire and issue one item at once', async () => {
    const oil = await newItem(w.c, { name: 'Oil', unit: 'L', decimals: 3 })
    const r = await w.c.book(receipt({ item: oil.id, typed: '1.500' }))
    expect([r.body.code, r.body.fields[0]!.detail.choices]).to.deep.equal(['ambiguous', ['1.5 L', '1500 L']])
    await w.c.must(receipt({ item: oil.id, typed: '2', price: '1' }))
    const [gone, taken] = await Promise.all([
      w.c.call('DELETE', `/api/items/${oil.id}`),
      w.c.book(issue({ item: oil.id, typed: '2' })),
    ])
    expect([gone.status, taken.status]).to.be.deep.oneOf([
      [409, 201],
      [204, 422],
    ])
  })
  it('a draft somebody else saved is not overwritten; what was seen must still happen when it is booked', async () => {
    const id = v7()
    const content = issue({ item: it1.id, typed: '3' })
    await w.c.ok('PUT', `/api/slips/${id}`, content)
    await w.c.ok('PUT', `/api/slips/${id}`, content)
    expect((await w.c.call('PUT', `/api/slips/${id}`, { ...content, taker: 'Tova' })).body.code).to.equal('draft_there')
    const b = (await w.c.ok<{ id: string }>('POST', '/api/places', { name: 'Bin', parent: w.lab.id })).id
    const seen = (await w.c.ok<Effect>('POST', `/api/slips/${id}/effect`, content)).fingerprint
    await w.c.must({ kind: 'move', place: w.lab.id, lines: [w.c.line({ item: it1.id, typed: '4', to: b })] })
    const moved = await w.c.book(content, id, seen)
    expect([moved.status, moved.body.code]).to.deep.equal([409, 'effect_changed'])
    expect((moved.body as unknown as { effect: Effect }).effect.lines[0]!.lots).to.have.length(2)
    expect(
      (await w.c.book(content, id, (moved.body as unknown as { effect: Effect }).effect.fingerprint)).status,
    ).to.equal(201)
  })
})

type Schema = {
  type?: string | string[]
  enum?: unknown[]
  const?: unknown
  properties?: Record<string, Schema>
  items?: Schema
  anyOf?: Schema[]
  oneOf?: Schema[]
  pattern?: string
  $ref?: string
  maxLength?: number
  minimum?: number
  maximum?: number
}
/** Inputs from the OpenAPI document: as it describes them, with now and then something that it does not. */
function inputs(schema: Schema, all: Record<string, Schema>, depth = 0): fc.Arbitrary<unknown> {
  const junk = fc.oneof(
    fc.constant(null),
    fc.constant(''),
    fc.constant([]),
    fc.constant({}),
    fc.integer(),
    fc.double(),
    fc.string({ maxLength: 12 }),
    fc.constant('\u0000'),
    fc.constant('99999999999999999999'),
    fc.constant('__proto__'),
  )
  const described = (): fc.Arbitrary<unknown> => {
    if (schema.$ref) return inputs(all[schema.$ref.split('/').at(-1)!]!, all, depth)
    if (schema.const !== undefined) return fc.constant(schema.const)
    if (schema.enum) return fc.constantFrom(...schema.enum)
    const some = schema.anyOf ?? schema.oneOf
    if (some) return fc.oneof(...some.map(s => inputs(s, all, depth)))
    const type = Array.isArray(schema.type) ? schema.type[0] : schema.type
    if (type === 'object')
      return fc.record(
        Object.fromEntries(Object.entries(schema.properties ?? {}).map(([k, s]) => [k, inputs(s, all, depth + 1)])),
        { requiredKeys: [] },
      )
    if (type === 'array') return fc.array(inputs(schema.items ?? {}, all, depth + 1), { maxLength: 3 })
    if (type === 'integer')
      return fc.integer({ min: schema.minimum ?? -9, max: Math.min(schema.maximum ?? 99, 2 ** 31) })
    if (type === 'boolean') return fc.boolean()
    if (type !== 'string') return fc.constant(null)
    if (schema.pattern?.includes('[0-9a-f]{8}-')) return fc.constantFrom(...known, v7())
    if (schema.pattern?.includes('T'))
      return fc.constantFrom('2026-11-25T08:00:00Z', '1970-01-01T00:00:00Z', '9999-12-31T23:59:59Z')
    if (schema.pattern?.startsWith('^\\d{4}-')) return fc.constantFrom('2026-11-25', '0001-01-01', '9999-12-31')
    if (schema.pattern?.includes('\\d')) return fc.constantFrom('0', '2.5', '1/3', '9999999999999', '0.000001')
    return fc.oneof(
      fc.constantFrom('1', '2 case + 3', '1e9', 'Ω', "' or 1=1 --", '%', 'UTC', 'EUR', 'x'.repeat(50)),
      fc.string({ maxLength: 20 }),
    )
  }
  return fc.oneof({ weight: 14, arbitrary: described() }, { weight: 1, arbitrary: junk })
}
const known: string[] = []

describe('the server keeps to its OpenAPI document', () => {
  let w: World
  before(async () => {
    w = await world()
    const it1 = await newItem(w.c, { name: 'Gloves', unit: 'box', packs: [{ name: 'case', size: '10' }] })
    const slip = await w.c.received(w.lab.id, 'S', w.c.line({ item: it1.id, typed: '5', price: '1' }))
    const job = (await w.c.ok<{ id: string }>('POST', '/api/jobs', { code: 'J', name: 'Job' })).id
    known.push(it1.id, w.lab.id, slip.id, slip.lines[0]!.id, job)
  })
  after(() => w.stop())

  it('is OpenAPI 3.1 and describes every route', async () => {
    const document = await w.c.get<{ openapi: string; paths: Record<string, object> }>('/api/openapi.json')
    expect(document.openapi).to.match(/^3\.1/)
    expect(Object.values(document.paths).reduce((n, p) => n + Object.keys(p).length, 0)).to.equal(operations.length)
  })
  const document = openApiDocument('x') as unknown as {
    paths: Record<
      string,
      Record<
        string,
        {
          requestBody?: { content: Record<string, { schema: Schema }> }
          parameters?: { name: string; in: string; schema: Schema }[]
        }
      >
    >
    components: { schemas: Record<string, Schema> }
  }
  for (const [name, o] of operations) {
    if (name === 'signOut' || name === 'firstRun') continue
    it(`${name}: any input gets an answer it describes, or a problem with a code; never a 5xx`, async () => {
      const described = document.paths[o.path.replace(/:(\w+)/g, '{$1}')]![o.method]!
      const schema = described.requestBody?.content['application/json']?.schema
      const body = schema ? inputs(schema, document.components.schemas) : fc.constant(undefined)
      const parameters = (described.parameters ?? []).filter(p => p.in === 'query')
      const queries = fc.record(
        Object.fromEntries(parameters.map(p => [p.name, inputs(p.schema, document.components.schemas)])),
        { requiredKeys: [] },
      )
      await fc.assert(
        fc.asyncProperty(body, queries, fc.constantFrom(...known, v7(), 'x%00', '..%2F..'), async (b, q, id) => {
          const params = new URLSearchParams(
            Object.entries(q).map(([k, v]) => [k, typeof v === 'string' ? v : JSON.stringify(v)]),
          )
          const r = await w.c.call(
            o.method.toUpperCase(),
            `${filled(o.path, id)}?${params}`,
            b === undefined && o.method !== 'get' && schema ? {} : b,
          )
          expect(r.status, `${name} ${r.text.slice(0, 300)}`).to.be.lessThan(500)
          if (r.status >= 400) expect(r.body.code, r.text.slice(0, 200)).to.be.a('string')
          else if (r.status !== 204) expect(o.answer.safeParse(r.body).error?.issues, name).to.equal(undefined)
        }),
        { numRuns: name === 'verify' ? 2 : Number(process.env.RUNS ?? 25) },
      )
    })
  }
  it('what is no JSON, too long or under no address gets a problem too; the books are as sound as before', async () => {
    expect((await w.c.call('POST', '/api/items', '{"a":')).body.code).to.equal('not_json')
    expect((await w.c.call('POST', '/api/items', JSON.stringify({ note: 'x'.repeat(2_000_000) }))).body.code).to.equal(
      'too_large',
    )
    expect((await w.c.call('GET', '/api/nothing')).body.code).to.equal('not_found')
    expect((await w.c.call('GET', '/api/items/%E0%A4%A')).status).to.be.within(400, 404)
    expect(verify(w.app).faults).to.deep.equal([])
  })
})
