import { readingsOf } from '@shelve/core'

/**
 * An exact amount as it was typed, with a comma or a point, as it is sent: with a point. What may be read in two ways was
 * asked where it was typed (`NumberField`); what is no number goes as it stands.
 */
export function decimalTyped(text: string): string {
  const it = text.normalize('NFKC').trim()
  return readingsOf(it)[0] ?? it.replace(',', '.')
}

/**
 * A number of days, per cent or the like as it was typed, to be sent; nothing: null. What is no number goes as it stands, and
 * is refused in words: what somebody typed is never left out in silence.
 */
export function numberTyped(text: string): number | string | null {
  const it = decimalTyped(text)
  return it === '' ? null : /^-?\d{1,12}(\.\d{1,6})?$/.test(it) ? Number(it) : it
}
