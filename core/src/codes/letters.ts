/**
 * Letters that a keyboard without them writes otherwise, and that Unicode does not take apart. Source: CLDR's Latin-ASCII
 * transform, from memory.
 */
const OTHERWISE: Readonly<Record<string, string>> = {
  æ: 'ae',
  œ: 'oe',
  ø: 'o',
  ß: 'ss',
  ð: 'd',
  đ: 'd',
  ħ: 'h',
  ı: 'i',
  ł: 'l',
  þ: 'th',
  // The micro sign, of µl and µm, as it is typed where there is none.
  μ: 'u',
}
const PLAIN = /^[ -~]*$/

/** Words as they are looked for by whoever types their very letters, whatever their size and however Unicode puts them together. */
export const exactLetters = (text: string): string =>
  PLAIN.test(text) ? text.toLowerCase() : text.normalize('NFKC').toLowerCase()

/** The same as somebody types them who has no such letters: `5 µl Crème, Ø 3` is `5 ul creme, o 3`. */
export const plainLetters = (text: string): string =>
  PLAIN.test(text)
    ? text.toLowerCase()
    : text
        .toLowerCase()
        .normalize('NFKD')
        .replace(/\p{M}/gu, '')
        .replace(/[æœøßðđħıłþμ]/g, letter => OTHERWISE[letter]!)

/** The words of a text that is looked for, each as `exactLetters` gives it. */
export const wordsLookedFor = (text = ''): string[] => exactLetters(text).split(/\s+/).filter(Boolean)

/**
 * What some words are found by: their very letters, and plain ones beside them. A plain letter that is typed means either, a
 * special one only itself (asymmetric search: Unicode Technical Standard 10, 8.2, from memory).
 */
export const searchForms = (text: string): string[] => [...new Set([exactLetters(text), plainLetters(text)])]
/** The same in one text, for what is only looked for in it. */
export const foundBy = (text: string): string => searchForms(text).join(' ')
/** Whether a name begins with what was typed (as `exactLetters` gives it), by its own letters or by plain ones. */
export const beginsWith = (name: string, typed: string): boolean =>
  exactLetters(name).startsWith(typed) || plainLetters(name).startsWith(typed)
