import { v7 } from '../shell/uuid.ts'
import { numberTyped } from '../ui/typed.ts'
import type { Beside, Template, TemplateLine } from '@shelve/contract'

/** A template as it is being written: numbers as text, and what is not said empty. */
export const freshTemplate = (): Template => ({
  code: '',
  name: '',
  makes: null,
  lines: [],
  steps: '',
  note: '',
  active: true,
})
export const freshMakes = (item: string): NonNullable<Template['makes']> => ({
  item,
  typed: '',
  unit: null,
  yields: '',
  batch: '',
  shelfLife: null,
  share: '',
  besides: [],
})
/** So many days as they are typed; what is no number is sent as it stands, for the server to refuse it in words. */
export const daysTyped = (e: Event): number | null => numberTyped((e.target as HTMLInputElement).value) as number | null
export const freshBeside = (item: string): Beside => ({ item, typed: '', unit: null, share: '0', shelfLife: null })
export const freshTemplateLine = (item: string): TemplateLine => ({
  id: v7(),
  item,
  typed: '',
  unit: null,
  fixed: '',
  loss: '',
  optional: false,
  from: null,
  instead: [],
  note: '',
})
