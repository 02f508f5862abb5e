import { z } from 'zod'
import { idOf } from '../things.ts'
import { found, id, op, place } from '../operation.ts'
import * as counting from './counting.ts'

/** What one may ask of this room. */
export const operations = {
  sheet: op('get', '/api/sheets', 'What is to be counted in an area, in walking order', {
    query: z.object({
      place: idOf('place'),
      group: idOf('count_group').optional(),
      /** What this count left, and nothing else. */ rest: idOf('slip').optional(),
      figures: z.enum(['yes', 'no']).optional(),
    }),
    answer: counting.Sheet,
  }),
  countGroups: op('get', '/api/count-groups', 'What is counted together though it is no area', {
    answer: z.object({ rows: z.array(counting.CountGroup) }),
  }),
  createCountGroup: op('post', '/api/count-groups', 'A new group of items that are counted together', {
    right: 'set_up_here',
    status: 201,
    body: counting.CountGroupInput,
    answer: found,
  }),
  updateCountGroup: op('put', '/api/count-groups/:id', 'Changes a group of items that are counted together', {
    right: 'set_up_here',
    params: id.countGroup,
    body: counting.CountGroupInput,
    answer: found,
    ifMatch: true,
  }),
  closeArea: op(
    'put',
    '/api/count-areas/:id/closing',
    'Closes an area for counting: nothing is booked there meanwhile',
    {
      right: 'book',
      params: id.place,
    },
  ),
  openArea: op('delete', '/api/count-areas/:id/closing', 'Opens an area that was closed for counting', {
    right: 'book',
    params: id.place,
  }),
  countReport: op('get', '/api/counts/:id', 'A booked count: counted, expected, difference and value of each line', {
    params: id.slip,
    answer: counting.CountReport,
    csv: true,
  }),
  countAreas: op(
    'get',
    '/api/count-areas',
    'The areas to count: when each was counted and is due, and what is open there',
    { query: place, answer: z.object({ rows: z.array(counting.CountArea), sheets: z.array(counting.PrintedSheet) }) },
  ),
  previewSheets: op('post', '/api/sheet-preview', 'How sheets of some areas would look, as PDF', {
    right: 'book',
    body: counting.SheetsInput,
    pdf: true,
    reads: true,
  }),
  printSheets: op(
    'post',
    '/api/sheets',
    'Prints a sheet for each area; sheets of it that were not entered yet are void',
    {
      right: 'book',
      status: 201,
      body: counting.SheetsInput,
      answer: z.object({ rows: z.array(counting.PrintedSheet) }),
    },
  ),
  printedSheet: op('get', '/api/sheets/:id', 'A printed sheet with its lines, page by page', {
    params: id.sheet,
    query: z.object({ page: z.coerce.number().int().min(1).max(99).optional() }),
    answer: counting.PrintedSheetView,
  }),
  sheetPaper: op('get', '/api/sheet-papers', 'Printed sheets, as PDF', {
    query: z.object({ sheets: z.string().max(4000) }),
    pdf: true,
  }),
  voidSheet: op('delete', '/api/sheets/:id', 'Throws a printed sheet away that was not entered', {
    right: 'book',
    params: id.sheet,
  }),
  enterSheet: op(
    'post',
    '/api/sheets/:id/entry',
    'Begins to enter a printed sheet: a count with its lines, as a draft',
    { right: 'book', status: 201, params: id.sheet, body: id.draft, answer: found },
  ),
  differences: op('get', '/api/differences', 'Open differences', {
    query: place,
    answer: z.object({ rows: z.array(counting.DifferenceView) }),
    csv: true,
  }),
} as const
