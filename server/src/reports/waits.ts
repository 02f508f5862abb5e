import type { Waiting } from '@shelve/contract'

/** Something that waits, before anything is said of it. */
export const none = {
  day: null,
  at: null,
  out: 0,
  place: null,
  slip: null,
  handed: null,
  slips: [],
  sheet: null,
  job: null,
  jobs: [],
  closed: null,
  transfer: null,
  named: [],
}

/** A thing that it is about. */
export type Named = Waiting['named'][number]
