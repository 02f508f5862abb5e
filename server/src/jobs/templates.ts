import { and, desc, eq, ne, sql } from 'drizzle-orm'
import type { Template, TemplateRow, TemplateView } from '@shelve/contract'
import {
  circleFrom,
  type Measure,
  ONE,
  ratio,
  readLoss,
  type Quantity,
  readQuantity,
  readShare,
  readYield,
  type Formula,
  type FormulaLine,
} from '@shelve/core'
import { named } from '../catalogue/index.ts'
import type { ItemRow } from '../catalogue/index.ts'
import { type Db, iso, notFound, once, Refused, stale } from '../ground/index.ts'
import { demandFree } from '../places/index.ts'
import { quantityRefusal, wordRefusal } from '../papers/index.ts'
import { type Caller, isIn, type Scope } from '../rights/index.ts'
import type { House } from './house.ts'
import { template, templateBeside, templateVersion } from './tables.ts'

type Row = typeof template.$inferSelect
type Fields = NonNullable<ConstructorParameters<typeof Refused>[3]>

const statements = once((db: Db) => ({
  byUid: db
    .select()
    .from(template)
    .where(eq(template.uid, sql.placeholder('uid')))
    .prepare(),
  byId: db
    .select()
    .from(template)
    .where(eq(template.id, sql.placeholder('id')))
    .prepare(),
  version: db
    .select()
    .from(templateVersion)
    .where(
      and(
        eq(templateVersion.templateId, sql.placeholder('id')),
        eq(templateVersion.version, sql.placeholder('version')),
      ),
    )
    .prepare(),
  maker: db
    .select()
    .from(template)
    // As the index says it.
    .where(
      and(
        eq(template.outputId, sql.placeholder('output')),
        sql`${template.active} = 1`,
        ne(template.id, sql.placeholder('but')),
      ),
    )
    .prepare(),
}))
export const templateOf = (house: Pick<House, 'db'>, uid: string): Row | undefined =>
  statements(house.db).byUid.get({ uid })

const versionOf = (house: House, { id, version }: Pick<Row, 'id' | 'version'>) =>
  statements(house.db).version.get({ id, version })!
export const templateById = (house: House, id: number): Row => statements(house.db).byId.get({ id })!
/** What a template said in one of its versions. */
export const contentAt = (house: House, id: number, version: number): Template =>
  JSON.parse(versionOf(house, { id, version }).content) as Template
/** What a template says, as it was saved last. */
export const contentOf = (house: House, row: Row): Template => contentAt(house, row.id, row.version)

export function templateRows(house: House): TemplateRow[] {
  return house.db
    .select({ t: template, content: templateVersion.content })
    .from(template)
    .innerJoin(
      templateVersion,
      and(eq(templateVersion.templateId, template.id), eq(templateVersion.version, template.version)),
    )
    .orderBy(desc(template.active), template.name)
    .all()
    .map(({ t, content }) => ({
      id: t.uid,
      code: t.code,
      name: t.name,
      active: t.active,
      version: t.version,
      makes: t.outputId === null ? null : named(house.known.itemById(t.outputId)!),
      lines: (JSON.parse(content) as Template).lines.length,
    }))
}

/** A template whole; places that the caller may not look into are not told. */
export function templateView(house: House, seen: Scope, uid: string): TemplateView {
  const row = templateOf(house, uid)
  if (!row) throw notFound('template')
  const v = versionOf(house, row)
  const content = JSON.parse(v.content) as Template
  return {
    id: row.uid,
    version: row.version,
    savedAt: iso(v.savedAt),
    savedBy: house.rows.personName.get({ id: v.savedBy })!.name,
    content: {
      ...content,
      lines: content.lines.map(l => ({
        ...l,
        from: l.from !== null && isIn(seen, house.places.id(l.from) ?? -1) ? l.from : null,
      })),
    },
  }
}

/** An amount of a template is exact: how an item is counted decides what is taken, not what a recipe says. */
const exactly = (house: House, it: ItemRow): Measure => ({ ...house.known.measure(it), decimals: 6 })

/** Reads what a template says; what cannot be read is handed to `no`, in words, with its line and field. */
export function formulaOf(
  house: House,
  t: Template,
  no: (line: string | null, field: string, code: string, message: string) => void = () => undefined,
): Formula {
  const itemOf = (uid: string, line: string | null, field: string): ItemRow | undefined => {
    const it = house.known.item(uid)
    if (!it) no(line, field, 'unknown_item', 'There is no such item.')
    else if (it.kept === 'charge')
      no(line, field, 'not_stocked', `${it.name} is a charge: it never lies on a shelf, so nothing is made of it.`)
    else if (!it.active)
      no(
        line,
        field,
        'item_retired',
        `${it.name} is retired. Choose another item, or take it into use again in Set-up.`,
      )
    return it
  }
  const amount = (it: ItemRow | undefined, typed: string, unit: string | null, line: string | null, field: string) => {
    if (!typed.trim() || !it) return 0n
    const read = readQuantity(typed, exactly(house, it), unit ?? undefined, true)
    if (read.ok) return read.quantity
    const refusal = wordRefusal(house, quantityRefusal(read, typed, it.unit), () => it.unit)
    no(line, field, refusal.code, refusal.message)
    return 0n
  }
  const { makes } = t
  const made = makes ? itemOf(makes.item, null, 'makes.item') : undefined
  const base = makes ? amount(made, makes.typed, makes.unit, null, 'makes.typed') : ONE
  if (makes && base <= 0n)
    no(null, 'makes.typed', 'base_needed', 'How much do these lines make? Type a number above zero.')
  const yields = makes ? readYield(makes.yields) : ratio(1n)
  if (!yields)
    no(
      null,
      'makes.yields',
      'not_a_yield',
      'What comes out is more than 0 and at most 200 per cent. Empty is all of it.',
    )
  const batch = makes?.batch.trim() ? amount(made, makes.batch, makes.unit, null, 'makes.batch') : null
  for (const [i, b] of (makes?.besides ?? []).entries())
    judgeBeside(house, t, i, itemOf(b.item, null, `makes.besides.${i}.item`), amount, no)
  if (makes && readShare(makes.share) === undefined) no(null, 'makes.share', 'not_a_share', NOT_A_SHARE)
  const takes: FormulaLine[] = []
  for (const l of t.lines) {
    const it = itemOf(l.item, l.id, 'item')
    const loss = readLoss(l.loss)
    if (!loss) no(l.id, 'loss', 'not_a_loss', 'What is lost is 0 to 95 per cent. Empty is nothing.')
    const line = {
      amount: amount(it, l.typed, l.unit, l.id, 'typed'),
      fixed: amount(it, l.fixed, l.unit, l.id, 'fixed'),
    }
    if (it && !l.typed.trim() && !l.fixed.trim())
      no(l.id, 'typed', 'quantity_empty', `How much ${it.name} does it take? Type a number, or remove the line.`)
    for (const [i, other] of l.instead.entries()) {
      const another = itemOf(other.item, l.id, `instead.${i}.item`)
      if (another && amount(another, other.typed, other.unit, l.id, `instead.${i}.typed`) <= 0n)
        no(
          l.id,
          `instead.${i}.typed`,
          'quantity_empty',
          `How much ${another.name} stands in for it? Type a number above zero.`,
        )
    }
    if (it) takes.push({ item: it.id, ...line, loss: loss ?? ratio(0n) })
  }
  return {
    output: made?.id ?? 0,
    base: base > 0n ? base : ONE,
    yields: yields ?? ratio(1n),
    batch: batch !== null && batch > 0n ? batch : null,
    lines: takes,
  }
}

/** What comes of it beside what it makes, and how much of that for what the lines are for. */
export const besidesOf = (house: House, { makes }: Template) =>
  (makes?.besides ?? []).flatMap(b => {
    const it = house.known.item(b.item)
    const read = it && readQuantity(b.typed, exactly(house, it), b.unit ?? undefined)
    return it && read?.ok ? [{ it, amount: read.quantity, share: b.share, shelfLife: b.shelfLife }] : []
  })

const NOT_A_SHARE = 'A part of the cost is 0 or more, like 5 or 0.25. Nothing typed is 1.'
type Said = (line: string | null, field: string, code: string, message: string) => void
/** A by-product comes in some quantity, bears a part of the cost, and is neither what is made nor on it twice. */
function judgeBeside(
  house: House,
  { makes }: Template,
  i: number,
  it: ItemRow | undefined,
  amount: (it: ItemRow, typed: string, unit: string | null, line: null, field: string) => Quantity,
  no: Said,
): void {
  const b = makes!.besides[i]!
  const at = `makes.besides.${i}`
  if (!it) return
  if (b.item === makes!.item || makes!.besides.findIndex(x => x.item === b.item) < i)
    no(null, `${at}.item`, 'made_twice', `${it.name} comes of it already. Say all of it once.`)
  if (amount(it, b.typed, b.unit, null, `${at}.typed`) <= 0n)
    no(null, `${at}.typed`, 'quantity_empty', `How much ${it.name} comes of it? Type a number above zero.`)
  if (!b.share.trim() || readShare(b.share) === undefined)
    no(
      null,
      `${at}.share`,
      'not_a_share',
      b.share.trim() ? NOT_A_SHARE : `Which part of the cost does ${it.name} bear? 0 is none of it.`,
    )
}

/** The template in use that makes an item, but for one that is written anew. */
export const makerOf = (house: House, outputId: number, but: number): Row | undefined =>
  statements(house.db).maker.get({ output: outputId, but })

/** How everything is made that a formula takes and that is made, through all its parts. */
export function formulas(
  house: House,
  from: Formula,
  but = 0,
): ReadonlyMap<number, Formula & { readonly uid: string }> {
  const found = new Map<number, Formula & { readonly uid: string }>()
  const asked = new Set<number>()
  const look = (formula: Formula) => {
    for (const { item } of formula.lines) {
      if (asked.has(item)) continue
      asked.add(item)
      const row = makerOf(house, item, but)
      if (!row) continue
      const part = { ...formulaOf(house, contentOf(house, row)), uid: row.uid }
      found.set(item, part)
      look(part)
    }
  }
  look(from)
  return found
}

/** That a template can be saved: it can be read, nothing else makes the same, and nothing is made of itself. */
function judge(house: House, t: Template, self: number): { outputId: number | null } {
  const fields: Fields[number][] = []
  const formula = formulaOf(house, t, (line, field, code, message) => fields.push({ line, field, code, message }))
  if (fields.length) throw new Refused(422, fields[0]!.code, fields[0]!.message, fields)
  const outputId = t.makes ? formula.output : null
  if (outputId === null || !t.active) return { outputId }
  const rival = makerOf(house, outputId, self)
  const name = (id: number) => house.known.itemById(id)!.name
  const no = (code: string, field: string, message: string): never => {
    throw new Refused(409, code, message, [{ line: null, field, code, message }])
  }
  if (rival)
    no(
      'made_already',
      'makes.item',
      `${name(outputId)} is made by ${rival.name} already. Change that one, or take it out of use first.`,
    )
  const way = circleFrom(new Map<number, Formula>([...formulas(house, formula, self), [outputId, formula]]), outputId)
  if (way) no('circle', 'lines', `It would be made of itself: ${way.map(name).join(' → ')}.`)
  return { outputId }
}

function demandCodeFree(house: House, code: string, self: number): void {
  const taken = house.db
    .select({ id: template.id })
    .from(template)
    .where(sql`fold(${template.code}) = fold(${code})`)
    .get()
  demandFree(taken, self, 'code', code, 'template')
}

const keep = (house: House, caller: Caller, templateId: number, version: number, t: Template): void => {
  house.db
    .insert(templateVersion)
    .values({ templateId, version, content: JSON.stringify(t), savedAt: house.now(), savedBy: caller.id })
    .run()
  for (const { it } of besidesOf(house, t))
    house.db.insert(templateBeside).values({ templateId, version, itemId: it.id }).run()
}

/** Gives the id of the new template. */
export function createTemplate(house: House, caller: Caller, t: Template): string {
  demandCodeFree(house, t.code, 0)
  const { outputId } = judge(house, t, 0)
  const { id, uid } = house.db
    .insert(template)
    .values({ uid: house.uid(), code: t.code, name: t.name, outputId, active: t.active, version: 1 })
    .returning({ id: template.id, uid: template.uid })
    .get()
  keep(house, caller, id, 1, t)
  return uid
}

/** A template says something else from now on: a new version of it. */
export function updateTemplate(
  house: House,
  caller: Caller,
  uid: string,
  t: Template,
  revision: number | undefined,
): void {
  const row = templateOf(house, uid)
  if (!row) throw notFound('template')
  if (revision !== undefined && revision !== row.version) throw stale()
  demandCodeFree(house, t.code, row.id)
  const { outputId } = judge(house, t, row.id)
  const version = row.version + 1
  house.db
    .update(template)
    .set({ code: t.code, name: t.name, outputId, active: t.active, version })
    .where(eq(template.id, row.id))
    .run()
  keep(house, caller, row.id, version, t)
}
