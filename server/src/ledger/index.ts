/** The books: what was written, read and written again; the chain, checkpoints, exports, and verify. */
export { SqlBooks, toMovement } from './books.ts'
export { checkpointIfDue, lastCheckpoint } from './checkpoints.ts'
export { ledgerCsv, ledgerJournal, ledgerJsonLines } from './export.ts'
export { factAt, factsAt, factsOfLine, returnable } from './facts.ts'
export { finders, placesOfLot } from './finders.ts'
export { type House } from './house.ts'
export { Making } from './making.ts'
export { type Memory, Trials } from './memory.ts'
export { nextNumber } from './numbers.ts'
export {
  changePools,
  hasMoved,
  lies,
  methodOfPools,
  onDrafts,
  openLotPool,
  openPool,
  restampPool,
  standingOf,
} from './pools.ts'
export { lastCommitted } from './committed.ts'
export { exactly, type LotCell } from './reader.ts'
export { prepareRows } from './rows.ts'
export { Rules } from './rules.ts'
export { movementBytes, packed, sealedText } from './sealed.ts'
export { need, reservation } from './purposes.ts'
export { movementsOfItem } from './of-item.ts'
export { chargesHolding, differenceAccount, movementColumns, prepareLedger, takerOf, takerText } from './statements.ts'
export {
  balance,
  MAY_COME_IN,
  month,
  movement,
  pool,
  slip,
  slipLine,
  TAKEN_BACK,
  tally,
  tallyReversal,
} from './tables.ts'
export { unpricedSlips } from './unpriced.ts'
export { lineValue, slipValue, stockChange, stockSide } from './value.ts'
export { type Part, verifyApart } from './verify-apart.ts'
export { verifyChain } from './verify-chain.ts'
export { checkDatabase, verify, verifyFigures, verifyLedger } from './verify.ts'
