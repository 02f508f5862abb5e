import { v7 } from 'uuid'
import type { Item, TemplateInput } from '@shelve/contract'
import { newItem, type World } from './client.ts'

export type Line = readonly [item: string, typed: string, fixed?: string, loss?: string]
/** Things of a galley: how they are counted, how much there is, and what one costs. As the core's reference has them (core/test/jobs). */
const KITCHEN: Record<string, [unit: string, decimals: number, there: string, price: string]> = {
  onion: ['kg', 3, '2', '1.20'],
  carrot: ['kg', 3, '1.5', '0.90'],
  'stock cube': ['each', 0, '6', '0.15'],
  butter: ['kg', 3, '0.6', '7.40'],
  flour: ['kg', 3, '0.9', '0.85'],
  fish: ['kg', 3, '9.5', '14'],
  lemon: ['each', 0, '18', '0.35'],
  'foil tray': ['each', 0, '11', '0.22'],
  stock: ['L', 3, '', ''],
  sauce: ['L', 3, '', ''],
  dinner: ['portion', 0, '', ''],
}

/** The reference's recipes: what they make of what, in which order. */
const STOCK: Line[] = [
  ['onion', '0.6', '', '10'],
  ['carrot', '400 g', '', '15 %'],
  ['stock cube', '3'],
]
const SAUCE: Line[] = [
  ['stock', '1500 ml'],
  ['butter', '0.25', '0.02'],
  ['flour', '0.2'],
]
const DINNER: Line[] = [
  ['fish', '1.8', '', '12'],
  ['sauce', '0.9', '0.1'],
  ['lemon', '4'],
  ['foil tray', '2', '1'],
]

/** A galley with what lies in it, and how to write and keep its recipes. */
export async function kitchen(w: World) {
  const items: Record<string, Item> = {}
  const ids: Record<string, string> = {}
  for (const [name, [unit, decimals]] of Object.entries(KITCHEN))
    items[name] = await newItem(w.c, { name, unit, decimals, code: name.toUpperCase().replace(' ', '-') })
  const bought = Object.entries(KITCHEN).filter(([, [, , there]]) => there)
  await w.c.must({
    kind: 'receipt',
    place: w.lab.id,
    head: { supplier: 'Quillfern' },
    lines: bought.map(([name, [, , typed, price]]) => w.c.line({ item: items[name]!.id, typed, price })),
  })
  const line = ([item, typed, fixed = '', loss = '']: Line) => ({ id: v7(), item: items[item]!.id, typed, fixed, loss })
  const recipe = (
    code: string,
    makes: readonly [item: string, typed: string, yields?: string, batch?: string] | null,
    lines: readonly Line[],
    more: Partial<TemplateInput> = {},
  ): TemplateInput => ({
    code,
    name: `How ${code} is made`,
    makes: makes && { item: items[makes[0]]!.id, typed: makes[1], yields: makes[2] ?? '', batch: makes[3] ?? '' },
    lines: lines.map(line),
    ...more,
  })
  const make = async (t: TemplateInput) => {
    const { id } = await w.c.ok<{ id: string }>('POST', '/api/templates', t)
    ids[t.code] = id
    return id
  }
  const makeAll = async () => {
    await make(recipe('STK', ['stock', '5', '90'], STOCK))
    await make(recipe('SCE', ['sauce', '2', '95 %', '0,5'], SAUCE))
    await make(recipe('DIN', ['dinner', '10'], DINNER))
  }
  return { items, ids, line, recipe, make, makeAll, STOCK }
}
