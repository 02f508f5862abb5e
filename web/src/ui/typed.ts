/** An exact amount as it was typed, with a comma or a point, as it is sent: with a point. */
export const decimalTyped = (text: string): string => text.normalize('NFKC').trim().replace(',', '.')

/**
 * A number of days, per cent or the like as it was typed, to be sent; nothing: null. What is no number goes as it stands, and
 * is refused in words: what somebody typed is never left out in silence.
 */
export function numberTyped(text: string): number | string | null {
  const it = decimalTyped(text)
  return it === '' ? null : /^-?\d{1,12}(\.\d{1,6})?$/.test(it) ? Number(it) : it
}
