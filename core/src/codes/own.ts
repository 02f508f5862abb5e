import { checkDigit } from './gtin.ts'

/** What Shelve prints codes of its own for. */
export const OWN_KINDS = {
  I: 'item',
  L: 'lot',
  P: 'place',
  W: 'person',
  J: 'job',
  K: 'cost_centre',
  S: 'supplier',
  R: 'reason',
  T: 'sheet',
} as const
export type OwnKind = (typeof OWN_KINDS)[keyof typeof OWN_KINDS]
/** What a printed card can tell the screen, so that a round can be done by scanner alone: the works to open, what to do there, and digits. */
export const WORKS = [
  'today',
  'receive',
  'issue',
  'bring_back',
  'move',
  'waste',
  'count',
  'restock',
  'stock',
  'ledger',
] as const
export const COMMANDS = [
  ...WORKS,
  'book',
  'take_back',
  'back',
  'next',
  'none',
  'confirm',
  'point',
  '0',
  '1',
  '2',
  '3',
  '4',
  '5',
  '6',
  '7',
  '8',
  '9',
] as const
export type Command = (typeof COMMANDS)[number]

/** Our own code of a thing: `SV`, a letter for its kind, its number, a check digit (as GS1 works it out). */
export function ownCode(kind: OwnKind, number: number): string {
  const letter = Object.entries(OWN_KINDS).find(([, k]) => k === kind)![0]
  const digits = String(number).padStart(4, '0')
  return `SV${letter}${digits}${checkDigit(digits)}`
}
/** The code of a page of a count sheet, and back: up to 99 pages a sheet. */
export const pageCode = (sheet: number, page: number): string => ownCode('sheet', sheet * 100 + page)
export const pageOf = (number: number): { sheet: number; page: number } => ({
  sheet: Math.floor(number / 100),
  page: number % 100,
})
/** A badge: 64 bits that nobody can guess. Whoever scans one asks who it is by itself, never by looking a code up. */
export const isBadge = (text: string): boolean => /^SVB-[0-9A-F]{16}$/i.test(text.trim())
export const commandCode = (command: Command): string => `SVC-${command.toUpperCase()}`

export type OwnReading =
  { readonly kind: OwnKind; readonly number: number } | { readonly kind: 'command'; readonly command: Command }
/** Reads a code of our own; undefined where it is none or its check digit is wrong. */
export function readOwnCode(text: string): OwnReading | undefined {
  const plain = text.trim().toUpperCase()
  if (plain.startsWith('SVC-')) {
    const command = COMMANDS.find(c => commandCode(c) === plain)
    return command && { kind: 'command', command }
  }
  const m = /^SV([ILPWJKSRT])(\d{4,})(\d)$/.exec(plain)
  if (!m || checkDigit(m[2]!) !== Number(m[3])) return undefined
  return { kind: OWN_KINDS[m[1] as keyof typeof OWN_KINDS], number: Number(m[2]) }
}
