import { z } from 'zod'
import { found, id, op } from '../operation.ts'
import * as places from './places.ts'

/** What one may ask of this room. */
export const operations = {
  places: op('get', '/api/places', 'The tree of places', { answer: z.object({ rows: z.array(places.Place) }) }),
  createPlace: op('post', '/api/places', 'A new place', {
    right: 'set_up_here',
    status: 201,
    body: places.PlaceInput,
    answer: found,
  }),
  updatePlace: op('put', '/api/places/:id', 'Changes a place', {
    right: 'set_up_here',
    params: id.place,
    body: places.PlaceInput,
    answer: found,
    ifMatch: true,
  }),
} as const
