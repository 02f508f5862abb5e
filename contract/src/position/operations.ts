import { z } from 'zod'
import { id, op, place } from '../operation.ts'
import * as catalogue from '../catalogue/catalogue.ts'
import * as places from '../places/places.ts'

/** What one may ask of this room. */
export const operations = {
  itemLots: op('get', '/api/items/:id/lots', 'The lots of an item, first to go first', {
    params: id.item,
    query: place,
    answer: z.object({ rows: z.array(catalogue.LotView) }),
  }),
  setLevel: op('put', '/api/levels', 'Sets minimum, target and usual bin of an item in a place', {
    right: 'set_up_here',
    body: places.LevelInput,
    answer: places.LevelInput,
  }),
} as const
