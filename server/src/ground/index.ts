/** The ground: the database, the clock, events, files, and how the house speaks HTTP. Knows nothing of stock. */
export { readCursor, writeCursor } from './cursor.ts'
export { backup, DATABASE, restore } from './db/backup.ts'
export { bigCount, bool, instant, int, one, quantity, rowid, value } from './db/columns.ts'
export { BACKUPS, bringForward } from './db/forward.ts'
export { type Db, FIRST_SCHEMA, folded, openStore, schemaOf, type Store, UnusableDatabase } from './db/open.ts'
export { damageOf, forOwnEyes, takeDirectory } from './db/directory.ts'
export { type BackupJob, Backups, backupsIn, takeInto } from './db/schedule.ts'
export { LogKeeper, logWord, type LogWord } from './db/moment.ts'
export { type Concerns } from './events.ts'
export { damagedPictures, fileName, folderOf, kindOfPicture, putWhole, PICTURE_TYPES } from './files.ts'
export { Ground, type GroundOptions, LOOKING, type WritesForIt } from './ground.ts'
export {
  asDer,
  givenCertificates,
  namesIn,
  namesOfMachine,
  ownCertificates,
  toRecognise,
  UnusableCertificate,
} from './http/certificates.ts'
export { doorway } from './http/doorway.ts'
export { notTold, problem, sendProblem, sendTrouble, type Trouble, troubleOf } from './http/problems.ts'
export { keepRenewed, SECURE, type TlsOptions } from './http/tls.ts'
export { among, holds, startsWith } from './conditions.ts'
export { once, remember } from './once.ts'
export { isLong, jsonInPieces } from './long-json.ts'
export {
  allPages,
  atOnce,
  chunks,
  eachInPieces,
  FIRST_PIECE,
  givingWay,
  inOrder,
  inPieces,
  letIn,
  nextPiece,
  sendText,
} from './pieces.ts'
export { demandSeen, notFound, Refused, type RefusedField, stale } from './refused.ts'
export type { DecimalMark } from './numbers-in-file.ts'
export { type FileRow, notTaken, readTable, type Wrong } from './table-file.ts'
export { askedOnce, organisation } from './tables.ts'
export { changesItems, type Touches } from './touches.ts'
export { threadNamed } from './thread.ts'
export { iso, sha256, VERSION } from './words.ts'
