import { z } from 'zod'
import { page, Query } from '../common.ts'
import { idOf } from '../things.ts'
import { found, id, op, list } from '../operation.ts'
import * as catalogue from './catalogue.ts'
import * as slips from '../ledger/slips.ts'

/** What one may ask of this room. */
export const operations = {
  index: op('get', '/api/index', 'What a device keeps of every item', { answer: catalogue.IndexView }),
  items: op('get', '/api/items', 'Items, by code or name', {
    query: z.object({
      ...list,
      q: Query.optional(),
      category: idOf('category').optional(),
      active: z.enum(['yes', 'no', 'all', 'found']).optional(),
      sort: z.enum(['code', 'name', '-code', '-name']).optional(),
    }),
    answer: page(catalogue.Item),
    csv: true,
  }),
  foundItem: op('post', '/api/found-items', 'A new item as it was found, to be completed by whoever sets up', {
    right: 'book',
    status: 201,
    body: catalogue.FoundItem,
    answer: catalogue.Item,
  }),
  item: op('get', '/api/items/:id', 'One item', { params: id.item, answer: catalogue.Item }),
  updateItem: op('put', '/api/items/:id', 'Changes an item', {
    right: 'set_up',
    params: id.item,
    body: catalogue.ItemInput,
    answer: catalogue.Item,
    ifMatch: true,
  }),
  retireItem: op('delete', '/api/items/:id', 'Retires an item of which nothing lies anywhere', {
    right: 'set_up',
    params: id.item,
    ifMatch: true,
  }),
  reviveItem: op(
    'post',
    '/api/items/:id/revival',
    'Takes a retired item into use again; its barcodes are scanned anew',
    { right: 'set_up', params: id.item, answer: catalogue.Item },
  ),
  lotState: op('put', '/api/lots/:id/state', 'Holds, recalls or frees a lot', {
    right: 'book',
    params: id.lot,
    body: catalogue.LotStateInput,
    answer: found,
  }),
  categories: op('get', '/api/categories', 'The tree of categories', {
    answer: z.object({ rows: z.array(catalogue.Category) }),
  }),
  createCategory: op('post', '/api/categories', 'A new category', {
    right: 'set_up',
    status: 201,
    body: catalogue.CategoryInput,
    answer: found,
  }),
  updateCategory: op('put', '/api/categories/:id', 'Changes a category', {
    right: 'set_up',
    params: id.category,
    body: catalogue.CategoryInput,
    answer: found,
    ifMatch: true,
  }),
  labels: op('post', '/api/label-papers', 'Labels of things and lots, as PDF', {
    body: slips.LabelsInput,
    pdf: true,
    reads: true,
  }),
} as const
