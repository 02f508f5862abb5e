/**
 * Check digit of any GS1 number (GTIN, SSCC): from the right, digits weighted 3, 1, 3, 1 …; what lacks to the next ten.
 * Source: GS1 General Specifications, section 7.9, from memory.
 */
export function checkDigit(withoutCheck: string): number {
  let sum = 0
  for (let i = 0; i < withoutCheck.length; i++)
    sum += Number(withoutCheck[withoutCheck.length - 1 - i]) * (i % 2 ? 1 : 3)
  return (10 - (sum % 10)) % 10
}

const hasCheck = (digits: string): boolean => checkDigit(digits.slice(0, -1)) === Number(digits.at(-1))

/** Whether the text is a GTIN-8, -12, -13 or -14 with the right check digit. */
export const isGtin = (text: string): boolean => /^(\d{8}|\d{12,14})$/.test(text) && hasCheck(text)
/** Whether the text is a serial shipping container code with the right check digit. */
export const isSscc = (text: string): boolean => /^\d{18}$/.test(text) && hasCheck(text)

/** Every GTIN in its 14-digit form, so that one article has one code whatever symbol carries it; undefined where it is none. */
export const gtin14 = (text: string): string | undefined => (isGtin(text) ? text.padStart(14, '0') : undefined)

/**
 * The form under which a code is registered and looked up: a GTIN with 14 digits, everything else without surrounding
 * blanks and in capitals.
 */
export const normaliseCode = (text: string): string => {
  const plain = text.trim()
  return gtin14(plain) ?? plain.toUpperCase()
}
