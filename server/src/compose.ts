import { FixedAccounts, prepareRows as accountRows } from './accounts/index.ts'
import { finders as catalogueFinders, Known, prepareRows as catalogueRows } from './catalogue/index.ts'
import { prepareRows as codeRows } from './codes/index.ts'
import { finders as costcentresFinders, prepareRows as costCentreRows } from './costcentres/index.ts'
import type { SlipKind } from '@shelve/contract'
import {
  closedRefusals,
  countBooked,
  finders as countingFinders,
  freeSheet,
  kinds as counting,
  prepareRows as countingRows,
  releaseSheet,
  sheetRefusals,
} from './counting/index.ts'
import { Ground, type GroundOptions } from './ground/index.ts'
import { kinds as issuing } from './issuing/index.ts'
import {
  cratesInUse,
  demandSource,
  finders as jobsFinders,
  kinds as jobs,
  makeBooked,
  makeUndone,
  needSource,
  pickBooked,
  pickDropped,
  withSource,
} from './jobs/index.ts'
import {
  changePools,
  finders as ledgerFinders,
  hasMoved,
  lastCheckpoint,
  lies,
  onDrafts,
  openLotPool,
  openPool,
  placesOfLot,
  prepareLedger,
  prepareRows as ledgerRows,
  restampPool,
  Rules,
  standingOf,
  Trials,
} from './ledger/index.ts'
import { type MailPlan, Post } from './notices/index.ts'
import { kinds as moving, sentBooked } from './moving/index.ts'
import {
  errands as papersErrands,
  finders as papersFinders,
  type Kind,
  kinds as papers,
  Looks,
} from './papers/index.ts'
import {
  Attempts,
  errands as peopleErrands,
  finders as peopleFinders,
  prepareRows as peopleRows,
} from './people/index.ts'
import { finders as placesFinders, PlaceTree } from './places/index.ts'
import { prepareRows as positionRows, StockView } from './position/index.ts'
import { budgetNotes, budgetRefusals, Charged, Flows, type House } from './reports/index.ts'
import { errands as printingErrands } from './printing/index.ts'
import { kinds as receiving } from './receiving/index.ts'
import { owedSource, finders as restockingFinders } from './restocking/index.ts'
import { Gate } from './rights/index.ts'
import { finders as suppliersFinders, prepareRows as supplierRows } from './suppliers/index.ts'
import { finders as wasteFinders, kinds as waste, prepareRows as wasteRows } from './waste/index.ts'

export type { House }
export type HouseOptions = GroundOptions & { readonly mail?: MailPlan }

/**
 * Builds the house on a database: the ground, then each room with what it needs of those below. What a lower room must
 * know of a higher one is registered here, so that no arrow points up. Nobody imports this but main, the command, the
 * threads, and whoever makes houses of their own: the demonstration, benches, tests.
 */
export function compose(file: string, options: HouseOptions = {}): House {
  const ground = new Ground(file, options)
  const { db } = ground.store
  const rows = {
    ...accountRows(db),
    ...supplierRows(db),
    ...costCentreRows(db),
    ...wasteRows(db),
    ...peopleRows(db),
    ...codeRows(db),
    ...catalogueRows(db),
    ...ledgerRows(ground.store),
    ...positionRows(db),
    ...countingRows(db),
  }
  const places = new PlaceTree(ground)
  const known = new Known(ground, rows)
  const gate = new Gate()
  const ledger = prepareLedger(ground.store)
  // Prepared when they are first asked: they stand on the whole house.
  let owed: House['sources']['owed'] | undefined
  let demand: House['sources']['demand'] | undefined
  let needs: House['sources']['needs'] | undefined
  let withJobs: ReturnType<typeof withSource> | undefined
  const books = Object.assign(ground, {
    gate,
    rows,
    attempts: new Attempts(() => ground.now()),
    places,
    known,
    accounts: new FixedAccounts(ground),
    codeOwners: new Map<string, (id: number) => string>([
      ['item', id => known.itemById(id)?.name ?? '?'],
      ['place', id => places.name(id)],
    ]),
    uses: usesOf(() => house),
    crates: () => cratesInUse(house),
    ledger,
    rules: new Rules(ground, known, rows),
    trials: new Trials(ground, ledger),
    lastCheckpoint: { seq: 0, rows: 0 },
    sources: {
      owed: (...asked: Parameters<House['sources']['owed']>) => (owed ??= owedSource(house))(...asked),
      demand: (...asked: Parameters<House['sources']['demand']>) => (demand ??= demandSource(house))(...asked),
      needs: (...asked: Parameters<House['sources']['needs']>) => (needs ??= needSource(house))(...asked),
      withJob: (job: number) => (withJobs ??= withSource(house)).withJob(job),
      jobWith: (place: number) => (withJobs ??= withSource(house)).jobWith(place),
    },
  })
  const post = options.mail && new Post(books, options.mail, message => ground.tell(message))
  const kinds = new Map<SlipKind, Kind>()
  const house: House = Object.assign(books, {
    stock: new StockView(books),
    flows: new Flows(books),
    charged: new Charged(books),
    hooks: hooksOf(() => house),
    kinds,
    looks: new Looks(),
    post,
  })
  for (const kind of kindsOf(house)) kinds.set(kind.kind, kind)
  ground.onClose(() => post?.stop())
  for (const finders of [
    placesFinders,
    suppliersFinders,
    costcentresFinders,
    wasteFinders,
    peopleFinders,
    catalogueFinders,
    ledgerFinders,
    papersFinders,
    countingFinders,
    restockingFinders,
    jobsFinders,
  ])
    gate.register(finders(house))
  for (const errands of [peopleErrands, printingErrands, papersErrands])
    for (const [name, does] of Object.entries(errands(house))) house.errands.set(name, does)
  house.lastCheckpoint = lastCheckpoint(house)
  return house
}

/** What the catalogue asks of the ledger. */
const usesOf = (house: () => House): House['uses'] => ({
  hasMoved: item => hasMoved(house(), item),
  standing: items => standingOf(house(), items),
  lies: item => lies(house(), item),
  onDrafts: item => onDrafts(house(), item),
  openPool: (item, method, standard) => openPool(house(), item, method, standard),
  restampPool: (item, method, standard) => restampPool(house(), item, method, standard),
  changePools: (item, method, standard) => changePools(house(), item, method, standard),
  lotLies: (item, lot) => placesOfLot(house(), item, lot).flatMap(b => (b.quantity > 0n ? [b.placeId] : [])),
  lotMade: (item, lot) => openLotPool(house(), item, lot),
})

/** Every kind of slip there is: each stands in its own room. */
const kindsOf = (house: House): readonly Kind[] => [
  ...receiving,
  ...issuing(house),
  ...jobs(house),
  ...moving,
  ...waste(house),
  ...counting,
  ...papers,
]

/** What rooms of work say of slips. */
const hooksOf = (house: () => House): House['hooks'] => [
  {
    notes: (content, lineId, booked) => budgetNotes(house(), content, lineId, booked),
    refusals: (content, slipId, lineId, booked, override) => [
      ...sheetRefusals(house(), content, slipId, lineId),
      ...closedRefusals(house(), content, booked),
      ...budgetRefusals(house(), content, lineId, booked, override),
    ],
    booked: (slip, content, caller) => {
      countBooked(house(), slip, content)
      pickBooked(house(), slip, content)
      if (content.kind === 'dispatch') sentBooked(house(), slip)
      return makeBooked(house(), caller, content)
    },
    dropped: slipId => {
      releaseSheet(house(), slipId)
      pickDropped(house(), slipId)
    },
    corrected: (slip, caller) => {
      if (slip.kind === 'count') freeSheet(house(), slip.id)
      return makeUndone(house(), caller, slip)
    },
  },
]
