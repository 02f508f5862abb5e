import { expect } from 'chai'
import { api, fieldInWords, type Operation } from '@shelve/contract'
import { newItem, world, type World } from './client.ts'

/** Words that a schema's package would say to a program. */
const NO_WORDS = /expected|received|invalid|unrecognized|too (small|big)|[<>]=?\d|undefined|\bint\b/i
const LONG = 'x'.repeat(5000)
const ODD = [
  undefined,
  null,
  '',
  'x',
  '30 days',
  LONG,
  1.5,
  -1,
  1e13,
  NaN,
  true,
  [],
  Array(3000).fill('x'),
  {},
  { x: 1 },
]

describe('what is wrong with what came in', () => {
  let w: World
  before(async () => {
    w = await world()
  })
  after(() => w.stop())

  it('is said in plain words, whatever it is and wherever it stands', () => {
    const said = new Set<string>()
    const look = (o: Operation, at: string, value: unknown) => {
      for (const schema of [o.params, o.query, o.body]) {
        const read = schema.safeParse(value)
        for (const { message } of read.success ? [] : read.error.issues) {
          // Which words of ours may stand there is listed behind the colon.
          expect(message.split(': ')[0], at).to.not.match(NO_WORDS)
          said.add(message)
        }
      }
    }
    for (const [name, o] of Object.entries(api as Record<string, Operation>)) {
      for (const odd of ODD) look(o, name, odd)
      const shape = (o.body as unknown as { shape?: Record<string, unknown> }).shape ?? {}
      for (const key of Object.keys(shape))
        for (const odd of ODD)
          for (const value of [{ [key]: odd }, { [key]: [odd] }, { [key]: [{ id: odd, item: odd, typed: odd }] }])
            look(o, `${name} ${key}`, value)
    }
    // What each of the sorts of refusal says, so that none of them was looked at in vain.
    expect([...said]).to.include.members([
      'this is missing',
      'this is empty',
      'text is wanted',
      'a number is wanted',
      'a whole number is wanted',
      'a list is wanted',
      'yes or no is wanted (true or false)',
      '1 or more is wanted',
      '36500 or less is wanted',
      '120 characters or fewer are wanted',
      '500 or fewer are wanted',
    ])
  })

  it('is said with the name of its field, as somebody reads it; a program finds it as it was sent', async () => {
    const item = await newItem(w.c, { name: 'Gloves' })
    const cases: [string, string, object, string, string][] = [
      [
        'POST',
        '/api/categories',
        { name: 'Dry', shelfLifeDays: '30 days' },
        'shelfLifeDays',
        'Shelf life days: a number is wanted.',
      ],
      [
        'POST',
        '/api/categories',
        { name: 'Dry', shelfLifeDays: 0 },
        'shelfLifeDays',
        'Shelf life days: 1 or more is wanted.',
      ],
      [
        'POST',
        '/api/categories',
        { name: 'Dry', daysOnceOpened: 2.5 },
        'daysOnceOpened',
        'Days once opened: a whole number is wanted.',
      ],
      ['POST', '/api/categories', {}, 'name', 'Name: this is missing.'],
      [
        'POST',
        '/api/items',
        { code: 'X', name: 'X', unit: 'each', packs: [{ name: 'box', size: 'many', codes: [] }] },
        'packs.0.size',
        'Pack 1, size: a number like 12, 0.75 or 1/3 is wanted.',
      ],
      [
        'PUT',
        '/api/levels',
        { item: item.id, place: w.lab.id, minimum: '5 boxes', target: null },
        'minimum',
        'Minimum: a decimal number like "2.5", not below zero, is wanted.',
      ],
      ['PUT', '/api/settings', { patienceDays: 400 }, 'patienceDays', 'Patience days: 365 or less is wanted.'],
      [
        'POST',
        '/api/places',
        [] as never,
        null as never,
        'The body is not as it should be: something else is wanted here.',
      ],
    ]
    for (const [method, path, body, field, detail] of cases) {
      const r = await w.c.call(method, path, body)
      expect([r.status, r.body.code, r.body.detail, r.body.fields[0]?.field ?? null], path).to.deep.equal([
        422,
        'invalid',
        detail,
        field,
      ])
    }
    expect((await w.c.call('GET', '/api/stock?limit=many')).body.detail).to.equal('Limit: a number is wanted.')
  })

  it('a field’s name is what somebody calls it', () => {
    for (const [field, words] of [
      ['shelfLifeDays', 'shelf life days'],
      ['makes.besides.1.shelfLife', 'makes, beside 2, shelf life'],
      ['categories.0', 'category 1'],
      ['lines.11.lot.code', 'line 12, lot, code'],
      ['lines', 'lines'],
    ] as const)
      expect(fieldInWords(field)).to.equal(words)
  })
})
