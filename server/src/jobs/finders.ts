import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'
import { templateOf } from './templates.ts'

/** Templates are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  template: uid => templateOf(house, uid) !== undefined,
})
