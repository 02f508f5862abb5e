import { listed } from '../printing/index.ts'
import { Bytes, type Handlers, paged } from '../rights/index.ts'
import { putCategory } from './categories.ts'
import { createFound } from './found.ts'
import type { House } from './house.ts'
import { packsWritten } from './as-said.ts'
import { itemView, retireItem, reviveItem, updateItem, wantItem } from './items.ts'
import { labelsAsPdf } from './labels.ts'
import { categories, itemIndex, listItems } from './lists.ts'
import { demandLot, setLotState } from './lots.ts'

/** By these a file of items is read, too: what was taken out and changed in a spreadsheet comes back. */
const LISTED = [
  ...['code', 'name', 'category', 'unit', 'decimals', 'identified by', 'cost method', 'packs', 'barcodes'],
  ...['standard cost', 'shelf life', 'once opened', 'weight', 'density', 'kept', 'waste code', 'witness'],
  ...['count off by', 'count off by %', 'count off by worth', 'note'],
]
/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  const theItem = (uid: string) => () => ({ items: [wantItem(house, uid).id] })
  return {
    index: async () => {
      // Of before it was read: what is changed meanwhile is asked for again.
      const revision = house.setupRevision
      return { revision, items: await itemIndex(house) }
    },
    items: ({ query, csv }) =>
      paged(
        csv,
        query,
        q => listItems(house, q),
        rows =>
          listed(
            house,
            'Items',
            r => [
              r.code,
              r.name,
              r.category?.name,
              r.unit,
              r.decimals,
              r.identifiedBy,
              r.method,
              packsWritten(r.packs),
              r.codes.join(' '),
              r.standardCost,
              r.ownShelfLifeDays,
              r.ownDaysOnceOpened,
              r.mass,
              r.density,
              r.kept,
              r.wasteCode,
              r.witnessed ? 'yes' : 'no',
              r.ownTolerance?.quantity,
              r.ownTolerance?.percent,
              r.ownTolerance?.value,
              r.note,
            ],
            LISTED,
            rows,
            'items',
            undefined,
            query.q ? `named ${query.q}` : '',
          ).withOnPaper(LISTED.indexOf('barcodes') + 1),
        500,
      ),
    foundItem: ({ body, caller }) => {
      const id = house.setUp(
        () => createFound(house, body, caller.id),
        of => ({ items: [of] }),
      )
      return itemView(house, house.rows.itemById.get({ id })!)
    },
    item: ({ params }) => itemView(house, wantItem(house, params.id)),
    updateItem: ({ params, body, revision }) => {
      house.setUp(() => updateItem(house, params.id, body, revision), theItem(params.id))
      return itemView(house, wantItem(house, params.id))
    },
    retireItem: ({ params, revision }) => {
      house.setUp(() => retireItem(house, params.id, revision), theItem(params.id))
      return undefined
    },
    reviveItem: ({ params }) => {
      house.setUp(() => reviveItem(house, params.id), theItem(params.id))
      return itemView(house, wantItem(house, params.id))
    },
    lotState: ({ params, body, caller }) => {
      demandLot(house, caller, params.id)
      house.setUp(
        () => setLotState(house, params.id, body.held, body.why, caller.id),
        () => ({ items: [house.rows.lot.get({ uid: params.id })!.itemId] }),
        'stock',
      )
      return { id: params.id }
    },
    categories: () => ({ rows: categories(house) }),
    createCategory: ({ body }) => ({ id: house.setUp(() => putCategory(house, body, undefined, undefined)) }),
    updateCategory: ({ params, body, revision }) => ({
      id: house.setUp(() => putCategory(house, body, params.id, revision)),
    }),
    labels: async ({ body }) => new Bytes('labels.pdf', await labelsAsPdf(house, body.labels, body.size, body.skip)),
  } satisfies Partial<Handlers>
}
