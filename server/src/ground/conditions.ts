import { type SQL, type SQLWrapper, sql } from 'drizzle-orm'
import { exactLetters } from '@shelve/core'

// What is not ASCII the database compares letter by letter as it stands; another form of every row costs, so only words that
// need it get one.
const alike = (of: SQLWrapper, pattern: string): SQL =>
  /^[ -~]*$/.test(pattern)
    ? sql`(${of} like ${pattern} escape '\\' or (${of} glob '*[^ -~]*' and plain_letters(${of}) like ${pattern} escape '\\'))`
    : sql`exact_letters(${of}) like ${exactLetters(pattern)} escape '\\'`
const asTyped = (words: string): string => words.replace(/[\\%_]/g, c => `\\${c}`)

/** Whether a column holds some words, whatever the size of their letters, in any script; plain letters find special ones too. */
export const holds = (of: SQLWrapper, words: string): SQL => alike(of, `%${asTyped(words)}%`)
/** Whether it begins with them. */
export const startsWith = (of: SQLWrapper, words: string): SQL => alike(of, `${asTyped(words)}%`)

/**
 * Whether a column is one of some numbers, handed over as one text: of tens of thousands (every place where something ever lay
 * with a job) a statement would have as many parameters, of which there may be 32 766.
 */
export const among = (of: SQLWrapper, ids: Iterable<number>): SQL =>
  sql`${of} in (select value from json_each(${JSON.stringify([...ids])}))`
