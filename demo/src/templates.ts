import { createItem, createTemplate, schema } from '@shelve/server'
import { Template, type TemplateInput } from '@shelve/contract'
import type { Station } from './station.ts'

type More = Partial<NonNullable<TemplateInput['lines']>[number]> & {
  readonly or?: readonly [code: string, typed: string]
}
type Line = readonly [code: string, typed: string, more?: More]
/** What is made on Gannet Holm, and lies on no shelf yet. */
const MADE = [
  { code: 'STO-F', name: 'Stock, fish', unit: 'L', decimals: 3, category: 'Larder', identifiedBy: 'lot_expiry' },
  { code: 'SAU-W', name: 'Sauce, white', unit: 'L', decimals: 3, category: 'Larder', identifiedBy: 'lot_expiry' },
  { code: 'DIN-F', name: 'Fish dinner', unit: 'portion', decimals: 0, category: 'Larder', identifiedBy: 'quantity' },
  {
    code: 'RIN-E',
    name: 'Rinsing ethanol 70 %',
    unit: 'L',
    decimals: 3,
    category: 'Reagents',
    identifiedBy: 'lot_expiry',
  },
  { code: 'WAS-P', name: 'Probe wash', unit: 'L', decimals: 3, category: 'Reagents', identifiedBy: 'lot_expiry' },
] as const
const TEMPLATES: readonly {
  code: string
  name: string
  makes: readonly [code: string, typed: string, more?: { yields?: string; batch?: string; shelfLife?: number }] | null
  lines: readonly Line[]
  steps: string
}[] = [
  {
    code: 'STOCK',
    name: 'Fish stock',
    makes: ['STO-F', '5', { yields: '90', shelfLife: 4 }],
    lines: [
      ['FIS-F', '0.8'],
      ['ONI-Y', '0.6', { loss: '10' }],
      ['CAR-O', '0.4', { loss: '15' }],
      ['LEE-K', '0.3', { loss: '20', optional: true }],
    ],
    steps:
      'Everything into cold water.\nBring it to the boil, then simmer for half an hour.\nStrain it, and cool it within the hour.',
  },
  {
    code: 'SAUCE',
    name: 'White sauce',
    makes: ['SAU-W', '2', { yields: '95', batch: '0.5', shelfLife: 2 }],
    lines: [
      ['STO-F', '1.5'],
      ['BUT-U', '0.25', { fixed: '20 g', note: 'the more is for the pan' }],
      ['FLO-W', '200 g', { or: ['COR-S', '90 g'] }],
    ],
    steps: 'Melt the butter, stir in the flour.\nAdd the stock by and by, stirring.\nTen minutes at least.',
  },
  {
    code: 'DINNER',
    name: 'Fish with white sauce',
    makes: ['DIN-F', '10'],
    lines: [
      ['FIS-F', '1.8', { loss: '12' }],
      ['SAU-W', '0.9', { fixed: '0.1' }],
      ['LEM-U', '4'],
    ],
    steps: 'Thaw the fish in the cold room the day before.\nTwelve minutes in the oven, at 180 °C.',
  },
  {
    code: 'RINSE',
    name: 'Rinsing ethanol, from 96 to 70 %',
    makes: ['RIN-E', '2.5', { shelfLife: 180 }],
    lines: [['ETH-96', '1823 ml']],
    steps: 'Fill up with pure water to 2.5 L.\nLabel the bottle with the day.',
  },
  {
    code: 'WASH',
    name: 'Probe wash',
    makes: ['WAS-P', '1', { batch: '0.5', shelfLife: 90 }],
    lines: [
      ['RIN-E', '0.4', { loss: '2' }],
      ['ISO-P', '600 ml'],
    ],
    steps: 'Mix in the hood, cap it at once.\nLabel the bottle with lot and day.',
  },
  {
    code: 'NITRATE',
    name: 'Nitrate run, one station',
    makes: null,
    lines: [
      ['NIT-25', '6'],
      ['FLT-045', '1', { or: ['FLT-020', '1'] }],
      ['VIA-20', '12', { fixed: '2', loss: '5' }],
      ['WAS-P', '60 ml', { loss: '10' }],
    ],
    steps: 'Filter 250 ml of each depth.\nTwo blanks for each run.',
  },
]

/** Items that are made, and how everything is made. */
export function writeTemplates(s: Station): void {
  const { app } = s
  const categories = new Map(
    app.db
      .select()
      .from(schema.category)
      .all()
      .map(c => [c.name, c.uid]),
  )
  app.setUp(() => {
    for (const { category, ...it } of MADE) {
      const id = createItem(app, {
        ...it,
        category: categories.get(category)!,
        codes: [],
        packs: [],
      })
      s.items.set(it.code, app.rows.itemById.get({ id })!.uid)
    }
    for (const { makes, lines, ...t } of TEMPLATES)
      createTemplate(
        app,
        s.caller('tova'),
        Template.parse({
          ...t,
          makes: makes && { item: s.items.get(makes[0]), typed: makes[1], ...makes[2] },
          lines: lines.map(([code, typed, { or, ...more } = {}]) => ({
            id: app.uid(),
            item: s.items.get(code),
            typed,
            ...(or ? { instead: [{ item: s.items.get(or[0]), typed: or[1] }] } : {}),
            ...more,
          })),
        }),
      )
  })
}
