import { Item } from '../catalogue/catalogue.ts'
import { op } from '../operation.ts'
import { StockedItemInput } from './stocked.ts'

/** What one may ask of this room. */
export const operations = {
  createItem: op('post', '/api/items', 'A new item, with its levels and what lies there already', {
    right: 'set_up',
    status: 201,
    body: StockedItemInput,
    answer: Item,
  }),
} as const
