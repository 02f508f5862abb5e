import { Item } from '../catalogue/catalogue.ts'
import { op } from '../operation.ts'
import { ItemsBrought, ItemsTaken, StockedItemInput } from './stocked.ts'

/** What one may ask of this room. */
export const operations = {
  createItem: op('post', '/api/items', 'A new item, with its levels and what lies there already', {
    right: 'set_up',
    status: 201,
    body: StockedItemInput,
    answer: Item,
  }),
  bringItems: op(
    'post',
    '/api/items/brought',
    'Items from a spreadsheet, by their codes, again and again; or what would come of it',
    {
      right: 'set_up',
      body: ItemsBrought,
      answer: ItemsTaken,
    },
  ),
} as const
