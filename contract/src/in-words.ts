// What is wrong with something that came in is said to whoever typed it: in plain words, not as a program would to another.
import { config, type z } from 'zod'

type Issue = z.core.$ZodRawIssue
const WANTED: Readonly<Record<string, string>> = {
  int: 'a whole number is wanted',
  number: 'a number is wanted',
  string: 'text is wanted',
  boolean: 'yes or no is wanted (true or false)',
  array: 'a list is wanted',
}
/** So many of what a limit counts: characters of a text, entries of a list; of a number its size. */
const counted = (n: number | bigint, origin: string): string =>
  `${n}${origin === 'string' ? (n === 1 ? ' character' : ' characters') : ''}`

/** What is said where a schema says nothing itself; of the kinds that stand in no schema here, what the package says. */
export function inWords(issue: Issue): string | undefined {
  switch (issue.code) {
    case 'invalid_type':
      if (issue.input === undefined) return 'this is missing'
      return WANTED[issue.expected] ?? 'something else is wanted here'
    case 'too_small': {
      if (issue.origin === 'string' && issue.minimum === 1) return 'this is empty'
      if (issue.inclusive === false) return `more than ${counted(issue.minimum, issue.origin)} is wanted`
      return `${counted(issue.minimum, issue.origin)} or more ${issue.origin === 'number' ? 'is' : 'are'} wanted`
    }
    case 'too_big':
      if (issue.inclusive === false) return `less than ${counted(issue.maximum, issue.origin)} is wanted`
      return issue.origin === 'number'
        ? `${issue.maximum} or less is wanted`
        : `${counted(issue.maximum, issue.origin)} or fewer are wanted`
    case 'invalid_format':
      return 'this is not written as it is wanted'
    case 'invalid_value':
      return `one of these is wanted: ${issue.values.map(String).join(', ')}`
    case 'unrecognized_keys':
      return `there is no such field: ${issue.keys.join(', ')}`
    case 'invalid_union':
      return 'this is none of what can stand here'
    default:
      return undefined
  }
}
config({ customError: inWords })

/**
 * The name of a field as somebody reads it: `shelfLifeDays` → `shelf life days`, `packs.0.size` → `pack 1, size`. Whoever
 * writes a program reads it as it was sent, in the `fields` of the answer.
 */
export const fieldInWords = (field: string): string =>
  field
    .replace(/(?:ies|s)?\.(\d+)(?=\.|$)/g, (end, n: string) => `${end.startsWith('ies') ? 'y' : ''} ${Number(n) + 1}`)
    .replace(/\./g, ', ')
    .replace(/[A-Z]/g, c => ` ${c.toLowerCase()}`)

/** What is wrong with one field, as a sentence; where the message is one already, that alone. */
export function refusedInWords(field: string | null, message: string): string {
  if (!field || /^\p{Lu}/u.test(message)) return message
  const name = fieldInWords(field)
  return `${name[0]!.toUpperCase()}${name.slice(1)}: ${message}.`
}
