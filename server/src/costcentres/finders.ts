import type { Finders } from '../rights/index.ts'
import type { House } from './house.ts'

/** Jobs and cost centres are the organisation's: whoever may ask finds them. */
export const finders = (house: House): Finders => ({
  job: uid => house.rows.job.get({ uid }) !== undefined,
  cost_centre: uid => house.rows.costCentre.get({ uid }) !== undefined,
})
