/** Whether the index of every three letters of booked slips can find a word: none that is shorter. */
export const isIndexed = (word: string): boolean => [...word].length >= 3
/** What that index is asked for: the word as it stands, whatever signs are in it. */
export const asItStands = (word: string): string => `"${word.replaceAll('"', '""')}"`
