import { Bytes, type Handlers, reach, scopeOf } from '../rights/index.ts'
import type { House } from './house.ts'
import {
  countAreas,
  enterSheet,
  previewSheets,
  printedSheet,
  printSheets,
  sheetsAsPdf,
  voidSheet,
} from './paper-sheets.ts'
import { openDifferences, sheetOf } from './sheets.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    sheet: ({ query, caller }) => {
      scopeOf(house, caller, query.place)
      return sheetOf(house, query.place, query.figures === 'yes')
    },
    countAreas: ({ query, caller }) => countAreas(house, caller, scopeOf(house, caller, query.place)),
    previewSheets: async ({ body, caller }) => new Bytes('count-sheets.pdf', await previewSheets(house, caller, body)),
    printSheets: ({ body, caller }) => ({ rows: printSheets(house, caller, body) }),
    printedSheet: ({ params, query, caller }) => {
      const v = printedSheet(house, caller, params.id)
      return query.page === undefined ? v : { ...v, lines: v.lines.filter(l => l.page === query.page) }
    },
    sheetPaper: async ({ query, caller }) =>
      new Bytes('count-sheets.pdf', await sheetsAsPdf(house, caller, query.sheets.split(',').slice(0, 100))),
    voidSheet: ({ params, caller }) => {
      voidSheet(house, caller, params.id)
      return undefined
    },
    enterSheet: ({ params, body, caller }) => ({ id: enterSheet(house, caller, params.id, body.id) }),
    differences: ({ query, caller }) => ({
      rows: openDifferences(house, scopeOf(house, caller, query.place), reach(house, caller)),
    }),
  } satisfies Partial<Handlers>
}
