import { checkDigit } from '@shelve/core'
import {
  changeAccountCodes,
  createCostCentre,
  createGroup,
  createItem,
  createJob,
  createPlace,
  NOBODY,
  schema,
  setLevel,
  updatePlace,
} from '@shelve/server'
import { AREAS, ITEMS, type AreaName, type DemoItem } from './catalogue.ts'
import { ONCE_OPENED, WASTE_CODES } from './opened.ts'
import { COUNT_EVERY, DAY, GALLEY_BIN, METHODS, SATELLITES, type Satellite, type Station } from './station.ts'

/** Stockrooms and bins, cost centres and jobs, categories and items with their levels. */
export function build(s: Station): void {
  const { app } = s
  for (const area of AREAS) {
    const id =
      area === 'Wet lab'
        ? [...app.places.rows.values()][0]!.id
        : createPlace(app, { name: area, kind: 'area', countEveryDays: COUNT_EVERY[area] })
    const uid = app.places.row(id)!.uid
    if (area === 'Wet lab')
      updatePlace(app, uid, { name: area, kind: 'area', countEveryDays: COUNT_EVERY[area] }, undefined)
    s.areas.set(area, uid)
    const names =
      area === 'Galley' ? ['Dry store', 'Cold room', 'Ice room', 'Galley shelf'] : ['A1', 'A2', 'B1', 'B2', 'B3']
    s.bins.set(
      area,
      names.map(name => app.places.row(createPlace(app, { name, parent: uid, kind: 'bin' }))!.uid),
    )
    createPlace(app, { name: 'Held goods', parent: uid, kind: 'held' })
  }
  for (const name of Object.keys(SATELLITES) as Satellite[])
    s.satellites.set(name, app.places.row(createPlace(app, { name, kind: 'area', countEveryDays: 91 }))!.uid)
  const centre = {
    lab: createCostCentre(app, 'Water chemistry', 'CHEM'),
    bio: createCostCentre(app, 'Seabird survey', 'BIRD'),
    med: createCostCentre(app, 'Medical', 'MED'),
    food: createCostCentre(app, 'Catering', 'FOOD'),
    boat: createCostCentre(app, 'Boats', 'BOAT'),
  }
  const jobs = (area: AreaName, list: [string, string, string][]) =>
    s.jobs.set(
      area,
      list.map(([code, name, costCentre]) => createJob(app, { code, name, costCentre })),
    )
  jobs('Wet lab', [
    ['NIT', 'Nitrate run', centre.lab],
    ['PLK', 'Plankton plates', centre.bio],
    ['GUT', 'Gull pellet survey', centre.bio],
    ['BUF', 'Probe calibration', centre.lab],
  ])
  jobs('Sick bay', [
    ['CLI', 'Morning clinic', centre.med],
    ['KIT', 'First-aid kits', centre.med],
  ])
  jobs('Galley', [
    ['BRK', 'Breakfast', centre.food],
    ['DIN', 'Dinner', centre.food],
    ['BAK', 'Baking', centre.food],
  ])
  jobs('Boat shed', [
    ['PET', 'Launch Petrel, upkeep', centre.boat],
    ['ENG', 'Generator service', centre.boat],
    ['MOR', 'Moorings', centre.boat],
  ])
  s.reasons = new Map(
    app.db
      .select()
      .from(schema.wasteReason)
      .all()
      .map(r => [r.name, r.uid]),
  )
  const categories = new Map<string, string>()
  for (const it of ITEMS) {
    if (categories.has(it.category)) continue
    const uid = app.uid()
    const kinds = new Set(ITEMS.filter(o => o.category === it.category).map(o => o.identifiedBy))
    app.db
      .insert(schema.category)
      .values({
        uid,
        name: it.category,
        parentId: null,
        identifiedBy: kinds.size === 1 ? it.identifiedBy : null,
        method: METHODS[it.category] ?? null,
        active: true,
        revision: 1,
      })
      .run()
    categories.set(it.category, uid)
  }
  ITEMS.forEach((it, n) => make(s, it, n, categories.get(it.category)!))
  accounts(s, categories)
  groups(s, categories)
  for (const [name, rows] of Object.entries(SATELLITES))
    for (const row of rows) {
      const [code, target] = row.split(' ') as [string, string]
      setLevel(app, {
        item: s.items.get(code)!,
        place: s.satellites.get(name as Satellite)!,
        minimum: String(Math.max(1, Math.floor(Number(target) / 3))),
        target,
        bin: null,
      })
    }
}

/** What is counted more often than its area: a category, and some things picked by hand. */
function groups(s: Station, categories: ReadonlyMap<string, string>): void {
  const group = (name: string, area: AreaName, everyDays: number, of: { category?: string; codes?: string[] }) =>
    createGroup(s.app, {
      name,
      place: s.areas.get(area)!,
      category: of.category === undefined ? null : categories.get(of.category)!,
      items: (of.codes ?? []).map(code => s.items.get(code)!),
      everyDays,
      active: true,
    })
  group('Milk and cheese', 'Galley', 4, { category: 'Milk and cheese' })
  group('Locked cupboard', 'Wet lab', 14, { codes: ['ETH-96', 'HCL-37', 'FOR-10', 'LUG-1'] })
}

/** The codes by which the station's office keeps its books: a stock account and one for use for each stockroom. */
function accounts(s: Station, categories: ReadonlyMap<string, string>): void {
  const number = (area: string) => Object.keys(COUNT_EVERY).indexOf(area) + 1
  changeAccountCodes(
    s.app,
    {
      codes: [
        ...[...categories].map(([name, id]) => ({
          kind: 'category' as const,
          id,
          code: `14${number(ITEMS.find(i => i.category === name)!.area)}0`,
        })),
        ...[...s.areas].map(([name, id]) => ({ kind: 'place' as const, id, code: `50${number(name)}0` })),
        ...[...s.satellites.values()].map(id => ({ kind: 'place' as const, id, code: '5090' })),
        { kind: 'reason', id: s.reasons.get('Expired')!, code: '5110' },
        { kind: 'reason', id: s.reasons.get('Spoiled')!, code: '5120' },
      ],
    },
    NOBODY,
  )
}

/** An item with its packs, codes and levels. */
function make(s: Station, it: DemoItem, n: number, category: string): void {
  const { app } = s
  // The range 952 is kept by GS1 for demonstrations (from memory): no real article has such a number.
  const gtin = (k: number) => {
    const body = `952${String(1000 + n).padStart(8, '0')}${k}`
    return body + checkDigit(body)
  }
  const id = createItem(app, {
    code: it.code,
    name: it.name,
    category,
    unit: it.unit,
    decimals: it.decimals,
    identifiedBy: it.identifiedBy,
    // By the list of the year before; what they cost now is set by the first slip.
    ...(METHODS[it.category] === 'standard' ? { standardCost: (it.price * 0.95).toFixed(4) } : {}),
    shelfLifeDays: it.life || null,
    ...ONCE_OPENED[it.code],
    wasteCode: WASTE_CODES[it.category] ?? '',
    codes: [gtin(0)],
    packs: it.pack
      ? [{ name: it.pack, size: String(it.size), codes: [gtin(1)], buying: true, issuing: false, counting: true }]
      : [],
  })
  const uid = app.rows.itemById.get({ id })!.uid
  s.items.set(it.code, uid)
  const step = it.size > 1 ? it.size : 1
  const up = (x: number) => Math.max(step, Math.ceil(x / step) * step)
  const minimum = it.identifiedBy === 'serial' ? 1 : Math.max(it.decimals ? 0.5 : 1, Math.round(it.perDay * 8))
  setLevel(app, {
    item: uid,
    place: s.areas.get(it.area)!,
    minimum: String(minimum),
    target: String(it.identifiedBy === 'serial' ? 2 : Math.max(up(it.perDay * 24), minimum + step)),
    bin: s.bins.get(it.area)![it.area === 'Galley' ? (GALLEY_BIN[it.category] ?? 0) : n % s.bins.get(it.area)!.length]!,
  })
}

/** What lay on the shelves when Shelve was begun, and what one costs of what is kept at a standard cost. */
export function open(s: Station): void {
  const standard = ITEMS.filter(it => METHODS[it.category] === 'standard')
  s.book('tova', s.clock.now + 60_000, {
    kind: 'method_change',
    head: { method: 'standard', why: 'what one costs by the list' },
    lines: standard.map(it => s.line(it, '', { unitCost: it.price.toFixed(4) })),
  })
  for (const area of AREAS) {
    const items = ITEMS.filter(i => i.area === area)
    const lines = items.flatMap(it =>
      s.arrival(
        it,
        Math.max(1, Math.ceil((it.perDay * s.random.int(12, 26)) / it.size)),
        s.clock.now - s.random.int(0, 40) * DAY,
      ),
    )
    s.book('tova', s.clock.now + 600_000, { kind: 'opening', place: s.areas.get(area)!, lines })
  }
}
