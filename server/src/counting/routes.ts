import type { CountReport, DifferenceView } from '@shelve/contract'
import { listed } from '../printing/index.ts'
import { Bytes, demandAt, type Handlers, Listable, reach, scopeOf } from '../rights/index.ts'
import { countAreas } from './areas.ts'
import { closeArea, openArea } from './closed.ts'
import { createGroup, groupOf, groupViews, updateGroup } from './groups.ts'
import type { House } from './house.ts'
import { countReport } from './report.ts'
import { enterSheet, previewSheets, printedSheet, printSheets, sheetsAsPdf, voidSheet } from './paper-sheets.ts'
import { openDifferences, sheetOf } from './sheets.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    sheet: ({ query, caller }) => {
      scopeOf(house, caller, query.place)
      return sheetOf(house, query, query.figures === 'yes')
    },
    countGroups: ({ caller }) => ({ rows: groupViews(house, reach(house, caller)) }),
    createCountGroup: ({ body, caller }) => {
      demandAt(house, caller, 'set_up', house.places.id(body.place) ?? -1)
      return { id: house.change('sheet', () => createGroup(house, body)) }
    },
    updateCountGroup: ({ params, body, revision, caller }) => {
      const there = groupOf(house, params.id)
      if (there) demandAt(house, caller, 'set_up', there.placeId)
      demandAt(house, caller, 'set_up', house.places.id(body.place) ?? -1)
      house.change('sheet', () => updateGroup(house, params.id, body, revision))
      return { id: params.id }
    },
    closeArea: ({ params, caller }) => {
      closeArea(house, caller, params.id)
      return undefined
    },
    openArea: ({ params, caller }) => {
      openArea(house, caller, params.id)
      return undefined
    },
    countReport: ({ params, caller }) =>
      new Listable(countReport(house, caller, params.id), report => reportList(house, report)),
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
    differences: ({ query, caller }) => {
      const scope = scopeOf(house, caller, query.place)
      return new Listable({ rows: openDifferences(house, scope, reach(house, caller)) }, ({ rows }) =>
        listed(
          house,
          'Open differences',
          (d: DifferenceView) => [
            d.countedAt,
            d.slip.number,
            d.item.code,
            d.item.name,
            d.place.name,
            d.lot,
            d.expected,
            d.counted,
            d.open,
            d.item.unit,
            d.value,
          ],
          ['counted at', 'slip', 'code', 'name', 'place', 'lot', 'expected', 'counted', 'open', 'unit', 'value'],
          rows,
          'open-differences',
          scope,
        ),
      )
    },
  } satisfies Partial<Handlers>
}

const STATES = { counted: '', confirmed: 'as expected', left_out: 'left out', not: 'not counted' }
/** A booked count as a list: what was counted, what was left out, and what was left. */
const reportList = (house: House, report: CountReport) =>
  listed(
    house,
    `Count ${report.number} of ${report.group ?? report.place}`,
    (r: CountReport['rows'][number]) => [
      r.item.code,
      r.item.name,
      r.place,
      r.lot,
      r.expected,
      r.counted,
      r.difference,
      r.item.unit,
      r.value,
      [STATES[r.state], r.takenBack ? 'taken back' : '', r.note].filter(Boolean).join(', '),
      r.by,
      r.at,
    ],
    ['code', 'name', 'place', 'lot', 'expected', 'counted', 'difference', 'unit', 'value', 'note', 'by', 'counted at'],
    report.rows,
    `count-${report.number}`,
    undefined,
    `${report.counted} lines counted, ${report.agreeing} as expected`,
    report.leftOut ? `${report.leftOut} left out on purpose` : '',
    report.left ? `${report.left} not counted` : '',
  )
