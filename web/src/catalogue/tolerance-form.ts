import type { Category, Settings, Tolerance } from '@shelve/contract'
import { nearest } from '@shelve/core'
import { decimalTyped } from '../ui/typed.ts'
import { categoriesUp } from './categories-up.ts'

/** How far off a count may be, as it is being written: text, of which nothing is no limit. */
export interface ToleranceForm {
  quantity: string
  percent: string
  value: string
}
export const toleranceForm = (t: Tolerance | null): ToleranceForm => ({
  quantity: t?.quantity ?? '',
  percent: t?.percent ?? '',
  value: t?.value ?? '',
})
/** As it is sent; without any limit: null, so that what is above says it. */
export function toleranceInput(form: ToleranceForm): Tolerance | null {
  const [quantity, percent, value] = [form.quantity, form.percent, form.value].map(t => decimalTyped(t) || null)
  return quantity || percent || value ? { quantity: quantity!, percent: percent!, value: value! } : null
}
/** What a category and those above it hand down, or the organisation, and which of them it is. */
export function handedTolerance(
  categories: readonly Category[],
  id: string | null,
  settings: Settings,
): { readonly limits: Tolerance; readonly by: string } {
  const by = nearest(categoriesUp(categories, id), c => (c.tolerance ? { limits: c.tolerance, by: c.name } : null))
  return (
    by ?? {
      limits: { quantity: null, percent: settings.tolerancePercent, value: settings.toleranceValue },
      by: 'the organisation',
    }
  )
}
/** How far off a count may be, in words: each limit that is set; `unit`: what the first is in. */
export const limitsInWords = (
  { quantity, percent, value }: Tolerance,
  unit: string,
  f: { readonly number: (text: string) => string; readonly amount: (text: string) => string },
): string =>
  [
    quantity === null ? '' : `${f.number(quantity)} ${unit || 'in its unit'}`,
    percent === null ? '' : `${f.number(percent)} %`,
    value === null ? '' : f.amount(value),
  ]
    .filter(Boolean)
    .join(' and ')
